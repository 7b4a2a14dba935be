<?php

declare(strict_types=1);

namespace ZapTrace\Reasoning;

/**
 * Steps that do something to a suspected part and watch the complaint: look, reseat, clean, piggyback, swap, exchange,
 * exchange with a second machine, replace, bridge, warm and cool, put right, and putting an exchanged part back.
 */
final readonly class TryOnPart implements Proposer
{
    private const LEADING = 8;

    private const RESULTS = ['as-before' => 'as before', 'cured' => 'cured'];

    public function propose(Conclusion $conclusion, StepCosts $costs, FailureModes $modes): array
    {
        $proposals = [];
        foreach (array_slice($conclusion->suspects(), 0, self::LEADING) as $suspect) {
            array_push($proposals, ...match (true) {
                $suspect->kind === SiteKind::Link => [$this->tried($conclusion, $modes, 'reseat', $suspect->site, "Look whether {$suspect->site} really stands at {$conclusion->now->settings->position($suspect->site)}, press it home, and try it.", 'tells a link that is set or sits wrong from a bad part', 'look')],
                $suspect->kind === SiteKind::Pin => $this->onTrace($conclusion, $modes, $suspect->site),
                $suspect->kind === SiteKind::Net && $suspect->seat !== null => $this->onPads($conclusion, $modes, $suspect),
                $suspect->kind === SiteKind::Assembly => $this->onAssembly($conclusion, $modes, $suspect->site),
                $suspect->kind === SiteKind::Supply && $costs->isChip($suspect->site) => [$this->tried($conclusion, $modes, 'fix', $suspect->site, "Measure what {$suspect->site} gives, at the supply pins of the memory; put it right only if that is out of limits, and try it.", "settles {$suspect->site}", 'supply', needs: Equipment::Meter, settles: $suspect->site)],
                $suspect->seat !== null && $costs->isChip($suspect->seat) => $this->onChip($conclusion, $costs, $modes, $suspect),
                default => [],
            });
        }
        array_push($proposals, ...$this->back($conclusion, $modes));

        return $proposals;
    }

    /**
     * @return list<Proposal>
     */
    private function onChip(Conclusion $conclusion, StepCosts $costs, FailureModes $modes, Suspect $suspect): array
    {
        $seat = (string) $suspect->seat;
        $part = $costs->partOf($seat);
        $name = $suspect->site === $seat ? $seat : "the part in {$seat}";
        $proposals = [];
        if ($costs->isSocketed($seat)) {
            $proposals[] = $this->tried($conclusion, $modes, 'reseat', $seat, "Take {$name} out of its socket, put it back, and try it.", "tells a bad contact of {$seat} from a bad part");
            $proposals[] = $this->tried($conclusion, $modes, 'clean', $seat, "Clean the legs and the socket of {$seat}, and try it.", "tells a dirty contact of {$seat} from a bad part");
            $proposals[] = $this->tried($conclusion, $modes, 'exchange', $seat, "Exchange {$name} for a known good {$part}, and try it.", "tells whether the fault goes with {$suspect->site}", spareFor: $seat, settles: $suspect->site);
            $proposals[] = $this->withSecond($conclusion, $modes, $seat, $suspect->site);
            $neighbour = $this->neighbour($conclusion, $costs, $seat);
            if ($neighbour !== null && $suspect->kind === SiteKind::Chip) {
                $proposals[] = $this->swapped($conclusion, $modes, $seat, $neighbour);
            }
        } else {
            $proposals[] = $this->tried($conclusion, $modes, 'replace', $seat, "Replace {$name} with a good {$part} in a socket, and try it.", "settles {$suspect->site}", minutes: $costs->repair($seat, $suspect->kind) - $costs->knowledge->step('replace')['riskMinutes'], spareFor: $seat, settles: $suspect->site, needs: Equipment::SolderingStation);
        }
        if ($suspect->kind === SiteKind::Chip) {
            $proposals[] = $this->tried($conclusion, $modes, 'piggyback', $seat, "Press a good {$part} on top of {$seat}, power on, and try it.", "tells {$seat} with a dead output from one that drives hard", spareFor: $seat);
        }
        if ($costs->isSocketed($seat) && $suspect->site === $seat) {
            $proposals[] = $this->tested($conclusion, $modes, $costs, $seat);
        }
        if ($this->comesAndGoes($conclusion, $suspect->site) > 0.05) {
            $proposals[] = $this->tried($conclusion, $modes, 'cool', $seat, "Cool {$seat} while it fails: does it come right?", "tells whether {$seat} is weak", needs: Equipment::CoolingSpray);
        }

        return array_values(array_filter($proposals));
    }

    /**
     * @return list<Proposal>
     */
    private function onTrace(Conclusion $conclusion, FailureModes $modes, string $pin): array
    {
        return [
            $this->tried($conclusion, $modes, 'bridge', $pin, "Bridge {$pin} to its line with a clip lead, and try it.", "tells an open trace at {$pin} from a bad chip"),
        ];
    }

    /**
     * Where a part was unsoldered, its pads and the traces from them: another part there would change nothing.
     *
     * @return list<Proposal>
     */
    private function onPads(Conclusion $conclusion, FailureModes $modes, Suspect $suspect): array
    {
        $seat = (string) $suspect->seat;
        if (($conclusion->now->mended[$seat] ?? '') === 'wire') {
            return [];
        }

        return [$this->tried($conclusion, $modes, 'wire', $seat, "Measure from each leg of {$seat} to the next point of its line, put a wire where it is open, and try it.", "settles {$suspect->site}", 'pads', settles: $suspect->site, needs: Equipment::Meter)];
    }

    /**
     * @return list<Proposal>
     */
    private function onAssembly(Conclusion $conclusion, FailureModes $modes, string $id): array
    {
        $name = $conclusion->board->findAssembly($id)->name ?? $id;

        return [
            $this->tried($conclusion, $modes, 'reseat', $id, "Pull the {$name}, push it home again, and try it.", "tells a bad contact of the {$name} from a fault on it"),
            $this->tried($conclusion, $modes, 'clean', $id, "Clean the contacts of the {$name}, and try it.", 'tells dirty contacts from a fault'),
        ];
    }

    /**
     * Whether the machine was tried before with the original back in, and all else as it is now: it would tell the same.
     */
    private static function wasBack(Conclusion $conclusion, string $site): bool
    {
        $done = $conclusion->now->after('refit', $site)->done;

        // The same was done, in whatever order.
        return array_filter($conclusion->evidence, static fn (Evidence $seen): bool => $seen->kind === Evidence::COMPLAINT && $seen->state->done == $done && isset($seen->state->contacts[$site])) !== [];
    }

    /**
     * A removed part is put back to see whether the fault comes with it; and a borrowed one has to go home.
     *
     * @return list<Proposal>
     */
    private function back(Conclusion $conclusion, FailureModes $modes): array
    {
        $proposals = [];
        foreach ($conclusion->now->done as $site => $action) {
            $site = (string) $site;
            if (in_array($action, ['exchange', 'exchange-second', 'swap'], true) && ! self::wasBack($conclusion, $site)) {
                $proposals[$conclusion->now->seats[$site] ?? $site] = $this->tried($conclusion, $modes, 'refit', $site, "Put the original {$site} back, and try it.", 'tells a bad part from a contact that was only disturbed');
            }
            if ($action === 'remove') {
                $proposals[] = $this->tried($conclusion, $modes, 'refit', $site, "Put {$site} back in, and try it.", "tells what {$site} itself does");
            }
            if ($action === 'bridge') {
                $proposals[] = $this->tried($conclusion, $modes, 'wire', $site, "Fit a wire at {$site} for good, and try it.", "settles {$site}", settles: $site, needs: Equipment::SolderingStation);
            }
        }
        if ($conclusion->circumstances->secondUsed === false) {
            $evidence = static fn (bool $abnormal): Evidence => new Evidence('second '.($abnormal ? 'sick' : 'works'), Evidence::COMPLAINT, $abnormal, $modes->rate('sickFalseAlarm'), $modes->rate('sickMiss'), [], [], [], 1.0, $conclusion->now->seenOnSecond(), '');
            $proposals[] = new Proposal('prove-second', '', 'Prove the second machine before anything is exchanged with it: does it work as it stands?', 'makes its parts known good', 'prove-second', [
                new ProposedOutcome('it works', [$evidence(false)], ['kind' => 'second-machine', 'payload' => ['result' => 'works']]),
                new ProposedOutcome('it shows the fault', [$evidence(true)], ['kind' => 'second-machine', 'payload' => ['result' => 'fails']]),
            ], needs: Equipment::SecondMachine);
        }

        return array_values($proposals);
    }

    private function withSecond(Conclusion $conclusion, FailureModes $modes, string $seat, string $site): ?Proposal
    {
        if (! $conclusion->circumstances->secondUsed || ($conclusion->now->done[$seat] ?? '') === 'exchange-second') {
            return null; // The second machine is proved first.
        }
        $state = $conclusion->now->after('exchange-second', $seat);
        $seen = static fn (bool $abnormal, MachineState $where): Evidence => new Evidence("exchange-second {$seat} ".($abnormal ? 'sick' : 'works').($where->onSecond ? ' there' : ''), Evidence::COMPLAINT, $abnormal, $modes->rate('sickFalseAlarm'), $modes->rate('sickMiss'), [], [], [], 1.0, $where, '');
        $outcomes = [];
        foreach (['cured' => 'cured here', 'as-before' => 'as before here'] as $result => $here) {
            foreach (['fails' => 'the fault is there now', 'works' => 'it works there'] as $second => $there) {
                $outcomes[] = new ProposedOutcome("{$here}, {$there}", [$seen($result !== 'cured', $state), $seen($second === 'fails', $state->seenOnSecond())], ['kind' => 'intervention', 'payload' => ['action' => 'exchange-second', 'site' => $seat, 'result' => $result, 'secondResult' => $second]]);
            }
        }

        return new Proposal('exchange-second', $seat, "Exchange {$seat} with the one of the second machine, and try both machines.", "tells whether the fault travels with {$site} or stays with the machine", 'exchange-second', $outcomes, needs: Equipment::SecondMachine, settles: $site);
    }

    private function swapped(Conclusion $conclusion, FailureModes $modes, string $seat, string $with): ?Proposal
    {
        $lines = [];
        foreach ($conclusion->board->banks as $bank) {
            foreach ([$seat, $with] as $chip) {
                foreach ($bank->linesOf($chip) as $line) {
                    $lines[$chip] ??= [$bank->name, $line];
                }
            }
        }
        if (count($lines) < 2) {
            return null;
        }
        $state = $conclusion->now->after('swap', $seat, $with);
        $named = static fn (string $chip, bool $abnormal): Evidence => new Evidence("swap {$seat} {$with} {$chip}".($abnormal ? ' bad' : ' good'), Evidence::NAMED, $abnormal, $modes->rate('runOnce'), $modes->rate('passMiss'), [$lines[$chip][0]], [$lines[$chip][1]], [], 1.0, $state, '');
        // Where neither of the two is bad both places read well, and the complaint goes on all the same.
        $complaint = static fn (bool $abnormal): Evidence => new Evidence("swap {$seat} {$with} complaint", Evidence::COMPLAINT, $abnormal, $modes->rate('sickFalseAlarm'), $modes->rate('sickMiss'), [], [], [], 1.0, $state, '');
        $record = static fn (string $result): array => ['kind' => 'intervention', 'payload' => ['action' => 'swap', 'site' => $seat, 'with' => $with, 'result' => $result]];

        return new Proposal('swap', $seat, "Swap {$seat} and {$with}: does the bad bit move with the chip?", "tells {$seat} itself from what drives its place", 'swap', [
            new ProposedOutcome("it moves to {$with}'s place", [$complaint(true), $named($seat, false), $named($with, true)], $record('moved')),
            new ProposedOutcome("it stays at {$seat}'s place", [$complaint(true), $named($seat, true), $named($with, false)], $record('as-before')),
            new ProposedOutcome('it is gone', [$complaint(false), $named($seat, false), $named($with, false)], $record('cured')),
        ]);
    }

    /** Another chip of the same type in a socket, the least suspected. */
    private function neighbour(Conclusion $conclusion, StepCosts $costs, string $seat): ?string
    {
        $best = null;
        $least = INF;
        foreach ($conclusion->board->chips as $ref => $chip) {
            if ($ref !== $seat && $chip->part === $costs->partOf($seat) && $costs->isSocketed((string) $ref) && ($conclusion->now->seats[$ref] ?? '') === '') {
                $share = $conclusion->posterior->sites[$ref] ?? 0.0;
                [$best, $least] = $share < $least - 1e-6 ? [(string) $ref, $share] : [$best, $least];
            }
        }

        return $best;
    }

    private function tested(Conclusion $conclusion, FailureModes $modes, StepCosts $costs, string $seat): ?Proposal
    {
        $tester = $modes->tester('chip tester');
        if ($tester === null || ! in_array($costs->kindOfPart($seat), $tester->kinds, true)) {
            return null;
        }
        foreach ($conclusion->evidence as $seen) {
            if ($seen->kind === Evidence::TESTER && $seen->site === $seat) {
                return null;
            }
        }
        $evidence = static fn (bool $fails): Evidence => new Evidence("test {$seat} ".($fails ? 'fails' : 'passes'), Evidence::TESTER, $fails, $tester->falseAlarm, $tester->miss, [], [], [], 1.0, $conclusion->now, '', site: $seat, setup: "{$tester->method} for {$costs->partOf($seat)}", tester: $tester, type: $costs->partOf($seat));
        $record = static fn (string $result): array => ['kind' => 'chip-test', 'payload' => ['site' => $seat, 'result' => $result, 'method' => $tester->method]];

        return new Proposal('test', $seat, "Take {$seat} out and test it in the chip tester.", "tells whether {$seat} itself is bad; a pass does not clear it", 'test', [
            new ProposedOutcome('it fails', [$evidence(true)], $record('fail')),
            new ProposedOutcome('it passes', [$evidence(false)], $record('pass')),
        ], needs: Equipment::Tester);
    }

    private function comesAndGoes(Conclusion $conclusion, string $site): float
    {
        $share = 0.0;
        foreach ($conclusion->suspected as $fault) {
            if ($fault->site === $site && ($fault->mode->under['cool'] ?? 1.0) < 1.0) {
                $share += $conclusion->posterior->faults[$fault->id] ?? 0.0;
            }
        }

        return $share;
    }

    private function tried(Conclusion $conclusion, FailureModes $modes, string $action, string $site, string $sentence, string $tells, ?string $price = null, ?float $minutes = null, string $spareFor = '', string $settles = '', ?Equipment $needs = null): Proposal
    {
        $state = $conclusion->now->after($action, $site);
        $outcomes = [];
        foreach (self::RESULTS as $result => $words) {
            $outcomes[] = new ProposedOutcome($words, [new Evidence(
                "{$action} {$site} {$result}", Evidence::COMPLAINT, $result !== 'cured', $modes->rate('sickFalseAlarm'), $modes->rate('sickMiss'), [], [], [], 1.0, $state, '',
            )], ['kind' => 'intervention', 'payload' => ['action' => $action, 'site' => $site, 'result' => $result]]);
        }

        return new Proposal($action, $site, $sentence, $tells, $price ?? $action, $outcomes, $minutes, $needs, $spareFor, $settles);
    }
}
