<?php

declare(strict_types=1);

namespace ZapTrace\Memory;

/**
 * Counts, over a string of bytes, how often each bit is set.
 */
final class BitCounter
{
    /**
     * @return array{int, int, int, int, int, int, int, int} bytes with bit 0 set, with bit 1 set, ...
     */
    public static function ones(string $bytes): array
    {
        $ones = [0, 0, 0, 0, 0, 0, 0, 0];
        foreach (count_chars($bytes, 1) as $value => $count) {
            for ($bit = 0; $bit < 8; $bit++) {
                if (($value >> $bit) & 1) {
                    $ones[$bit] += $count;
                }
            }
        }

        return $ones;
    }
}
