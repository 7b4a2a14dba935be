<?php

declare(strict_types=1);

namespace ZapTrace\Reasoning;

/**
 * One way in which a kind of part fails.
 */
final readonly class FailureMode
{
    /**
     * @param  array<string, float>  $shows  kind of evidence => chance that the fault shows in it
     * @param  array<string, float>  $relief  action => the part of the fault it takes out of play
     * @param  array<string, float>  $under  condition => what it multiplies the strength by
     * @param  float  $perRun  chance that it is there during one run; 0 when it is always there
     * @param  float  $crash  chance that a diagnostic does not get through with it
     * @param  bool  $ofPlace  it belongs to the place, and not to the part in it
     * @param  array<string, float>  $hides  diagnostic => chance that nothing is seen of it, since it reports by this part
     */
    public function __construct(
        public string $cause,
        public string $name,
        public float $prior,
        public array $shows,
        public array $relief,
        public array $under = [],
        public float $perRun = 0.0,
        public float $crash = 0.0,
        public bool $ofPlace = false,
        public array $hides = [],
    ) {
    }

    /**
     * The same where it shows in more.
     *
     * @param  array<string, float>  $shows
     */
    public function showing(array $shows): self
    {
        return $shows === [] ? $this : $this->but(shows: [...$shows, ...$this->shows]);
    }

    /** The same for a part with which a diagnostic does not get through as often as that. */
    public function crashing(float $chance): self
    {
        return $this->but(crash: $chance);
    }

    /**
     * The same for a part by which these diagnostics report.
     *
     * @param  list<string>  $diagnostics
     */
    public function hiding(array $diagnostics, float $chance): self
    {
        return $this->but(hides: array_fill_keys($diagnostics, $chance));
    }

    /** The chance that a diagnostic gives no result with it. */
    public function stops(string $diagnostic): float
    {
        return max($this->crash, $this->hides[$diagnostic] ?? 0.0);
    }

    /**
     * @param  array<string, float>|null  $shows
     * @param  array<string, float>|null  $hides
     */
    private function but(?array $shows = null, ?float $crash = null, ?array $hides = null): self
    {
        return new self($this->cause, $this->name, $this->prior, $shows ?? $this->shows, $this->relief, $this->under, $this->perRun, $crash ?? $this->crash, $this->ofPlace, $hides ?? $this->hides);
    }
}
