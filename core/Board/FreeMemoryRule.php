<?php

declare(strict_types=1);

namespace ZapTrace\Board;

/**
 * How the free-memory figure of the banner relates to the first address that failed the machine's own test.
 */
final readonly class FreeMemoryRule
{
    /**
     * @param  int  $from  the address the machine counts from
     * @param  int  $overhead  bytes it keeps before it counts
     * @param  int  $unit  bytes to one unit of the figure
     * @param  int|null  $healthy  the figure of a good machine
     */
    public function __construct(
        public int $from,
        public int $overhead,
        public int $unit,
        public ?int $healthy,
    ) {
    }

    public function firstFailingAddress(int $figure): int
    {
        return $this->from + $this->overhead + $figure * $this->unit;
    }
}
