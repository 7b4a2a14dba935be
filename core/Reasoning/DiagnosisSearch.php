<?php

declare(strict_types=1);

namespace ZapTrace\Reasoning;

use SplPriorityQueue;

/**
 * Weighs sets of faults against all findings together.
 *
 *     P(D | findings) ~ product over D of prior / (1 - prior)  x  product over findings of P(reported | D)
 *
 * Sets grow one fault at a time from the empty one, over faults that explain some abnormal finding, in one fixed
 * order (likeliest alone first), so that each set is met once. The gain of a fault is what it multiplies the weight
 * of a set by; when a fault joins, only the gains of faults that share a finding with it change. The set from which most
 * could still come is grown first: its weight, times the gains it could still take. An abnormal finding gains less from
 * each further fault that explains it, so the gains before a fault joins bound those after. It ends where what could
 * come is a small part of the running total (tests hold it against exhaustive enumeration).
 *
 * A report with a likelihood of its own (not noisy-OR) is asked for the sets of faults that touch it, each once.
 *
 * At most so many faults of a set are live; those that a repair has taken out of play are counted apart. Faults that
 * sets do not grow from are added once to each of the leading sets, and of those in which all was repaired.
 *
 * Weights are logarithms relative to the empty set.
 */
final class DiagnosisSearch
{
    /** Sets below this part of the total are not listed as diagnoses. */
    private const LISTED = 1e-4;

    /** How much more a fault may gain once the fault that it grows with is there. */
    private const UNLOCKED = 1e3;

    /** A fault that makes a report likelier by less than this (a logarithm) does not explain it. */
    private const EXPLAINED = 1.5;

    /** A candidate whose part in everything it explains is less than this is outshone. */
    private const OUTSHONE = 5e-3;

    /** From this part of the total on sets are grown from one that is outshone after all, */
    private const PROMOTED = 0.02;

    /** and from so many of them. */
    private const MOST_PROMOTED = 12;

    /** How many leading sets the other live faults are added to, and how many of those in which all was repaired. */
    private const LEADING = 12;

    /** How many of the latter are kept until the leading ones are told from the others. */
    private const KEPT = 1000;

    /** So many times as much as the leading sets all the others may weigh. */
    private const BEHIND = 20.0;

    /** In how many of these they also take the place of each member. */
    private const REPLACED = 4;

    /** In how many they take the place of two of them. */
    private const REPLACED_TWO = 2;

    /** So often members of leading sets are exchanged, as long as others come to lead. */
    private const ROUNDS = 3;

    /** Stands for the logarithm of an impossible report: far below anything, but finite. */
    private const IMPOSSIBLE = 1e-200;

    /** @var list<Fault> candidates, likeliest alone first */
    private array $faults = [];

    /** @var list<string> */
    private array $siteOf = [];

    /** @var list<list<array{int, float, int}>> fault => its findings with 1 - strength, and its group in faultsOf */
    private array $findingsOf = [];

    /** @var array<int, array<int, array{float, list<int>}>> finding => 1 - strength, and the faults that show in it so */
    private array $faultsOf = [];

    /** @var array<int, array<int, array<int, array{float, list<int>}>>> place => finding => faultsOf, those after the place alone */
    private array $faultsAfter = [];

    /** @var array<string, true> candidates that are outshone */
    private array $beside = [];

    /** @var array<string, float>|null candidates that sets grow from although they are outshone, by their mass without; null before that is known */
    private ?array $promoted = null;

    /** @var list<bool> */
    private array $live = [];

    /** @var list<string|null> the fault that has to be in a set for this one to join it */
    private array $lock = [];

    /** @var array<int, Report> reports that are not noisy-OR, by place among the findings */
    private array $outcomes = [];

    /** @var array<int, array<int, int>> fault => outcome it touches => its class there: faults of one class do the same to it */
    private array $outcomesOf = [];

    /** @var array<int, array<int, list<int>>> outcome => class => faults that touch it */
    private array $touching = [];

    /** @var array<int, array<int, list<int>>> outcome => class => those of them that need no other to grow */
    private array $free = [];

    /** @var array<int, array<int, array<int, list<int>>>> place => outcome => touching, those after the place alone */
    private array $touchingAfter = [];

    /** @var array<int, array<int, array<int, list<int>>>> place => outcome => free, those after the place alone */
    private array $freeAfter = [];

    /** @var array<int, array<string, array<int, float>>> outcome => set of classes => one class more => logarithm of the chance of that set */
    private array $knownWith = [];

    /** @var array<string, true> faults that others grow with */
    private array $keys = [];

    /** @var array<int, array<int, string>> outcome => class => one fault of it */
    private array $ofClass = [];

    /** @var array<int, array<string, array<int, string>>> outcome => set of classes => one class more => that set */
    private array $more = [];

    /** @var array<int, array<string, float>> outcome => set of classes => logarithm of its chance */
    private array $known = [];

    /** @var list<float> P(report) = constant + slope x q */
    private array $constant = [];

    /** @var list<float> */
    private array $slope = [];

    private float $reference = 0.0;

    private float $total = 0.0;

    /** @var list<int> places of the set found greedily, the lowest first */
    private array $greedy = [];

    /** @var array<int, float> */
    private array $faultMass = [];

    /** @var array<string, float> */
    private array $siteMass = [];

    /** @var list<array{list<int>, float}> */
    private array $heavy = [];

    /** @var list<array{list<int>, float}> sets of faults that were all repaired, and the logarithms of their weights beside the reference */
    private array $repaired = [];

    /** @var list<array{list<int>, Fault, float}> leading sets with one fault more */
    private array $extended = [];

    private int $maxFaults = 4;

    private bool $oneToASite = false;

    /** So many sets are grown for a job, those first from which most could come, and no more: an answer has to come. */
    private const BUDGET = 2500;

    /** So many before, to see from which faults they are to grow. */
    private const FIRST = 600;

    private float $cut = 0.0;

    public function search(Network $network): Posterior
    {
        if ($network->collapse) {
            $classes = FaultClasses::of($network);

            $this->oneToASite = true;
            $posterior = $this->search(new Network($classes->faults, $network->findings, $network->maxFaults, $network->addOthers, cut: $network->cut));
            $this->oneToASite = false;

            return $classes->tellApart($posterior);
        }
        $this->maxFaults = $network->maxFaults;
        $this->cut = $network->cut;
        $gain = $this->prepare($network);
        $this->reference = $this->heaviest($gain);
        $this->total = exp(-$this->reference);
        $this->siteOf = array_map(static fn (Fault $fault): string => $fault->site, $this->faults);
        $this->faultMass = array_fill(0, count($this->faults), 0.0);
        $this->siteMass = array_fill_keys($this->siteOf, 0.0);
        $this->heavy = [[[], $this->total]];
        $this->repaired = [];
        $this->extended = [];
        $all = true;
        if ($this->maxFaults > 0) {
            $budget = match (true) {
                ! $network->addOthers => PHP_INT_MAX,
                $this->promoted === null => self::FIRST,
                default => self::BUDGET,
            };
            $all = $this->grow(new GrownSet([], [], 0.0, $gain, array_fill(0, count($this->constant), 1.0), array_fill_keys(array_keys($this->outcomes), ''), 0), $budget);
        }
        $others = [];
        if ($network->addOthers) {
            $rounds = self::ROUNDS;
            while ($rounds-- > 0 && $this->exchange()) {
                // As long as another comes to lead.
            }
            $others = $this->addOthers($network);
            $promoted = $this->promoted === null ? array_filter(array_intersect_key($others, $this->beside), fn (float $mass): bool => $mass >= self::PROMOTED * $this->total) : [];
            if ($this->promoted === null && ($promoted !== [] || ! $all)) {
                // One that was thought outshone weighs something beside the leading sets: it may weigh more in others.
                arsort($promoted);
                $this->promoted = array_slice($promoted, 0, self::MOST_PROMOTED, true);
                $posterior = $this->search($network);
                $this->promoted = null;

                return $posterior;
            }
        }

        return $this->posterior($network, $others);
    }

    /**
     * @return list<float> logarithm of each candidate's gain on the empty set
     */
    private function prepare(Network $network): array
    {
        $explaining = [];
        foreach ($network->findings as $finding) {
            if ($finding instanceof Finding) {
                $explaining += $finding->abnormal ? array_filter($finding->explains) : [];

                continue;
            }
            foreach ($finding->explainedBy() as $fault) {
                $explaining[$fault] = 1.0;
            }
        }
        $this->constant = [];
        $this->slope = [];
        $this->outcomes = [];
        $this->known = $this->knownWith = [];
        $this->faultsAfter = $this->touchingAfter = $this->freeAfter = [];
        $showing = [];
        $touched = [];
        foreach ($network->findings as $number => $finding) {
            if (! $finding instanceof Finding) {
                // Its chance is asked for by set; the noisy-OR form leaves it alone.
                $this->constant[] = 1.0;
                $this->slope[] = 0.0;
                $this->outcomes[$number] = $finding;
                foreach (array_keys($finding->touches()) as $fault) {
                    $touched[$fault][] = $number;
                }

                continue;
            }
            $this->constant[] = $finding->likelihood(0.0);
            $this->slope[] = $finding->likelihood(1.0) - $finding->likelihood(0.0);
            foreach ($finding->explains as $fault => $strength) {
                $strength *= 1.0 - ($finding->cured[$fault] ?? 0.0);
                if ($strength > 0.0 && isset($explaining[$fault])) {
                    $showing[$fault][] = [$number, 1.0 - $strength];
                }
            }
        }

        $gains = [];
        $candidates = [];
        $keys = [];
        foreach ($network->faults as $fault) {
            if (! isset($explaining[$fault->id]) || (! $fault->grows && $fault->growsWith === null)) {
                continue;
            }
            $keys[$fault->growsWith ?? ''] = true;
            $gain = log($fault->prior / (1.0 - $fault->prior));
            foreach ($showing[$fault->id] ?? [] as [$number, $rest]) {
                $gain += $this->ratio($number, 1.0, $rest);
            }
            foreach ($touched[$fault->id] ?? [] as $number) {
                $gain += self::logarithm($this->outcomes[$number]->chance([$fault->id])) - self::logarithm($this->outcomes[$number]->chance([]));
            }
            $candidates[] = $fault;
            $gains[] = $gain;
        }
        $parts = $network->addOthers ? $this->parts($gains, $this->ratios($candidates, $showing, $touched, $network)) : [];
        $this->beside = [];
        if ($network->addOthers) {
            foreach (array_filter($this->outshone($candidates, $parts), static fn (int $old): bool => ! isset($keys[$candidates[$old]->id])) as $old) {
                $this->beside[$candidates[$old]->id] = true;
                unset($candidates[$old], $gains[$old], $parts[$old]);
            }
        }
        // In a bare network, where many explain many, the gain alone is the better guide.
        $rank = $network->addOthers ? $this->ranks($candidates, $parts) : array_map(static fn (Fault $fault): float => 0.0, $candidates);
        // A fault that lets others grow comes before them.
        foreach ($candidates as $old => $fault) {
            $rank[$old] = isset($keys[$fault->id]) ? -1e9 : $rank[$old];
        }
        uksort($gains, static fn (int $a, int $b): int => $rank[$a] <=> $rank[$b] ?: $gains[$b] <=> $gains[$a] ?: $candidates[$a]->id <=> $candidates[$b]->id);
        $this->faults = [];
        $this->findingsOf = [];
        $this->faultsOf = array_fill(0, count($network->findings), []);
        $alike = [];
        $this->live = [];
        $this->lock = [];
        $this->outcomesOf = [];
        $this->touching = array_fill_keys(array_keys($this->outcomes), []);
        $this->free = $this->touching;
        $this->ofClass = [];
        $this->more = [];
        $classes = [];
        $this->keys = $keys;
        foreach (array_keys($gains) as $place => $old) {
            $this->faults[] = $candidates[$old];
            $this->live[] = $candidates[$old]->live;
            $this->lock[] = $candidates[$old]->grows ? null : $candidates[$old]->growsWith;
            foreach ($touched[$candidates[$old]->id] ?? [] as $number) {
                $mark = $this->outcomes[$number]->mark($candidates[$old]->id);
                $class = $classes[$number][$mark] ??= count($classes[$number] ?? []);
                $this->ofClass[$number][$class] = $candidates[$old]->id;
                $this->outcomesOf[$place][$number] = $class;
                $this->touching[$number][$class][] = $place;
                if ($this->lock[$place] === null) {
                    $this->free[$number][$class][] = $place;
                }
            }
            // Most faults show in a finding as strongly as others do: what one of them gains they all gain.
            $this->findingsOf[$place] = [];
            foreach ($showing[$candidates[$old]->id] ?? [] as [$number, $rest]) {
                $group = $alike[$number][(int) round($rest * 1e15)] ??= count($alike[$number] ?? []);
                $this->faultsOf[$number][$group] ??= [$rest, []];
                $this->faultsOf[$number][$group][1][] = $place;
                $this->findingsOf[$place][] = [$number, $rest, $group];
            }
        }

        return array_values($gains);
    }

    /**
     * How much likelier each candidate alone makes each abnormal report, as a logarithm; only where it explains it.
     *
     * @param  list<Fault>  $candidates
     * @param  array<string, list<array{int, float}>>  $showing
     * @param  array<string, list<int>>  $touched
     * @return array<int, array<int, float>> candidate => finding => ratio
     */
    private function ratios(array $candidates, array $showing, array $touched, Network $network): array
    {
        $ratios = [];
        $healthy = array_map(static fn (Report $outcome): float => self::logarithm($outcome->chance([])), $this->outcomes);
        foreach ($candidates as $number => $fault) {
            $ratios[$number] = [];
            foreach ($showing[$fault->id] ?? [] as [$finding, $rest]) {
                $ratios[$number][$finding] = $this->ratio($finding, 1.0, $rest);
            }
            foreach ($touched[$fault->id] ?? [] as $finding) {
                $ratios[$number][$finding] = self::logarithm($this->outcomes[$finding]->chance([$fault->id])) - $healthy[$finding];
            }
            $ratios[$number] = array_filter($ratios[$number], static fn (float $ratio, int $finding): bool => $ratio > self::EXPLAINED && $network->findings[$finding]->isAbnormal(), ARRAY_FILTER_USE_BOTH);
        }

        return $ratios;
    }

    /**
     * For each abnormal finding, how much of its explanation falls to each candidate.
     *
     * @param  array<int, float>  $gains
     * @param  array<int, array<int, float>>  $ratios
     * @return array<int, array<int, float>> candidate => finding => its part, 0 to 1
     */
    private function parts(array $gains, array $ratios): array
    {
        $scores = [];
        $totals = [];
        foreach ($ratios as $number => $explained) {
            $rest = $gains[$number] - array_sum($explained);
            $scores[$number] = [];
            foreach ($explained as $finding => $ratio) {
                $scores[$number][$finding] = exp(max(-600.0, min(600.0, $rest + $ratio)));
                $totals[$finding] = ($totals[$finding] ?? 0.0) + $scores[$number][$finding];
            }
        }
        foreach ($scores as $number => $explained) {
            foreach ($explained as $finding => $score) {
                $scores[$number][$finding] = $score / max(1e-300, $totals[$finding]);
            }
        }

        return $scores;
    }

    /**
     * Candidates that everything they explain is explained by others far better: they are added once, and sets do not
     * grow from them.
     *
     * @param  array<int, Fault>  $candidates
     * @param  array<int, array<int, float>>  $parts
     * @return list<int>
     */
    private function outshone(array $candidates, array $parts): array
    {
        $outshone = [];
        foreach ($candidates as $number => $fault) {
            if ($fault->live && $fault->grows && ! isset($this->promoted[$fault->id]) && ($parts[$number] === [] || max($parts[$number]) <= self::OUTSHONE)) {
                $outshone[] = $number;
            }
        }

        return $outshone;
    }

    /**
     * The order in which faults join: those first whose site explains most that little else explains. Once a set has
     * passed them by, nothing that comes later can make up for it, and it is soon given up. The order is one of speed
     * alone.
     *
     * @param  array<int, Fault>  $candidates
     * @param  array<int, array<int, float>>  $parts
     * @return array<int, float> candidate => rank, the lowest first
     */
    private function ranks(array $candidates, array $parts): array
    {
        $sites = [];
        foreach ($candidates as $number => $fault) {
            $sites[$fault->site] = ($sites[$fault->site] ?? 0.0) + array_sum($parts[$number]);
        }

        return array_map(static fn (Fault $fault): float => -round($sites[$fault->site], 6), $candidates);
    }

    private static function logarithm(float $chance): float
    {
        return log(max($chance, self::IMPOSSIBLE));
    }

    /**
     * @param  string  $set  classes of the members that touch the outcome, with commas between
     * @return float logarithm of its chance
     */
    private function outcome(int $number, string $set): float
    {
        return $this->known[$number][$set] ??= self::logarithm($this->outcomes[$number]->chance(
            $set === '' ? [] : array_map(fn (string $class): string => $this->ofClass[$number][(int) $class], explode(',', $set)),
        ));
    }

    /** The set with one more of a class. */
    private function with(int $number, string $set, int $class): string
    {
        if (! isset($this->more[$number][$set][$class])) {
            $classes = $set === '' ? [] : array_map(intval(...), explode(',', $set));
            $classes[] = $class;
            sort($classes);
            $this->more[$number][$set][$class] = implode(',', $classes);
        }

        return $this->more[$number][$set][$class];
    }

    /** The sum of x^k / k! for k from 1 to n: sets of further faults are fewer than sequences of them. */
    private static function series(float $x, int $n): float
    {
        $sum = 1.0;
        for (; $n > 1; $n--) {
            $sum = 1.0 + $x / $n * $sum;
        }

        return $x * $sum;
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
        $sets = array_fill_keys(array_keys($this->outcomes), '');
        $best = 0.0;
        $this->greedy = [];
        $weight = 0.0;
        $taken = [];
        $sites = [];
        $room = [$this->maxFaults, $this->maxFaults];
        while ($gain !== []) {
            $next = -1;
            foreach ($gain as $place => $value) {
                if (! isset($taken[$place]) && $this->lock[$place] === null && ! ($this->oneToASite && isset($sites[$this->faults[$place]->site])) && $room[(int) $this->live[$place]] > 0 && ($next < 0 || $value > $gain[$next])) {
                    $next = $place;
                }
            }
            if ($next < 0) {
                break;
            }
            $taken[$next] = true;
            $sites[$this->faults[$next]->site] = true;
            $room[(int) $this->live[$next]]--;
            $weight += $gain[$next];
            if ($weight > $best) {
                $best = $weight;
                $this->greedy = array_keys($taken);
            }
            $gain = $this->join($next, $gain, $q, $sets, -1);
        }
        sort($this->greedy);

        return $best;
    }

    /**
     * The gains after a fault has joined.
     *
     * @param  array<int, float>  $gain
     * @param  array<int, float>  $q  by finding; changed
     * @param  array<int, string>  $sets  by outcome, the classes of the members that touch it, with commas between; changed
     * @param  int  $after  only gains of faults after this place are kept up
     * @param  bool  $open  a fault that others grow with is in the set
     * @return array<int, float>
     */
    private function join(int $fault, array $gain, array &$q, array &$sets, int $after, bool $open = true): array
    {
        foreach ($this->outcomesOf[$fault] ?? [] as $number => $class) {
            $before = $sets[$number];
            $now = $this->with($number, $before, $class);
            $sets[$number] = $now;
            $shift = $this->outcome($number, $before) - $this->outcome($number, $now);
            $later = $open ? $this->touchingAfter[$after][$number] ??= self::after($after, $this->touching[$number]) : $this->freeAfter[$after][$number] ??= self::after($after, $this->free[$number]);
            $withNow = $this->knownWith[$number][$now] ?? [];
            $withBefore = $this->knownWith[$number][$before] ?? [];
            foreach ($later as $other => $places) {
                $change = $shift + ($withNow[$other] ??= $this->outcome($number, $this->with($number, $now, $other))) - ($withBefore[$other] ??= $this->outcome($number, $this->with($number, $before, $other)));
                foreach ($places as $place) {
                    $gain[$place] += $change;
                }
            }
            $this->knownWith[$number][$now] = $withNow;
            $this->knownWith[$number][$before] = $withBefore;
        }
        foreach ($this->findingsOf[$fault] as [$finding, $rest]) {
            $constant = $this->constant[$finding];
            $slope = $this->slope[$finding];
            $before = $q[$finding];
            $now = $before * $rest;
            $q[$finding] = $now;
            $scale = max($constant + $slope * $before, self::IMPOSSIBLE) / max($constant + $slope * $now, self::IMPOSSIBLE);
            foreach ($this->faultsAfter[$after][$finding] ??= $this->laterIn($after, $finding) as [$otherRest, $others]) {
                $shift = log($scale * max($constant + $slope * $now * $otherRest, self::IMPOSSIBLE) / max($constant + $slope * $before * $otherRest, self::IMPOSSIBLE));
                foreach ($others as $other) {
                    $gain[$other] += $shift;
                }
            }
        }

        return $gain;
    }

    /**
     * @param  array<int, list<int>>  $places  by class, the lowest first
     * @return array<int, list<int>> those after a place; no class without any
     */
    private static function after(int $after, array $places): array
    {
        return array_filter(array_map(static fn (array $each): array => self::later($after, $each), $places), static fn (array $each): bool => $each !== []);
    }

    /**
     * @return list<array{float, list<int>}> the faults after a place that show in a finding, as in faultsOf
     */
    private function laterIn(int $after, int $finding): array
    {
        $later = [];
        foreach ($this->faultsOf[$finding] as [$rest, $places]) {
            $places = self::later($after, $places);
            if ($places !== []) {
                $later[] = [$rest, $places];
            }
        }

        return $later;
    }

    /**
     * @param  list<int>  $places  the lowest first
     * @return list<int> those after a place
     */
    private static function later(int $after, array $places): array
    {
        return ($places[0] ?? -1) > $after ? $places : array_values(array_filter($places, static fn (int $place): bool => $place > $after));
    }

    /**
     * Grows sets, those first from which most could still come, until what is left is too little to matter.
     *
     * @param  int  $budget  of sets
     * @return bool whether it was enough
     */
    private function grow(GrownSet $root, int $budget): bool
    {
        /** @var SplPriorityQueue<array{float, int}, array{GrownSet, int, float}> $waiting */
        $waiting = new SplPriorityQueue;
        $this->weigh($root, $waiting);
        // What leads to the set found greedily is grown at once: however soon the budget is spent, that one is weighed.
        $path = [];
        $set = $root;
        foreach ($this->greedy as $place) {
            $set = $this->joined($set, $place);
            $path[implode(' ', $set->members)] = true;
            $this->weigh($set, $waiting);
        }
        for ($grown = 1; $grown < $budget && ! $waiting->isEmpty(); $grown++) {
            /** @var array{GrownSet, int, float} $next */
            $next = $waiting->extract();
            [$from, $place, $most] = $next;
            if ($most < log($this->cut * max(1.0, $this->total))) {
                return true;
            }
            if (! isset($path[implode(' ', [...$from->members, $place])])) {
                $this->weigh($this->joined($from, $place), $waiting);
            }
        }

        return $waiting->isEmpty();
    }

    private function joined(GrownSet $from, int $place): GrownSet
    {
        $q = $from->q;
        $sets = $from->sets;
        $members = [...$from->members, $place];
        $gain = $this->join($place, $from->gain, $q, $sets, $place, $this->isOpen($members));

        return new GrownSet($members, $from->sites + [$this->siteOf[$place] => true], $from->weight + $from->gain[$place], $gain, $q, $sets, $from->live + (int) $this->live[$place]);
    }

    /**
     * Whether a fault that others grow with is in a set.
     *
     * @param  list<int>  $members
     */
    private function isOpen(array $members): bool
    {
        foreach ($members as $member) {
            if (isset($this->keys[$this->faults[$member]->id])) {
                return true;
            }
        }

        return false;
    }

    /**
     * Weighs every set that has one fault more, and puts those that could be grown further in the queue: by the most
     * that could come of them.
     *
     * @param  SplPriorityQueue<array{float, int}, array{GrownSet, int, float}>  $waiting
     */
    private function weigh(GrownSet $set, SplPriorityQueue $waiting): void
    {
        $members = $set->members;
        $sites = $set->sites;
        $gain = $set->gain;
        $last = $set->last();
        $liveMembers = $set->live;
        $count = count($this->faults);
        $room = [$this->maxFaults - count($members) + $liveMembers, $this->maxFaults - $liveMembers];
        $open = ['' => true];
        foreach ($members as $member) {
            if (isset($this->keys[$this->faults[$member]->id])) {
                $open[$this->faults[$member]->id] = true;
            }
        }
        $scaled = $set->weight - $this->reference;
        $sum = 0.0;
        $later = [];
        $locked = [];
        $goneAfter = [];
        $gone = 0;
        $suffix = 0.0;
        $listed = self::LISTED * $this->total;
        // Asked for at every place of every set: kept at hand.
        $liveAt = $this->live;
        $lockAt = $this->lock;
        $siteAt = $this->siteOf;
        for ($place = $count - 1; $place > $last; $place--) {
            $later[$place] = $suffix;
            $goneAfter[$place] = $gone;
            $isLive = (int) $liveAt[$place];
            $gone += 1 - $isLive;
            $site = $siteAt[$place];
            if ($room[$isLive] < 1 || ($this->oneToASite && isset($sites[$site]))) {
                continue;
            }
            $lock = $lockAt[$place] ?? '';
            if (! isset($open[$lock])) {
                // With its key it may gain more than without; the report alone bounds by how much.
                $locked[$lock] = ($locked[$lock] ?? 0.0) + exp(min($gain[$place], 600.0)) * self::UNLOCKED;

                continue;
            }
            $value = $gain[$place];
            if ($liveMembers === 0 && $isLive === 0) {
                $this->repaired[] = [[...$members, $place], $scaled + $value];
                if (count($this->repaired) > self::KEPT) {
                    $this->allRepaired();
                }
            }
            if ($value < -60.0 && $scaled + $value < -60.0) {
                continue; // Nothing that doubles could hold beside the total.
            }
            $suffix += exp($value < 600.0 ? $value : 600.0);
            $mass = exp($scaled + $value);
            $sum += $mass;
            $this->faultMass[$place] += $mass;
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

        // The set found greedily weighs one in this scale: the total is more, even before it is met.
        $cut = log($this->cut * max(1.0, $this->total)) - $scaled;
        $most = min($room[0], $gone) + $room[1] - ($gone > 0 ? 0 : 1);
        if ($most < 1) {
            return;
        }
        $mostBound = log(max(1e-300, self::series($suffix + array_sum($locked), $most)));
        for ($place = $last + 1; $place < $count - 1; $place++) {
            if ($cut > $gain[$place] + $mostBound) {
                continue;
            }
            $isLive = (int) $liveAt[$place];
            $left = min($room[0] - 1 + $isLive, $goneAfter[$place]) + $room[1] - $isLive;
            if ($room[$isLive] < 1 || $left < 1 || ! isset($open[$lockAt[$place] ?? '']) || ($this->oneToASite && isset($sites[$siteAt[$place]]))) {
                continue;
            }
            // The sum over sets of further faults is less than that over sequences of them.
            $more = $later[$place] + ($locked[$this->faults[$place]->id] ?? 0.0);
            $bound = self::series($more, $left);
            if ($bound <= 0.0 || $cut > $gain[$place] + log($bound)) {
                continue;
            }
            $promise = $scaled + $gain[$place] + log($bound);
            $waiting->insert([$set, $place, $promise], [$promise, -$waiting->count()]);
        }
    }

    /**
     * Adds every live fault that sets do not grow from once to each of the leading sets.
     *
     * @return array<string, float> fault => its mass
     */
    private function addOthers(Network $network): array
    {
        $others = [];
        $grown = [];
        foreach ($this->faults as $place => $fault) {
            $grown[$fault->id] = $this->lock[$place] === null;
        }
        $grown = array_filter($grown);
        foreach ($network->faults as $fault) {
            if ((! $fault->grows || isset($this->beside[$fault->id])) && $fault->live && ! isset($grown[$fault->id])) {
                $others[$fault->id] = $fault;
            }
        }
        $touching = [];
        foreach ($network->findings as $number => $finding) {
            foreach (array_intersect_key($finding->touches(), $others) as $id => $strength) {
                // What bears one mark does the same to an outcome, and what shows as strongly the same to a finding.
                $mark = isset($this->outcomes[$number]) ? $finding->mark($id) : (string) $strength;
                $touching[$number][$mark] ??= [1.0 - $strength, []];
                $touching[$number][$mark][1][] = $id;
            }
        }
        usort($this->heavy, static fn (array $a, array $b): int => $b[1] <=> $a[1]);
        $added = array_fill_keys(array_keys($others), 0.0);
        $leading = array_slice($this->heavy, 0, self::LEADING);
        if (array_filter($leading, static fn (array $set): bool => $set[0] === []) === []) {
            $leading[] = [[], exp(-$this->reference)]; // Each of them may be the only fault.
        }
        // What each gains on the empty set; beside others only what they touch as well differs.
        $alone = [];
        foreach ($others as $id => $fault) {
            $alone[$id] = log($fault->prior / (1.0 - $fault->prior));
        }
        $gains = [];
        foreach ($touching as $number => $marks) {
            foreach ($marks as $mark => [$rest, $ids]) {
                $gains[$number][$mark] = $this->gainOf($number, [], $ids[0], 1.0, '', $rest);
                foreach ($ids as $id) {
                    $alone[$id] += $gains[$number][$mark];
                }
            }
        }
        [$met, $faultMass, $siteMass] = [$this->total, $this->faultMass, $this->siteMass];
        $reached = 0.0;
        $toLeading = [];
        foreach ($this->bases($leading) as $number => [$members, $logarithm]) {
            $isLeading = $number < count($leading);
            if (count(array_filter($members, fn (int $place): bool => $this->live[$place])) >= $this->maxFaults) {
                continue;
            }
            $reached += $isLeading ? exp($logarithm) : 0.0;
            [$q, $sets] = $this->standing($members);
            $ids = array_map(fn (int $place): string => $this->faults[$place]->id, $members);
            $sites = array_flip(array_map(fn (int $place): string => $this->siteOf[$place], $members));
            $weights = $alone;
            foreach ($touching as $number => $marks) {
                if ($q[$number] === 1.0 && ($sets[$number] ?? '') === '') {
                    continue;
                }
                foreach ($marks as $mark => [$rest, $itsIds]) {
                    $shift = $this->gainOf($number, $ids, $itsIds[0], $q[$number], $sets[$number] ?? '', $rest) - $gains[$number][$mark];
                    foreach ($itsIds as $id) {
                        $weights[$id] += $shift;
                    }
                }
            }
            $sum = 0.0;
            foreach ($others as $id => $fault) {
                $more = exp(min(600.0, $logarithm + $weights[$id]));
                $sum += $more;
                $added[$id] += $more;
                $toLeading[$id] = ($toLeading[$id] ?? 0.0) + ($isLeading ? $more : 0.0);
                $this->siteMass[$fault->site] = ($this->siteMass[$fault->site] ?? 0.0) + (isset($sites[$fault->site]) ? 0.0 : $more);
                if ($more > self::LISTED * $this->total) {
                    $this->extended[] = [$members, $fault, $more];
                }
            }
            $this->total += $sum;
            foreach ($members as $place) {
                $this->faultMass[$place] += $sum;
            }
            foreach (array_keys($sites) as $site) {
                $this->siteMass[$site] += $sum;
            }
        }
        // To the sets that do not lead they are added as they were to those that do: a second fault nobody has seen keeps its chance.
        $share = $reached > 0.0 ? min(self::BEHIND, max(0.0, $met / $reached - 1.0)) : 0.0;
        $more = $share * array_sum($toLeading);
        foreach ($faultMass as $place => $mass) {
            $this->faultMass[$place] += $mass * $more / $met;
        }
        foreach ($siteMass as $site => $mass) {
            $this->siteMass[$site] += $mass * $more / $met;
        }
        foreach ($toLeading as $id => $mass) {
            $added[$id] += $share * $mass;
            $this->siteMass[$others[$id]->site] += $share * $mass;
        }
        $this->total += $more;

        return $added;
    }

    /**
     * What the chance of a report is multiplied by when one more fault joins a set, as a logarithm.
     *
     * @param  list<string>  $members
     * @param  float  $q  of a finding, with the members
     * @param  string  $set  of an outcome, the classes of the members
     * @param  float  $rest  of a finding, 1 - strength of the one that joins
     */
    private function gainOf(int $number, array $members, string $joins, float $q, string $set, float $rest): float
    {
        return isset($this->outcomes[$number])
            ? self::logarithm($this->outcomes[$number]->chance([...$members, $joins])) - $this->outcome($number, $set)
            : $this->ratio($number, $q, $rest);
    }

    /**
     * The sets that others are added to: the leading ones, and the first of these without one of their members, so that
     * what sets do not grow from can also stand in the place of what they did.
     *
     * @param  list<array{list<int>, float}>  $leading
     * @return list<array{list<int>, float}> members, and the logarithm of the weight beside the reference
     */
    private function bases(array $leading): array
    {
        $bases = [];
        $known = [];
        foreach ($leading as [$members, $mass]) {
            // Beside what was seen very often the empty set weighs nothing, and what is added to it may weigh all.
            $bases[] = [$members, $members === [] ? -$this->reference : log(max(1e-300, $mass))];
            $known[self::key($members)] = true;
        }
        foreach ($this->allRepaired() as [$members, $logarithm]) {
            if (! isset($known[self::key($members)])) {
                $bases[] = [$members, $logarithm];
                $known[self::key($members)] = true;
            }
        }
        $reduced = $this->reduced(array_slice($leading, 0, self::REPLACED), $known);
        foreach ($reduced as $rest) {
            $known[self::key($rest)] = true;
        }
        // And the first without two: one may stand in the place of both.
        $byTwo = $this->reduced(array_map(static fn (array $rest): array => [$rest, 0.0], $this->reduced(array_slice($leading, 0, self::REPLACED_TWO), [])), $known);
        foreach ([...$reduced, ...$byTwo] as $rest) {
            $bases[] = [$rest, $this->weightOf($rest, ...$this->standing($rest))];
        }

        return $bases;
    }

    /**
     * The leading sets in which all was repaired. Where it is as before, something is left that nothing else speaks for: beside
     * the sets that explain why, these weigh nothing without it.
     *
     * @return list<array{list<int>, float}> members, and the logarithm of the weight beside the reference
     */
    private function allRepaired(): array
    {
        usort($this->repaired, static fn (array $a, array $b): int => $b[1] <=> $a[1]);

        return $this->repaired = array_slice($this->repaired, 0, self::LEADING);
    }

    /**
     * Sets without one of their members, each once.
     *
     * @param  list<array{list<int>, float}>  $sets
     * @param  array<string, true>  $but  sets that are not wanted
     * @return list<list<int>>
     */
    private function reduced(array $sets, array $but): array
    {
        $reduced = [];
        foreach ($sets as [$members]) {
            foreach ($members as $without) {
                $rest = array_values(array_diff($members, [$without]));
                $key = self::key($rest);
                if (! isset($but[$key]) && array_filter($rest, fn (int $place): bool => $this->lock[$place] !== null) === []) {
                    $but[$key] = true;
                    $reduced[] = $rest;
                }
            }
        }

        return $reduced;
    }

    /**
     * @param  list<int>  $members
     */
    private static function key(array $members): string
    {
        sort($members);

        return implode(' ', $members);
    }

    /**
     * Where the budget ran out, sets that differ from a leading one in one member, or have one that is left beside what was
     * repaired, may not have been met though they weigh as much: those are weighed now.
     *
     * @return bool whether one of them leads
     */
    private function exchange(): bool
    {
        $met = [];
        foreach ($this->heavy as [$members]) {
            $met[self::key($members)] = true;
        }
        usort($this->heavy, static fn (array $a, array $b): int => $b[1] <=> $a[1]);
        $most = $this->heavy[0][1];
        $leads = false;
        foreach ([...$this->reduced(array_slice($this->heavy, 0, self::REPLACED), []), ...array_column($this->allRepaired(), 0)] as $rest) {
            [$q, $sets] = $this->standing($rest);
            $weight = $this->weightOf($rest, $q, $sets);
            $sites = array_map(fn (int $place): string => $this->siteOf[$place], $rest);
            $live = count(array_filter($rest, fn (int $place): bool => $this->live[$place]));
            $gains = [];
            foreach ($this->faults as $place => $fault) {
                if ($this->lock[$place] !== null || in_array($fault->site, $sites, true) || ($this->live[$place] ? $live : count($rest) - $live) >= $this->maxFaults) {
                    continue;
                }
                $gain = log($fault->prior / (1.0 - $fault->prior));
                foreach ($this->findingsOf[$place] as [$number, $left, $group]) {
                    $gain += $gains[$number][$group] ??= $this->ratio($number, $q[$number], $left);
                }
                foreach ($this->outcomesOf[$place] ?? [] as $number => $class) {
                    $gain += $this->outcome($number, $this->with($number, $sets[$number], $class)) - $this->outcome($number, $sets[$number]);
                }
                $mass = exp(min(600.0, $weight + $gain));
                if ($mass <= self::LISTED * $this->total) {
                    continue;
                }
                $key = self::key([...$rest, $place]);
                if (isset($met[$key])) {
                    continue;
                }
                $met[$key] = true;
                $this->total += $mass;
                foreach ([...$rest, $place] as $member) {
                    $this->faultMass[$member] += $mass;
                }
                foreach (array_unique([...$sites, $fault->site]) as $site) {
                    $this->siteMass[$site] += $mass;
                }
                $this->heavy[] = [[...$rest, $place], $mass];
                $leads = $leads || $mass > $most;
            }
        }

        return $leads;
    }

    /**
     * @param  list<int>  $members
     * @return array{array<int, float>, array<int, string>} of each finding the chance that none of them shows; of each outcome the set of their classes
     */
    private function standing(array $members): array
    {
        $q = array_fill(0, count($this->constant), 1.0);
        $sets = array_fill_keys(array_keys($this->outcomes), '');
        foreach ($members as $place) {
            foreach ($this->findingsOf[$place] as [$number, $rest]) {
                $q[$number] *= $rest;
            }
            foreach ($this->outcomesOf[$place] ?? [] as $number => $class) {
                $sets[$number] = $this->with($number, $sets[$number], $class);
            }
        }

        return [$q, $sets];
    }

    /**
     * The logarithm of the weight of a set, beside the reference.
     *
     * @param  list<int>  $members
     * @param  array<int, float>  $q  with them, as in standing()
     * @param  array<int, string>  $sets
     */
    private function weightOf(array $members, array $q, array $sets): float
    {
        $weight = -$this->reference;
        foreach ($members as $place) {
            $weight += log($this->faults[$place]->prior / (1.0 - $this->faults[$place]->prior));
        }
        foreach ($q as $number => $rest) {
            $weight += $rest < 1.0 ? $this->ratio($number, 1.0, $rest) : 0.0;
        }
        foreach ($sets as $number => $set) {
            $weight += $this->outcome($number, $set) - $this->outcome($number, '');
        }

        return $weight;
    }

    /**
     * @param  array<string, float>  $others  masses of the faults that were added once
     */
    private function posterior(Network $network, array $others): Posterior
    {
        $sites = [];
        $faults = [];
        foreach ($network->faults as $fault) {
            $sites[$fault->site] = ($this->siteMass[$fault->site] ?? 0.0) / $this->total;
            $faults[$fault->id] = ($others[$fault->id] ?? 0.0) / $this->total;
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
        foreach ($this->extended as [$members, $fault, $mass]) {
            if ($mass >= self::LISTED * $this->total) {
                $diagnoses[] = new Diagnosis([...array_map(fn (int $place): Fault => $this->faults[$place], $members), $fault], $mass / $this->total);
            }
        }
        usort($diagnoses, static fn (Diagnosis $a, Diagnosis $b): int => $b->share <=> $a->share);

        return new Posterior($sites, $faults, $diagnoses);
    }
}
