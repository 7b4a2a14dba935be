<?php

declare(strict_types=1);

namespace ZapTrace\Observations;

use ZapTrace\Board\BoardProfile;
use ZapTrace\Board\Chip;
use ZapTrace\Board\Settings;
use ZapTrace\Numbers\Radix;
use ZapTrace\Problems\InputRejected;
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

    /**
     * @param  string  $member  of the observation, for what is said when there is no such chip
     *
     * @throws InputRejected
     */
    public function chip(string $ref, string $member): Chip
    {
        return $this->board->findChip($ref) ?? throw InputRejected::of($member, "There is no {$ref} on {$this->board->name}.");
    }
}
