<?php

declare(strict_types=1);

namespace ZapTrace\Reasoning;

/**
 * An observation interpreted: reported normal or abnormal by a method that errs at known rates, with the faults that
 * would explain an abnormal report and how strongly each would show in the context of the observation.
 *
 * For a set of faults D: q = product over D of (1 - strength), the chance that none of them shows;
 * P(reported abnormal | D) = falseAlarm x q + (1 - miss) x (1 - q).
 */
final readonly class Finding implements Report
{
    /**
     * @param  float  $falseAlarm  chance of an abnormal report although nothing shows, 0 to 1
     * @param  float  $miss  chance of a normal report although something shows, 0 to 1
     * @param  array<string, float>  $explains  fault => how strongly it shows when it is active, 0 to 1
     * @param  array<string, float>  $cured  fault => the part of it that the context takes out of play, 0 to 1
     */
    public function __construct(
        public string $id,
        public bool $abnormal,
        public float $falseAlarm,
        public float $miss,
        public array $explains,
        public array $cured = [],
    ) {
    }

    /** How strongly the fault shows in the context of this finding. */
    public function strength(string $fault): float
    {
        return ($this->explains[$fault] ?? 0.0) * (1.0 - ($this->cured[$fault] ?? 0.0));
    }

    /**
     * The chance of this very report when nothing shows with probability q.
     */
    public function likelihood(float $q): float
    {
        $abnormal = $this->falseAlarm * $q + (1.0 - $this->miss) * (1.0 - $q);

        return $this->abnormal ? $abnormal : 1.0 - $abnormal;
    }

    public function isAbnormal(): bool
    {
        return $this->abnormal;
    }

    public function touches(): array
    {
        $touches = [];
        foreach (array_keys($this->explains) as $fault) {
            $strength = $this->strength((string) $fault);
            if ($strength > 0.0) {
                $touches[(string) $fault] = $strength;
            }
        }

        return $touches;
    }

    public function explainedBy(): array
    {
        // What the context has taken out of play explains as little as before, yet it is asked about.
        return $this->abnormal ? array_map(strval(...), array_keys(array_filter($this->explains, static fn (float $strength): bool => $strength > 0.0))) : [];
    }

    public function mark(string $fault): string
    {
        return (string) round($this->strength($fault), 9);
    }

    public function chance(array $faults): float
    {
        $q = 1.0;
        foreach ($faults as $fault) {
            $q *= 1.0 - $this->strength($fault);
        }

        return $this->likelihood($q);
    }
}
