<?php

declare(strict_types=1);

namespace ZapTrace\Observations;

use ZapTrace\Board\BoardProfile;
use ZapTrace\Diagnostics\Diagnostic;
use ZapTrace\Diagnostics\DiagnosticCode;
use ZapTrace\Diagnostics\DiagnosticResult;
use ZapTrace\Formats\JsonNode;
use ZapTrace\Problems\InputRejected;

/**
 * A run of a diagnostic, or several alike: what it reported.
 */
final class DiagnosticRun implements Interpreter
{
    public function kind(): string
    {
        return 'diagnostic-run';
    }

    public function interpret(Observation $observation, Moment $moment, Attachments $attachments): Contribution
    {
        $payload = $observation->payload;
        $diagnostic = self::find($moment->board, $payload->string('diagnostic'));
        $times = $payload->integer('times', 1);
        $registers = array_map(static fn (JsonNode $value): string => $value->asString(), $payload->members('registers'));
        $result = $diagnostic->read($payload->string('result'), $registers);
        $said = strtoupper($result->key);
        $what = match (true) {
            $result->passed() => 'passed',
            $result->key === DiagnosticResult::NOTHING => 'gave no result',
            $diagnostic->reports === 'flashes' => "{$result->key} flashes",
            $diagnostic->reports === 'tones' => "{$result->key} tones",
            $diagnostic->reports === 'colour' => "{$result->key} screen",
            $diagnostic->reports === 'step' => "stopped at {$said}",
            $diagnostic->reports === 'mask' => "mask {$payload->string('result')}",
            default => $said,
        };
        $named = array_map(static fn (DiagnosticCode $code): string => self::names($code, $moment->board), $result->codes);

        return new Contribution(
            ucfirst($diagnostic->name).": {$what}".($times > 1 ? ", {$times} times alike" : '').($named === [] ? '' : ', '.implode('; ', $named).', by its table'),
            notes: $registers === [] ? [] : ['Registers: '.implode(', ', array_map(static fn (string $name, string $value): string => "{$name} = {$value}", array_keys($registers), $registers))],
            runs: array_fill(0, max(1, $times), ['diagnostic' => $diagnostic, 'result' => $result]),
            measured: [new PowerOnCount($result->passed() ? $times : 0, $result->passed() ? 0 : $times, 0.0, $diagnostic->id)],
        );
    }

    /**
     * @throws InputRejected
     */
    public static function find(BoardProfile $board, string $id): Diagnostic
    {
        return $board->findDiagnostic($id) ?? throw InputRejected::of('diagnostic', $board->diagnostics === []
            ? "The profile of {$board->name} describes no diagnostic (\"diagnostics\")."
            : "{$board->name} has no diagnostic \"{$id}\". It has ".implode(', ', array_map(static fn (Diagnostic $diagnostic): string => $diagnostic->id, $board->diagnostics)).'.');
    }

    private static function names(DiagnosticCode $code, BoardProfile $board): string
    {
        return $code->bit === null ? $code->words() : "{$code->words()}, ".($board->banks[$code->bit['bank']]->chipOfLine[$code->bit['line']] ?? 'no chip');
    }
}
