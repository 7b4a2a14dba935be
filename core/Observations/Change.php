<?php

declare(strict_types=1);

namespace ZapTrace\Observations;

use ZapTrace\Reasoning\Hazard;
use ZapTrace\Reasoning\MachineState;

/**
 * What an observation did to the machine.
 */
final readonly class Change
{
    /**
     * @param  MachineState  $during  the state in which it was seen what came of it
     * @param  MachineState  $after  the state that it left behind
     * @param  array<string, string>  $fitted  new part => new, tested or known-good
     * @param  list<Hazard>  $hazards  what can have been born by it
     * @param  array<string, list<string>>  $facts  facts of the history => chips they concern
     */
    public function __construct(
        public MachineState $during,
        public MachineState $after,
        public array $fitted = [],
        public array $hazards = [],
        public array $facts = [],
        public bool $secondUsed = false,
    ) {
    }
}
