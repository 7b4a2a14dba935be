<?php

declare(strict_types=1);

namespace ZapTrace\Reasoning;

/**
 * Feels the chips that are suspected: one far warmer than its like is shorted inside, a cold one may be dead.
 */
final readonly class FeelWarmth implements Proposer
{
    private const WORTH_FEELING = 0.05;

    private const MOST = 3;

    /** Parts that stay cool when well, so that a finger tells something. */
    private const COOL = ['dram', 'sram', 'logic'];

    public function propose(Conclusion $conclusion, StepCosts $costs, FailureModes $modes): array
    {
        $proposals = [];
        foreach ($conclusion->suspects() as $suspect) {
            $chip = $conclusion->board->chips[$suspect->site] ?? null;
            if (count($proposals) >= self::MOST || $suspect->share < self::WORTH_FEELING || $chip === null || ! in_array($chip->kind(), self::COOL, true) || $this->felt($conclusion, $chip->ref)) {
                continue;
            }
            $seen = static fn (string $kind, bool $abnormal): Evidence => new Evidence("feel {$chip->ref}", $kind, $abnormal, $modes->rate('heatFalseAlarm'), $modes->rate('heatMiss'), [], [], [], 1.0, $conclusion->now, '', strengths: [$chip->ref => 1.0]);
            $proposals[] = new Proposal('feel', $chip->ref, "Feel {$chip->ref} a minute after power-on, beside its like.", 'tells a chip that is shorted inside from one that is not', 'feel', [
                new ProposedOutcome('as warm as its like', [$seen(Evidence::HOT, false)], ['kind' => 'heat', 'payload' => ['site' => $chip->ref, 'feel' => 'cool']]),
                new ProposedOutcome('far hotter', [$seen(Evidence::HOT, true)], ['kind' => 'heat', 'payload' => ['site' => $chip->ref, 'feel' => 'hot']]),
            ]);
        }

        return $proposals;
    }

    private function felt(Conclusion $conclusion, string $site): bool
    {
        foreach ($conclusion->evidence as $seen) {
            if (in_array($seen->kind, [Evidence::HOT, Evidence::COLD], true) && isset($seen->strengths[$site]) && $seen->state->sameAt([$site], $conclusion->now)) {
                return true;
            }
        }

        return false;
    }
}
