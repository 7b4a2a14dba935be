<?php

declare(strict_types=1);

namespace ZapTrace\Observations;

/**
 * A function of the machine that was tested.
 */
final readonly class FunctionTested implements Measured
{
    public function __construct(public string $function, public bool $works)
    {
    }
}
