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

    /**
     * As it is noted in the log of a job.
     *
     * @param  string  $against  the good capture, or the ROM, by name
     * @param  'right'|'wrong'|'unchecked'  $setup  whether the channels were checked
     * @return array<string, mixed>
     */
    public function noted(string $name, string $against, string $setup): array
    {
        return [
            'name' => $name, 'against' => $against, 'cycles' => $this->cycles, 'distance' => $this->distance, 'setup' => $setup,
            'notes' => $this->skipped > 0 ? ["{$this->skipped} cycles of waiting were passed over."] : [],
            ...($this->divergence === null ? [] : ['divergence' => $this->divergence->toArray()]),
        ];
    }
}
