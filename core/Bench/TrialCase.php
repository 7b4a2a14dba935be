<?php

declare(strict_types=1);

namespace ZapTrace\Bench;

/**
 * How one broken machine fared.
 */
final readonly class TrialCase
{
    /**
     * @param  list<InjectedFault>  $faults
     * @param  bool  $revived  nothing was wrong with it in the end, and it was proved
     * @param  bool|null  $firstRight  what was first replaced or mended was at fault; null when nothing was
     * @param  list<string>  $steps
     */
    public function __construct(public int $seed, public array $faults, public bool $revived, public ?bool $firstRight, public array $steps, public float $minutes, public int $goodSoldered, public int $goodPulled)
    {
    }
}
