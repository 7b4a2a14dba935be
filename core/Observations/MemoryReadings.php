<?php

declare(strict_types=1);

namespace ZapTrace\Observations;

use ZapTrace\Memory\ReadingSet;
use ZapTrace\Memory\ReadingsText;
use ZapTrace\Memory\Wording;
use ZapTrace\Numbers\Notation;
use ZapTrace\Numbers\Radix;

/**
 * Readings typed or pasted as lines of address, expected and read.
 */
final class MemoryReadings implements Interpreter
{
    public function kind(): string
    {
        return 'memory-readings';
    }

    public function interpret(Observation $observation, Moment $moment, Attachments $attachments): Contribution
    {
        $payload = $observation->payload;
        $radix = Radix::from($payload->integer('radix'));
        $set = (new ReadingsText($moment->board, $radix, $moment->settings))->read($payload->string('text'), $payload->number('heldSeconds', 0.0));

        return new Contribution($this->title($set, $moment, $radix).($payload->has('heldSeconds') ? ', after '.$payload->number('heldSeconds').' s' : ''), $set);
    }

    private function title(ReadingSet $set, Moment $moment, Radix $radix): string
    {
        $blocks = $set->blocks();
        $block = $blocks[0]['block'];
        $bytes = $set->count();
        if (count($blocks) === 1 && $bytes <= $moment->board->bus->lanes() && $block->addresses === null) {
            $format = static fn (string $value): string => Notation::format((int) hexdec(bin2hex($moment->board->bus->bigEndian ? $value : strrev($value))), $radix, 8 * $bytes);

            return Notation::format($block->from, $radix, $moment->board->bus->addressWidth).": wrote {$format($block->expected)}, read {$format($block->read)}";
        }

        return Wording::count($bytes, 'reading', 'readings');
    }
}
