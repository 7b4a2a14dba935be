<?php

declare(strict_types=1);

namespace ZapTrace\Reasoning;

use ZapTrace\Board\BoardProfile;
use ZapTrace\Board\RangeKind;
use ZapTrace\Bus\BusEvidence;
use ZapTrace\Bus\Divergence;
use ZapTrace\Observations\BusCaptured;
use ZapTrace\Signals\Structure;

/**
 * Records the start-up of a machine that does not start, and sees how far it goes as it should.
 */
final readonly class CaptureBus implements Proposer
{
    /** Share that the processor, the ROM and what selects it must have together. */
    private const WORTH_RECORDING = 0.1;

    /** Cycles after the start at which memory is used. */
    private const LATER = 1000;

    public function propose(Conclusion $conclusion, StepCosts $costs, FailureModes $modes): array
    {
        $board = $conclusion->board;
        if ($board->processor === null || $board->netlist->isEmpty() || ($board->chips[$board->processor->chip]->type->bus ?? null) === null || $this->wasRecorded($conclusion) || self::starts($conclusion)) {
            return [];
        }
        $bus = new BusEvidence(Structure::of($board), $conclusion->now->settings);
        $served = $bus->clears();
        $ways = $this->ways($board, $bus);
        $all = $served;
        foreach ($ways as $strengths) {
            $all += $strengths;
        }
        if (array_sum(array_intersect_key($conclusion->posterior->sites, $all)) < self::WORTH_RECORDING) {
            return [];
        }
        $outcomes = [new ProposedOutcome('it goes as it should', [$this->seen(false, $all, $conclusion, $modes)], ['kind' => BusCaptured::KIND, 'payload' => ['name' => 'recording', 'against' => 'the ROM', 'cycles' => 500, 'distance' => 500]])];
        foreach ($ways as $words => $strengths) {
            $outcomes[] = new ProposedOutcome($words, [$this->seen(true, $strengths, $conclusion, $modes)], null);
        }

        return [new Proposal('capture', $board->processor->chip, 'Record the bus from reset on and hold it beside the ROM or a good machine.', 'tells how far it goes as it should, and what it meets there', 'capture', $outcomes, needs: Equipment::Analyser)];
    }

    /**
     * The ways in which it can part, each with what would explain it.
     *
     * @return array<string, array<string, float>>
     */
    private function ways(BoardProfile $board, BusEvidence $bus): array
    {
        $start = $board->chips[$board->processor->chip ?? '']->type->bus->start['at'] ?? 0;
        $ways = [
            'it never starts' => $bus->of(new Divergence(0, Divergence::NEVER_STARTS, $start, null, null, [], '')),
            'the ROM does not answer' => $bus->of(new Divergence(0, Divergence::NOTHING_SELECTED, $start, null, null, [], '')),
        ];
        foreach ($board->map->ranges as $range) {
            if ($range->kind === RangeKind::Ram && $range->access !== 'write') {
                $ways['memory does not answer'] = $bus->of(new Divergence(self::LATER, Divergence::NOTHING_SELECTED, $range->from, null, null, [], ''));
                for ($bit = 0; $bit < $board->bus->dataWidth; $bit++) {
                    $ways["D{$bit} is wrong"] = $bus->of(new Divergence(self::LATER, Divergence::DATA_BITS, $range->from, null, null, [$bit], ''));
                }
                break;
            }
        }

        return array_filter($ways);
    }

    /**
     * @param  array<string, float>  $strengths
     */
    private function seen(bool $parts, array $strengths, Conclusion $conclusion, FailureModes $modes): Evidence
    {
        return new Evidence('bus foreseen', Evidence::BUS, $parts, $modes->rate('busFalseAlarm'), $modes->rate('busMiss'), [], [], [], 1.0, $conclusion->now, '', strengths: $strengths);
    }

    /** Whether it was seen to start as it should, the last time it was looked at. */
    private static function starts(Conclusion $conclusion): bool
    {
        $starts = false;
        $last = -1;
        foreach ($conclusion->evidence as $seen) {
            if ($seen->kind === Evidence::SIGN && $seen->state->moment >= $last && $seen->state->sameParts($conclusion->now)) {
                $last = $seen->state->moment;
                $starts = ! $seen->abnormal;
            }
        }

        return $starts;
    }

    /** With the parts that are in now, or all of it right the last time: what was done since made it no worse. */
    private function wasRecorded(Conclusion $conclusion): bool
    {
        $last = null;
        $wrong = [];
        foreach ($conclusion->evidence as $seen) {
            if (in_array($seen->kind, [Evidence::BUS, Evidence::CONTENTION], true) && $conclusion->holdsSince($seen->state)) {
                return true;
            }
            $last = $seen->kind === Evidence::BUS ? $seen->observation : $last;
            if ($seen->abnormal && in_array($seen->kind, [Evidence::BUS, Evidence::CONTENTION], true)) {
                $wrong[(string) $seen->observation] = true;
            }
        }

        return $last !== null && ! isset($wrong[$last]);
    }
}
