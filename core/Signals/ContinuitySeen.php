<?php

declare(strict_types=1);

namespace ZapTrace\Signals;

use ZapTrace\Board\Netlist;
use ZapTrace\Observations\Measured;
use ZapTrace\Reasoning\MachineState;

/**
 * Whether two pins were found to be connected, with the power off.
 */
final readonly class ContinuitySeen implements Measured
{
    public function __construct(public string $from, public string $to, public bool $closed)
    {
    }

    /** Whether it still holds: what was open is so no more once a leg at one of its ends was moved in its socket. */
    public function holds(MachineState $then, MachineState $now): bool
    {
        return $this->closed || $then->sameContactsAt([Netlist::chipOf($this->from), Netlist::chipOf($this->to)], $now);
    }
}
