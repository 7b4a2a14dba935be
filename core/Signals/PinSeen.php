<?php

declare(strict_types=1);

namespace ZapTrace\Signals;

use ZapTrace\Observations\Measured;

/**
 * What was measured at a pin in a situation, and what it should have been.
 */
final readonly class PinSeen implements Measured
{
    /** A counter and a crystal agree at least so well. */
    private const NEAR = 0.02;

    /**
     * @param  ProbeState|null  $expected  null when nothing can be expected there
     * @param  float|null  $expectedHz  when its frequency is known
     * @param  bool|null  $judged  right or wrong, where the technician said no more
     * @param  bool  $onWalk  one of all pins of a chip that were touched in one go
     * @param  string  $address  for a loop that reads one address
     */
    public function __construct(
        public string $pin,
        public Situation $situation,
        public ?ProbeState $state,
        public ?float $volts,
        public ?float $hz,
        public ?ProbeState $expected,
        public ?float $expectedHz,
        public string $address = '',
        public ?bool $judged = null,
        public bool $onWalk = false,
    ) {
    }

    /** The same, known to be wrong by something else than its level. */
    public function judgedWrong(): self
    {
        return new self($this->pin, $this->situation, $this->state, $this->volts, $this->hz, $this->expected, $this->expectedHz, $this->address, false, $this->onWalk);
    }

    /** Null when it cannot be said. */
    public function isRight(): ?bool
    {
        if ($this->hz !== null && $this->expectedHz !== null) {
            return abs($this->hz - $this->expectedHz) <= self::NEAR * $this->expectedHz;
        }
        if ($this->state === null || $this->expected === null) {
            return $this->judged;
        }

        return self::fits($this->expected, $this->state);
    }

    /** What is known of its level: what was seen, or what was found to be as it should. */
    public function level(): ?ProbeState
    {
        return $this->state ?? ($this->isRight() === true ? $this->expected : null);
    }

    /** A line that nobody drives may float, or show high; it may not be low or move. */
    public static function fits(ProbeState $expected, ProbeState $seen): bool
    {
        return $seen === $expected || $expected === ProbeState::Silent && ($seen === ProbeState::High || $seen === ProbeState::Between);
    }

    /** Where it was seen and in which situation: the same again is the same reading. */
    public function key(): string
    {
        return "{$this->pin} {$this->situation->value} {$this->address}";
    }
}
