<?php

declare(strict_types=1);

namespace ZapTrace\Observations;

/**
 * What was seen on one part.
 */
final readonly class Seen implements Measured
{
    public function __construct(public string $site, public string $finding)
    {
    }
}
