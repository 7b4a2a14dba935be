<?php

declare(strict_types=1);

namespace ZapTrace\Reasoning;

/**
 * Looks at what is measured with, when it is suspected: repeating a measurement does not remove a wrong table.
 */
final readonly class CheckSetup implements Proposer
{
    private const WORTH_A_LOOK = 0.08;

    public function propose(Conclusion $conclusion, StepCosts $costs, FailureModes $modes): array
    {
        $proposals = [];
        foreach ($conclusion->suspects() as $suspect) {
            if ($suspect->kind !== SiteKind::Setup || $suspect->share < self::WORTH_A_LOOK || ! str_starts_with($suspect->site, 'table') || $conclusion->isSetUpRight($suspect->site) !== null) {
                continue;
            }
            $seen = static fn (bool $wrong): Evidence => new Evidence("look {$suspect->site} ".($wrong ? 'wrong' : 'right'), Evidence::SETUP, $wrong, 0.02, 0.05, [], [], [], 1.0, $conclusion->now, '', setup: $suspect->site);
            $record = static fn (string $result): array => ['kind' => 'setup-check', 'payload' => ['setup' => $suspect->site, 'result' => $result]];
            $proposals[] = new Proposal('look', $suspect->site, "Look whether the {$suspect->site} is the one for {$conclusion->board->revision} of this board.", 'tells a wrong table from a bad part', 'look', [
                new ProposedOutcome('it is the right one', [$seen(false)], $record('right')),
                new ProposedOutcome('it is for another revision', [$seen(true)], $record('wrong')),
            ]);
        }

        return $proposals;
    }
}
