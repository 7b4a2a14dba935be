<?php

declare(strict_types=1);

namespace ZapTrace\Board;

/**
 * The processor of a board, and how its BASIC reaches memory.
 */
final readonly class Processor
{
    /**
     * @param  string  $chip  reference
     * @param  string  $part  generic type number
     * @param  'peek'|'indirect'|null  $basic  PEEK and POKE, or indirection operators; null when it has no BASIC
     * @param  string  $resetNet  the net that the reset button pulls low; "" when not known
     * @param  float  $statementsPerSecond  simple BASIC statements it runs in a second
     */
    public function __construct(
        public string $chip,
        public string $part,
        public int $clockHz,
        public ?string $basic,
        public float $statementsPerSecond,
        public string $resetNet = '',
    ) {
    }
}
