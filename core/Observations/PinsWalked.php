<?php

declare(strict_types=1);

namespace ZapTrace\Observations;

use ZapTrace\Board\Netlist;
use ZapTrace\Problems\ProblemList;
use ZapTrace\Signals\PinSeen;
use ZapTrace\Signals\ProbeState;
use ZapTrace\Signals\Situation;

/**
 * Every pin of a chip was touched in one go: all as they should be, or some that are not.
 */
final class PinsWalked implements Interpreter
{
    public const KIND = 'pin-walk';

    public function kind(): string
    {
        return self::KIND;
    }

    public function interpret(Observation $observation, Moment $moment, Attachments $attachments): Contribution
    {
        $payload = $observation->payload;
        $board = $moment->board;
        $chip = $moment->chip($payload->string('chip'), 'chip');
        $situation = Situation::from($payload->string('situation', Situation::Running->value));
        $problems = new ProblemList;
        $wrong = [];
        foreach ($payload->each('wrong') as $entry) {
            $pin = PinProbed::pin($entry->string('pin'), $board, 'wrong', $problems);
            if ($pin !== null && Netlist::chipOf($pin) !== $chip->ref) {
                $problems->add('wrong', "{$pin} is not a pin of {$chip->ref}.");
            } elseif ($pin !== null) {
                $wrong[$pin] = ['state' => ProbeState::from($entry->string('state')), 'expected' => $entry->has('expected') && $entry->string('expected') !== 'any' ? ProbeState::from($entry->string('expected')) : null];
            }
        }
        $problems->throwIfAny();
        $measured = [];
        $unknown = array_flip($payload->strings('unknown'));
        $expected = [];
        foreach ([ProbeState::Pulsing, ProbeState::High, ProbeState::Low] as $state) {
            $expected += array_fill_keys($payload->strings($state->value), $state);
        }
        foreach ($chip->type?->pinList() ?? [] as $pin) {
            $name = "{$chip->ref}.{$pin->number}";
            $net = $board->netlist->netOf($name);
            if ($net === null || $net->isPower() || isset($unknown[$name])) {
                continue;
            }
            $measured[] = isset($wrong[$name])
                ? new PinSeen($name, $situation, $wrong[$name]['state'], null, null, $wrong[$name]['expected'], null, judged: false, onWalk: true)
                : new PinSeen($name, $situation, null, null, null, $expected[$name] ?? null, null, judged: true, onWalk: true);
        }
        $listed = implode(', ', array_map(static fn (string $pin, array $seen): string => "{$board->netlist->called($pin)} {$seen['state']->value}", array_keys($wrong), $wrong));

        return new Contribution("All pins of {$chip->ref} touched, {$situation->words()}: ".($wrong === [] ? 'as they should be' : $listed), notes: $wrong === [] ? [] : ['The others are as they should be.'], measured: $measured);
    }
}
