<?php

declare(strict_types=1);

namespace ZapTrace\Signals;

use ZapTrace\Observations\Measured;

/**
 * Where along a line that something holds the level is nearest to what it is held at: there the current goes.
 */
final readonly class LineDrop implements Measured
{
    /**
     * @param  string|null  $pin  null when no pin stands out
     */
    public function __construct(public string $net, public ?string $pin)
    {
    }
}
