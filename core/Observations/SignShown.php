<?php

declare(strict_types=1);

namespace ZapTrace\Observations;

/**
 * A sign at one power-on, or some minutes after it.
 */
final readonly class SignShown implements Measured
{
    public function __construct(public string $sign, public int $powerOn, public float $minutes)
    {
    }
}
