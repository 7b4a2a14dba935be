<?php

declare(strict_types=1);

namespace ZapTrace\Bench;

use ZapTrace\Board\Chip;
use ZapTrace\Parts\Logic\LogicFunction;
use ZapTrace\Parts\Logic\LogicUnit;

/**
 * Logic functions that were read once, with all the cases they have worked out already.
 */
final class LogicShelf
{
    /** @var array<string, array<int, LogicUnit>> */
    private array $units = [];

    /**
     * The units of a part, its channels that stand behind the same controls together; none for a part without equations.
     *
     * @return array<int, LogicUnit>
     */
    public function units(Chip $chip): array
    {
        $text = $chip->equations();

        return $text === '' || $chip->type === null ? [] : $this->units["{$chip->part} {$text}"] ??= LogicUnit::together(LogicFunction::parse($text, $chip->type->pinout)->units);
    }
}
