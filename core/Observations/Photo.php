<?php

declare(strict_types=1);

namespace ZapTrace\Observations;

use ZapTrace\Problems\InputRejected;

/**
 * A photograph that is kept with the job.
 */
final class Photo implements Interpreter
{
    public const KIND = 'photo';

    public function kind(): string
    {
        return self::KIND;
    }

    public function interpret(Observation $observation, Moment $moment, Attachments $attachments): Contribution
    {
        $payload = $observation->payload;
        if (! $attachments->has($payload->string('sha1'))) {
            throw InputRejected::of('sha1', 'The picture itself is not here.');
        }
        $caption = $payload->string('caption', '');

        return new Contribution('Photograph'.($caption === '' ? '' : ": {$caption}"), measured: [new Picture($payload->string('sha1'), $payload->integer('width'), $payload->integer('height'), $caption)]);
    }
}
