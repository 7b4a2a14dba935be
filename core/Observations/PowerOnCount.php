<?php

declare(strict_types=1);

namespace ZapTrace\Observations;

/**
 * Power-ons, a long run, or runs of a diagnostic: how many were clean and in how many the fault showed.
 *
 * What a diagnostic passes says nothing of how often a fault shows that it does not look at.
 */
final readonly class PowerOnCount implements Measured
{
    public function __construct(public int $clean, public int $failed, public float $minutes, public string $diagnostic = '')
    {
    }
}
