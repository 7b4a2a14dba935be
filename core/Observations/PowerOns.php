<?php

declare(strict_types=1);

namespace ZapTrace\Observations;

use ZapTrace\Board\BoardProfile;
use ZapTrace\Problems\InputRejected;
use ZapTrace\Reasoning\Evidence;
use ZapTrace\Reasoning\MachineState;

/**
 * The machine was switched on several times, or ran for long: how often the fault showed.
 */
final class PowerOns implements ChangesMachine, Interpreter
{
    public const KIND = 'power-ons';

    public function kind(): string
    {
        return self::KIND;
    }

    /** When the fault has shown, the machine is on and fails; that is the time to look at it. */
    public function change(Observation $observation, BoardProfile $board, MachineState $state): Change
    {
        return new Change($state, $state->under(MachineState::FAILING, $observation->payload->integer('failed', 0) > 0));
    }

    public function interpret(Observation $observation, Moment $moment, Attachments $attachments): Contribution
    {
        $clean = $observation->payload->integer('clean', 0);
        $failed = $observation->payload->integer('failed', 0);
        $minutes = $observation->payload->number('minutes', 0.0);
        if ($clean + $failed === 0) {
            throw InputRejected::of('clean', 'How many power-ons were clean, and in how many did the fault show?');
        }
        $rate = $moment->modes->rate(...);
        $words = $minutes > 0.0
            ? ($failed === 0 ? 'Ran '.self::minutes($minutes).' without a fault' : 'Ran '.self::minutes($minutes).'; the fault showed')
            : ($failed === 0 ? "{$clean} clean power-ons" : "The fault showed in {$failed} of ".($clean + $failed).' power-ons');
        $evidence = [];
        if ($failed > 0) {
            $evidence[] = new Evidence("{$observation->id}/failed", Evidence::COMPLAINT, true, $rate('sickFalseAlarm'), $rate('sickMiss'), [], [], [], 1.0, $moment->state, lcfirst($words), $observation->id);
        }
        if ($clean > 0) {
            // A long run stands for as many power-ons as it is longer than one.
            $times = $clean + (int) floor($minutes / self::MINUTES_LIKE_A_POWER_ON);
            $evidence[] = new Evidence(
                "{$observation->id}/clean", Evidence::CLEAN, false, $rate('sickFalseAlarm'), $failed > 0 ? 0.5 : $rate('sickMiss'), [], [], [], 1.0, $moment->state, lcfirst($words), $observation->id, times: $times, failed: $failed,
            );
        }

        return new Contribution($words, evidence: $evidence, measured: [new PowerOnCount($clean, $failed, $minutes)]);
    }

    /** A run shows what comes and goes about as often as a power-on every so many minutes would. Common practice. */
    private const MINUTES_LIKE_A_POWER_ON = 10.0;

    private static function minutes(float $minutes): string
    {
        $minutes = (int) round($minutes);

        return $minutes >= 60 ? intdiv($minutes, 60).' h'.($minutes % 60 > 0 ? ' '.($minutes % 60).' min' : '') : "{$minutes} min";
    }
}
