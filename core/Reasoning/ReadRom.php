<?php

declare(strict_types=1);

namespace ZapTrace\Reasoning;

use ZapTrace\Observations\RomRead;
use ZapTrace\Rom\RomEvidence;

/**
 * Reads a suspected ROM in a reader and holds it against a good image.
 */
final readonly class ReadRom implements Proposer
{
    private const WORTH_READING = 0.03;

    private const MOST = 2;

    public function propose(Conclusion $conclusion, StepCosts $costs, FailureModes $modes): array
    {
        $proposals = [];
        foreach ($conclusion->suspects() as $suspect) {
            $chip = $conclusion->board->chips[$suspect->site] ?? null;
            if (count($proposals) >= self::MOST || $suspect->share < self::WORTH_READING || $chip === null || ! $chip->socketed || ! in_array($chip->kind(), ['rom', 'eprom'], true) || $this->wasRead($conclusion, $chip->ref)) {
                continue;
            }
            $seen = static fn (bool $wrong): Evidence => new Evidence("rom {$chip->ref} foreseen", Evidence::ROM_OUT, $wrong, $modes->rate('romFalseAlarm'), $modes->rate('romMiss'), [], [], [], 1.0, $conclusion->now, '', strengths: RomEvidence::inReader($chip->ref));
            $record = static fn (string $result): array => ['kind' => RomRead::KIND, 'payload' => ['chip' => $chip->ref, 'where' => 'reader', 'reads' => [], 'result' => $result]];
            $proposals[] = new Proposal('rom', $chip->ref, "Read {$chip->ref} in a reader and compare it with a known-good image.", 'tells its contents from everything around it', 'rom', [
                new ProposedOutcome('it matches', [$seen(false)], $record('match')),
                new ProposedOutcome('it does not', [$seen(true)], $record('differs')),
            ], needs: Equipment::EpromReader);
        }

        return $proposals;
    }

    private function wasRead(Conclusion $conclusion, string $ref): bool
    {
        foreach ($conclusion->evidence as $seen) {
            if ($seen->kind === Evidence::ROM_OUT && str_starts_with($seen->id, "rom {$ref} ") && $seen->state->sameAt([$ref], $conclusion->now)) {
                return true;
            }
        }

        return false;
    }
}
