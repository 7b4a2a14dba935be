<?php

declare(strict_types=1);

namespace ZapTrace\Observations;

/**
 * A mark on a photograph, tied to a chip.
 */
final class PhotoMark implements Interpreter
{
    public const KIND = 'photo-mark';

    public function kind(): string
    {
        return self::KIND;
    }

    public function interpret(Observation $observation, Moment $moment, Attachments $attachments): Contribution
    {
        $payload = $observation->payload;
        $site = $payload->string('site', '') === '' ? '' : Intervention::siteOf($payload->string('site'), $moment->board);
        $note = $payload->string('note', '');

        return new Contribution(
            'Mark on a photograph'.($site === '' ? '' : ": {$site}").($note === '' ? '' : ", {$note}"),
            measured: [new Mark($payload->string('sha1'), $payload->number('x'), $payload->number('y'), $site, $note)],
        );
    }
}
