<?php

declare(strict_types=1);

namespace ZapTrace\Reasoning;

/**
 * What the workshop owns and how it prefers to work: it decides what can be proposed.
 */
final readonly class Workbench
{
    /**
     * @param  list<Equipment>  $equipment
     * @param  list<string>|null  $spares  type numbers at hand; null when every part can be had
     * @param  float  $confidence  wanted before a repair is proved, 0 to 1
     */
    public function __construct(
        public School $school,
        public array $equipment,
        public ?array $spares = null,
        public float $confidence = 0.95,
    ) {
    }

    public static function usual(): self
    {
        return new self(School::MeasureFirst, [Equipment::Probe, Equipment::Meter, Equipment::Tester, Equipment::Diagnostic, Equipment::SolderingStation]);
    }

    public function owns(Equipment $equipment): bool
    {
        return in_array($equipment, $this->equipment, true);
    }

    public function hasSpare(string $part): bool
    {
        return $this->spares === null || in_array(strtoupper($part), array_map(strtoupper(...), $this->spares), true);
    }
}
