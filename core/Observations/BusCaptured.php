<?php

declare(strict_types=1);

namespace ZapTrace\Observations;

use ZapTrace\Bus\BusEvidence;
use ZapTrace\Bus\Divergence;
use ZapTrace\Formats\JsonNode;
use ZapTrace\Reasoning\Evidence;
use ZapTrace\Signals\Structure;

/**
 * A capture of the bus was held against a good one, or against the ROM and the start-up of the processor; kept with how
 * far it went and where it parted.
 */
final class BusCaptured implements Interpreter
{
    public const KIND = 'bus-capture';

    /** Cycles after which the way to the ROM has shown that it works. */
    private const STARTED = 16;

    /** Cycles that a run has to go before it clears anything. */
    private const TELLING = 100;

    public function kind(): string
    {
        return self::KIND;
    }

    public function interpret(Observation $observation, Moment $moment, Attachments $attachments): Contribution
    {
        $payload = $observation->payload;
        $distance = $payload->integer('distance');
        $found = self::divergence($payload);
        $against = $payload->string('against');
        $title = "{$payload->string('name')} beside {$against}: ".($found === null ? "{$distance} cycles, all as they should be" : 'parts after '.$distance.' cycle'.($distance === 1 ? '' : 's').', '.strtr($found->kind, ['-' => ' ']));
        $notes = [...($found === null ? [] : [$found->words]), ...$payload->strings('notes')];
        if ($found === null && $distance < self::TELLING || $moment->board->processor === null) {
            return new Contribution($title, notes: $notes);
        }
        $evidence = new BusEvidence(Structure::of($moment->board), $moment->state->settings);
        $strengths = $found === null ? $evidence->clears() : $evidence->of($found);
        [$banks, $lines] = $found === null ? [[], []] : $evidence->memoryRead($found);
        $checked = $payload->string('setup', 'unchecked') === 'right';

        $said = [];
        if ($found !== null && $distance >= self::STARTED) {
            // So far its ROM was read as it should be: what serves that is well.
            $well = array_diff_key($evidence->clears(), $strengths);
            $said[] = new Evidence("bus so far {$moment->state->key()}", Evidence::BUS, false, $moment->modes->rate('busFalseAlarm'), $moment->modes->rate('busMiss'), [], [], [], 1.0, $moment->state, "the bus does what it should for {$distance} cycles", $observation->id, strengths: $well);
        }

        return new Contribution($title, notes: $notes, evidence: $strengths === [] ? $said : [...$said, new Evidence(
            // Where it parts is one thing that is seen, as often as it is recorded.
            'bus '.($found === null ? "right {$moment->state->key()}" : "{$found->kind} {$found->address} {$found->words}"), $found?->kind === Divergence::CONTENTION ? Evidence::CONTENTION : Evidence::BUS, $found !== null,
            $moment->modes->rate($checked ? 'busCheckedFalseAlarm' : 'busFalseAlarm'), $moment->modes->rate('busMiss'),
            $banks, $lines, [], 1.0, $moment->state, $found === null ? "the bus does what it should for {$distance} cycles" : lcfirst(rtrim($found->words, '.')), $observation->id, strengths: $strengths,
        )]);
    }

    public static function divergence(JsonNode $payload): ?Divergence
    {
        if (! $payload->has('divergence')) {
            return null;
        }
        $node = $payload->at('divergence');
        $number = static fn (string $name): ?int => $node->has($name) ? $node->integer($name) : null;

        return new Divergence($node->integer('cycle'), $node->string('kind'), $number('address'), $number('expected'), $number('seen'), array_map(static fn (JsonNode $bit): int => $bit->asInteger(), $node->each('bits')), $node->string('words'), $node->boolean('writes', false), $node->boolean('behind', false));
    }
}
