<?php

declare(strict_types=1);

namespace ZapTrace\Observations;

use ZapTrace\Problems\InputRejected;
use ZapTrace\Reasoning\Evidence;
use ZapTrace\Reasoning\ReachedBanks;

/**
 * A function that this board has to be tested for: it works, or it does not.
 */
final class FunctionTest implements Interpreter
{
    public const KIND = 'function-test';

    public function kind(): string
    {
        return self::KIND;
    }

    public function interpret(Observation $observation, Moment $moment, Attachments $attachments): Contribution
    {
        $id = $observation->payload->string('function');
        $function = $moment->board->findFunction($id);
        if ($function === null) {
            $known = array_map(static fn ($each): string => $each->id, $moment->board->functions);
            throw InputRejected::of('function', $known === [] ? "The profile of {$moment->board->name} names no functions to test." : "{$moment->board->name} has no function \"{$id}\" to test. There are ".implode(', ', $known).'.');
        }
        $works = $observation->payload->string('result') === 'works';
        $title = ucfirst($function->name).($works ? ' works' : ' does not work');

        $strengths = $function->strengths($moment->board, (new ReachedBanks($moment->board))->of($moment->state->settings));

        return new Contribution($title, evidence: $strengths === [] ? [] : [new Evidence(
            $observation->id, Evidence::FUNCTION, ! $works, $moment->modes->rate('functionFalseAlarm'), $moment->modes->rate('functionMiss'), [], [], [], 1.0, $moment->state, lcfirst($title), $observation->id,
            strengths: $strengths,
        )], measured: [new FunctionTested($function->id, $works)]);
    }
}
