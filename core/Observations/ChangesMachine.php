<?php

declare(strict_types=1);

namespace ZapTrace\Observations;

use ZapTrace\Board\BoardProfile;
use ZapTrace\Problems\InputRejected;
use ZapTrace\Reasoning\MachineState;

/**
 * An interpreter of observations that do something to the machine, or tell something of its state.
 */
interface ChangesMachine
{
    /**
     * @throws InputRejected when it names what the board does not have
     */
    public function change(Observation $observation, BoardProfile $board, MachineState $state): Change;
}
