<?php

declare(strict_types=1);

namespace ZapTrace\Observations;

use ZapTrace\Memory\ReadingSet;
use ZapTrace\Memory\ScreenReading;
use ZapTrace\Numbers\Notation;

/**
 * A wrong character on the screen.
 */
final class ScreenCharacter implements Interpreter
{
    public function kind(): string
    {
        return 'screen-character';
    }

    public function interpret(Observation $observation, Moment $moment, Attachments $attachments): Contribution
    {
        $payload = $observation->payload;
        $expected = $payload->string('expected', '');
        $reading = ScreenReading::character($payload->string('seen'), $expected, $payload->integer('column'), $payload->integer('row'), $moment->board);
        $set = new ReadingSet($moment->board->bus);
        $set->add($reading);
        $at = Notation::format($reading->address, $moment->radix, $moment->board->bus->addressWidth);

        return new Contribution("Screen: \"{$payload->string('seen')}\" instead of ".($expected === '' ? 'a blank' : "\"{$expected}\"")." at column {$payload->integer('column')}, row {$payload->integer('row')}, which is {$at}", $set);
    }
}
