<?php

declare(strict_types=1);

namespace ZapTrace\Memory\Listings;

use LogicException;

/**
 * Puts a template of machine code together: each line a label, bytes and symbols in place of bytes, the instruction in
 * words, and a comment. Labels are found in a first pass, and put in in the second.
 *
 * Symbols: <x low byte, >x high byte, @x distance of one byte, =x distance of two bytes, x.0 to x.3 bytes of a long
 * address, x the value itself where it is a byte. A line that begins with ?name is there only with that option.
 */
final readonly class Assembler
{
    /** A byte, or what stands for one or more of them. */
    private const BYTE = '(?:[0-9A-F]{2}|[<>@=][\w+]+|zp\+\d|\w+\.[0-3]|BGS|PAUSE)(?=\s)';

    public function __construct(private Language $language)
    {
    }

    /**
     * @param  list<string>  $options
     * @param  array<string, int>  $symbols
     * @param  list<array{label: string, bytes: list<int>, comment: string, reserve?: int}>  $data  what follows the code
     */
    public function assemble(string $template, int $origin, array $options, array $symbols, array $data): Assembled
    {
        $rows = $this->rows($template, $options);
        $at = $origin;
        $placed = [];
        foreach ($rows as [$label, $tokens, $text, $comment]) {
            if ($label !== '') {
                $symbols[$label] = $at;
            }
            $placed[] = [$at, $label, $tokens, $text, $comment];
            $at += array_sum(array_map(static fn (string $token): int => $token[0] === '=' ? 2 : 1, $tokens));
        }
        $tail = [];
        foreach ($data as $entry) {
            if ($entry['label'] !== '') {
                $symbols[$entry['label']] = $at;
            }
            $tail[] = new ListingLine($at, $entry['bytes'], $entry['label'], '', $entry['comment']);
            $at += count($entry['bytes']) + ($entry['reserve'] ?? 0);
        }
        $symbols['end'] = $at;
        $lines = [];
        foreach ($placed as [$address, $label, $tokens, $text, $comment]) {
            $bytes = [];
            foreach ($tokens as $token) {
                array_push($bytes, ...$this->bytes($token, $address + count($bytes), $symbols));
            }
            $lines[] = new ListingLine($address, $bytes, $label, $text, $comment);
        }

        return new Assembled([...$lines, ...$tail], $symbols);
    }

    /**
     * @param  list<string>  $options
     * @return list<array{string, list<string>, string, string}> label, bytes, text, comment
     */
    private function rows(string $template, array $options): array
    {
        $rows = [];
        foreach (preg_split('/\R/', $template) ?: [] as $line) {
            if (preg_match('/^\?(\w+) ?(.*)$/', $line, $match) === 1) {
                if (! in_array($match[1], $options, true)) {
                    continue;
                }
                $line = $match[2];
            }
            if (trim($line) === '' || $line[0] === '#') {
                continue;
            }
            if (preg_match('/^(\w*)\s+((?:'.self::BYTE.'\s+)*'.self::BYTE.')\s+([^;]+?)(?:\s*;\s*(.*))?$/', $line, $match) !== 1) {
                throw new LogicException("The line \"{$line}\" of the template cannot be read.");
            }
            $rows[] = [$match[1], preg_split('/\s+/', $match[2]) ?: [], trim($match[3]), trim($match[4] ?? '')];
        }

        return $rows;
    }

    /**
     * @param  array<string, int>  $symbols
     * @return non-empty-list<int>
     */
    private function bytes(string $token, int $address, array $symbols): array
    {
        if (preg_match('/^[0-9A-F]{2}$/', $token) === 1) {
            return [(int) hexdec($token)];
        }
        if (preg_match('/^(\w+)\.([0-3])$/', $token, $match) === 1) {
            return [($this->value($match[1], $symbols) >> (8 * (int) $match[2])) & 0xFF];
        }
        $value = fn (string $name): int => $this->value($name, $symbols);

        return match ($token[0]) {
            '<' => [$value(substr($token, 1)) & 0xFF],
            '>' => [($value(substr($token, 1)) >> 8) & 0xFF],
            '@' => [$this->near($token, $value(substr($token, 1)) - $address - 1)],
            // The 68000 counts from the distance itself, the 8088 from the next instruction.
            '=' => $this->language === Language::M68000
                ? [(($value(substr($token, 1)) - $address) >> 8) & 0xFF, ($value(substr($token, 1)) - $address) & 0xFF]
                : [($value(substr($token, 1)) - $address - 2) & 0xFF, (($value(substr($token, 1)) - $address - 2) >> 8) & 0xFF],
            default => [$value($token) & 0xFF],
        };
    }

    private function near(string $token, int $distance): int
    {
        if ($distance < -128 || $distance > 127 || ($distance === 0 && $this->language === Language::M68000)) {
            throw new LogicException("{$token} is too far away: {$distance} bytes.");
        }

        return $distance & 0xFF;
    }

    /**
     * @param  array<string, int>  $symbols
     */
    private function value(string $name, array $symbols): int
    {
        $offset = 0;
        if (preg_match('/^(.+)\+(\d+)$/', $name, $match) === 1) {
            [$name, $offset] = [$match[1], (int) $match[2]];
        }
        if (preg_match('/^\d+$/', $name) === 1) {
            return (int) hexdec($name);
        }

        return ($symbols[$name] ?? throw new LogicException("Nothing in the template is called {$name}.")) + $offset;
    }
}
