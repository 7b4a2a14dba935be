<?php

declare(strict_types=1);

namespace ZapTrace\Observations;

use ZapTrace\Board\BoardProfile;
use ZapTrace\Problems\InputRejected;
use ZapTrace\Reasoning\Evidence;
use ZapTrace\Reasoning\FailureModes;
use ZapTrace\Signals\HeatPicture;
use ZapTrace\Signals\HeatReading;

/**
 * How warm a part is, by finger or camera; or how warm the room is.
 */
final class Heat implements Interpreter, WeighsTogether
{
    public const KIND = 'heat';

    public function kind(): string
    {
        return self::KIND;
    }

    public function interpret(Observation $observation, Moment $moment, Attachments $attachments): Contribution
    {
        $payload = $observation->payload;
        if ($payload->has('room')) {
            return new Contribution("The room has {$payload->number('room')} degrees Celsius", measured: [new HeatReading('', $payload->number('room'), null, false)]);
        }
        $site = Intervention::siteOf($payload->string('site', ''), $moment->board);
        if (! isset($moment->board->chips[$site])) {
            throw InputRejected::of('site', "{$site} is not a part that grows warm. Give a reference, such as U12.");
        }
        $celsius = $payload->has('celsius') ? $payload->number('celsius') : null;
        $feel = $payload->has('feel') ? $payload->string('feel') : null;
        if ($celsius === null && $feel === null) {
            throw InputRejected::of('feel', "How warm is {$site}? Say cold, cool, warm or hot, or degrees Celsius.");
        }
        $only = $payload->boolean('onlyWithFault', false);

        return new Contribution(
            "{$site} is ".implode(', ', array_filter([$feel, $celsius === null ? null : "{$celsius} degrees Celsius"], is_string(...))).($only ? ', only while the fault shows' : ''),
            notes: $only ? ['It heats only while the fault shows: a symptom, not necessarily the cause.'] : [],
            measured: [new HeatReading($site, $celsius, $feel, $only)],
        );
    }

    public function together(array $samples, BoardProfile $board, FailureModes $modes): array
    {
        $groups = [];
        foreach (Sample::of($samples, HeatReading::class) as ['observation' => $observation, 'state' => $state, 'what' => $reading]) {
            $groups[$state->key()][] = new Sample($observation, $state, $reading);
        }
        $evidence = [];
        foreach ($groups as $key => $group) {
            foreach (HeatPicture::of($board, $group)->parts as $part) {
                $state = $group[count($group) - 1]->state;
                if ($part->verdict === '') {
                    // Warm as its like: neither shorted inside nor dead, as far as a finger tells.
                    $evidence[] = new Evidence("heat {$key} {$part->site}", Evidence::HOT, false, $modes->rate('heatFalseAlarm'), $modes->rate('heatMiss'), [], [], [], 1.0, $state, "{$part->site} is as warm as it should be", $part->observation, strengths: [$part->site => 1.0]);

                    continue;
                }
                $evidence[] = new Evidence(
                    "heat {$key} {$part->site}", $part->verdict === 'hot' ? Evidence::HOT : Evidence::COLD, true, $modes->rate($part->onlyWithFault ? 'heatWithFault' : 'heatFalseAlarm'), $modes->rate('heatMiss'),
                    [], [], [], 1.0, $state, $part->words, $part->observation, strengths: [$part->site => 1.0],
                );
            }
        }

        return $evidence;
    }
}
