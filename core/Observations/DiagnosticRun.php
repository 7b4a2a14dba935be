<?php

declare(strict_types=1);

namespace ZapTrace\Observations;

use ZapTrace\Board\BoardProfile;
use ZapTrace\Diagnostics\Diagnostic;
use ZapTrace\Problems\InputRejected;

/**
 * A run of a diagnostic, or several alike: what it reported.
 */
final class DiagnosticRun implements Interpreter
{
    public const PASS = 'pass';

    public function kind(): string
    {
        return 'diagnostic-run';
    }

    public function interpret(Observation $observation, Moment $moment, Attachments $attachments): Contribution
    {
        $payload = $observation->payload;
        $diagnostic = self::find($moment->board, $payload->string('diagnostic'));
        $result = strtolower(trim($payload->string('result')));
        $times = $payload->integer('times', 1);
        $bit = $diagnostic->bitOf($result);
        if ($result !== self::PASS && $bit === null) {
            $known = array_keys($diagnostic->codes);
            throw InputRejected::of('result', "The table of the {$diagnostic->name} has no code \"{$payload->string('result')}\". It has ".$known[0].' to '.$known[count($known) - 1].', and pass.');
        }
        $what = $result === self::PASS ? 'passed' : match ($diagnostic->reports) {
            'flashes' => "{$result} flashes",
            'tones' => "{$result} tones",
            default => strtoupper($result),
        };
        $chip = $bit === null ? '' : ", bit {$bit['line']} of bank {$bit['bank']}, ".($moment->board->banks[$bit['bank']]->chipOfLine[$bit['line']] ?? 'no chip').', by its table';

        return new Contribution(ucfirst($diagnostic->name).": {$what}".($times > 1 ? ", {$times} times alike" : '').$chip, runs: array_fill(0, $times, ['diagnostic' => $diagnostic, 'result' => $result]));
    }

    /**
     * @throws InputRejected
     */
    public static function find(BoardProfile $board, string $id): Diagnostic
    {
        foreach ($board->diagnostics as $diagnostic) {
            if (strcasecmp($diagnostic->id, $id) === 0) {
                return $diagnostic;
            }
        }
        throw InputRejected::of('diagnostic', $board->diagnostics === []
            ? "The profile of {$board->name} describes no diagnostic (\"diagnostics\")."
            : "{$board->name} has no diagnostic \"{$id}\". It has ".implode(', ', array_map(static fn (Diagnostic $diagnostic): string => $diagnostic->id, $board->diagnostics)).'.');
    }
}
