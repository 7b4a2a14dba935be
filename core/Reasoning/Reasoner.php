<?php

declare(strict_types=1);

namespace ZapTrace\Reasoning;

use ArrayObject;
use ZapTrace\Board\BoardProfile;
use ZapTrace\Board\Net;
use ZapTrace\Board\Netlist;
use ZapTrace\Board\Settings;
use ZapTrace\Diagnostics\Diagnostic;
use ZapTrace\Diagnostics\DiagnosticResult;
use ZapTrace\Signals\SignalEvidence;

/**
 * Weighs all evidence of a machine together. It knows evidence, faults and states of the machine, and no kinds of
 * observation.
 */
final readonly class Reasoner
{
    /** A link that stands wrong can show in anything that the machine does. */
    private const BY_LINK = 0.3;

    /** What serves all bits and shows in some of them is hardly silent in one. */
    private const SHOWS_IN_ALL = 0.9;

    /** It is hardly what one is wrong by, or two, while others are right; */
    private const IN_A_FEW = 0.002;

    /** unless it is so many of them. */
    private const MOST = 0.75;

    /** Weaker than this a fault is not what a diagnostic is explained by; it is added once. */
    private const EXPLAINS = 0.4;

    /** Weaker than this a part is not what a sign or a rail is explained by; it is added once. */
    private const HARDLY = 0.25;

    /** Sets are grown from so many causes of each thing that was seen of parts, */
    private const CAUSES = 36;

    /** from fewer of each where these are more together, */
    private const GROWN = 96;

    /** and from at least so many of each. */
    private const FEW = 4;

    /** No single report makes a cause less likely than this. */
    private const NEVER = 1e-6;

    /** A fault that shows as an alias as strongly as this reads other cells than it should; */
    private const OTHER_CELLS = 0.5;

    /** and what was written nowhere as rarely as this. */
    private const FOREIGN = 0.02;

    private const OF_OTHER_CELLS = ['alias' => true, 'bank-alias' => true, 'bank-multiplexer' => true];

    /** one that shows so many times as strongly as unstable comes and goes; */
    private const RATHER_UNSTABLE = 3.0;

    /** in so many readings those are not all alike, */
    private const MANY = 16;

    /** or as rarely as this; */
    private const HARDLY_ALL = 0.1;

    /** nor is what comes and goes wrong in each of them. */
    private const NEVER_ALL = 0.01;

    /** With so many readings of a bit it is seen whether it is the bank that fails. */
    private const A_LOOK = 8;

    /** Address lines that share a pin of the memory: one of the row, one of the column. */
    private const OF_ONE_PIN = 2;

    /** What shows as strongly as this in what was seen of the same bits shows there, and not in another way as well. */
    private const INSTEAD = 0.3;

    /** How much less a trace shows in what the machine does than a part it joins. */
    private const BY_TRACE = 0.8;

    /** How surely a machine that starts by itself, or does anything, shows that nothing stops its programme. */
    private const STARTS = 0.95;

    /** From this chance on a fault stops what runs, whatever it is. */
    private const STOPS = 0.6;

    /** How much of its strength is left to what spoils memory, in a few bytes that a programme read. */
    private const BYTES_READ = 0.7;

    /** How much of its strength is left to an address that does not arrive at a bank, where bits of it are right all the time. */
    private const RIGHT_BESIDE = 0.03;

    /** How strongly a fault of one channel of a part shows at its other outputs. */
    private const OTHER_CHANNEL = 0.02;

    /** So surely a wrong table has something named. Estimated. */
    private const SOMETHING = 0.9;

    /** What is cut off is far below what a share is read to. */
    private const CUT = 1e-5;

    private FailureModes $modes;

    private BoardFaults $faults;

    private ReachedBanks $reached;

    /** @var ArrayObject<string, array<int, float>> what a fault makes wrong in the runs of a group; the same for every result they could have */
    private ArrayObject $wrongIn;

    public function __construct(private BoardProfile $board, FailureModes $modes)
    {
        $this->modes = $modes->overriddenBy($board->reasoning);
        $this->faults = BoardFaults::of($board, $this->modes);
        $this->reached = new ReachedBanks($board);
        /** @var ArrayObject<string, array<int, float>> $wrongIn */
        $wrongIn = new ArrayObject;
        $this->wrongIn = $wrongIn;
    }

    /**
     * @param  list<Evidence>  $evidence
     */
    public function conclude(array $evidence, Circumstances $circumstances): Conclusion
    {
        $suspected = [...$this->suspects($circumstances), ...$this->faults->traces($evidence), ...$this->setups($evidence)];
        $findings = array_map(fn (Evidence $seen): Report => $this->finding($seen, $suspected, $circumstances->first), $evidence);
        $relevant = $this->relevant($suspected, $evidence, $findings);
        $faults = [];
        $whole = $circumstances->now->whole();
        foreach ($suspected as $fault) {
            // What was cured is told apart from what is faulty now, although the site is the same.
            $gone = $fault->kind !== SiteKind::SecondMachine && $whole->relieves($fault, $circumstances->first) >= 0.5;
            $faults[] = new Fault($fault->id, $gone ? Conclusion::CURED.$fault->site : $fault->site, $fault->prior, $fault->mode->name, ! $gone, ($relevant[$fault->id] ?? null) === '', ($relevant[$fault->id] ?? '') === '' ? null : $relevant[$fault->id], isset($fault->mode->relief['reseat']) ? 'reseat' : '');
        }
        $network = new Network($faults, $findings, addOthers: true, collapse: true, cut: self::CUT);

        return new Conclusion($this->board, $network, (new DiagnosisSearch)->search($network), $evidence, $suspected, $circumstances);
    }

    /**
     * @return list<SuspectedFault> all that can be, with the parts that were fitted and what was born on the bench
     */
    private function suspects(Circumstances $circumstances): array
    {
        $faults = [];
        foreach ($this->faults->all() as $fault) {
            $factor = $fault->kind === SiteKind::Link && $circumstances->first->position($fault->seat) !== ($this->board->settings[$fault->seat]->default ?? '')
                ? $this->modes->ofFact('not-default') // It came otherwise than the maker sets it.
                : $this->raisedBy($fault, $circumstances);
            $faults[$fault->id] = $factor === 1.0 ? $fault : $this->raised($fault, $factor);
        }
        foreach ($circumstances->fitted as $part => $quality) {
            $seat = (string) preg_replace('/^new | \(\d+\)$/', '', (string) $part);
            foreach ($this->faults->ofFitted((string) $part, $seat, $this->modes->ofPart($quality)) as $fault) {
                $faults[$fault->id] = $fault;
            }
        }
        foreach ($this->borrowed($circumstances->now) as $part) {
            foreach ($this->faults->ofFitted($part, MachineState::position($part), $this->modes->ofPart('second')) as $fault) {
                $faults[$fault->id] = $fault;
            }
        }
        foreach ($circumstances->hazards as $hazard) {
            foreach ($this->faults->born($hazard) as $fault) {
                $faults[$fault->id] = $fault;
            }
        }
        if ($circumstances->secondUsed) {
            foreach ($this->modes->of('second-machine') as $mode) {
                $faults[] = new SuspectedFault(BoardFaults::SECOND_MACHINE."/{$mode->name}", BoardFaults::SECOND_MACHINE, SiteKind::SecondMachine, $mode, null, null, null, prior: $mode->prior);
            }
        }

        return array_values($faults);
    }

    /** What the facts of its history, what was seen on it, and what like parts failed of before make of its likelihood. */
    private function raisedBy(SuspectedFault $fault, Circumstances $circumstances): float
    {
        $chip = (string) strtok($fault->seat, '.');
        $factor = $circumstances->experience[$chip] ?? 1.0;
        foreach ($circumstances->facts as $fact => $sites) {
            if (in_array($fault->seat, $sites, true) || in_array($chip, $sites, true)) {
                $factor *= $this->modes->ofFact($fact, $fault->mode->name);
            }
        }

        return $factor;
    }

    private function raised(SuspectedFault $fault, float $factor): SuspectedFault
    {
        return new SuspectedFault($fault->id, $fault->site, $fault->kind, $fault->mode, $fault->banks, $fault->lines, $fault->addressLines, $fault->part, $fault->seat, $fault->assembly, $fault->onset, min(0.5, $fault->prior * $factor));
    }

    /**
     * @return list<string> parts of the second machine that are, or have been, in this one
     */
    private function borrowed(MachineState $now): array
    {
        $borrowed = [];
        foreach (array_keys($now->seats + $now->done) as $seat) {
            $seat = MachineState::position((string) $seat);
            if (isset($this->board->chips[$seat]) && (($now->seats[$seat.MachineState::SECOND] ?? null) !== null || ($now->done[$seat] ?? '') === 'exchange-second')) {
                $borrowed[$seat] = $seat.MachineState::SECOND;
            }
        }

        return array_values($borrowed);
    }

    /** A wrong table names any number of bits, and any of them: that it is these is no likelier than so many others. */
    private static function underAnotherTable(Evidence $seen): float
    {
        $wrong = count($seen->alike);
        $ways = $seen->unlike === [] ? 1.0 : 1.0 + $wrong + count($seen->unlike);
        foreach ($wrong === 0 ? [] : range(1, $wrong) as $number) {
            $ways *= (count($seen->unlike) + $number) / $number;
        }

        return (self::SOMETHING / $ways) ** (1.0 / max(1, $wrong));
    }

    /** How strongly the fault shows in this evidence, what the state of the machine takes out of play aside. */
    private function strength(Evidence $seen, SuspectedFault $fault): float
    {
        if ($fault->kind === SiteKind::Setup || $seen->kind === Evidence::SETUP) {
            return match (true) {
                $seen->setup !== $fault->site => 0.0,
                $seen->kind === Evidence::SETUP => 0.99,
                default => $seen->abnormal ? self::underAnotherTable($seen) : 0.0,
            };
        }
        if ($seen->kind === Evidence::COMPLAINT) {
            $servesOnlyThose = $fault->outputs !== [] || ! in_array($fault->kind, [SiteKind::Link, SiteKind::Part], true);
            if ($fault->banks !== null && $fault->onset === 0 && $servesOnlyThose && array_intersect($fault->banks, $this->reached->of($seen->state->settings)) === []) {
                return 0.0; // A bank that nothing reaches cannot be complained of.
            }

            return $this->modes->rate($fault->mode->perRun > 0.0 ? 'complaintComing' : 'complaint') * ($fault->mode->perRun > 0.0 ? min(1.0, 2.0 * $fault->mode->perRun) : 1.0);
        }
        if ($seen->kind === Evidence::CLEAN) {
            return $fault->kind === SiteKind::SecondMachine ? 0.0 : $this->shownInRuns($fault, $seen);
        }
        if ($seen->kind === Evidence::CHANGED) {
            // Only what was born at that very moment makes a difference then.
            return $fault->onset === $seen->state->moment ? ($fault->mode->shows['changed'] ?? 0.0) : 0.0;
        }
        if ($fault->kind === SiteKind::SecondMachine) {
            return 0.0;
        }
        $at = $this->where($fault, $seen->state);
        if ($at === null || $seen->but !== [] && array_intersect_key($at->mode->shows, array_flip($seen->but)) !== []) {
            return 0.0;
        }
        if (max($seen->instead[$at->id] ?? 0.0, $seen->instead[$at->seat] ?? 0.0) >= self::INSTEAD) {
            return 0.0;
        }
        if ($seen->kind === Evidence::STEP) {
            $isNamed = in_array($at->seat, $seen->sites, true) || in_array((string) strtok($at->seat, '.'), $seen->sites, true);

            return $this->modes->rate('siteNamed') * ($isNamed ? 1.0 : $seen->strengths[$at->id] ?? $seen->strengths[$at->seat] ?? self::BY_TRACE * (float) (array_intersect($this->losing($at), $seen->sites) !== []));
        }
        if ($seen->strengths !== [] || in_array($seen->kind, [Evidence::RAIL, Evidence::HOT, Evidence::COLD, ...Evidence::OF_SITES], true)) {
            return max($this->ofPart($seen, $at), $this->ofBytesRead($seen, $at), $this->ofStopping($seen, $at)) * ($fault->mode->perRun > 0.0 ? min(1.0, $fault->mode->perRun * $seen->state->sharpens($fault)) : 1.0);
        }
        $strength = $seen->kind === Evidence::NAMED
            ? $this->wrong($at, $seen->banks[0] ?? '', $seen->lines[0] ?? 0, $seen->reach)
            : $seen->reach * $at->showsIn($seen->kind, $seen->banks, $seen->lines, $seen->addressLines) * $seen->state->sharpens($fault);
        $few = match ($seen->abnormal ? $seen->kind : '') {
            'places' => $seen->times < self::A_LOOK ? 1.0 : 0.0,
            'high', 'low' => $seen->times === 1 ? self::HARDLY_ALL : 0.0,
            default => 0.0,
        };
        if ($few > 0.0 && count($seen->alike) > 1 && count($seen->alike) >= count($seen->unlike)) {
            // Too few to show that it is all of the bank: what serves it shows in several bits, here and not there, and few are right.
            $strength = max($strength, $few * $seen->reach * $at->showsIn('bank-places', $seen->banks, $seen->lines, $seen->addressLines) * $seen->state->sharpens($fault));
        }
        $bank = $this->board->banks[$seen->banks[0] ?? ''] ?? null;
        if ($seen->abnormal && $seen->kind === 'alias' && $at->addressLines === null && in_array($at->seat, $bank?->chips() ?? [], true)) {
            // Any of its address pins can be lost, and it is these lines that are.
            $strength /= max(1, count($bank->multiplex->row ?? []));
        }
        if ($seen->foreign && max(array_intersect_key($at->mode->shows, self::OF_OTHER_CELLS) ?: [0.0]) >= self::OTHER_CELLS) {
            // What reads other cells than it should reads what was written to them.
            $strength *= self::FOREIGN;
        }
        if ($seen->constant && ($at->mode->shows[$seen->kind === 'low' ? 'high' : 'low'] ?? 0.0) <= 0.0) {
            return 0.0; // Something else holds the bit at the other level: this may hide behind it.
        }
        if ($seen->abnormal && ! $at->loses($seen->addressLines)) {
            return 0.0; // All of the row's, or of the column's: fewer together would have explained it as well.
        }
        if ($seen->abnormal && count($seen->lines) > 1 && self::ofThese($seen->unlike, $at->lines) > 0 && ($at->addressLines !== null || $at->kind === SiteKind::Multiplexer)) {
            $strength *= self::RIGHT_BESIDE;
        }
        if ($seen->everywhere && $at->addressLines !== null && count($at->addressLines) <= self::OF_ONE_PIN) {
            $strength *= self::NEVER_ALL; // Where those lines are as they should be the right cell is read.
        }
        if ($seen->abnormal && in_array($seen->kind, ['high', 'low'], true) && $seen->times >= self::MANY) {
            $strength *= $this->inAll($seen, $at->mode, $strength);
        }

        return min(0.99, $this->inCommon($seen, $at, $strength));
    }

    /**
     * How much less a fault shows in a bit that is wrong in many readings. What reads other cells than it should reads what
     * those hold: hardly the same in all of them. What comes and goes from reading to reading is never wrong in each.
     */
    private function inAll(Evidence $seen, FailureMode $mode, float $strength): float
    {
        return match (true) {
            $seen->failed === $seen->times && max($mode->shows['unstable'] ?? 0.0, $mode->shows['bank-unstable'] ?? 0.0) >= self::RATHER_UNSTABLE * $strength => self::NEVER_ALL,
            max(array_intersect_key($mode->shows, self::OF_OTHER_CELLS) ?: [0.0]) >= self::OTHER_CELLS => self::HARDLY_ALL,
            default => 1.0,
        };
    }

    /**
     * What serves all the bits that say the same shows in all of them or in none: its strength counts once. What shows now
     * in this bit, now in that, is weak in each and stays so.
     */
    private function inCommon(Evidence $seen, SuspectedFault $at, float $strength): float
    {
        if ($strength <= 0.0 || $seen->alike === []) {
            return $strength;
        }
        $servesAll = $strength >= 0.5 || in_array($at->kind, [SiteKind::Part, SiteKind::Link, SiteKind::Multiplexer], true) || $at->kind === SiteKind::Buffer && in_array($seen->kind, ['high', 'low'], true) || $at->kind === SiteKind::Net && $at->lines === null || $at->addressLines !== null;
        $alike = $servesAll ? self::ofThese($seen->alike, $at->lines) : 0;
        if ($alike === 0) {
            return $strength;
        }
        $unlike = self::ofThese($seen->unlike, $at->lines);
        $all = $seen->abnormal ? $strength ** (1.0 / $alike) : 1.0 - (1.0 - min(0.99, $strength)) ** (1.0 / $alike);
        if ($unlike === 0) {
            return $all;
        }
        $wrong = $seen->abnormal ? $alike : $unlike;
        if (! in_array($seen->kind, ['high', 'low', Evidence::NAMED], true) || $at->kind === SiteKind::Chip || $wrong >= self::MOST * ($alike + $unlike)) {
            // One that is right beside may be so by a fault of its own.
            return $seen->abnormal ? $all : max($strength, self::SHOWS_IN_ALL);
        }

        // Others are right: those that are wrong are hardly so by what serves them all, and it is cleared once by all that are right.
        return $seen->abnormal ? (self::IN_A_FEW ** min(2, $wrong) * $strength) ** (1.0 / $wrong) : $all;
    }

    /**
     * @param  list<int>  $bits
     * @param  list<int>|null  $lines  all when null
     * @return int how many of the bits are on these lines
     */
    private static function ofThese(array $bits, ?array $lines): int
    {
        $count = 0;
        foreach ($lines ?? [] as $line) {
            $count += (int) in_array($line, $bits, true);
        }

        return $lines === null ? count($bits) : $count;
    }

    /** How strongly a fault of a part shows in what was seen of parts: by its mode where the data say so. */
    private function ofPart(Evidence $seen, SuspectedFault $at): float
    {
        if ($at->kind === SiteKind::Elsewhere) {
            return $at->mode->shows[$seen->kind] ?? 0.0;
        }
        if ($at->kind === SiteKind::Net && ! isset($this->board->chips[$at->seat])) {
            return $this->ofTrace($seen, $at);
        }
        $pulls = SignalEvidence::pulled($at->mode->name);
        if ($pulls !== null) {
            return $this->ofTrace($seen, $at, $pulls);
        }
        if ($at->kind === SiteKind::Link) {
            return in_array($seen->kind, [Evidence::SIGN, Evidence::FUNCTION], true) ? self::BY_LINK : $seen->strengths[$at->seat] ?? 0.0;
        }
        // What was measured of the traces at a place says nothing of the part in it.
        $strength = $seen->strengths[$at->site] ?? $seen->strengths[$at->seat] ?? $seen->strengths[(string) strtok($at->seat, '.')] ?? 0.0;
        if ($at->outputs !== [] && $strength > 0.0 && in_array($seen->kind, [Evidence::PROBE, Evidence::CONTENTION], true)) {
            // Of one channel: at its own outputs, and hardly at the others.
            $own = array_intersect_key($seen->strengths, array_flip(array_map(SignalEvidence::output(...), $at->outputs)));
            if ($own !== []) {
                return min(0.99, max($own));
            }
            $strength = max([$strength, ...array_values(array_intersect_key($seen->strengths, array_flip(array_map(SignalEvidence::feeding(...), $at->outputs))))]);
            if (array_filter($seen->strengths, static fn (float $strength, string $site): bool => str_starts_with($site, "{$at->seat}.") && str_ends_with($site, SignalEvidence::output('')), ARRAY_FILTER_USE_BOTH) !== []) {
                return self::OTHER_CHANNEL * $strength;
            }
        }
        // A sign or a function shows any fault of its parts; warmth and volts only those that the data name.
        $shows = $at->mode->shows[$seen->kind] ?? (in_array($seen->kind, Evidence::OF_SITES, true) ? 1.0 : 0.0);
        // An output that alone fails shows in what the machine does, and in what comes over the bus, as its trace does when it is held.
        $asHeld = match (true) {
            $at->outputs === [] || $at->kind !== SiteKind::Part => 0.0,
            in_array($seen->kind, [Evidence::SIGN, Evidence::FUNCTION], true) => $this->byLosing($seen, $at),
            in_array($seen->kind, [Evidence::ROM, Evidence::BUS, Evidence::OVERLAY], true) => max(array_map(fn (string $output): float => $seen->strengths[SignalEvidence::held($this->board->netlist->netOf($output)->name ?? '')] ?? 0.0, $at->outputs)),
            default => 0.0,
        };

        return max(min(0.99, $strength * $shows), $asHeld);
    }

    /**
     * A trace shows where it was looked at; and in what the machine does, as the parts do that lose it.
     *
     * @param  string|null  $pulls  the trace that a part pulls: as if it were shorted
     */
    private function ofTrace(Evidence $seen, SuspectedFault $at, ?string $pulls = null): float
    {
        if (isset($seen->strengths[$at->id])) {
            return $seen->strengths[$at->id];
        }
        if (in_array($seen->kind, Evidence::OF_TRACES, true)) {
            if ($pulls !== null) {
                return $seen->strengths[SignalEvidence::held($pulls)] ?? 0.0;
            }
            // Two that touch hold each other.
            $trace = SignalEvidence::trace($at->id);

            return ($trace['other'] ?? '') === '' ? 0.0 : 0.9 * max($seen->strengths[SignalEvidence::held($trace['net'])] ?? 0.0, $seen->strengths[SignalEvidence::held($trace['other'])] ?? 0.0);
        }
        if ($seen->kind !== Evidence::SIGN && $seen->kind !== Evidence::FUNCTION) {
            return 0.0;
        }

        return $this->byLosing($seen, $at);
    }

    /** How strongly a sign or a function shows that its parts are no longer served. */
    private function byLosing(Evidence $seen, SuspectedFault $at): float
    {
        return self::BY_TRACE * max([0.0, ...array_map(static fn (string $chip): float => $seen->strengths[$chip] ?? 0.0, $this->losing($at))]);
    }

    /**
     * @return list<string> chips that a faulty trace, or an output of a part that alone fails, no longer serves
     */
    private function losing(SuspectedFault $at): array
    {
        if ($at->outputs !== []) {
            $nets = array_map($this->board->netlist->netOf(...), $at->outputs);

            return array_values(array_diff(array_merge(...array_map(static fn (?Net $net): array => array_map(Netlist::chipOf(...), $net->pins ?? []), $nets)), [$at->seat]));
        }
        $pulls = SignalEvidence::pulled($at->mode->name);
        $net = $this->board->netlist->nets[$pulls ?? ($at->kind === SiteKind::Net ? $at->seat : '')] ?? null;

        return $net === null ? [] : array_map(Netlist::chipOf(...), SignalEvidence::cutOff($this->board, $net, $pulls === null ? $at->mode->name : SignalEvidence::HELD));
    }

    /**
     * The chance that a fault shows at least once in several runs. What comes and goes has a rate that is not known: a
     * beta distribution with the mean of its mode, so that many clean runs weigh less and less.
     */
    private function shownInRuns(SuspectedFault $fault, Evidence $seen): float
    {
        $perRun = $fault->mode->perRun;
        if ($perRun <= 0.0) {
            return $this->modes->rate('complaint');
        }
        $beta = 1.0 / min(0.95, $perRun * $seen->state->sharpens($fault)) - 1.0;
        $clean = 1.0;
        for ($run = 0; $run < min(500, $seen->times); $run++) {
            // Runs that were not clean have told of the rate already.
            $clean *= ($beta + $run) / ($beta + 1.0 + $seen->failed + $run);
        }

        return min(0.999, 1.0 - $clean);
    }

    /** How surely what stops a programme would have shown where the machine does something. */
    private function ofStopping(Evidence $seen, SuspectedFault $at): float
    {
        return in_array($seen->kind, [Evidence::SIGN, Evidence::FUNCTION], true) && ! $seen->abnormal && $at->mode->crash >= self::STOPS ? self::STARTS * $at->mode->crash : 0.0;
    }

    /** How strongly a fault shows in what was read of memory while the bus was recorded: as where the bank itself is read. */
    private function ofBytesRead(Evidence $seen, SuspectedFault $at): float
    {
        $inEach = $seen->kind === Evidence::BUS && $seen->banks !== [] && $at->kind !== SiteKind::Elsewhere ? array_map(fn (int $line): float => $this->wrong($at, $seen->banks[0], $line, 1.0), $seen->lines) : [];

        return $inEach === [] ? 0.0 : self::BYTES_READ * min($inEach);
    }

    /** The fault as it acts in this state, where its part may sit in another position. */
    private function where(SuspectedFault $fault, MachineState $state): ?SuspectedFault
    {
        if ($fault->part === null || $state->seats === []) {
            return $fault;
        }
        $seat = $state->seatOf($fault->part);

        return $seat === null ? null : $this->faults->at($fault, MachineState::position($seat));
    }

    /** The chance that the fault makes a bit wrong under a diagnostic that covers a part of its bank. */
    private function wrong(SuspectedFault $at, string $bank, int $line, float $reach): float
    {
        // A diagnostic writes and reads both values: it meets whatever makes the bit wrong, cells only where it looks.
        return max(
            $at->showsIn('high', [$bank], [$line], []),
            $at->showsIn('low', [$bank], [$line], []),
            (0.05 + 0.95 * $reach) * $at->showsIn('places', [$bank], [$line], []),
            $reach * 0.5 * $at->showsIn('bank-places', [$bank], [$line], []),
            0.4 * $reach * $at->showsIn('bank-alias', [$bank], [$line], []),
            0.9 * $at->showsIn('bank-strobe', [$bank], [$line], []),
        );
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
            if ($seen->setup !== null && $seen->setup !== BoardFaults::ELSEWHERE) {
                $prior = $seen->tester->blind ?? $this->modes->rate($seen->runs !== null || $seen->kind === Evidence::SETUP ? 'wrongTable' : 'wrongMask');
                $mode = $seen->tester === null ? 'wrong' : 'blind to this part';
                $setups[$seen->setup] ??= new SuspectedFault("{$seen->setup}/{$mode}", $seen->setup, SiteKind::Setup, new FailureMode('setup', $mode, $prior, [], []), null, null, null, seat: $seen->setup, prior: $prior);
            }
        }

        return array_values($setups);
    }

    /**
     * Everything explains that a machine is sick. Sets are grown from the faults that explain something more, from those
     * that were tested or worked on, and from what is not on the profile; the others are added once. Under a wrong table
     * any chip may be the one that was named: those faults are grown together with the table.
     *
     * @param  list<SuspectedFault>  $faults
     * @param  list<Evidence>  $evidence
     * @param  list<Report>  $findings  what the evidence comes to, in its order
     * @return array<string, string> fault => "" or the fault it grows with
     */
    private function relevant(array $faults, array $evidence, array $findings): array
    {
        $abnormal = array_filter($evidence, static fn (Evidence $seen): bool => $seen->abnormal && $seen->kind !== Evidence::COMPLAINT && $seen->kind !== Evidence::TESTER);
        $sites = [];
        foreach ($evidence as $seen) {
            $sites += $seen->state->done + $seen->state->unplugged;
            if ($seen->site !== null) {
                $sites[$seen->site] = 'tested';
            }
        }
        $likely = $this->likeliest($faults, array_intersect_key($findings, array_filter($abnormal, static fn (Evidence $seen): bool => $seen->strengths !== [])), $findings);
        $relevant = [];
        foreach ($faults as $fault) {
            if (in_array($fault->kind, [SiteKind::Elsewhere, SiteKind::Setup, SiteKind::SecondMachine, SiteKind::Link], true) || isset($sites[$fault->part ?? $fault->seat]) && $fault->onset === 0) {
                $relevant[$fault->id] = '';

                continue;
            }
            foreach ($abnormal as $seen) {
                if ($seen->kind === Evidence::CHANGED && $fault->mode->cause === 'born-over-voltage') {
                    continue; // Every chip of the rail could have failed at that very moment: each is added once.
                }
                if ($seen->strengths !== [] && ! isset($likely[$seen->id][$fault->id])) {
                    continue;
                }
                if ($seen->runs === null) {
                    if ($this->strength($seen, $fault) > match (true) {
                        $seen->kind === Evidence::NAMED => self::EXPLAINS / 2,
                        $seen->strengths !== [] => self::HARDLY,
                        default => 0.0,
                    }) {
                        $relevant[$fault->id] = '';
                        break;
                    }

                    continue;
                }
                $codes = $this->inRuns($seen->runs, $seen->state, $fault);
                if (max([0.0, ...array_intersect_key($codes, $this->named($seen->runs))]) >= self::EXPLAINS || ($fault->mode->stops($seen->runs->diagnostic->id) > 0.0 && in_array(DiagnosticResult::NOTHING, $seen->runs->results, true))) {
                    $relevant[$fault->id] = '';
                    break;
                }
                if ($codes !== [] && max($codes) >= 0.9 && $fault->kind === SiteKind::Chip) {
                    $relevant[$fault->id] ??= DiagnosticEvidence::table($seen->runs->diagnostic).'/wrong';
                }
            }
        }

        return $relevant;
    }

    /**
     * What was seen of parts can have very many causes, most of them alike. Sets are grown from the likeliest few alone,
     * as far as nothing that was found in order speaks against them, and from none of a crowd that is alike: each of those
     * is added once.
     *
     * @param  list<SuspectedFault>  $faults
     * @param  array<int, Report>  $abnormal
     * @param  list<Report>  $findings
     * @return array<string, array<string, bool>> finding => fault => true
     */
    private function likeliest(array $faults, array $abnormal, array $findings): array
    {
        $weight = [];
        foreach ($faults as $fault) {
            $weight[$fault->id] = $fault->prior;
        }
        foreach ($findings as $finding) {
            if ($finding instanceof Finding && ! $finding->abnormal) {
                foreach (array_keys($finding->explains) as $fault) {
                    $weight[$fault] *= max(self::NEVER, $finding->likelihood(1.0 - $finding->strength((string) $fault)) / $finding->likelihood(1.0));
                }
            }
        }
        $weights = [];
        foreach ($abnormal as $finding) {
            if ($finding instanceof Finding) {
                foreach ($finding->explains as $fault => $strength) {
                    $weights[$finding->id][$fault] = $weight[$fault] * $strength;
                }
                arsort($weights[$finding->id]);
            }
        }
        $causes = self::CAUSES;
        do {
            $likely = array_map(static function (array $weights) use ($causes): array {
                $bar = array_values($weights)[$causes] ?? 0.0;

                return array_fill_keys(array_keys(array_filter($weights, static fn (float $weight): bool => $weight > $bar * 1.0001)), true);
            }, $weights);
            $all = array_replace([], ...array_values($likely));
        } while (count($all) > self::GROWN && --$causes >= self::FEW);

        return $likely;
    }

    /**
     * @return array<int, true> numbers of the codes that were named, and of those that a slip would have made of them
     */
    private function named(RunGroup $group): array
    {
        $numbers = array_flip(array_map(strval(...), array_keys($group->diagnostic->codes)));
        $named = [];
        foreach (array_unique($group->results) as $result) {
            if (isset($numbers[$result])) {
                $named[$numbers[$result]] = true;
                foreach ($group->diagnostic->oneOff($result) as $code) {
                    $named[$numbers[strtolower($code->code)]] = true;
                }
            }
        }

        return $named;
    }

    /**
     * @param  list<SuspectedFault>  $suspected
     */
    public function finding(Evidence $seen, array $suspected, Settings $first): Report
    {
        return match ($seen->kind) {
            Evidence::RUNS => $this->runs($seen, $suspected, $first),
            Evidence::TESTER => $this->test($seen, $suspected),
            default => $this->binary($seen, $suspected, $first),
        };
    }

    /**
     * @param  list<SuspectedFault>  $suspected
     */
    private function binary(Evidence $seen, array $suspected, Settings $first): Finding
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

    /**
     * @param  list<SuspectedFault>  $suspected
     */
    private function test(Evidence $seen, array $suspected): TesterOutcome
    {
        $shows = [];
        foreach ($suspected as $fault) {
            if ($fault->part === $seen->site && $fault->onset <= $seen->state->moment) {
                $shows[$fault->id] = $fault->mode->shows['tester'] ?? $this->modes->rate('testerShows');
            }
        }

        return new TesterOutcome($seen->abnormal, $shows, "{$seen->setup}/blind to this part", $seen->falseAlarm, $seen->miss);
    }

    /**
     * @param  list<SuspectedFault>  $suspected
     */
    private function runs(Evidence $seen, array $suspected, Settings $first): DiagnosticOutcome
    {
        $group = $seen->runs;
        assert($group !== null);
        $diagnostic = $group->diagnostic;
        $where = "{$diagnostic->id}/{$seen->state->key()}";
        $wrong = [];
        $perRun = [];
        $crash = [];
        foreach ($suspected as $fault) {
            $left = 1.0 - $seen->state->relieves($fault, $first);
            if ($left <= 0.0) {
                continue;
            }
            $key = "{$where}/{$fault->id}";
            $codes = $this->wrongIn[$key] ??= $this->inRuns($group, $seen->state, $fault);
            $comes = $fault->mode->perRun > 0.0;
            if ($codes !== []) {
                $wrong[$fault->id] = $comes ? $codes : array_map(static fn (float $chance): float => $chance * $left, $codes);
            }
            $stops = $fault->mode->stops($diagnostic->id);
            if ($comes && ($codes !== [] || $stops > 0.0)) {
                $perRun[$fault->id] = min(0.95, $fault->mode->perRun * $left * $seen->state->sharpens($fault));
            }
            if ($stops > 0.0) {
                // What does not come and go lets it through in every state or in none, and counts once for all of them.
                $crash[$fault->id] = match (true) {
                    $comes || $group->alike === 1 => $stops * $left,
                    RunGroup::hung($group->results) => ($stops * $left) ** (1.0 / $group->alike),
                    default => 1.0 - (1.0 - $stops * $left) ** (1.0 / $group->alike),
                };
            }
        }
        $numbers = array_flip(array_map(strval(...), array_keys($diagnostic->codes)));

        return new DiagnosticOutcome(
            count($numbers), $wrong, $perRun, $crash, DiagnosticEvidence::table($diagnostic).'/wrong',
            array_map(static fn (string $result): int|string => $numbers[$result] ?? $result, $group->results),
            [$diagnostic->names === 'unknown' ? 'any' : $diagnostic->names],
            $diagnostic->isCounted() ? self::slips($diagnostic, $numbers) : [],
            ['pass' => $this->modes->rate('passMiss'), 'error' => $this->modes->rate('runOnce'), 'slip' => $this->modes->rate('slipOnce'), 'slipAlways' => $this->modes->rate('slipAlways'), 'wild' => $this->modes->rate('runWild')], $group->passes,
        );
    }

    /**
     * @return array{}|non-empty-array<int, float> code number => chance that the fault makes wrong what the code names
     */
    private function inRuns(RunGroup $group, MachineState $state, SuspectedFault $fault): array
    {
        $at = $fault->kind === SiteKind::Setup || $fault->kind === SiteKind::SecondMachine ? null : $this->where($fault, $state);
        if ($at === null) {
            return [];
        }
        $codes = [];
        $number = 0;
        foreach ($group->diagnostic->codes as $code) {
            $chance = $code->bit === null
                ? $this->modes->rate('siteNamed') * $this->blamed($at, $code->sites, $group->reach)
                : (isset($group->reach[$code->bit['bank']]) ? $this->wrong($at, $code->bit['bank'], $code->bit['line'], $group->reach[$code->bit['bank']]) : 0.0);
            if ($chance > 0.0) {
                $codes[$number] = self::roughly($chance);
            }
            $number++;
        }

        return $codes;
    }

    /**
     * How surely a fault makes wrong one of the parts that a code names: itself, what a broken trace takes from it, or the
     * bits that it holds.
     *
     * @param  list<string>  $sites
     * @param  array<string, float>  $reach  by bank
     */
    private function blamed(SuspectedFault $at, array $sites, array $reach): float
    {
        if (in_array($at->seat, $sites, true)) {
            return 1.0;
        }
        $chance = self::BY_TRACE * (float) (array_intersect($this->losing($at), $sites) !== []);
        foreach ($this->board->banks as $bank) {
            foreach (isset($reach[$bank->name]) ? array_intersect($bank->chips(), $sites) : [] as $chip) {
                foreach ($bank->linesOf($chip) as $line) {
                    $chance = max($chance, $this->wrong($at, $bank->name, $line, $reach[$bank->name]));
                }
            }
        }

        return $chance;
    }

    /** Strengths in a run are known in steps only; finer ones would tell apart what nobody can. */
    private static function roughly(float $chance): float
    {
        return match (true) {
            $chance >= 0.85 => 0.95,
            $chance >= 0.6 => 0.75,
            $chance >= 0.35 => 0.5,
            $chance >= 0.15 => 0.25,
            $chance >= 0.07 => 0.1,
            default => 0.04,
        };
    }

    /**
     * @param  array<string, int>  $numbers
     * @return array<int, list<int>>
     */
    private static function slips(Diagnostic $diagnostic, array $numbers): array
    {
        $slips = [];
        foreach ($numbers as $code => $number) {
            $slips[$number] = array_map(static fn ($other): int => $numbers[strtolower($other->code)], $diagnostic->oneOff((string) $code));
        }

        return $slips;
    }
}
