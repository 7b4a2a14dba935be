<?php

declare(strict_types=1);

namespace ZapTrace\Observations;

use ZapTrace\Board\BoardProfile;
use ZapTrace\Board\Netlist;
use ZapTrace\Parts\Levels;
use ZapTrace\Problems\InputRejected;
use ZapTrace\Problems\ProblemList;
use ZapTrace\Reasoning\FailureModes;
use ZapTrace\Signals\PinSeen;
use ZapTrace\Signals\ProbeState;
use ZapTrace\Signals\SignalEvidence;
use ZapTrace\Signals\Situation;
use ZapTrace\Signals\Structure;

/**
 * A pin was probed: its state, its volts or its frequency, in a situation; with what it should have been, as it was
 * known then.
 */
final class PinProbed implements Interpreter, WeighsTogether
{
    public const KIND = 'probe';

    public function kind(): string
    {
        return self::KIND;
    }

    public function interpret(Observation $observation, Moment $moment, Attachments $attachments): Contribution
    {
        $seen = self::read($observation, $moment->board);
        $unlike = $observation->payload->boolean('differs', false) && $seen->state === null;
        $words = match (true) {
            $unlike => 'unlike its neighbours',
            $seen->hz !== null => self::frequency($seen->hz),
            $seen->volts !== null => "{$seen->volts} V, ".($seen->state->value ?? ''),
            $seen->state !== null => $seen->state->value,
            default => $seen->judged === true ? 'as it should be' : 'not as it should be',
        };
        $should = match (true) {
            $seen->hz !== null && $seen->expectedHz !== null => self::frequency($seen->expectedHz),
            $seen->expected !== null => $seen->expected->value,
            default => '',
        };
        $right = $seen->isRight();
        $title = "{$moment->board->netlist->called($seen->pin)} {$words}, {$seen->situation->words()}".($seen->address === '' ? '' : " {$seen->address}");

        return new Contribution($title, notes: match (true) {
            $right === false && $unlike => ['It should be like the lines beside it.'],
            $right === false => ["It should be {$should}."],
            $right === null => ['Nothing can be expected of it there.'],
            default => [],
        }, measured: [$seen]);
    }

    public function together(array $samples, BoardProfile $board, FailureModes $modes): array
    {
        return (new SignalEvidence(Structure::of($board), $modes))->ofProbes(Sample::of($samples, PinSeen::class));
    }

    /** What its chip takes for low and high; at a connector or the like, what the parts on its net do, that which drives it first. */
    private static function levelsAt(string $pin, BoardProfile $board): ?Levels
    {
        $net = $board->netlist->netOf($pin);
        $levels = array_map(
            static fn (string $at): ?Levels => ($board->chips[Netlist::chipOf($at)] ?? null)?->type?->levels,
            [$pin, ...$net === null ? [] : [...$board->netlist->drivers($net), ...$net->pins]],
        );

        return array_values(array_filter($levels))[0] ?? null;
    }

    /**
     * @throws InputRejected with everything that is wrong with it
     */
    public static function read(Observation $observation, BoardProfile $board): PinSeen
    {
        $payload = $observation->payload;
        $problems = new ProblemList;
        $pin = self::pin($payload->string('pin'), $board, 'pin', $problems);
        $volts = $payload->has('volts') ? $payload->number('volts') : null;
        $state = $payload->has('state') ? ProbeState::from($payload->string('state')) : null;
        if ($volts !== null && $pin !== null) {
            $levels = self::levelsAt($pin, $board);
            if ($levels === null && $state === null) {
                $problems->add('volts', 'The library does not know which volts '.Netlist::chipOf($pin).' takes for low and high. Say high, low or between beside them.');
            }
            $state ??= $levels === null ? null : ProbeState::from($levels->read($volts, Netlist::numberOf($pin)));
        }
        $hz = $payload->has('hz') ? $payload->number('hz') : null;
        // On an oscilloscope a line that looks unlike its neighbours is wrong, whatever its level.
        $differs = $payload->boolean('differs', false);
        $judged = match (true) {
            $payload->has('result') => $payload->string('result') === 'right',
            $differs => false,
            default => null,
        };
        if ($state === null && $hz === null && $judged === null && $problems->isEmpty()) {
            $problems->add('state', 'Say what was seen there: high, low, pulsing, silent or between; or volts, or a frequency.');
        }
        $problems->throwIfAny();

        return new PinSeen(
            (string) $pin, Situation::from($payload->string('situation', Situation::Running->value)), $state ?? ($hz > 0.0 ? ProbeState::Pulsing : null), $volts, $hz,
            $payload->has('expected') && $payload->string('expected') !== 'any' ? ProbeState::from($payload->string('expected')) : null,
            $payload->has('expectedHz') ? $payload->number('expectedHz') : null,
            $payload->string('address', ''),
            $judged,
        );
    }

    /** The pin as the board writes it, U9.3; also by the name of the pin, U9./RAS. */
    public static function pin(string $text, BoardProfile $board, string $place, ProblemList $problems): ?string
    {
        if (preg_match('/^([^.\s]+)\.(\S+)$/', $text, $match) !== 1) {
            $problems->add($place, "\"{$text}\" is no pin. Write the part and the pin with a dot between: U9.3.");

            return null;
        }
        $chip = $board->findChip($match[1]);
        if ($chip === null) {
            $problems->add($place, "There is no {$match[1]} on {$board->name}.");

            return null;
        }
        foreach ($chip->type?->pinList() ?? [] as $pin) {
            if ((string) $pin->number === $match[2] || strcasecmp(($pin->activeLow ? '/' : '').$pin->name, $match[2]) === 0) {
                return "{$chip->ref}.{$pin->number}";
            }
        }
        if (ctype_digit($match[2]) && ($chip->type === null || $chip->type->pinout === []) && (int) $match[2] > 0) {
            return "{$chip->ref}.{$match[2]}";
        }
        $problems->add($place, "{$chip->ref} is a {$chip->part} and has no pin {$match[2]}".($chip->type === null ? '.' : "; its pins are 1 to {$chip->type->pins}."));

        return null;
    }

    public static function frequency(float $hz): string
    {
        return match (true) {
            $hz >= 999950.0 => self::rounded($hz / 1e6).' MHz',
            $hz >= 999.95 => self::rounded($hz / 1e3).' kHz',
            default => self::rounded($hz).' Hz',
        };
    }

    private static function rounded(float $value): string
    {
        return rtrim(rtrim(number_format($value, 4, '.', ''), '0'), '.');
    }
}
