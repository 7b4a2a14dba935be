<?php

declare(strict_types=1);

namespace ZapTrace\Parts;

/**
 * One pin of a part.
 */
final readonly class Pin
{
    /**
     * @param  int  $number  from 1 on
     * @param  string  $name  without the mark of what is active low
     * @param  'in'|'out'|'both'|'supply'|'passive'|'none'  $direction
     */
    public function __construct(public int $number, public string $name, public bool $activeLow, public string $direction)
    {
    }
}
