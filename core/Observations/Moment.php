<?php

declare(strict_types=1);

namespace ZapTrace\Observations;

use ZapTrace\Board\BoardProfile;
use ZapTrace\Board\Settings;
use ZapTrace\Numbers\Radix;
use ZapTrace\Reasoning\FailureModes;
use ZapTrace\Reasoning\MachineState;

/**
 * What an observation was made on: the board, the machine as it stood at that time, and the number base of the job.
 */
final readonly class Moment
{
    public Settings $settings;

    /**
     * @param  FailureModes  $modes  with the error rates of the methods
     */
    public function __construct(
        public BoardProfile $board,
        public MachineState $state,
        public Radix $radix,
        public FailureModes $modes,
    ) {
        $this->settings = $state->settings;
    }
}
