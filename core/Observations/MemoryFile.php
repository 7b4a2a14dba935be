<?php

declare(strict_types=1);

namespace ZapTrace\Observations;

use ZapTrace\Formats\FileKind;
use ZapTrace\Memory\Expectation;
use ZapTrace\Memory\ReadingsFile;
use ZapTrace\Numbers\Radix;

/**
 * A file of readings, or a dump compared with what it should have held.
 */
final class MemoryFile implements Interpreter
{
    public function kind(): string
    {
        return 'memory-file';
    }

    public function interpret(Observation $observation, Moment $moment, Attachments $attachments): Contribution
    {
        $payload = $observation->payload;
        $base = $payload->has('base') ? $payload->integer('base') : null;
        $name = $payload->string('name');
        $expectation = match (true) {
            $payload->has('second') => Expectation::image(
                ReadingsFile::image($attachments->bytes($payload->at('second')->string('sha1')), $payload->at('second')->string('name'), $base ?? 0),
                $payload->at('second')->string('name'),
            ),
            $payload->has('expect') => Expectation::parse($payload->string('expect')),
            default => null,
        };
        $file = ReadingsFile::read(
            $attachments->bytes($payload->string('sha1')),
            $name,
            $moment->board,
            Radix::from($payload->integer('radix')),
            $expectation,
            $base,
            $payload->has('page') ? $payload->integer('page') : null,
            $payload->number('heldSeconds', 0.0),
            $payload->has('as') ? FileKind::from($payload->string('as')) : null,
            $moment->settings,
        );

        $notes = $file->notes;
        if (str_starts_with($payload->string('expect', ''), 'address')) {
            $notes[] = 'With each address as its own data, a lost address line reads like a stuck data bit. Data without a pattern, against a second file, tells them apart.';
        }

        return new Contribution(
            "{$name}: {$file->readings->count()} bytes".($expectation === null || $file->kind === FileKind::Readings ? '' : " against {$expectation->words}"),
            $file->readings,
            $notes,
        );
    }
}
