<?php

declare(strict_types=1);

namespace ZapTrace\Memory;

/**
 * Words for bits, chips and counts in the sentences of the mapping.
 */
final class Wording
{
    /**
     * "bit 5", "bits 0 to 7", "bits 1, 3 and 6".
     *
     * @param  list<int>  $lines
     */
    public static function bits(array $lines): string
    {
        if (count($lines) === 1) {
            return "bit {$lines[0]}";
        }

        return count($lines) > 2 && count($lines) - 1 === $lines[count($lines) - 1] - $lines[0]
            ? "bits {$lines[0]} to {$lines[count($lines) - 1]}"
            : 'bits '.self::list(array_map(strval(...), $lines));
    }

    /**
     * "U14", "U14 and U15", "U12, U14 and U15".
     *
     * @param  list<string>  $words
     */
    public static function list(array $words): string
    {
        if (count($words) < 2) {
            return $words[0] ?? '';
        }
        $last = array_pop($words);

        return implode(', ', $words)." and {$last}";
    }

    public static function count(int $number, string $one, string $many): string
    {
        return $number === 1 ? "1 {$one}" : "{$number} {$many}";
    }
}
