<?php

declare(strict_types=1);

namespace ZapTrace\Observations;

use ZapTrace\Memory\ReadingSet;
use ZapTrace\Memory\ScreenReading;
use ZapTrace\Numbers\Notation;

/**
 * A stripe of set pixels on a bit-mapped screen that should be empty.
 */
final class ScreenStripe implements Interpreter
{
    public function kind(): string
    {
        return 'screen-stripe';
    }

    public function interpret(Observation $observation, Moment $moment, Attachments $attachments): Contribution
    {
        $payload = $observation->payload;
        $reading = ScreenReading::stripe($payload->integer('pixel'), $payload->integer('column'), $payload->integer('row'), $moment->board);
        $set = new ReadingSet($moment->board->bus);
        $set->add($reading);
        $at = Notation::format($reading->address, $moment->radix, $moment->board->bus->addressWidth);

        return new Contribution("Screen: stripe at pixel {$payload->integer('pixel')} of cell {$payload->integer('column')}, row {$payload->integer('row')}, which is {$at}", $set);
    }
}
