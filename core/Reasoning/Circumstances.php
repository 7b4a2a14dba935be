<?php

declare(strict_types=1);

namespace ZapTrace\Reasoning;

use ZapTrace\Board\Settings;

/**
 * What the log says of the machine beside what was seen: how it came and how it stands now, which parts were fitted,
 * what can have been born on the bench, and the facts of its history.
 */
final readonly class Circumstances
{
    /**
     * @param  Settings  $first  links and latches as the machine came
     * @param  array<string, string>  $fitted  new part => new, tested or known-good
     * @param  list<Hazard>  $hazards
     * @param  array<string, list<string>>  $facts  fact of the history => chips it concerns
     * @param  array<string, float>  $experience  position => what earlier jobs make of the likelihood that the part there is faulty
     * @param  bool  $secondUsed  parts were exchanged with a second machine, or it was tried
     */
    public function __construct(
        public MachineState $now,
        public Settings $first,
        public array $fitted = [],
        public array $hazards = [],
        public array $facts = [],
        public bool $secondUsed = false,
        public array $experience = [],
    ) {
    }

    /**
     * @param  array<string, float>  $experience  by position
     */
    public function withExperience(array $experience): self
    {
        return new self($this->now, $this->first, $this->fitted, $this->hazards, $this->facts, $this->secondUsed, $experience);
    }

    /** A machine of which nothing but its links is known. */
    public static function plain(MachineState $now): self
    {
        return new self($now, $now->settings);
    }
}
