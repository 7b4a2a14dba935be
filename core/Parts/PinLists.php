<?php

declare(strict_types=1);

namespace ZapTrace\Parts;

use WeakMap;

/**
 * The pins of parts, read from their pinouts once.
 */
final class PinLists
{
    /** @var WeakMap<Part, list<Pin>>|null */
    private static ?WeakMap $kept = null;

    /**
     * @return list<Pin> in order of their numbers; places without a pin are left out
     */
    public static function of(Part $part): array
    {
        /** @var WeakMap<Part, list<Pin>> $kept */
        $kept = self::$kept ??= new WeakMap;

        return $kept[$part] ??= $part->readPins();
    }
}
