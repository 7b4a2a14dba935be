<?php

declare(strict_types=1);

namespace ZapTrace\Bus;

/**
 * Two runs side by side, as far as they go together, and where they part.
 */
final readonly class Ladder
{
    /**
     * @param  int  $cycles  of the capture that was looked at
     * @param  int  $distance  cycles of it that are as they should be
     * @param  list<array{sick: int|null, expected: Cycle|null}>  $rungs  around the place: number of the cycle, and what it should have been
     * @param  int  $skipped  cycles that were passed over as harmless differences in timing
     */
    public function __construct(public int $cycles, public int $distance, public ?Divergence $divergence, public array $rungs, public int $skipped)
    {
    }
}
