<?php

declare(strict_types=1);

namespace ZapTrace\Parts;

/**
 * What a linear regulator gives.
 */
final readonly class Regulator
{
    /**
     * @param  float  $min  volts at its output, lightly loaded
     * @param  float  $max  volts at its output, lightly loaded
     * @param  float  $dropout  volts that its input has to be above the output
     * @param  float  $amps  what it can give
     */
    public function __construct(public string $rail, public float $min, public float $max, public float $dropout, public float $amps)
    {
    }
}
