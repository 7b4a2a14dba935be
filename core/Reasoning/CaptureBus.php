<?php

declare(strict_types=1);

namespace ZapTrace\Reasoning;

use ZapTrace\Bus\BusEvidence;
use ZapTrace\Observations\BusCaptured;
use ZapTrace\Signals\Structure;

/**
 * Records the start-up of a machine that does not start, and sees how far it goes as it should.
 */
final readonly class CaptureBus implements Proposer
{
    /** Share that the processor, the ROM and what selects it must have together. */
    private const WORTH_RECORDING = 0.1;

    public function propose(Conclusion $conclusion, StepCosts $costs, FailureModes $modes): array
    {
        $board = $conclusion->board;
        if ($board->processor === null || $board->netlist->isEmpty() || ($board->chips[$board->processor->chip]->type->bus ?? null) === null || $this->wasRecorded($conclusion)) {
            return [];
        }
        $served = (new BusEvidence(new Structure($board), $conclusion->now->settings))->clears();
        $share = array_sum(array_intersect_key($conclusion->posterior->sites, $served));
        if ($share < self::WORTH_RECORDING) {
            return [];
        }
        $seen = static fn (bool $parts): Evidence => new Evidence('bus foreseen', Evidence::BUS, $parts, $modes->rate('busFalseAlarm'), $modes->rate('busMiss'), [], [], [], 1.0, $conclusion->now, '', strengths: $served);

        return [new Proposal('capture', $board->processor->chip, 'Record the bus from reset on and hold it beside the ROM or a good machine.', 'tells how far it goes as it should, and what it meets there', 'capture', [
            new ProposedOutcome('it goes as it should', [$seen(false)], ['kind' => BusCaptured::KIND, 'payload' => ['name' => 'recording', 'against' => 'the ROM', 'cycles' => 500, 'distance' => 500]]),
            new ProposedOutcome('it parts: bring the recording', [$seen(true)], null),
        ], needs: Equipment::Analyser)];
    }

    private function wasRecorded(Conclusion $conclusion): bool
    {
        foreach ($conclusion->evidence as $seen) {
            if ($seen->kind === Evidence::BUS && $seen->state->sameParts($conclusion->now)) {
                return true;
            }
        }

        return false;
    }
}
