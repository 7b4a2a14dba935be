<?php

declare(strict_types=1);

namespace ZapTrace\Observations;

use ZapTrace\Board\Settings;
use ZapTrace\Problems\InputRejected;

/**
 * A link or latch that was moved, or was found to have stood otherwise from the start. It makes no readings; it
 * changes what the others were made on.
 */
final class SettingMoved implements Interpreter
{
    public const KIND = 'setting';

    public function kind(): string
    {
        return self::KIND;
    }

    public function interpret(Observation $observation, Moment $moment, Attachments $attachments): Contribution
    {
        $payload = $observation->payload;
        $settings = Settings::of($moment->board, [...$moment->settings->changedFrom($moment->board), $payload->string('ref') => $payload->string('position')]);
        $setting = $moment->board->findSetting($payload->string('ref'));
        if ($setting === null) {
            throw InputRejected::of('ref', "There is no link {$payload->string('ref')}.");
        }
        $position = $settings->position($setting->ref);
        $changes = $setting->positions[$position];

        $result = $payload->has('result') ? $payload->string('result') : null;
        $title = "{$setting->ref}, {$setting->name}: ".($payload->string('since') === 'start' ? "stood at {$position} all along" : "moved to {$position}").($result === null ? '' : ', '.(Intervention::RESULTS[$result] ?? $result));
        // The move holds from here on; what the complaint did was seen with the link where it is now.
        $state = $moment->state->with($settings);

        return new Contribution(
            $title,
            null,
            $changes === '' ? [] : [$changes],
            evidence: $result === null ? [] : Intervention::complaint($observation->id, $result, $title, new Moment($moment->board, $state, $moment->radix, $moment->modes)),
        );
    }
}
