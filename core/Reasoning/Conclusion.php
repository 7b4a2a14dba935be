<?php

declare(strict_types=1);

namespace ZapTrace\Reasoning;

use ZapTrace\Board\BoardProfile;
use ZapTrace\Board\Net;

/**
 * What all evidence together says: suspects, what was cured, rival diagnoses, and what speaks for and against whom.
 */
final class Conclusion
{
    public const CURED = "cured\0";

    /** Shares below this are not shown. */
    private const SHOWN = 0.004;

    /** Beyond these the likelier diagnoses hold all that matters for a sentence. */
    private const WEIGHED = 150;

    /** From this chance on that a contact that was tried was at fault what was seen before may be otherwise by now. */
    private const OTHERWISE = 0.05;

    public readonly MachineState $now;

    /** @var array<string, SiteKind> fault => what it is of */
    private array $kinds = [];

    /** @var list<Suspect>|null */
    private ?array $suspects = null;

    /** @var list<list<float>>|null finding => diagnosis => chance of the report */
    private ?array $chances = null;

    /**
     * @param  list<Evidence>  $evidence  in the order of the network's findings
     * @param  list<SuspectedFault>  $suspected
     */
    public function __construct(
        public BoardProfile $board,
        public Network $network,
        public Posterior $posterior,
        public array $evidence,
        public array $suspected,
        public Circumstances $circumstances,
    ) {
        $this->now = $circumstances->now;
    }

    /**
     * @return list<Suspect> in falling order of share
     */
    public function suspects(): array
    {
        return $this->suspects ??= $this->findSuspects();
    }

    /**
     * The likelier diagnoses, which hold all that matters for choosing a step or a sentence.
     *
     * @return list<Diagnosis>
     */
    public function leading(): array
    {
        return array_slice($this->posterior->diagnoses, 0, self::WEIGHED);
    }

    /**
     * @return list<Suspect>
     */
    private function findSuspects(): array
    {
        if (! $this->hasMoreThanTheComplaint()) {
            return []; // That it is sick points at nobody yet.
        }
        $suspects = [];
        foreach ($this->posterior->sites as $site => $share) {
            $site = (string) $site;
            if ($share >= self::SHOWN && ! str_starts_with($site, self::CURED)) {
                $reasons = $this->reasons($site);
                $because = array_map(static fn (Reason $reason): string => $reason->words, array_filter($reasons, static fn (Reason $reason): bool => $reason->decibans > 0.5));
                if ($because === [] && $reasons !== [] && $reasons[0]->decibans > -0.5) {
                    $because = [$reasons[0]->words]; // It explains this no better than its rivals do, but it explains it.
                }
                $suspects[] = new Suspect($site, $this->kindOf($site), $share, array_values($because), $reasons, $this->seatOf($site));
            }
        }
        usort($suspects, static fn (Suspect $a, Suspect $b): int => round($b->share, 9) <=> round($a->share, 9) ?: strnatcmp($a->site, $b->site));

        return $suspects;
    }

    /**
     * @return array<string, float> site => probability that what was taken out of play there had been faulty
     */
    public function cured(): array
    {
        $cured = [];
        foreach ($this->posterior->sites as $site => $share) {
            if (str_starts_with((string) $site, self::CURED) && $share >= self::SHOWN) {
                $cured[substr((string) $site, strlen(self::CURED))] = $share;
            }
        }

        return $cured;
    }

    /**
     * What was wrong in the end: sites that more likely than not had been at fault before they were put right.
     *
     * @return array<string, float> site => probability
     */
    public function found(): array
    {
        return array_filter($this->cured(), static fn (float $share): bool => $share >= 0.5);
    }

    /** Whether the screen stayed blank when it was last looked at, and nothing has shown since that it runs all the same. */
    public function isBlank(): bool
    {
        $words = $this->board->signs['blank']->words ?? null;
        $isBlank = false;
        $last = $runs = -1;
        foreach ($this->evidence as $seen) {
            $tells = $seen->kind === Evidence::SIGN || ! $seen->abnormal && in_array($seen->kind, [Evidence::COMPLAINT, Evidence::FUNCTION], true);
            if ($tells && $seen->state->moment >= $last) {
                $last = $seen->state->moment;
                $isBlank = $seen->abnormal && $seen->words === $words;
            }
            // A diagnostic that it has in its own ROM, and gets through.
            $isOwn = $seen->runs !== null && $seen->runs->diagnostic->insert === '';
            $runs = ! $seen->abnormal && ($seen->kind === Evidence::BUS || $isOwn) ? max($runs, $seen->state->moment) : $runs;
        }

        // Where its bus does all it should, or its own test passes, it runs, and only the picture is missing.
        return $isBlank && $runs < $last;
    }

    /** Whether a fault is one of the machine as it stands: not cured, and not of what is measured with. */
    public function isLeft(Fault $fault): bool
    {
        if ($this->kinds === []) {
            foreach ($this->suspected as $suspected) {
                $this->kinds[$suspected->id] = $suspected->kind;
            }
        }
        $kind = $this->kinds[$fault->id] ?? null;

        return $fault->live && $kind !== SiteKind::Setup && $kind !== SiteKind::SecondMachine;
    }

    /** The trace that is suspected most; null where it is no trace of the netlist. */
    public function leadingTrace(): ?Net
    {
        $leads = $this->suspects()[0] ?? null;

        return $leads !== null && $leads->kind === SiteKind::Net ? $this->board->netlist->nets[$leads->site] ?? null : null;
    }

    /** Whether something that is measured with was looked at itself and found right; null where nobody has looked. */
    public function isSetUpRight(string $setup): ?bool
    {
        $right = null;
        foreach ($this->evidence as $seen) {
            $right = $seen->kind === Evidence::SETUP && $seen->setup === $setup ? ! $seen->abnormal : $right;
        }

        return $right;
    }

    /** The probability that no fault is left in the machine as it stands. */
    public function nothingLeft(): float
    {
        $sum = 0.0;
        foreach ($this->posterior->diagnoses as $diagnosis) {
            $live = array_filter($diagnosis->faults, $this->isLeft(...));
            $sum += $live === [] ? $diagnosis->share : 0.0;
        }

        return $sum;
    }

    /**
     * How likely it is that something on each assembly is faulty now; nothing when the board is all one.
     *
     * @return array<string, float> assembly => probability
     */
    public function assemblies(): array
    {
        if (count($this->board->assemblies) < 2 || $this->suspects() === []) {
            return [];
        }
        $assembly = [];
        foreach ($this->suspected as $fault) {
            $assembly[$fault->id] = $fault->assembly;
        }
        $shares = [];
        foreach ($this->board->assemblies as $each) {
            $shares[$each->id] = 0.0;
        }
        foreach ($this->posterior->diagnoses as $diagnosis) {
            $on = [];
            foreach ($diagnosis->faults as $fault) {
                if ($fault->live && isset($shares[$assembly[$fault->id] ?? ''])) {
                    $on[$assembly[$fault->id]] = true;
                }
            }
            foreach (array_keys($on) as $id) {
                $shares[$id] += $diagnosis->share;
            }
        }
        arsort($shares);

        return $shares;
    }

    /**
     * Links that were moved for a test and stand there still.
     *
     * @return array<string, string> link => the position it came in
     */
    public function moved(): array
    {
        $moved = [];
        foreach ($this->board->links() as $link) {
            $came = $this->circumstances->first->position($link->ref);
            $position = $this->now->settings->position($link->ref);
            if ($position !== $came && $position !== $link->default) {
                $moved[$link->ref] = $came;
            }
        }

        return $moved;
    }

    /** Whether the complaint was gone when it was last looked for. */
    public function isQuiet(): bool
    {
        $last = null;
        foreach ($this->evidence as $seen) {
            if ($seen->kind === Evidence::COMPLAINT && $seen->observation !== null && ! $seen->state->onSecond && ($last === null || $seen->state->moment >= $last->state->moment)) {
                $last = $seen;
            }
        }

        return $last !== null && ! $last->abnormal;
    }

    /**
     * @return array<string, true> faults of which less, or more, is in play than in an earlier state
     */
    public function otherwiseSince(MachineState $state): array
    {
        $otherwise = [];
        foreach ($this->suspected as $fault) {
            if (abs($this->now->relieves($fault, $this->circumstances->first) - $state->relieves($fault, $this->circumstances->first)) > 0.01) {
                $otherwise[$fault->id] = true;
            }
        }

        return $otherwise;
    }

    /**
     * Whether what was seen in an earlier state holds still: nothing but contacts was tried since, the complaint is as it was,
     * and hardly a diagnosis has it that one of those was at fault.
     */
    public function holdsSince(MachineState $state): bool
    {
        if ($state->sameParts($this->now)) {
            return true;
        }
        if (! $state->sameButTried($this->now)) {
            return false;
        }
        foreach ($this->evidence as $seen) {
            if ($seen->state->moment > $state->moment && ($seen->kind === Evidence::COMPLAINT && ! $seen->abnormal || $seen->kind === Evidence::CHANGED && $seen->abnormal)) {
                return false;
            }
        }
        $otherwise = $this->otherwiseSince($state);
        $share = 0.0;
        foreach ($this->posterior->diagnoses as $diagnosis) {
            $share += array_filter($diagnosis->faults, static fn (Fault $fault): bool => isset($otherwise[$fault->id])) === [] ? 0.0 : $diagnosis->share;
        }

        return $share < self::OTHERWISE;
    }

    /**
     * Rival diagnoses as sets of sites faulty now: modes and history that lead to the same repair are not told apart.
     *
     * @return list<array{sites: list<string>, share: float}> likeliest first
     */
    public function rivals(): array
    {
        $rivals = [];
        foreach ($this->posterior->diagnoses as $diagnosis) {
            $sites = [];
            foreach ($diagnosis->faults as $fault) {
                if ($this->isLeft($fault)) {
                    $sites[$fault->site] = $fault->site;
                }
            }
            natsort($sites);
            $key = implode("\0", $sites);
            $rivals[$key] ??= ['sites' => array_values($sites), 'share' => 0.0];
            $rivals[$key]['share'] += $diagnosis->share;
        }
        usort($rivals, static fn (array $a, array $b): int => $b['share'] <=> $a['share']);

        return $rivals;
    }

    /**
     * What speaks for and against a site: for each piece of evidence the change in the site's log-odds when that piece
     * alone is left out, in decibans (10 log10 of odds; I. J. Good, Probability and the Weighing of Evidence, 1950).
     * One thing explains another away, so these do not add up.
     *
     * @return list<Reason> the weightiest first
     */
    public function reasons(string $site): array
    {
        $leading = $this->leading();
        $members = array_map(static fn (Diagnosis $diagnosis): int => array_filter($diagnosis->faults, static fn (Fault $fault): bool => $fault->site === $site) === [] ? 0 : 1, $leading);
        $reasons = [];
        foreach ($this->chances() as $number => $chances) {
            $with = [0.0, 0.0];
            $without = [0.0, 0.0];
            foreach ($chances as $place => $chance) {
                $with[$members[$place]] += $leading[$place]->share;
                $without[$members[$place]] += $leading[$place]->share / $chance;
            }
            if ($with[1] <= 0.0 || $with[0] <= 0.0) {
                continue;
            }
            $decibans = 10.0 * log10(($with[1] / $with[0]) / ($without[1] / $without[0]));
            if (abs($decibans) >= 1.0) {
                $reasons[] = new Reason($this->evidence[$number]->words, $decibans, $this->evidence[$number]->observation);
            }
        }
        usort($reasons, static fn (Reason $a, Reason $b): int => abs($b->decibans) <=> abs($a->decibans));
        if (array_sum($members) === count($members)) {
            return $this->explained($site); // No rival is left to weigh it against; what it explains can still be told.
        }
        $together = $this->together($site, $leading, $members);

        $reasons = $together === null || ($reasons !== [] && $reasons[0]->decibans > max(0.7 * $together->decibans, 0.5)) ? $reasons : [$together, ...$reasons];
        if (count(array_filter($reasons, static fn (Reason $reason): bool => $reason->decibans > 0.0)) > 1) {
            return $reasons;
        }
        // What says the same several times moves nothing when one of it is left out; it is told all the same.
        $said = array_map(static fn (Reason $reason): string => $reason->words, $reasons);
        $explains = array_filter($this->explained($site), static fn (Reason $reason): bool => ! in_array($reason->words, $said, true));

        return [...$reasons, ...array_slice(array_values($explains), 0, 2)];
    }

    /**
     * What a site explains, where nothing else does.
     *
     * @return list<Reason>
     */
    public function explained(string $site): array
    {
        $reasons = [];
        foreach ($this->network->findings as $number => $finding) {
            if (! $finding->isAbnormal() || $this->evidence[$number]->kind === Evidence::COMPLAINT) {
                continue;
            }
            $healthy = $finding->chance([]);
            foreach ($this->suspected as $fault) {
                if ($fault->site === $site && $finding->chance([$fault->id]) > 3.0 * $healthy) {
                    $reasons[] = new Reason($this->evidence[$number]->words, 0.0, $this->evidence[$number]->observation);
                    break;
                }
            }
        }

        return $reasons;
    }

    /**
     * Several pieces of evidence may each be spared because the others say the same. Left out together they tell.
     *
     * @param  list<Diagnosis>  $leading
     * @param  list<int>  $members  1 where the site is faulty
     */
    private function together(string $site, array $leading, array $members): ?Reason
    {
        $mine = array_filter($this->suspected, static fn (SuspectedFault $fault): bool => $fault->site === $site);
        $words = [];
        $with = [0.0, 0.0];
        $without = array_map(static fn (Diagnosis $diagnosis): float => $diagnosis->share, $leading);
        foreach ($this->chances() as $number => $chances) {
            $finding = $this->network->findings[$number];
            // What it makes likelier than health would: a run that named another bit is not explained by this one.
            $healthy = $finding->chance([]);
            $explains = array_filter($mine, static fn (SuspectedFault $fault): bool => $finding->chance([$fault->id]) > 3.0 * $healthy);
            if (! $finding->isAbnormal() || $this->evidence[$number]->kind === Evidence::COMPLAINT || $explains === []) {
                continue;
            }
            $words[] = $this->evidence[$number]->words;
            foreach ($chances as $place => $chance) {
                $without[$place] /= $chance;
            }
        }
        $left = [0.0, 0.0];
        foreach ($leading as $place => $diagnosis) {
            $with[$members[$place]] += $diagnosis->share;
            $left[$members[$place]] += $without[$place];
        }
        if (count($words) < 2 || min($with) <= 0.0 || min($left) <= 0.0) {
            return null;
        }
        $more = count($words) - 1;

        return new Reason("{$words[0]}, and {$more} more like it", max(0.0, 10.0 * log10(($with[1] / $with[0]) / ($left[1] / $left[0]))), null);
    }

    /**
     * @return list<list<float>>
     */
    private function chances(): array
    {
        if ($this->chances === null) {
            $this->chances = [];
            foreach ($this->network->findings as $finding) {
                $chances = [];
                foreach ($this->leading() as $diagnosis) {
                    $chances[] = max(1e-12, $finding->chance(array_map(static fn (Fault $fault): string => $fault->id, $diagnosis->faults)));
                }
                $this->chances[] = $chances;
            }
        }

        return $this->chances;
    }

    /** The chip position that a site sits in, or is at. */
    private function seatOf(string $site): ?string
    {
        foreach ($this->suspected as $fault) {
            if ($fault->site === $site) {
                $seat = MachineState::position((string) strtok($fault->part === null ? $fault->seat : $this->now->seatOf($fault->part) ?? '', '.'));

                return isset($this->board->chips[$seat]) ? $seat : null;
            }
        }

        return null;
    }

    public function kindOf(string $site): SiteKind
    {
        foreach ($this->suspected as $fault) {
            if ($fault->site === $site) {
                return $fault->kind;
            }
        }

        return SiteKind::Elsewhere;
    }

    private function hasMoreThanTheComplaint(): bool
    {
        foreach ($this->evidence as $seen) {
            if ($seen->abnormal && $seen->kind !== Evidence::COMPLAINT) {
                return true;
            }
        }

        return count($this->evidence) > 1 && array_filter($this->evidence, static fn (Evidence $seen): bool => $seen->kind === Evidence::COMPLAINT && $seen->observation !== null) !== [];
    }
}
