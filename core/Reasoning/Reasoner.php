<?php

declare(strict_types=1);

namespace ZapTrace\Reasoning;

use ZapTrace\Board\BoardProfile;
use ZapTrace\Board\Settings;

/**
 * Weighs all evidence of a machine together. It knows evidence, faults and states of the machine, and no kinds of
 * observation.
 */
final readonly class Reasoner
{
    public function __construct(private FailureModes $modes)
    {
    }

    /**
     * @param  list<Evidence>  $evidence
     * @param  MachineState  $now  a fault that this state takes out of play is no suspect any more
     * @param  Settings  $first  links and latches as the machine came
     */
    public function conclude(BoardProfile $board, array $evidence, MachineState $now, Settings $first): Conclusion
    {
        $suspected = [...$this->relevant(BoardFaults::of($board, $this->modes)->faults, $evidence), ...$this->setups($evidence)];
        $findings = array_map(fn (Evidence $seen): Finding => $this->finding($seen, $suspected, $first), $evidence);
        $faults = [];
        foreach ($suspected as $fault) {
            // What was cured is told apart from what is faulty now, although the site is the same.
            $gone = $now->relieves($fault, $first) >= 0.5;
            $faults[] = new Fault($fault->id, $gone ? Conclusion::CURED.$fault->site : $fault->site, $fault->mode->prior, $fault->mode->name);
        }
        $network = new Network($faults, $findings);
        $posterior = (new DiagnosisSearch)->search($network);

        return new Conclusion($board, $network, $posterior, $evidence, $suspected, $now, $first);
    }

    /** How strongly the fault shows in this evidence, the state of the machine aside. */
    private function strength(Evidence $seen, SuspectedFault $fault): float
    {
        if ($fault->kind === SiteKind::Setup) {
            return $seen->setup === $fault->site && $seen->abnormal ? 0.9 : 0.0;
        }
        if ($seen->kind === Evidence::COMPLAINT) {
            return $this->modes->rate('complaint');
        }
        if ($seen->kind === Evidence::TESTER) {
            return $seen->site === $fault->site ? ($fault->mode->shows['tester'] ?? $this->modes->rate('testerShows')) : 0.0;
        }
        if ($seen->kind !== Evidence::NAMED) {
            return $seen->reach * $fault->showsIn($seen->kind, $seen->banks, $seen->lines, $seen->addressLines);
        }
        // A diagnostic writes and reads both values: it meets whatever makes the bit wrong, cells only where it looks.
        $named = static fn (string $bank, int $line): float => max(
            $fault->showsIn('high', [$bank], [$line], []),
            $fault->showsIn('low', [$bank], [$line], []),
            0.3 * $fault->showsIn('places', [$bank], [$line], []),
        );
        $strength = $seen->banks === [] ? 0.0 : $named($seen->banks[0], $seen->lines[0]);
        foreach ($seen->also as $other) {
            $strength = max($strength, $other['weight'] * $named($other['bank'], $other['line']));
        }

        return $strength;
    }

    /**
     * The set-ups whose error would repeat itself, each with a site of its own.
     *
     * @param  list<Evidence>  $evidence
     * @return list<SuspectedFault>
     */
    private function setups(array $evidence): array
    {
        $setups = [];
        foreach ($evidence as $seen) {
            if ($seen->setup !== null) {
                $setups[$seen->setup] = new SuspectedFault("{$seen->setup}/wrong", $seen->setup, SiteKind::Setup, new FailureMode('setup', 'wrong', $this->modes->rate('wrongTable'), [], []), null, null, null);
            }
        }

        return array_values($setups);
    }

    /**
     * Everything explains that a machine is sick. Once something else is known, only the faults that explain it, those
     * at sites where something was done, and what is not on the profile need to be weighed.
     *
     * @param  list<SuspectedFault>  $faults
     * @param  list<Evidence>  $evidence
     * @return list<SuspectedFault>
     */
    private function relevant(array $faults, array $evidence): array
    {
        $abnormal = array_filter($evidence, static fn (Evidence $seen): bool => $seen->abnormal && $seen->kind !== Evidence::COMPLAINT);
        $sites = [];
        foreach ($evidence as $seen) {
            $sites += $seen->state->done;
            if ($seen->site !== null) {
                $sites[$seen->site] = 'tested';
            }
        }
        if ($abnormal === []) {
            return $faults;
        }
        $tabled = array_filter($abnormal, static fn (Evidence $seen): bool => $seen->setup !== null) !== [];

        return array_values(array_filter($faults, function (SuspectedFault $fault) use ($abnormal, $sites, $tabled): bool {
            // Under a wrong table any memory chip may be the one.
            if ($fault->kind === SiteKind::Elsewhere || isset($sites[$fault->site]) || ($tabled && $fault->kind === SiteKind::Chip)) {
                return true;
            }
            foreach ($abnormal as $seen) {
                if ($this->strength($seen, $fault) > 0.0) {
                    return true;
                }
            }

            return false;
        }));
    }

    /**
     * @param  list<SuspectedFault>  $suspected
     */
    public function finding(Evidence $seen, array $suspected, Settings $first): Finding
    {
        $explains = [];
        $cured = [];
        foreach ($suspected as $fault) {
            $strength = $this->strength($seen, $fault);
            if ($strength <= 0.0) {
                continue;
            }
            $explains[$fault->id] = $strength;
            $relief = $seen->state->relieves($fault, $first);
            if ($relief > 0.0) {
                $cured[$fault->id] = $relief;
            }
        }

        return new Finding($seen->id, $seen->abnormal, $seen->falseAlarm, $seen->miss, $explains, $cured);
    }
}
