<?php

declare(strict_types=1);

namespace ZapTrace\Reasoning;

use ZapTrace\Board\Chip;
use ZapTrace\Board\Net;
use ZapTrace\Board\Netlist;
use ZapTrace\Diagnostics\DiagnosticResult;
use ZapTrace\Parts\Pin;
use ZapTrace\Signals\ContinuityPlan;
use ZapTrace\Signals\ContinuitySeen;
use ZapTrace\Signals\LineDrop;
use ZapTrace\Signals\SignalEvidence;
use ZapTrace\Signals\Situation;
use ZapTrace\Signals\Structure;

/**
 * Probes a pin where it parts the suspects best, follows a trace by continuity, and mends it.
 */
final class ProbePins implements Proposer
{
    /** Suspects whose pins are thought of. */
    private const SUSPECTS = 7;

    /** From this share on a trace is followed with the meter. */
    private const WORTH_FOLLOWING = 0.08;

    /** From this one, where it was right at one of its pins and wrong at another. */
    private const CUT_BETWEEN = 0.01;

    /** From this share on it is broken somewhere, and only where has to be found. */
    private const BROKEN = 0.2;

    /** From this share on the line of a soldered memory chip is measured before it comes out. */
    private const WORTH_MEASURING = 0.3;

    private const MOST = 10;

    /** From this share on a chip is touched although what comes in is wrong: one that drives nothing shows all the same. */
    private const MAY_BE_DEAD = 0.1;

    /** So many pins of a line are offered as the one that pulls it. */
    private const PULLING = 12;

    /** From this share on that a trace is broken before one of its pins a chip is walked for that; */
    private const CUT_OFF = 0.05;

    /** of so many chips. */
    private const WALKED_TO = 3;

    /** Of so many pins of a chip it is foreseen what it would mean that they are wrong. */
    private const TOLD_APART = 5;

    /** Where so many pins of a chip were touched and not right it is touched as a whole, or not at all: what is wrong comes in from elsewhere. */
    private const ONE_AFTER_ANOTHER = 3;

    /** Where it is this likely that a leg does not touch in its socket, that is tried before a wire. */
    private const MAY_NOT_TOUCH = 0.2;

    private ?Structure $structure = null;

    public function propose(Conclusion $conclusion, StepCosts $costs, FailureModes $modes): array
    {
        if ($conclusion->board->netlist->isEmpty()) {
            return [];
        }
        $structure = $this->structure($conclusion);
        $evidence = new SignalEvidence($structure, $modes);
        $proposals = [];
        foreach (array_slice($this->candidates($conclusion, $structure), 0, self::MOST) as $pin) {
            $right = $evidence->foreseen($pin, false, $conclusion->now);
            $wrong = $evidence->foreseen($pin, true, $conclusion->now);
            [$situation, $how] = $this->where($conclusion, [$conclusion->board->netlist->netOf($pin)]);
            if ($right !== null && $wrong !== null) {
                $proposals[] = new Proposal('probe', $pin, "Probe {$conclusion->board->netlist->called($pin)}{$how}: is it as it should be?", 'tells what lies before it from what comes after', 'probe', [
                    new ProposedOutcome('it is as it should be', [$right], ['kind' => 'probe', 'payload' => ['pin' => $pin, 'situation' => $situation, 'result' => 'right']]),
                    new ProposedOutcome('it is not', [$wrong], null),
                ], needs: Equipment::Probe);
            }
        }
        array_push($proposals, ...$this->walks($conclusion, $evidence), ...$this->drops($conclusion, $evidence));
        foreach ($conclusion->suspects() as $suspect) {
            $net = $suspect->kind === SiteKind::Net ? $conclusion->board->netlist->nets[$suspect->site] ?? null : null;
            if ($net !== null && ($suspect->share >= self::WORTH_FOLLOWING || $suspect->share >= self::CUT_BETWEEN && self::ends($conclusion, $net) !== null)) {
                array_push($proposals, ...$this->followed($conclusion, $evidence, $net, $modes));
            }
            if ($suspect->kind === SiteKind::Pin && $suspect->share >= self::WORTH_FOLLOWING) {
                array_push($proposals, ...$this->atPin($conclusion, $evidence, $suspect->site, $modes));
            }
            if ($suspect->kind === SiteKind::Chip && $suspect->share >= self::WORTH_MEASURING && ! $costs->isSocketed($suspect->site)) {
                foreach (($conclusion->board->chips[$suspect->site] ?? null)?->dataOutputs() ?? [] as $pin) {
                    array_push($proposals, ...$this->atPin($conclusion, $evidence, $pin, $modes));
                }
            }
        }

        return $proposals;
    }

    /** Read from the netlist once for a board. */
    private function structure(Conclusion $conclusion): Structure
    {
        return $this->structure?->board === $conclusion->board ? $this->structure : $this->structure = Structure::of($conclusion->board);
    }

    /**
     * What is to run while some lines are looked at: what a programme sets stands as it happens in a free run, and is known
     * while reset holds it.
     *
     * @param  list<Net|null>  $nets
     * @return array{string, string} the situation, and in words that follow the pin
     */
    private function where(Conclusion $conclusion, array $nets): array
    {
        $situation = self::situation($conclusion);
        $structure = $this->structure($conclusion);
        if ($situation === 'free-run' && array_filter($nets, static fn (?Net $net): bool => $structure->isResettable($net) || self::isNeverReset($conclusion, $structure, $net)) !== []) {
            return self::inReset();
        }

        return [$situation, $situation === 'free-run' ? ', in a free run' : ''];
    }

    /**
     * @return array{string, string}
     */
    private static function inReset(): array
    {
        return ['reset', ', held in reset'];
    }

    /**
     * Whether a net that passes the reset on was right in a free run, or another of them was wrong while reset was held: what
     * it has not shown yet it shows then.
     */
    private static function isNeverReset(Conclusion $conclusion, Structure $structure, ?Net $net): bool
    {
        if (! $structure->isResetLine($net)) {
            return false;
        }
        foreach (self::touched($conclusion) as ['net' => $touched, 'wrong' => $isWrong, 'right' => $isRight, 'reset' => $inReset]) {
            if ($touched === $net && $isRight && ! $inReset || $isWrong && $inReset && $structure->isResetLine($touched)) {
                return true;
            }
        }

        return false;
    }

    /**
     * A machine that does not run its ROM is given a free run: what a crashed processor does tells nothing.
     */
    private static function situation(Conclusion $conclusion): string
    {
        $sick = false;
        foreach ($conclusion->evidence as $seen) {
            if ($seen->runs !== null) {
                return in_array(DiagnosticResult::NOTHING, $seen->runs->results, true) ? 'free-run' : 'running';
            }
            $sick = $sick || $seen->kind === Evidence::SIGN && $seen->abnormal;
        }

        return $sick ? 'free-run' : 'running';
    }

    /**
     * A pin of a net where it was right and one where it was wrong, at the same time and with the parts that are in now.
     *
     * @return array{string, string}|null
     */
    private static function ends(Conclusion $conclusion, Net $net): ?array
    {
        $seen = [];
        foreach ($conclusion->evidence as $each) {
            if ($each->kind === Evidence::PROBE && $each->state->sameParts($conclusion->now) && preg_match('/^probe (.*) (\S+) (right|wrong)$/s', $each->id, $match) === 1 && $match[2] === $net->name && preg_match('/ at ([A-Z]+\d+\.\d+)/', $each->words, $at) === 1) {
                $seen[$match[1]][$match[3]] = $at[1];
            }
        }
        foreach ($seen as $pins) {
            if (isset($pins['right'], $pins['wrong'])) {
                return [$pins['right'], $pins['wrong']];
            }
        }

        return null;
    }

    /**
     * A line between the levels is driven and pulled at once: it is measured at each of its pins, to the millivolt. What
     * pulls it is where the current goes. So two outputs that fight are told apart, and an input that has gone to ground is found at all.
     *
     * @return list<Proposal>
     */
    private function drops(Conclusion $conclusion, SignalEvidence $evidence): array
    {
        $proposals = [];
        $shares = $conclusion->posterior->sites;
        $touched = self::touched($conclusion);
        // What two fought over and was right since is theirs no more: what touched it was somewhere else.
        $still = $since = [];
        foreach ($touched as ['net' => $net, 'between' => $isBetween, 'right' => $isRight, 'now' => $isNow]) {
            $still += $isNow && $isBetween ? [$net->name => true] : [];
            $since += $isNow && $isRight ? [$net->name => true] : [];
        }
        foreach ($touched as ['net' => $net, 'between' => $isBetween]) {
            if (! $isBetween || isset($proposals[$net->name]) || isset($since[$net->name]) && ! isset($still[$net->name]) || array_filter($conclusion->evidence, static fn (Evidence $seen): bool => str_starts_with($seen->id, "drop {$net->name} ") && $seen->state->sameParts($conclusion->now)) !== []) {
                continue;
            }
            $pins = array_filter($net->pins, static fn (string $pin): bool => ! in_array(($conclusion->board->chips[Netlist::chipOf($pin)] ?? null)?->kind(), ['connector', 'discrete', null], true));
            usort($pins, static fn (string $a, string $b): int => ($shares[Netlist::chipOf($b)] ?? 0.0) <=> ($shares[Netlist::chipOf($a)] ?? 0.0));
            $outcomes = [];
            foreach ([...array_slice($pins, 0, self::PULLING), null] as $pin) {
                $told = $evidence->ofDrop(new LineDrop($net->name, $pin), $conclusion->now);
                if ($told !== null) {
                    $outcomes[] = new ProposedOutcome($pin === null ? 'no pin stands out' : "it is pulled at {$pin}", [$told], ['kind' => 'line-drop', 'payload' => ['net' => $net->name, 'pin' => $pin ?? '']]);
                }
            }
            if (count($pins) > 1) {
                $proposals[$net->name] = new Proposal('drop', $net->name, "Measure {$net->name} at each of its pins, to the millivolt: at which is it lowest, or highest where it is pulled up?", "finds what pulls the line among all that is on it; for a pin not listed here type drop {$net->name} and the pin", 'drop', $outcomes, needs: Equipment::Meter);
            }
        }

        return array_values($proposals);
    }

    /**
     * All pins of a suspected chip touched in one go.
     *
     * @return list<Proposal>
     */
    private function walks(Conclusion $conclusion, SignalEvidence $evidence): array
    {
        $proposals = [];
        $wrongNets = self::wrongNets($conclusion);
        $refs = [];
        foreach (array_slice($conclusion->suspects(), 0, self::SUSPECTS) as $suspect) {
            // Traces at a chip are touched with the chip, and a line that may be held with what drives it.
            $net = $suspect->kind === SiteKind::Net ? $conclusion->board->netlist->nets[$suspect->site] ?? null : null;
            $drivers = $net === null ? [] : array_unique(array_map(Netlist::chipOf(...), $conclusion->board->netlist->drivers($net)));
            array_push($refs, $suspect->kind === SiteKind::Net ? (string) $suspect->seat : $suspect->site, ...(count($drivers) === 1 ? array_values($drivers) : []));
        }
        array_push($refs, ...self::traceEnds($conclusion));
        foreach (array_unique($refs) as $ref) {
            $chip = $conclusion->board->chips[$ref] ?? null;
            $done = $chip === null ? [] : self::walkedSo($conclusion, $chip);
            [$situation, $how] = $this->where($conclusion, []);
            if ($done !== [] && $situation === 'free-run') {
                // What a programme sets, and whether the reset comes, was not seen then: once more in reset.
                $outputs = array_map(static fn (Pin $pin): ?Net => $conclusion->board->netlist->netOf("{$ref}.{$pin->number}"), array_values(array_filter($chip?->type?->pinList() ?? [], static fn (Pin $pin): bool => $pin->direction === 'out')));
                $structure = $this->structure($conclusion);
                if (array_filter($outputs, static fn (?Net $net): bool => $structure->isResettable($net) || $structure->isResetLine($net)) !== []) {
                    [$situation, $how] = self::inReset();
                    $done = array_filter($done, static fn (Evidence $seen): bool => $seen->walked(Situation::Reset) !== null);
                }
            }
            // Where an input is known to be wrong little can be told of the outputs: only that they drive at all.
            $misfed = $chip !== null && ($conclusion->posterior->sites[$ref] ?? 0.0) < self::MAY_BE_DEAD && self::isMisfed($chip, $conclusion->board->netlist, $wrongNets);
            [$right, $wrong] = $chip === null || $done !== [] || $misfed || in_array($chip->kind(), ['connector', 'discrete', 'regulator'], true) ? [null, []] : $evidence->foreseenWalk($chip->ref, $conclusion->now);
            if ($right !== null) {
                $proposals[$ref] = new Proposal('walk', $ref, "Touch every pin of {$ref} with the probe{$how}: is each as it should be?", "tells {$ref} and what feeds it from the rest", 'walk', [
                    new ProposedOutcome('all as they should be', [$right], ['kind' => 'pin-walk', 'payload' => ['chip' => $ref, 'situation' => $situation]]),
                    ...self::wrongPins($conclusion, $wrong),
                ], minutes: StepCosts::allPins($chip), needs: Equipment::Probe);
            }
        }

        return array_values($proposals);
    }

    /**
     * What was seen when all pins of a chip were touched: it holds until it, one of its lines or what feeds it is another.
     *
     * @return array<int, Evidence>
     */
    private static function walkedSo(Conclusion $conclusion, Chip $chip): array
    {
        $touched = [$chip->ref];
        foreach ($chip->type?->pinList() ?? [] as $pin) {
            $net = $conclusion->board->netlist->netOf("{$chip->ref}.{$pin->number}");
            array_push($touched, $net->name ?? $chip->ref, ...($net === null || $net->kind === 'data' || $pin->direction !== 'in' ? [] : array_map(Netlist::chipOf(...), $conclusion->board->netlist->drivers($net))));
        }

        return array_filter($conclusion->evidence, static fn (Evidence $seen): bool => $seen->walked() === $chip->ref && $seen->state->sameAt($touched, $conclusion->now));
    }

    /**
     * Chips at which traces end that may be broken: one walk there touches all of them.
     *
     * @return list<string> where most of it may be first
     */
    private static function traceEnds(Conclusion $conclusion): array
    {
        $shares = [];
        foreach ($conclusion->posterior->faults as $id => $share) {
            $mode = SignalEvidence::trace((string) $id)['mode'] ?? '';
            $pin = SignalEvidence::liftedPin($mode) ?? SignalEvidence::brokenBefore($mode);
            if ($pin !== null) {
                $shares[Netlist::chipOf($pin)] = ($shares[Netlist::chipOf($pin)] ?? 0.0) + $share;
            }
        }
        arsort($shares);

        return array_map(strval(...), array_slice(array_keys(array_filter($shares, static fn (float $share): bool => $share >= self::CUT_OFF)), 0, self::WALKED_TO));
    }

    /**
     * What may be wrong at a chip, the likeliest by itself and the rest together.
     *
     * @param  array<string, Evidence>  $wrong  by the pin where it comes in wrong; "" for what the chip gives itself
     * @return list<ProposedOutcome>
     */
    private static function wrongPins(Conclusion $conclusion, array $wrong): array
    {
        $shares = [...$conclusion->posterior->faults, ...$conclusion->posterior->sites];
        $likely = array_map(static fn (Evidence $seen): float => array_sum(array_map(static fn (string $site): float => $shares[$site] ?? 0.0, array_map(strval(...), array_keys($seen->strengths)))), $wrong);
        arsort($likely);
        $outcomes = [];
        $rest = null;
        foreach (array_map(strval(...), array_keys($likely)) as $number => $pin) {
            if ($number < self::TOLD_APART) {
                $outcomes[] = new ProposedOutcome($pin === '' ? 'what it gives is not' : "{$conclusion->board->netlist->called($pin)} is not", [$wrong[$pin]], null);
            } else {
                $rest = $rest === null ? $wrong[$pin] : $rest->withStrengths([...$rest->strengths, ...$wrong[$pin]->strengths]);
            }
        }

        return $rest === null ? $outcomes : [...$outcomes, new ProposedOutcome('another pin is not', [$rest], null)];
    }

    /**
     * The pins that were touched with the parts that are in now; those that were right, with the parts of their line.
     *
     * @return list<array{pin: string, net: Net, wrong: bool, between: bool, right: bool, now: bool, reset: bool}> neither wrong nor right, where nothing is known of what belongs there; now: with all parts that are in
     */
    private static function touched(Conclusion $conclusion): array
    {
        $touched = [];
        foreach ($conclusion->evidence as $seen) {
            if (in_array($seen->kind, [Evidence::PROBE, Evidence::CONTENTION], true)) {
                $same = $seen->state->sameParts($conclusion->now);
                foreach (($same || ! $seen->abnormal || str_contains($seen->words, ' is between at ')) && preg_match_all('/\b[A-Z]+\d+\.\d+\b/', $seen->words, $match) > 0 ? $match[0] : [] as $pin) {
                    $net = $conclusion->board->netlist->netOf($pin);
                    // What was right is so still where nothing on the line is another, and what two fought over they fight over still.
                    if ($net !== null && ($same || $seen->state->sameAt([$net->name, ...array_map(Netlist::chipOf(...), $net->pins)], $conclusion->now))) {
                        $touched[] = ['pin' => $pin, 'net' => $net, 'wrong' => $seen->abnormal, 'between' => $seen->abnormal && str_contains($seen->words, "{$net->name} is between at "), 'right' => ! $seen->abnormal && array_sum($seen->strengths) > 0.0, 'now' => $same, 'reset' => $seen->situation() === Situation::Reset];
                    }
                }
            }
        }

        return $touched;
    }

    /**
     * Nets that were wrong at a pin, with the parts that are in now.
     *
     * @return array<string, Net>
     */
    private static function wrongNets(Conclusion $conclusion): array
    {
        $wrong = [];
        foreach (self::touched($conclusion) as ['net' => $net, 'wrong' => $isWrong]) {
            $wrong += $isWrong ? [$net->name => $net] : [];
        }

        return $wrong;
    }

    /**
     * @param  array<string, Net>  $wrong
     */
    private static function isMisfed(Chip $chip, Netlist $netlist, array $wrong): bool
    {
        foreach ($wrong === [] ? [] : $chip->type?->pinList() ?? [] as $pin) {
            if ($pin->direction === 'in' && isset($wrong[$netlist->netOf("{$chip->ref}.{$pin->number}")->name ?? ''])) {
                return true;
            }
        }

        return false;
    }

    /**
     * The pins of nets that were wrong somewhere, and the inputs of what drives them.
     *
     * @return list<string>
     */
    private function candidates(Conclusion $conclusion, Structure $structure): array
    {
        $netlist = $conclusion->board->netlist;
        $inFreeRun = self::situation($conclusion) === 'free-run';
        $probed = $right = $walked = $wrongPins = $rightPins = $resets = [];
        foreach (self::touched($conclusion) as ['pin' => $pin, 'net' => $net, 'wrong' => $isWrong, 'right' => $isRight, 'reset' => $inReset]) {
            if ($isRight && ! $inReset && $inFreeRun && $structure->isResetLine($net)) {
                // Whether the reset comes at all is seen while it is held.
                $resets[$net->name] = true;

                continue;
            }
            $probed[$pin] = true;
            $right += $isRight ? [$pin => true] : [];
            $wrongPins[$net->name] = [...$wrongPins[$net->name] ?? [], ...($isWrong ? [$pin => true] : [])];
            $rightPins += $isRight ? [$net->name => true] : [];
        }
        foreach ($conclusion->evidence as $seen) {
            $chip = $conclusion->board->chips[$seen->walked() ?? ''] ?? null;
            if ($chip !== null && ! isset($walked[$chip->ref]) && self::walkedSo($conclusion, $chip) !== []) {
                $walked[$chip->ref] = true;
            }
        }
        $wrong = self::wrongNets($conclusion);
        $worth = [];
        $shares = $conclusion->posterior->sites;
        foreach ($wrong as $net) {
            foreach ($structure->driversOf($net) as $driver) {
                $worth[$driver] = 2.0;
                foreach ($structure->causesOf($driver) as $input) {
                    $worth[$input] = 1.0 + ($shares[Netlist::chipOf($driver)] ?? 0.0);
                }
            }
        }
        // Memory chips, many of them alike, are not what is touched here.
        $others = array_filter($conclusion->suspects(), static fn (Suspect $suspect): bool => $suspect->kind !== SiteKind::Chip);
        foreach (array_slice($others, 0, self::SUSPECTS) as $suspect) {
            $net = $suspect->kind === SiteKind::Net ? $netlist->nets[$suspect->site] ?? null : null;
            // A suspected trace nobody has touched: at its last pin, where it shows whatever is wrong with it.
            if ($net !== null && ! isset($wrong[$net->name]) && ! isset($rightPins[$net->name]) && $net->pins !== []) {
                $worth[$net->pins[count($net->pins) - 1]] ??= 1.0 + $suspect->share;
            }
        }
        if ($inFreeRun) {
            // What a processor that does nothing runs by is looked at where it comes in.
            foreach ($structure->runsBy($conclusion->board->processor->chip ?? '') as $pin) {
                $net = $netlist->netOf($pin);
                if ($net !== null && ! isset($wrong[$net->name]) && ! isset($rightPins[$net->name])) {
                    $worth[$pin] = max($worth[$pin] ?? 0.0, 1.5);
                }
            }
        }
        $notRight = array_count_values(array_map(Netlist::chipOf(...), array_keys(array_diff_key($probed, $right))));
        $best = [];
        foreach (array_diff_key($worth, $probed) as $pin => $value) {
            $net = $netlist->netOf((string) $pin);
            if (($notRight[Netlist::chipOf((string) $pin)] ?? 0) >= self::ONE_AFTER_ANOTHER) {
                continue;
            }
            if (isset($walked[Netlist::chipOf((string) $pin)]) && ! isset($resets[$net->name ?? ''])) {
                continue;
            }
            // Wrong at two pins and right at none: it is wrong everywhere.
            if ($net !== null && count($wrongPins[$net->name] ?? []) >= 2 && ! isset($rightPins[$net->name])) {
                continue;
            }
            // One pin of a net tells the same as another while none of them was wrong.
            if ($net !== null && ! $net->isPower() && (isset($wrong[$net->name]) || ! isset($best[$net->name]) || $value > $worth[$best[$net->name]])) {
                $best[isset($wrong[$net->name]) ? (string) $pin : $net->name] = (string) $pin;
            }
        }
        $pins = array_values(array_unique($best));
        usort($pins, static fn (string $a, string $b): int => $worth[$b] <=> $worth[$a] ?: strnatcmp($a, $b));

        return $pins;
    }

    /**
     * A suspected trace: halved with the meter, bridged or wired where it is broken, freed where it is held.
     *
     * @return list<Proposal>
     */
    private function followed(Conclusion $conclusion, SignalEvidence $evidence, Net $net, FailureModes $modes): array
    {
        $proposals = [];
        $shares = [];
        foreach ($net->pins as $place => $pin) {
            $shares[$place] = ($conclusion->posterior->faults[SignalEvidence::open($net->name, $pin)] ?? 0.0) + ($conclusion->posterior->faults[SignalEvidence::lifted($net->name, $pin)] ?? 0.0);
        }
        $total = array_sum($shares);
        $held = $conclusion->posterior->faults[SignalEvidence::held($net->name)] ?? 0.0;
        foreach ($conclusion->board->netlist->nets as $other) {
            $pair = [$net->name, $other->name];
            sort($pair, SORT_NATURAL);
            $shorted = $conclusion->posterior->faults[SignalEvidence::shorted($pair[0], $pair[1])] ?? 0.0;
            if ($shorted > $total && $shorted > $held) {
                [$from, $to] = [$net->pins[0], $other->pins[0]];
                $done = array_filter($conclusion->evidence, static fn (Evidence $seen): bool => str_starts_with($seen->id, "short {$from} {$to} "));
                $outcomes = [];
                foreach ($done === [] ? ['closed', 'open'] : [] as $result) {
                    $outcomes[] = new ProposedOutcome($result === 'closed' ? 'they touch' : 'they do not', [$this->tested($evidence, $conclusion, $from, $to, $result === 'closed')], ['kind' => 'continuity', 'payload' => ['from' => $from, 'to' => $to, 'result' => $result]]);
                }
                if ($outcomes !== []) {
                    $proposals[] = new Proposal('continuity', $net->name, "Power off: does {$net->name} touch {$other->name}? Measure from {$from} to {$to}.", 'tells a short between the two from what drives them', 'continuity', $outcomes, needs: Equipment::Meter);
                }
                $proposals[] = $this->mended($conclusion, $modes, 'fix', $net, "Look along {$net->name} and {$other->name} for a splash of solder or a whisker between them, clear it, and try it.", null);

                return $proposals;
            }
        }
        $isWrong = isset(self::wrongNets($conclusion)[$net->name]);
        if ($total > 0.0 && ($total > $held || ! $isWrong) && count($net->pins) > 1) {
            $tested = $this->measured($conclusion);
            $plan = ContinuityPlan::of($net, $tested);
            $half = $plan->half($shares);
            if ($half !== null) {
                // First whether it is broken at all between where it was right and where it was wrong; then where.
                $isNew = array_filter($tested, static fn (ContinuitySeen $test): bool => in_array($test->from, $net->pins, true)) === [];
                $ends = $isNew && $total < self::BROKEN ? self::ends($conclusion, $net) : null;
                [$from, $to] = $ends ?? [$net->pins[0], $net->pins[$half]];
                foreach (['closed', 'open'] as $result) {
                    $outcomes[] = new ProposedOutcome($result === 'closed' ? 'they are connected' : 'they are not', [$this->tested($evidence, $conclusion, $from, $to, $result === 'closed')], ['kind' => 'continuity', 'payload' => ['from' => $from, 'to' => $to, 'result' => $result]]);
                }
                $proposals[] = new Proposal('continuity', $net->name, "Power off: is {$from} connected to {$to}?", $ends === null ? "halves the trace of {$net->name}" : "tells a break in {$net->name} from a slip of the probe", 'continuity', $outcomes, needs: Equipment::Meter);
            }
            ['from' => $from, 'to' => $to] = $plan->past($shares);
            // No wire before the break was measured.
            if (array_filter($tested, static fn (ContinuitySeen $test): bool => ! $test->closed && in_array($test->from, $net->pins, true)) !== []) {
                $proposals[] = $this->mended($conclusion, $modes, 'wire', $net, "Fit a wire from {$from} to {$to}, and try it.", Equipment::SolderingStation);
                foreach ($net->pins as $pin) {
                    $ref = Netlist::chipOf($pin);
                    if (($conclusion->board->chips[$ref]->socketed ?? false) && ($conclusion->posterior->faults[SignalEvidence::lifted($net->name, $pin)] ?? 0.0) >= self::MAY_NOT_TOUCH && ! isset($conclusion->now->contacts[$ref])) {
                        $proposals[] = $this->mended($conclusion, $modes, 'reseat', $net, "Take {$ref} out of its socket, look at its leg {$pin}, put it back, and try it.", null, $ref);
                    }
                }
            }
        } elseif ($held > 0.0 && $isWrong) {
            // No looking for what holds a line before it was seen to be held.
            $proposals[] = $this->mended($conclusion, $modes, 'fix', $net, "Look along {$net->name} for a splash of solder or a whisker to a neighbour, clear it, and try it.", null);
        }

        return $proposals;
    }

    /**
     * What was measured along the traces, as far as it still holds.
     *
     * @return list<ContinuitySeen>
     */
    private function measured(Conclusion $conclusion): array
    {
        $measured = [];
        foreach ($conclusion->evidence as $seen) {
            $test = SignalEvidence::continuity($seen);
            if ($test?->holds($seen->state, $conclusion->now) === true) {
                $measured[] = $test;
            }
        }

        return $measured;
    }

    /**
     * The leg of a memory chip that may not reach its line: measured before the chip comes out, and wired where it does not.
     *
     * @return list<Proposal>
     */
    private function atPin(Conclusion $conclusion, SignalEvidence $evidence, string $pin, FailureModes $modes): array
    {
        $net = $conclusion->board->netlist->netOf($pin);
        $others = array_filter($net === null || $net->isPower() ? [] : $net->pins, static fn (string $other): bool => Netlist::chipOf($other) !== Netlist::chipOf($pin));
        // What the memory gives its bit to.
        $takes = array_filter($others, static fn (string $other): bool => in_array(Netlist::chipOf($other), [...$conclusion->board->buffersOf(Netlist::chipOf($pin)), $conclusion->board->processor->chip ?? ''], true));
        $other = array_values($takes)[0] ?? array_reverse($others)[0] ?? null;
        if ($net === null || $other === null) {
            return [];
        }
        foreach (array_filter(array_map(SignalEvidence::continuity(...), $conclusion->evidence)) as $test) {
            if ([$test->from, $test->to] === [$other, $pin]) {
                return ! $test->closed ? [$this->mended($conclusion, $modes, 'wire', $net, "Fit a wire from {$other} to {$pin}, and try it.", Equipment::SolderingStation, $pin)] : [];
            }
        }
        $outcomes = [];
        foreach (['closed', 'open'] as $result) {
            $outcomes[] = new ProposedOutcome($result === 'closed' ? 'they are connected' : 'they are not', [$this->tested($evidence, $conclusion, $other, $pin, $result === 'closed')], ['kind' => 'continuity', 'payload' => ['from' => $other, 'to' => $pin, 'result' => $result]]);
        }

        return [new Proposal('continuity', $pin, "Power off: is {$other} connected to {$pin}?", "tells an open trace at {$pin} from a bad chip", 'continuity', $outcomes, needs: Equipment::Meter)];
    }

    private function tested(SignalEvidence $evidence, Conclusion $conclusion, string $from, string $to, bool $closed): Evidence
    {
        return $evidence->ofContinuity([['observation' => '', 'state' => $conclusion->now, 'what' => new ContinuitySeen($from, $to, $closed)]])[0];
    }

    private function mended(Conclusion $conclusion, FailureModes $modes, string $action, Net $net, string $sentence, ?Equipment $needs, ?string $pin = null): Proposal
    {
        $site = $pin ?? $net->name;
        $state = $conclusion->now->after($action, $site);
        $outcomes = [];
        foreach (['cured' => 'the complaint is gone', 'as-before' => 'it is as before'] as $result => $words) {
            $outcomes[] = new ProposedOutcome($words, [new Evidence("{$action} {$site} {$result}", Evidence::COMPLAINT, $result !== 'cured', $modes->rate('sickFalseAlarm'), $modes->rate('sickMiss'), [], [], [], 1.0, $state, '')], ['kind' => 'intervention', 'payload' => ['action' => $action, 'site' => $site, 'result' => $result]]);
        }

        return new Proposal($action, $site, $sentence, $action === 'reseat' ? 'tells a leg that does not touch from a broken trace' : "settles {$site}", $action === 'fix' ? 'wire' : $action, $outcomes, needs: $needs, settles: $action === 'reseat' ? '' : $site);
    }
}
