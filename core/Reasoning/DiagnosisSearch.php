<?php

declare(strict_types=1);

namespace ZapTrace\Reasoning;

/**
 * Weighs sets of faults against all findings together.
 *
 *     P(D | findings) ~ product over D of prior / (1 - prior)  x  product over findings of P(reported | D)
 *
 * Sets grow one fault at a time from the empty one, over faults that explain some abnormal finding, in one fixed
 * order (likeliest alone first), so that each set is met once. The gain of a fault is what it multiplies the weight
 * of a set by; when a fault joins, only the gains of faults that share a finding with it change. A set is grown
 * further only while its weight, times the gains it could still take, could matter: an abnormal finding gains less
 * from each further fault that explains it, so the gains before a fault joins bound those after. What is cut off is
 * kept under a small part of the running total (tests hold it against exhaustive enumeration).
 *
 * Weights are logarithms relative to the empty set.
 */
final class DiagnosisSearch
{
    /** A set is not grown when all that could grow from it is below this part of the running total. */
    private const CUT = 1e-5;

    /** Sets below this part of the total are not listed as diagnoses. */
    private const LISTED = 1e-4;

    /** Stands for the logarithm of an impossible report: far below anything, but finite. */
    private const IMPOSSIBLE = 1e-200;

    /** @var list<Fault> candidates, likeliest alone first */
    private array $faults = [];

    /** @var list<string> */
    private array $siteOf = [];

    /** @var list<list<array{int, float}>> fault => its findings with 1 - strength */
    private array $findingsOf = [];

    /** @var list<list<array{int, float}>> finding => faults that show in it with 1 - strength */
    private array $faultsOf = [];

    /** @var list<float> P(report) = constant + slope x q */
    private array $constant = [];

    /** @var list<float> */
    private array $slope = [];

    private float $reference = 0.0;

    private float $total = 0.0;

    /** @var array<int, float> */
    private array $faultMass = [];

    /** @var array<string, float> */
    private array $siteMass = [];

    /** @var list<array{list<int>, float}> */
    private array $heavy = [];

    private int $maxFaults = 4;

    public function search(Network $network): Posterior
    {
        $this->maxFaults = $network->maxFaults;
        $gain = $this->prepare($network);
        $this->reference = $this->heaviest($gain);
        $this->total = exp(-$this->reference);
        $this->faultMass = array_fill(0, count($this->faults), 0.0);
        $this->siteOf = array_map(static fn (Fault $fault): string => $fault->site, $this->faults);
        $this->siteMass = array_fill_keys($this->siteOf, 0.0);
        $this->heavy = [[[], $this->total]];
        if ($this->maxFaults > 0) {
            $this->grow([], [], 0.0, $gain, array_fill(0, count($this->constant), 1.0), -1);
        }

        return $this->posterior($network);
    }

    /**
     * @return list<float> logarithm of each candidate's gain on the empty set
     */
    private function prepare(Network $network): array
    {
        $explaining = [];
        foreach ($network->findings as $finding) {
            foreach ($finding->abnormal ? $finding->explains : [] as $fault => $strength) {
                if ($strength > 0.0) {
                    $explaining[$fault] = true;
                }
            }
        }
        $this->constant = [];
        $this->slope = [];
        $showing = [];
        foreach ($network->findings as $number => $finding) {
            $this->constant[] = $finding->likelihood(0.0);
            $this->slope[] = $finding->likelihood(1.0) - $finding->likelihood(0.0);
            foreach (array_keys($finding->explains) as $fault) {
                $fault = (string) $fault;
                if (isset($explaining[$fault]) && $finding->strength($fault) > 0.0) {
                    $showing[$fault][] = [$number, 1.0 - $finding->strength($fault)];
                }
            }
        }

        $gains = [];
        $candidates = [];
        foreach ($network->faults as $fault) {
            if (! isset($explaining[$fault->id])) {
                continue;
            }
            $gain = log($fault->prior / (1.0 - $fault->prior));
            foreach ($showing[$fault->id] ?? [] as [$number, $rest]) {
                $gain += $this->ratio($number, 1.0, $rest);
            }
            $candidates[] = $fault;
            $gains[] = $gain;
        }
        arsort($gains);
        $this->faults = [];
        $this->findingsOf = [];
        $this->faultsOf = array_fill(0, count($network->findings), []);
        foreach (array_keys($gains) as $place => $old) {
            $this->faults[] = $candidates[$old];
            $this->findingsOf[] = $showing[$candidates[$old]->id] ?? [];
            foreach ($this->findingsOf[$place] as [$number, $rest]) {
                $this->faultsOf[$number][] = [$place, $rest];
            }
        }

        return array_values($gains);
    }

    /** Logarithm of what a report's chance is multiplied by when q is. */
    private function ratio(int $finding, float $q, float $rest): float
    {
        $constant = $this->constant[$finding];
        $slope = $this->slope[$finding];

        return log(max($constant + $slope * $q * $rest, self::IMPOSSIBLE) / max($constant + $slope * $q, self::IMPOSSIBLE));
    }

    /**
     * The logarithm of the weight of a set found greedily: near enough to the heaviest to scale the others by.
     *
     * @param  list<float>  $gain
     */
    private function heaviest(array $gain): float
    {
        $q = array_fill(0, count($this->constant), 1.0);
        $best = 0.0;
        $weight = 0.0;
        $taken = [];
        for ($size = 0; $size < $this->maxFaults && $gain !== []; $size++) {
            $next = -1;
            foreach ($gain as $place => $value) {
                if (! isset($taken[$place]) && ($next < 0 || $value > $gain[$next])) {
                    $next = $place;
                }
            }
            if ($next < 0) {
                break;
            }
            $taken[$next] = true;
            $weight += $gain[$next];
            $best = max($best, $weight);
            $gain = $this->join($next, $gain, $q, -1);
        }

        return $best;
    }

    /**
     * The gains after a fault has joined.
     *
     * @param  array<int, float>  $gain
     * @param  array<int, float>  $q  by finding; changed
     * @param  int  $after  only gains of faults after this place are kept up
     * @return array<int, float>
     */
    private function join(int $fault, array $gain, array &$q, int $after): array
    {
        foreach ($this->findingsOf[$fault] as [$finding, $rest]) {
            $constant = $this->constant[$finding];
            $slope = $this->slope[$finding];
            $before = $q[$finding];
            $now = $before * $rest;
            $q[$finding] = $now;
            $scale = max($constant + $slope * $before, self::IMPOSSIBLE) / max($constant + $slope * $now, self::IMPOSSIBLE);
            foreach ($this->faultsOf[$finding] as [$other, $otherRest]) {
                if ($other > $after) {
                    $gain[$other] += log($scale * max($constant + $slope * $now * $otherRest, self::IMPOSSIBLE) / max($constant + $slope * $before * $otherRest, self::IMPOSSIBLE));
                }
            }
        }

        return $gain;
    }

    /**
     * Weighs every set that has one fault more, and grows those that could still matter.
     *
     * @param  list<int>  $members
     * @param  array<string, true>  $sites  of the members
     * @param  array<int, float>  $gain
     * @param  array<int, float>  $q
     * @param  int  $last  place of the last member; only later faults join
     */
    private function grow(array $members, array $sites, float $weight, array $gain, array $q, int $last): void
    {
        $count = count($this->faults);
        $scaled = $weight - $this->reference;
        $sum = 0.0;
        $later = [];
        $suffix = 0.0;
        $listed = self::LISTED * $this->total;
        for ($place = $count - 1; $place > $last; $place--) {
            $later[$place] = $suffix;
            $value = $gain[$place];
            if ($value < -60.0 && $scaled + $value < -60.0) {
                continue; // Nothing that doubles could hold beside the total.
            }
            $suffix += exp($value < 600.0 ? $value : 600.0);
            $mass = exp($scaled + $value);
            $sum += $mass;
            $this->faultMass[$place] += $mass;
            $site = $this->siteOf[$place];
            if (! isset($sites[$site])) {
                $this->siteMass[$site] += $mass;
            }
            if ($mass > $listed) {
                $this->heavy[] = [[...$members, $place], $mass];
            }
        }
        $this->total += $sum;
        foreach ($members as $member) {
            $this->faultMass[$member] += $sum;
        }
        foreach (array_keys($sites) as $site) {
            $this->siteMass[$site] += $sum;
        }

        $room = $this->maxFaults - count($members) - 1;
        if ($room < 1) {
            return;
        }
        $cut = log(self::CUT * $this->total) - $scaled;
        for ($place = $last + 1; $place < $count - 1; $place++) {
            $more = $later[$place];
            $bound = $room === 1 ? $more : ($room === 2 ? $more * (1.0 + $more / 2.0) : $more * (1.0 + $more / 2.0 * (1.0 + $more / 3.0)));
            if ($bound <= 0.0 || $cut > $gain[$place] + log($bound)) {
                continue;
            }
            $childQ = $q;
            $childGain = $this->join($place, $gain, $childQ, $place);
            $this->grow([...$members, $place], $sites + [$this->faults[$place]->site => true], $weight + $gain[$place], $childGain, $childQ, $place);
        }
    }

    private function posterior(Network $network): Posterior
    {
        $sites = [];
        $faults = [];
        foreach ($network->faults as $fault) {
            $sites[$fault->site] = ($this->siteMass[$fault->site] ?? 0.0) / $this->total;
            $faults[$fault->id] = 0.0;
        }
        foreach ($this->faults as $place => $fault) {
            $faults[$fault->id] = $this->faultMass[$place] / $this->total;
        }
        arsort($sites);
        arsort($faults);
        usort($this->heavy, static fn (array $a, array $b): int => $b[1] <=> $a[1]);
        $diagnoses = [];
        foreach ($this->heavy as [$members, $mass]) {
            if ($mass < self::LISTED * $this->total) {
                break;
            }
            $diagnoses[] = new Diagnosis(array_map(fn (int $place): Fault => $this->faults[$place], $members), $mass / $this->total);
        }

        return new Posterior($sites, $faults, $diagnoses);
    }
}
