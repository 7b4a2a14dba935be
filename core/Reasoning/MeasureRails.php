<?php

declare(strict_types=1);

namespace ZapTrace\Reasoning;

use ZapTrace\Board\Rail;

/**
 * Measures the supply rails that were not measured with the parts that are in now: nothing else means much while one is
 * out.
 */
final readonly class MeasureRails implements Opener
{
    /** Minutes for one more rail: the meter is set, and its black lead on ground. Common practice. */
    private const ONE_MORE = 1.0;

    public function propose(Conclusion $conclusion, StepCosts $costs, FailureModes $modes): array
    {
        $proposals = [];
        $measured = array_filter($conclusion->board->rails, fn (Rail $rail): bool => $this->measured($conclusion, $rail));
        foreach (array_diff_key($conclusion->board->rails, $measured) as $rail) {
            $seen = static fn (bool $out): Evidence => new Evidence(
                "rail {$rail->name} ".($out ? 'out' : 'in'), Evidence::RAIL, $out, $modes->rate('railFalseAlarm'), $modes->rate('railMiss'), [], [], [], 1.0, $conclusion->now, '',
                strengths: array_fill_keys($rail->sites(), 0.9),
            );
            $far = null;
            foreach ($conclusion->board->chips as $chip) {
                foreach ($chip->type->supply ?? [] as $supply) {
                    $far = $supply->rail === $rail->name && $chip->ref !== $rail->regulator ? ['site' => $chip->ref, 'pin' => $supply->pins[0]] : $far;
                }
            }
            $where = $far === null ? $rail->regulator : "{$rail->regulator} and at {$far['site']}.{$far['pin']}";
            $proposals[] = new Proposal(
                'rail', $rail->name, "Measure {$rail->name} V at {$where}.", 'tells a supply that is out from everything that hangs on it', 'rail', [
                    new ProposedOutcome('it is within limits', [$seen(false)], ['kind' => 'rail', 'payload' => ['rail' => $rail->name, 'volts' => $rail->volts, ...($far === null ? [] : ['site' => $far['site']])]]),
                    new ProposedOutcome('it is out of limits', [$seen(true)], null),
                ], $measured === [] ? null : self::ONE_MORE, needs: Equipment::Meter,
            );
        }

        return $proposals;
    }

    private function measured(Conclusion $conclusion, Rail $rail): bool
    {
        foreach ($conclusion->evidence as $seen) {
            if ($seen->kind === Evidence::RAIL && str_ends_with($seen->id, " {$rail->name}") && $seen->state->sameAt($rail->sites(), $conclusion->now)) {
                return true;
            }
        }

        return false;
    }
}
