<?php

declare(strict_types=1);

namespace ZapTrace\Ledger;

/**
 * Spares of one kind in one drawer.
 */
final readonly class Spare
{
    /**
     * @param  string  $part  type number
     * @param  int|null  $nanoseconds  speed; null when unknown
     */
    public function __construct(public string $part, public int $count, public string $drawer = '', public ?int $nanoseconds = null)
    {
    }
}
