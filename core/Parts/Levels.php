<?php

declare(strict_types=1);

namespace ZapTrace\Parts;

/**
 * What a part takes for low and for high at its inputs, and what its outputs give.
 */
final readonly class Levels
{
    /**
     * @param  float  $inputLow  VIL: highest volts taken for low
     * @param  float  $inputHigh  VIH: lowest volts taken for high
     * @param  float  $outputLow  VOL: highest volts given for low
     * @param  float  $outputHigh  VOH: lowest volts given for high
     * @param  array<int, float>  $highAt  pin => VIH where it differs
     */
    public function __construct(public float $inputLow, public float $inputHigh, public float $outputLow, public float $outputHigh, public array $highAt = [])
    {
    }

    /**
     * How volts at an input are taken.
     *
     * @return 'low'|'between'|'high'
     */
    public function read(float $volts, ?int $pin = null): string
    {
        return match (true) {
            $volts <= $this->inputLow => 'low',
            $volts >= ($pin === null ? $this->inputHigh : $this->highAt[$pin] ?? $this->inputHigh) => 'high',
            default => 'between',
        };
    }
}
