<?php

declare(strict_types=1);

namespace ZapTrace\Formats;

use Generator;

/**
 * The lines of a text, whatever its line ends (LF, CR LF, CR, mixed), without a byte-order mark.
 */
final class Lines
{
    public const BYTE_ORDER_MARK = "\xEF\xBB\xBF";

    /**
     * @return Generator<int, string> line number from 1 => line without its end
     */
    public static function of(string $text): Generator
    {
        $at = str_starts_with($text, self::BYTE_ORDER_MARK) ? 3 : 0;
        $length = strlen($text);
        $number = 0;
        while ($at < $length) {
            $size = strcspn($text, "\r\n", $at);
            $number++;
            yield $number => substr($text, $at, $size);
            $at += $size;
            if ($at < $length) {
                $at += $text[$at] === "\r" && ($text[$at + 1] ?? '') === "\n" ? 2 : 1;
            }
        }
    }
}
