<?php

declare(strict_types=1);

namespace ZapTrace\Diagnostics;

use ZapTrace\Numbers\Notation;
use ZapTrace\Numbers\Radix;
use ZapTrace\Numbers\UnreadableNumber;
use ZapTrace\Problems\InputRejected;

/**
 * A diagnostic for a board revision: how it reports, what it really tests, and what each of its codes names.
 */
final readonly class Diagnostic
{
    /** Orders in which one bad bit of several is named. */
    public const ORDERS = ['lowest', 'highest', 'any', 'unknown'];

    /**
     * @param  string  $reports  flashes, tones, colour, chips, mask or step
     * @param  list<array{int, int}>  $covers  first and last address of each stretch it tests
     * @param  non-empty-array<array-key, DiagnosticCode>  $codes  by code, in small letters, in the order of the table
     * @param  string  $revision  of the diagnostic, when its table is not the same in all
     * @param  string  $names  which of several bad bits it names: lowest, highest, any or unknown
     * @param  int  $minutes  what a run takes
     * @param  string  $insert  what has to be plugged in for it, "" when nothing
     * @param  array{written: string, read: string, bank: string}|null  $registers  which registers hold what was written and what came back when it stops, and of which bank
     */
    public function __construct(
        public string $id,
        public string $name,
        public string $reports,
        public array $covers,
        public array $codes,
        public string $revision = '',
        public string $names = 'unknown',
        public int $minutes = 3,
        public string $insert = '',
        public ?array $registers = null,
    ) {
    }

    /**
     * @param  array<string, string>  $registers  name => contents in hex, for one that stops at a step
     *
     * @throws InputRejected when its table has no such code
     */
    public function read(string $result, array $registers = []): DiagnosticResult
    {
        $text = strtolower(trim($result));
        if ($text === DiagnosticResult::PASS || $text === DiagnosticResult::NOTHING) {
            return new DiagnosticResult($text);
        }
        $codes = match ($this->reports) {
            'chips' => array_map($this->code(...), preg_split('/[\s,;+]+/', $text, -1, PREG_SPLIT_NO_EMPTY) ?: []),
            'mask' => $this->maskOf($text),
            default => [$this->code($text)],
        };
        if ($codes === []) {
            return new DiagnosticResult(DiagnosticResult::PASS);
        }
        $keys = array_map(static fn (DiagnosticCode $code): string => strtolower($code->code), $codes);
        sort($keys, SORT_NATURAL);

        return new DiagnosticResult(implode(' ', array_unique($keys)), $codes, $this->differing($registers));
    }

    public function isCounted(): bool
    {
        return $this->reports === 'flashes' || $this->reports === 'tones';
    }

    /** One that names one thing at a time; the others name everything they found. */
    public function namesOne(): bool
    {
        return in_array($this->reports, ['flashes', 'tones', 'colour'], true);
    }

    /**
     * The codes that a slip of one in counting would give.
     *
     * @return list<DiagnosticCode>
     */
    public function oneOff(string $code): array
    {
        if (! $this->isCounted() || ! ctype_digit($code)) {
            return [];
        }

        return array_values(array_filter([$this->codes[(string) ((int) $code - 1)] ?? null, $this->codes[(string) ((int) $code + 1)] ?? null]));
    }

    /** The part of a range of addresses that is tested, 0 to 1. */
    public function share(int $from, int $to): float
    {
        $covered = 0;
        foreach ($this->covers as [$first, $last]) {
            $covered += max(0, min($to, $last) - max($from, $first) + 1);
        }

        return $covered / max(1, $to - $from + 1);
    }

    private function code(string $text): DiagnosticCode
    {
        return $this->codes[$text] ?? throw InputRejected::of('result', "The table of the {$this->name} has no code \"{$text}\". It has ".$this->known().'; pass when it passed, nothing when it gave no result.');
    }

    private function known(): string
    {
        $known = array_map(static fn (DiagnosticCode $code): string => $code->code, array_values($this->codes));

        return count($known) > 6 ? "{$known[0]} to {$known[count($known) - 1]}" : implode(', ', $known);
    }

    /**
     * The codes of a mask are its bits: 20 in hex is data bit 5.
     *
     * @return list<DiagnosticCode>
     */
    private function maskOf(string $text): array
    {
        try {
            $mask = Notation::parse($text, Radix::Hexadecimal);
        } catch (UnreadableNumber $reason) {
            throw InputRejected::of('result', "The error mask: {$reason->getMessage()}");
        }
        $codes = [];
        foreach ($this->codes as $code) {
            $bit = Notation::parse($code->code, Radix::Hexadecimal);
            if (($mask & $bit) === $bit) {
                $codes[] = $code;
                $mask &= ~$bit;
            }
        }
        if ($mask !== 0) {
            throw InputRejected::of('result', 'The error mask has bits that the table of the '.$this->name.' does not know: '.Notation::format($mask, Radix::Hexadecimal, 8).'. Its bits are '.$this->known().'.');
        }

        return $codes;
    }

    /**
     * @param  array<string, string>  $registers
     * @return list<array{bank: string, line: int}>
     */
    private function differing(array $registers): array
    {
        if ($registers === [] || $this->registers === null) {
            return [];
        }
        $registers = array_change_key_case($registers);
        $value = function (string $which) use ($registers): ?int {
            $text = $registers[strtolower($which)] ?? null;
            try {
                return $text === null ? null : Notation::parse($text, Radix::Hexadecimal);
            } catch (UnreadableNumber $reason) {
                throw InputRejected::of('registers', "Register {$which}: {$reason->getMessage()}");
            }
        };
        $written = $value($this->registers['written']);
        $read = $value($this->registers['read']);
        if ($written === null || $read === null) {
            throw InputRejected::of('registers', "Give both register {$this->registers['written']} (written) and register {$this->registers['read']} (read), or neither.");
        }
        $bits = [];
        for ($line = 0, $difference = $written ^ $read; $difference !== 0; $line++, $difference >>= 1) {
            if (($difference & 1) === 1) {
                $bits[] = ['bank' => $this->registers['bank'], 'line' => $line];
            }
        }

        return $bits;
    }
}
