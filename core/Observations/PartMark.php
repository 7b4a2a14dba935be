<?php

declare(strict_types=1);

namespace ZapTrace\Observations;

/**
 * What is written on a physical part, and where it was put away.
 */
final readonly class PartMark implements Measured
{
    public function __construct(public string $part, public string $label, public string $drawer)
    {
    }
}
