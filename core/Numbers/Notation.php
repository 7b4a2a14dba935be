<?php

declare(strict_types=1);

namespace ZapTrace\Numbers;

/**
 * Reads and writes numbers as manuals write them.
 *
 * A bare number is in the given base; a mark always wins: 0x2A $2A 2Ah &2A (hexadecimal), 0o52 52q (octal),
 * %101010 0b101010 (binary), #42 (decimal). Under a hexadecimal base "0b11" has only hexadecimal digits and is
 * still binary: the mark wins.
 */
final class Notation
{
    /**
     * @return int<0, 4294967295>
     *
     * @throws UnreadableNumber with a sentence that names the text
     */
    public static function parse(string $text, Radix $radix): int
    {
        $text = trim($text);
        if ($text === '') {
            throw UnreadableNumber::empty();
        }

        [$digits, $base] = self::split($text, $radix->value);
        $allowed = match ($base) {
            2 => '01',
            8 => '01234567',
            10 => '0123456789',
            default => '0123456789abcdefABCDEF',
        };
        if ($digits === '' || strspn($digits, $allowed) !== strlen($digits)) {
            throw UnreadableNumber::digitsOutsideBase($text, $radix);
        }

        $value = strlen(ltrim($digits, '0')) > 32 ? PHP_INT_MAX : intval($digits, $base);
        if ($value > 0xFFFFFFFF || $value < 0) {
            throw UnreadableNumber::tooLarge($text);
        }

        return $value;
    }

    /**
     * The value in the base, padded with zeros to the digits that many bits take (decimal is not padded).
     */
    public static function format(int $value, Radix $radix, int $bits = 0): string
    {
        $digits = match ($radix) {
            Radix::Hexadecimal => strtoupper(dechex($value)),
            Radix::Octal => decoct($value),
            Radix::Decimal => (string) $value,
        };

        return $radix === Radix::Decimal ? $digits : str_pad($digits, $radix->digits($bits), '0', STR_PAD_LEFT);
    }

    /**
     * The value with a mark that reads back the same whatever the base: 0x2A, 0o52, #42.
     */
    public static function marked(int $value, Radix $radix, int $bits = 0): string
    {
        return match ($radix) {
            Radix::Hexadecimal => '0x',
            Radix::Octal => '0o',
            Radix::Decimal => '#',
        }.self::format($value, $radix, $bits);
    }

    /**
     * How many bits the written digits can hold: "0020" in hexadecimal is a 16-bit value, "20" an 8-bit one.
     * Decimal says nothing of width, so the value itself decides.
     */
    public static function writtenBits(string $text, Radix $radix): int
    {
        [$digits, $base] = self::split(trim($text), $radix->value);

        return match ($base) {
            2 => strlen($digits),
            8 => strlen($digits) <= 3 ? 8 : (strlen($digits) <= 6 ? 16 : 32),
            10 => strlen(decbin((int) $digits)),
            default => strlen($digits) * 4,
        };
    }

    /**
     * @return array{string, int} digits without the mark, and the base they are in
     */
    private static function split(string $text, int $bare): array
    {
        $lower = strtolower($text);

        return match (true) {
            str_starts_with($lower, '0x') => [substr($text, 2), 16],
            str_starts_with($lower, '0o') => [substr($text, 2), 8],
            str_starts_with($lower, '0b') && strspn($lower, '01', 2) === strlen($lower) - 2 && strlen($lower) > 2 => [substr($text, 2), 2],
            $text[0] === '$' || $text[0] === '&' => [substr($text, 1), 16],
            $text[0] === '%' => [substr($text, 1), 2],
            $text[0] === '#' => [substr($text, 1), 10],
            str_ends_with($lower, 'h') => [substr($text, 0, -1), 16],
            str_ends_with($lower, 'q') => [substr($text, 0, -1), 8],
            default => [$text, $bare],
        };
    }
}
