<?php

declare(strict_types=1);

namespace ZapTrace\Observations;

use ZapTrace\Board\BoardProfile;
use ZapTrace\Problems\InputRejected;
use ZapTrace\Problems\ProblemList;
use ZapTrace\Reasoning\Evidence;
use ZapTrace\Reasoning\FailureModes;
use ZapTrace\Signals\RailCheck;
use ZapTrace\Signals\RailReading;
use ZapTrace\Signals\Supply;

/**
 * A supply rail was measured: volts or ripple at a chip or at the regulator, the current of the whole, the volts before
 * the regulator.
 */
final class RailMeasured implements Interpreter, WeighsTogether
{
    public const KIND = 'rail';

    public function kind(): string
    {
        return self::KIND;
    }

    public function interpret(Observation $observation, Moment $moment, Attachments $attachments): Contribution
    {
        $reading = self::read($observation, $moment->board);
        $where = $reading->site.($reading->pin === null ? '' : ".{$reading->pin}");
        $parts = array_filter([
            $reading->volts === null ? null : "{$reading->volts} V at {$where}".($reading->unloaded ? ', unloaded' : ''),
            $reading->ripple === null ? null : "{$reading->ripple} mV of ripple at {$where}",
            $reading->amps === null ? null : "{$reading->amps} A drawn",
            $reading->input === null ? null : "{$reading->input} V before {$moment->board->findRail($reading->rail)?->regulator}",
        ], is_string(...));
        $alone = Supply::of($moment->board, [new Sample($observation->id, $moment->state, $reading)]);
        $notes = [];
        foreach ($alone->rails as $check) {
            array_push($notes, ...$check->problems);
        }

        return new Contribution("{$reading->rail} V rail: ".implode(', ', $parts), notes: $notes, measured: [$reading]);
    }

    public function together(array $samples, BoardProfile $board, FailureModes $modes): array
    {
        $groups = [];
        foreach (Sample::of($samples, RailReading::class) as ['observation' => $observation, 'state' => $state, 'what' => $reading]) {
            $groups["{$state->key()} {$reading->rail}"][] = new Sample($observation, $state, $reading);
        }
        $evidence = [];
        foreach ($groups as $key => $group) {
            $reading = $group[0]->what;
            assert($reading instanceof RailReading);
            foreach (Supply::of($board, $group)->rails as $check) {
                if ($check->rail->name !== $reading->rail || ! $check->isMeasured() && ! $check->isOut()) {
                    continue;
                }
                $strengths = self::strengths($check, $board, $modes);
                $evidence[] = new Evidence(
                    "rail {$key}", Evidence::RAIL, $check->isOut(), $modes->rate('railFalseAlarm'), $modes->rate('railMiss'), [], [], [], 1.0, $group[count($group) - 1]->state,
                    $check->isOut() ? rtrim(lcfirst($check->problems[0]), '.') : "{$check->rail->name} V is within limits where it was measured", $group[count($group) - 1]->observation, strengths: $strengths,
                );
            }
        }

        return $evidence;
    }

    /**
     * How strongly a fault of each part would show as what was measured: ripple speaks for the capacitor, too much for
     * the regulator, too little for anything on the way. Common practice, as data.
     *
     * @return array<string, float> by reference
     */
    private static function strengths(RailCheck $check, BoardProfile $board, FailureModes $modes): array
    {
        $ripples = array_filter($check->points, static fn ($point): bool => ($point->ripple ?? 0.0) > $check->rail->rippleMillivolts) !== [];
        $high = array_filter($check->points, static fn ($point): bool => $point->isOut() && abs((float) $point->volts) > max(abs($point->min), abs($point->max))) !== [];
        // Too much lost on the way is too little, too.
        $low = $check->isOut() && ! $high && ! $ripples || array_filter($check->points, static fn ($point): bool => $point->isOut() && abs((float) $point->volts) < min(abs($point->min), abs($point->max))) !== [];
        $any = ! $check->isOut();
        // A chip that is shorted inside pulls its rail down, too, but rarely.
        $strengths = array_fill_keys(array_map(static fn ($point): string => $point->site, $check->points), $any || $low ? $modes->rate('railByShort') : 0.0);
        foreach ($check->rail->sites() as $site) {
            $kind = match (true) {
                $site === $check->rail->regulator => 'Regulator',
                ($board->chips[$site]->part ?? '') === 'ELCAP' => 'Capacitor',
                default => 'Feed',
            };
            $strengths[$site] = max(
                $any || $low ? $modes->rate("railBy{$kind}") : 0.0,
                $high ? $modes->rate($kind === 'Regulator' ? 'railByRegulator' : 'railHighByFeed') : 0.0,
                $any || $ripples ? $modes->rate("rippleBy{$kind}") : 0.0,
            );
        }

        return $strengths;
    }

    /**
     * @throws InputRejected with everything that is wrong with it
     */
    private static function read(Observation $observation, BoardProfile $board): RailReading
    {
        $payload = $observation->payload;
        $problems = new ProblemList;
        $rail = $board->findRail($payload->string('rail'));
        if ($rail === null) {
            $names = array_map(static fn ($known): string => $known->name, $board->rails);
            throw InputRejected::of('rail', $names === [] ? "The profile of {$board->name} describes no rails." : "{$board->name} has no rail {$payload->string('rail')}. It has ".implode(', ', $names).'.');
        }
        $number = static fn (string $member): ?float => $payload->has($member) ? $payload->number($member) : null;
        $site = $payload->string('site', '');
        $pin = null;
        if ($site === '') {
            $site = $rail->regulator;
        } else {
            try {
                $site = Intervention::siteOf($site, $board);
            } catch (InputRejected $rejected) {
                $problems->add('site', $rejected->problems[0]->sentence);
            }
            if (str_contains($site, '.')) {
                [$site, $pin] = [(string) strtok($site, '.'), (int) substr((string) strrchr($site, '.'), 1)];
            }
            $pins = [];
            foreach ($board->chips[$site]->type->supply ?? [] as $supply) {
                $pins = $supply->rail === $rail->name ? $supply->pins : $pins;
            }
            if ($problems->isEmpty() && $site !== $rail->regulator && isset($board->chips[$site]) && ! in_array($site, $rail->feeds, true) && ($pins === [] || ($pin !== null && ! in_array($pin, $pins, true)))) {
                $problems->add('site', $pins === []
                    ? "{$site} is a {$board->chips[$site]->part}: it has no {$rail->name} V pin that the library knows."
                    : "{$rail->name} V comes to {$site} at pin ".implode(' and ', $pins).", not at pin {$pin}.");
            }
        }
        if ($number('volts') === null && $number('ripple') === null && $number('amps') === null && $number('input') === null) {
            $problems->add('volts', 'What was measured? Give volts, ripple in millivolts, the current in ampere, or the volts before the regulator.');
        }
        $problems->throwIfAny();

        return new RailReading($rail->name, $site, $pin, $number('volts'), $number('ripple'), $number('amps'), $number('input'), $payload->boolean('unloaded', false));
    }
}
