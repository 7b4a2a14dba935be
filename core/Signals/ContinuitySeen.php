<?php

declare(strict_types=1);

namespace ZapTrace\Signals;

use ZapTrace\Observations\Measured;

/**
 * Whether two pins were found to be connected, with the power off.
 */
final readonly class ContinuitySeen implements Measured
{
    public function __construct(public string $from, public string $to, public bool $closed)
    {
    }
}
