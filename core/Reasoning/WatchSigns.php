<?php

declare(strict_types=1);

namespace ZapTrace\Reasoning;

/**
 * Watches what the machine does by itself, as long as that was not noted with the parts that are in now; and asks for
 * the sign that would tell the suspects apart, or whether a machine that was blank comes up by now.
 */
final readonly class WatchSigns implements Opener
{
    /** So likely has what a sign clears to be at fault before it is asked for. */
    private const WORTH_WATCHING = 0.1;

    public function propose(Conclusion $conclusion, StepCosts $costs, FailureModes $modes): array
    {
        foreach ($conclusion->evidence as $seen) {
            if ($seen->kind === Evidence::SIGN && $conclusion->holdsSince($seen->state)) {
                return [];
            }
        }
        if ($conclusion->suspects() === []) {
            return [new Proposal('watch', '', 'Switch it on, and note what it does by itself; then again.', 'tells how far it gets, and whether it does so every time', 'watch', [])];
        }
        $proposals = [];
        foreach (['clean-banner', 'program-runs'] as $id) {
            $sign = $conclusion->board->signs[$id] ?? null;
            if ($sign === null) {
                continue;
            }
            $strengths = $sign->strengths($conclusion->board);
            $asked = 0.0;
            foreach ($strengths as $site => $strength) {
                $asked += $strength * ($conclusion->posterior->sites[$site] ?? 0.0);
            }
            if ($asked < self::WORTH_WATCHING && ! ($id === 'clean-banner' && $conclusion->isBlank())) {
                continue;
            }
            $seen = static fn (bool $lacks): Evidence => new Evidence("watch {$id}", Evidence::SIGN, $lacks, $modes->rate('signFalseAlarm'), $modes->rate('signMiss'), [], [], [], 1.0, $conclusion->now, '', strengths: $strengths);
            $proposals[] = new Proposal('watch', $id, $id === 'program-runs' ? 'Type a small program and run it.' : 'Switch it on: does its start-up screen come up clean?', 'tells the parts that start the machine from the rest', 'watch', [
                new ProposedOutcome($sign->words, [$seen(false)], ['kind' => 'sign', 'payload' => ['sign' => $id]]),
                new ProposedOutcome('no', [$seen(true)], null),
            ]);
        }

        return $proposals;
    }
}
