<?php

declare(strict_types=1);

namespace ZapTrace\Reasoning;

/**
 * A part tested by itself. A tester that is blind to this type of part passes every one of them, good or bad; that is
 * a fault of the set-up, shared by all its tests.
 */
final readonly class TesterOutcome implements Report
{
    /**
     * @param  array<string, float>  $shows  fault of the part => chance that it shows in a test
     * @param  string  $blind  the fault of the set-up
     */
    public function __construct(
        public bool $failed,
        public array $shows,
        public string $blind,
        public float $falseAlarm,
        public float $miss,
    ) {
    }

    public function isAbnormal(): bool
    {
        return $this->failed;
    }

    public function touches(): array
    {
        return [...$this->shows, $this->blind => 1.0];
    }

    public function explainedBy(): array
    {
        return $this->failed ? array_map(strval(...), array_keys($this->shows)) : [$this->blind];
    }

    public function mark(string $fault): string
    {
        return $fault === $this->blind ? 'blind' : (string) ($this->shows[$fault] ?? 0.0);
    }

    public function chance(array $faults): float
    {
        $q = 1.0;
        foreach ($faults as $fault) {
            $q *= $fault === $this->blind ? 1.0 : 1.0 - ($this->shows[$fault] ?? 0.0);
        }
        $fails = in_array($this->blind, $faults, true) ? $this->falseAlarm : $this->falseAlarm * $q + (1.0 - $this->miss) * (1.0 - $q);

        return $this->failed ? $fails : 1.0 - $fails;
    }
}
