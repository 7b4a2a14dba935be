<?php

declare(strict_types=1);

namespace ZapTrace\Observations;

use ZapTrace\Formats\JsonNode;
use ZapTrace\Memory\FreeMemoryFigure;
use ZapTrace\Problems\InputRejected;

/**
 * The free-memory figure of the banner, over one or several power-ons.
 */
final class FreeMemory implements Interpreter
{
    public function kind(): string
    {
        return 'free-memory';
    }

    public function interpret(Observation $observation, Moment $moment, Attachments $attachments): Contribution
    {
        $figures = array_map(static fn (JsonNode $figure): int => $figure->asInteger(), $observation->payload->each('figures'));
        if ($figures === []) {
            throw InputRejected::of('figures', 'Give the figure that the machine showed, once for each power-on.');
        }
        $reading = FreeMemoryFigure::interpret($figures, $moment->board, $moment->settings);

        return new Contribution('Free memory '.implode(', ', $figures), null, [$reading->sentence], $reading->address);
    }
}
