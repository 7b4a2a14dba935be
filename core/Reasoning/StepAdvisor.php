<?php

declare(strict_types=1);

namespace ZapTrace\Reasoning;

use ZapTrace\Parts\PartLibrary;

/**
 * Chooses the next step: the one that saves most of the expected price of repairing from here, net of its own minutes
 * and risk; and where none does, the repair with the highest share for its price.
 *
 * Source: decision-theoretic troubleshooting; Heckerman, Breese and Rommelse, Communications of the ACM 38, 1995.
 */
final readonly class StepAdvisor
{
    /** From this probability on that no fault is left, the work is to prove it. */
    private const NEARLY_PROVED = 0.85;

    /**
     * @param  list<Proposer>  $proposers
     */
    public function __construct(private Reasoner $reasoner, private PartLibrary $parts, private array $proposers)
    {
    }

    public static function usual(FailureModes $modes, PartLibrary $parts): self
    {
        return new self(new Reasoner($modes), $parts, [new RepeatRun($modes), new ReadMemory($modes), new TryOnPart($modes)]);
    }

    /**
     * @param  bool  $untried  something was done and the machine not tried since
     * @return list<Step> the best first; the rest are what "not now" offers
     */
    public function steps(Conclusion $conclusion, bool $untried = false): array
    {
        $suspects = $conclusion->suspects();
        if ($suspects === [] && ! $untried && $conclusion->cured() === []) {
            return [];
        }
        if ($untried) {
            return [$this->plain('read', '', 'Repeat the cheapest test that showed the fault: read the addresses that failed.', 'tells whether what was done changed anything', 2.0)];
        }
        if ($conclusion->nothingLeft() >= self::NEARLY_PROVED) {
            return [$this->plain('prove', '', 'Prove it: several clean power-ons from cold, then the full memory.', 'tells a repair from a fault that is only resting', 20.0)];
        }
        $costs = new StepCosts($conclusion->board, $this->parts);
        $loss = $this->loss($conclusion, $costs, array_map(static fn (Diagnosis $diagnosis): float => $diagnosis->share, $conclusion->leading()));
        $steps = [];
        foreach ($this->proposers as $proposer) {
            foreach ($proposer->propose($conclusion, $costs) as $proposal) {
                $steps[] = $this->weigh($proposal, $conclusion, $costs, $loss);
            }
        }
        usort($steps, static fn (Step $a, Step $b): int => $b->saves <=> $a->saves ?: $b->bits / $b->minutes <=> $a->bits / $a->minutes ?: strnatcmp($a->site, $b->site));
        $steps = $this->reversibleFirst($steps, $conclusion, $suspects);
        if ($suspects !== [] && $suspects[0]->kind === SiteKind::Elsewhere) {
            array_unshift($steps, $this->plain('widen', '', 'What explains this best is not on the board profile. Add what is missing to it before parts come out.', 'stops good parts from being removed', 15.0));
        }

        return $steps;
    }

    /**
     * Heat only where nothing milder helps, and never on one unrepeated reading.
     *
     * @param  list<Step>  $steps
     * @param  list<Suspect>  $suspects
     * @return list<Step>
     */
    private function reversibleFirst(array $steps, Conclusion $conclusion, array $suspects): array
    {
        $repeated = array_filter($conclusion->evidence, static fn (Evidence $seen): bool => $seen->abnormal && $seen->kind !== Evidence::COMPLAINT && $seen->falseAlarm < 0.005) !== [];
        $helps = static fn (Step $step): bool => $step->saves > 0.0 && ($step->risk !== 'heat' || $repeated);
        $good = array_values(array_filter($steps, $helps));
        $rest = array_values(array_filter($steps, static fn (Step $step): bool => ! $helps($step) && ($step->risk !== 'heat' || $repeated)));
        if ($good === [] && $repeated && $suspects !== []) {
            // No test saves more than it costs: repair the site with the highest share for its price.
            usort($rest, static fn (Step $a, Step $b): int => ($b->action === 'replace' || $b->action === 'exchange' ? 1 : 0) <=> ($a->action === 'replace' || $a->action === 'exchange' ? 1 : 0) ?: $b->saves <=> $a->saves);
        }

        // Cheap openers come before anything is taken apart, whatever else is to be gained.
        $opener = static fn (Step $step): bool => $step->risk === 'none' && $step->minutes <= 2.0 && $step->bits >= 0.05;
        $openers = array_values(array_filter($rest, $opener));
        $rest = array_values(array_filter($rest, static fn (Step $step): bool => ! $opener($step)));

        return [...$good, ...$openers, ...$rest];
    }

    private function weigh(Proposal $proposal, Conclusion $conclusion, StepCosts $costs, float $loss): Step
    {
        $finding = $this->reasoner->finding($proposal->evidence, $conclusion->suspected, $conclusion->first);
        $abnormal = [];
        $normal = [];
        $shares = [];
        foreach ($conclusion->leading() as $number => $diagnosis) {
            $q = 1.0;
            foreach ($diagnosis->faults as $fault) {
                $q *= 1.0 - $finding->strength($fault->id);
            }
            $chance = $finding->likelihood($q);
            $shares[$number] = $diagnosis->share;
            $abnormal[$number] = $diagnosis->share * $chance;
            $normal[$number] = $diagnosis->share * (1.0 - $chance);
        }
        $total = max(1e-12, array_sum($shares));
        // A part that the step exchanges for good is no part of what is left to do after it.
        $done = in_array($proposal->action, ['replace', 'exchange'], true) ? $proposal->site : '';
        $outcomes = [];
        $expected = 0.0;
        $left = 0.0;
        foreach ([$abnormal, $normal] as $which => $weights) {
            $chance = array_sum($weights) / $total;
            $expected += $chance * $this->loss($conclusion, $costs, $weights, $done);
            $left += $chance * $this->entropy($conclusion, $weights, $done);
            $outcomes[] = ['result' => $proposal->results[$which], 'words' => $proposal->words[$which], 'chance' => $chance, 'means' => $this->means($conclusion, $weights, $done)];
        }

        return new Step(
            $proposal->action, $proposal->site, $proposal->sentence, $proposal->tells, $proposal->minutes, $proposal->risk, $proposal->caution,
            max(0.0, $this->entropy($conclusion, $shares) - $left), $loss - $expected - $proposal->minutes - $proposal->riskMinutes, $outcomes,
        );
    }

    /**
     * The expected price of repairing from here: sites in order of share for price until the true set is covered, good
     * parts removed on the way included.
     *
     * @param  array<int, float>  $weights  by diagnosis
     * @param  string  $done  a site that is settled by then
     */
    private function loss(Conclusion $conclusion, StepCosts $costs, array $weights, string $done = ''): float
    {
        $shares = [];
        $sets = [];
        $total = 0.0;
        foreach ($conclusion->leading() as $number => $diagnosis) {
            $total += $weights[$number];
            $sets[$number] = [];
            foreach ($diagnosis->faults as $fault) {
                if ($fault->site !== $done && ! str_starts_with($fault->site, Conclusion::CURED) && ! isset($sets[$number][$fault->site])) {
                    $sets[$number][$fault->site] = true;
                    $shares[$fault->site] = ($shares[$fault->site] ?? 0.0) + $weights[$number];
                }
            }
        }
        if ($total <= 0.0) {
            return 0.0;
        }
        $worth = [];
        $price = [];
        foreach ($shares as $site => $share) {
            $price[$site] = $costs->repair((string) $site, $conclusion->kindOf((string) $site));
            $worth[$site] = $share / $price[$site];
        }
        arsort($worth);
        $spent = 0.0;
        $upTo = [];
        foreach (array_keys($worth) as $site) {
            $spent += $price[$site];
            $upTo[$site] = $spent;
        }
        $loss = 0.0;
        foreach ($sets as $number => $sites) {
            $last = 0.0;
            foreach (array_keys($sites) as $site) {
                $last = max($last, $upTo[$site]);
            }
            $loss += $weights[$number] * $last;
        }

        return $loss / $total;
    }

    /**
     * @param  array<int, float>  $weights
     */
    private function entropy(Conclusion $conclusion, array $weights, string $done = ''): float
    {
        $sets = $this->bySites($conclusion, $weights, $done);
        $total = array_sum($sets);
        $entropy = 0.0;
        foreach ($sets as $weight) {
            if ($weight > 0.0) {
                $entropy -= $weight / $total * log($weight / $total, 2);
            }
        }

        return $entropy;
    }

    /**
     * @param  array<int, float>  $weights
     */
    private function means(Conclusion $conclusion, array $weights, string $done): string
    {
        $sets = $this->bySites($conclusion, $weights, $done);
        $total = max(1e-12, array_sum($sets));
        arsort($sets);
        $first = (string) array_key_first($sets);
        $share = (int) round(100 * ($sets[$first] ?? 0.0) / $total);

        return $first === '' ? "nothing left, {$share} %" : str_replace("\0", ' and ', $first).", {$share} %";
    }

    /**
     * Sets of sites faulty now: modes and history that lead to the same repair are not told apart.
     *
     * @param  array<int, float>  $weights
     * @return array<string, float>
     */
    private function bySites(Conclusion $conclusion, array $weights, string $done): array
    {
        $sets = [];
        foreach ($conclusion->leading() as $number => $diagnosis) {
            $sites = [];
            foreach ($diagnosis->faults as $fault) {
                if ($fault->site !== $done && ! str_starts_with($fault->site, Conclusion::CURED)) {
                    $sites[$fault->site] = $fault->site;
                }
            }
            natsort($sites);
            $key = implode("\0", $sites);
            $sets[$key] = ($sets[$key] ?? 0.0) + $weights[$number];
        }

        return $sets;
    }

    private function plain(string $action, string $site, string $sentence, string $tells, float $minutes): Step
    {
        return new Step($action, $site, $sentence, $tells, $minutes, 'none', '', 0.0, 0.0, []);
    }
}
