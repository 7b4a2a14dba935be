<?php

declare(strict_types=1);

namespace ZapTrace\Signals;

use ZapTrace\Observations\Measured;

/**
 * After a part was out, each pin of its place was measured to the next point of its line, with the power off.
 */
final readonly class PinsChecked implements Measured
{
    /**
     * @param  string  $chip  the place
     * @param  list<string>  $open  pins that were not connected
     */
    public function __construct(public string $chip, public array $open)
    {
    }
}
