<?php

declare(strict_types=1);

namespace ZapTrace\Observations;

use ZapTrace\Board\BoardProfile;
use ZapTrace\Board\Sign;
use ZapTrace\Problems\InputRejected;
use ZapTrace\Reasoning\Evidence;
use ZapTrace\Reasoning\FailureModes;
use ZapTrace\Signals\LineFaults;

/**
 * What the machine does by itself, at a power-on and some minutes after it.
 */
final class SignSeen implements Interpreter, WeighsTogether
{
    public const KIND = 'sign';

    /** So surely what it showed at the start is gone when it starts otherwise. */
    private const NO_LONGER = 0.9;

    public function kind(): string
    {
        return self::KIND;
    }

    public function interpret(Observation $observation, Moment $moment, Attachments $attachments): Contribution
    {
        $id = $observation->payload->string('sign');
        $sign = $moment->board->signs[$id] ?? throw InputRejected::of('sign', "There is no sign \"{$id}\" for {$moment->board->name}. There are ".implode(', ', array_keys($moment->board->signs)).'.');
        $minutes = $observation->payload->number('minutes', 0.0);
        $powerOn = $observation->payload->integer('powerOn', 0);

        return new Contribution(
            ucfirst($sign->words).($powerOn > 0 ? ", power-on {$powerOn}" : '').($minutes > 0.0 ? ', after '.rtrim(rtrim(number_format($minutes, 1, '.', ''), '0'), '.').' minutes' : ''),
            notes: [$sign->means], measured: [new SignShown($id, $powerOn, $minutes)],
        );
    }

    public function together(array $samples, BoardProfile $board, FailureModes $modes): array
    {
        $groups = [];
        foreach (Sample::of($samples, SignShown::class) as ['observation' => $observation, 'state' => $state, 'what' => $shown]) {
            if (isset($board->signs[$shown->sign])) {
                $groups["{$state->key()} {$shown->sign}"] = [$observation, $state, $shown];
            }
        }
        $evidence = [];
        $atStart = [];
        foreach ($groups as $key => [$observation, $state, $shown]) {
            $sign = $board->signs[$shown->sign];
            // What it started with before, and cannot show beside this one, is gone: that clears what would show so still.
            $gone = array_map(static fn (Sign $before): array => array_map(static fn (float $strength): float => self::NO_LONGER * $strength, $before->strengths($board)), array_intersect_key($atStart, array_flip($sign->excludes)));
            // The same sign again in the same state says nothing new: it is one way of being sick.
            $evidence[] = new Evidence(
                "sign {$key}", Evidence::SIGN, ! $sign->good, $modes->rate('signFalseAlarm'), $modes->rate('signMiss'), [], [], [], 1.0, $state, $sign->words, $observation,
                strengths: LineFaults::together($sign->strengths($board), ...array_values($gone)),
            );
            $atStart += $shown->minutes > 0.0 ? [] : [$sign->id => $sign];
        }

        return $evidence;
    }
}
