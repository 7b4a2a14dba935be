<?php

declare(strict_types=1);

namespace ZapTrace\Reasoning;

/**
 * Runs the diagnostic once more where it has given its result once only: two of two alike is a result, one is not.
 */
final readonly class RepeatRun implements Proposer
{
    public function __construct(private FailureModes $modes)
    {
    }

    public function propose(Conclusion $conclusion, StepCosts $costs): array
    {
        $proposals = [];
        foreach ($conclusion->evidence as $seen) {
            if ($seen->kind !== Evidence::NAMED || ! $seen->abnormal || $seen->falseAlarm < $this->modes->rate('runOnce') || ! $seen->state->sameParts($conclusion->now)) {
                continue;
            }
            $proposals[] = new Proposal(
                'read', $conclusion->board->banks[$seen->banks[0]]->chipOfLine[$seen->lines[0]],
                'Power off and on, and run the diagnostic again: does it count the same?', 'tells a result from a miscount', 2.0, 'none', 0.0, '',
                new Evidence("{$seen->id}/again", Evidence::NAMED, true, $this->modes->rate('runAgain'), $seen->miss, $seen->banks, $seen->lines, [], 1.0, $conclusion->now, '', also: array_map(
                    fn (array $other): array => [...$other, 'weight' => $this->modes->rate('slipAgain')], $seen->also,
                ), setup: $seen->setup),
                ['wrong', 'right'], ['the same again', 'another result'],
            );
        }

        return $proposals;
    }
}
