<?php

declare(strict_types=1);

namespace ZapTrace\Reasoning;

/**
 * Faults of one site that no finding tells apart, and no remedy would, each class weighed as one fault: as in fault
 * simulation, where equivalent faults are collapsed.
 */
final readonly class FaultClasses
{
    /**
     * @param  list<Fault>  $faults  one for each class, with the odds of all its members
     * @param  array<string, array<string, float>>  $members  fault that stands for its class => member => its part of the odds
     */
    private function __construct(public array $faults, private array $members)
    {
    }

    public static function of(Network $network): self
    {
        $marks = [];
        foreach ($network->findings as $number => $finding) {
            foreach (array_keys($finding->touches()) as $fault) {
                $marks[$fault][] = "{$number}:{$finding->mark((string) $fault)}";
            }
        }
        $classes = [];
        foreach ($network->faults as $fault) {
            $classes[implode("\0", [$fault->site, (int) $fault->live, (int) $fault->grows, $fault->growsWith ?? '', $fault->remedy, ...$marks[$fault->id] ?? []])][] = $fault;
        }
        $faults = [];
        $members = [];
        foreach ($classes as $class) {
            $odds = [];
            foreach ($class as $fault) {
                $odds[$fault->id] = $fault->prior / (1.0 - $fault->prior);
            }
            $sum = array_sum($odds);
            arsort($odds);
            $first = (string) array_key_first($odds);
            foreach ($class as $fault) {
                if ($fault->id === $first) {
                    $faults[] = new Fault($fault->id, $fault->site, $sum / (1.0 + $sum), $fault->mode, $fault->live, $fault->grows, $fault->growsWith, $fault->remedy);
                }
            }
            $members[$first] = array_map(static fn (float $part): float => $part / $sum, $odds);
        }

        return new self($faults, $members);
    }

    public function tellApart(Posterior $posterior): Posterior
    {
        $faults = [];
        foreach ($posterior->faults as $first => $share) {
            foreach ($this->members[$first] ?? [$first => 1.0] as $fault => $part) {
                $faults[$fault] = $share * $part;
            }
        }
        arsort($faults);

        return new Posterior($posterior->sites, $faults, $posterior->diagnoses);
    }
}
