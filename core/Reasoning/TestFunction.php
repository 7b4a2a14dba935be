<?php

declare(strict_types=1);

namespace ZapTrace\Reasoning;

/**
 * Tests a function of the board that exercises what is suspected.
 */
final readonly class TestFunction implements Opener
{
    private const WORTH_TESTING = 0.002;

    public function propose(Conclusion $conclusion, StepCosts $costs, FailureModes $modes): array
    {
        if ($conclusion->isBlank()) {
            return []; // Nothing that it should do can be tried.
        }
        $proposals = [];
        $suspected = $conclusion->suspects() !== [];
        $isElsewhere = ($conclusion->suspects()[0] ?? null)?->kind === SiteKind::Elsewhere;
        $reached = (new ReachedBanks($conclusion->board))->of($conclusion->now->settings);
        foreach ($conclusion->board->functions as $function) {
            $strengths = $function->strengths($conclusion->board, $reached);
            $share = array_sum(array_intersect_key($conclusion->posterior->sites, $strengths));
            if ($share < self::WORTH_TESTING && $suspected && ! $isElsewhere && ! $conclusion->now->isFailing() || ! $function->isPossible($reached) || $this->tested($conclusion, array_keys($strengths))) {
                continue;
            }
            $seen = static fn (bool $fails): Evidence => new Evidence("function {$function->id}", Evidence::FUNCTION, $fails, $modes->rate('functionFalseAlarm'), $modes->rate('functionMiss'), [], [], [], 1.0, $conclusion->now, '', strengths: $strengths);
            $record = static fn (string $result): array => ['kind' => 'function-test', 'payload' => ['function' => $function->id, 'result' => $result]];
            $proposals[] = new Proposal('function', $function->id, "Test: {$function->name}.".($function->how === '' ? '' : " {$function->how}"), 'tells what serves it from the rest', 'function', [
                new ProposedOutcome('it works', [$seen(false)], $record('works')),
                new ProposedOutcome('it does not', [$seen(true)], $record('fails')),
            ], $function->minutes);
        }

        return $proposals;
    }

    /**
     * @param  list<string>  $sites
     */
    private function tested(Conclusion $conclusion, array $sites): bool
    {
        foreach ($conclusion->evidence as $seen) {
            if ($seen->kind === Evidence::FUNCTION && array_keys($seen->strengths) === $sites && $seen->state->sameParts($conclusion->now) && $seen->state->isFailing() === $conclusion->now->isFailing()) {
                return true;
            }
        }

        return false;
    }
}
