<?php

declare(strict_types=1);

namespace ZapTrace\Numbers;

use RuntimeException;

/**
 * A text that is no number in any notation a technician may use here. The message is a sentence.
 */
final class UnreadableNumber extends RuntimeException
{
    public static function digitsOutsideBase(string $text, Radix $radix): self
    {
        return new self("\"{$text}\" is not a {$radix->word()} number. Mark another base: 0x2A, \$2A, 2Ah or &2A for hexadecimal, 0o52 or 52q for octal, %101010 for binary, #42 for decimal.");
    }

    public static function empty(): self
    {
        return new self('A number is missing here.');
    }

    public static function tooLarge(string $text): self
    {
        return new self("\"{$text}\" is larger than 32 bits, which no bus here has.");
    }
}
