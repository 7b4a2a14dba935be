<?php

declare(strict_types=1);

namespace ZapTrace\Ledger;

/**
 * One physical part: where it came from, where it has been, what was tested and concluded of it, and where it is now.
 */
final readonly class PartHistory
{
    /** From this likelihood on it is said to be bad. */
    private const SUSPECTED = 0.3;

    /**
     * @param  string  $part  its identity: "U14", "new U14", "U14 of the second machine"
     * @param  string  $type  generic type number
     * @param  string  $label  what is written on it, as somebody said or as proposed
     * @param  bool  $marked  somebody said what is written on it
     * @param  list<array{place: string, observation: string|null}>  $places  in order; the first is where it came from
     * @param  list<array{words: string, failed: bool, observation: string}>  $tests
     * @param  string  $now  where it is
     * @param  string|null  $seat  position of this machine it sits in now; null when in none
     * @param  bool  $home  it is where it started
     * @param  bool  $borrowed  it belongs to the second machine
     * @param  bool  $away  it belongs to this machine and is in the second one
     * @param  float  $faulty  how likely it is bad, 0 to 1
     */
    public function __construct(
        public string $part,
        public string $type,
        public string $label,
        public bool $marked,
        public array $places,
        public array $tests,
        public string $now,
        public ?string $seat,
        public bool $home,
        public bool $borrowed,
        public bool $away,
        public float $faulty,
    ) {
    }

    /** It is in the machine it does not belong to. */
    public function isLent(): bool
    {
        return ! $this->home && ($this->borrowed || $this->away);
    }

    public function isSuspected(): bool
    {
        return $this->faulty > self::SUSPECTED;
    }

    /** Where it is, as it is said in the ledger. */
    public function where(): string
    {
        return match (true) {
            ! $this->home => "now: {$this->now}",
            str_starts_with($this->part, 'new ') => "in {$this->now}",
            default => 'where it started',
        };
    }

    /** What has to happen to it before the machines go home; "" when nothing has. */
    public function mustReturn(): string
    {
        return match (true) {
            ! $this->isLent() => '',
            $this->borrowed => 'borrowed: it has to go back',
            default => 'in the second machine: it has to come back',
        };
    }
}
