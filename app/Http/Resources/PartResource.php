<?php

declare(strict_types=1);

namespace App\Http\Resources;

use ZapTrace\Parts\Equivalent;
use ZapTrace\Parts\Part;
use ZapTrace\Parts\Pin;
use ZapTrace\Parts\Supply;

/**
 * A part of the library as JSON for the page.
 */
final class PartResource
{
    /**
     * @return array<string, mixed>
     */
    public static function of(Part $part): array
    {
        return [
            'name' => $part->name, 'title' => $part->title, 'kind' => $part->kind, 'pins' => $part->pins, 'wide' => $part->wide, 'source' => $part->source, 'order' => $part->order,
            'pinList' => array_map(static fn (Pin $pin): array => ['number' => $pin->number, 'name' => $pin->name, 'activeLow' => $pin->activeLow, 'direction' => $pin->direction], $part->pinList()),
            'supply' => array_map(static fn (Supply $supply): array => ['rail' => $supply->rail, 'pins' => $supply->pins, 'min' => $supply->min, 'max' => $supply->max, 'milliamps' => $supply->milliamps], $part->supply),
            'levels' => $part->levels === null ? null : ['inputLow' => $part->levels->inputLow, 'inputHigh' => $part->levels->inputHigh, 'outputLow' => $part->levels->outputLow, 'outputHigh' => $part->levels->outputHigh],
            'equations' => $part->equations(),
            'equivalents' => array_map(static fn (Equivalent $other): array => ['number' => $other->number, 'works' => $other->works, 'but' => $other->but, 'nanoseconds' => $other->nanoseconds], $part->equivalents),
        ];
    }
}
