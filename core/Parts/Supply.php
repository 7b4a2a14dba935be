<?php

declare(strict_types=1);

namespace ZapTrace\Parts;

/**
 * What a part wants of one rail at its own pins.
 */
final readonly class Supply
{
    /**
     * @param  string  $rail  +5, -5, +12
     * @param  non-empty-list<int>  $pins
     * @param  float  $min  volts, at the pin
     * @param  float  $max  volts, at the pin
     * @param  float  $milliamps  typical current
     */
    public function __construct(
        public string $rail,
        public array $pins,
        public float $min,
        public float $max,
        public float $milliamps,
    ) {
    }
}
