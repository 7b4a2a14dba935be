<?php

declare(strict_types=1);

namespace ZapTrace\Numbers;

/**
 * The number base of a job: the one its machine's manual is written in.
 */
enum Radix: int
{
    case Octal = 8;
    case Decimal = 10;
    case Hexadecimal = 16;

    /** How many digits a value of this many bits takes. */
    public function digits(int $bits): int
    {
        return match ($this) {
            self::Octal => intdiv($bits + 2, 3),
            self::Decimal => strlen((string) ((1 << min($bits, 62)) - 1)),
            self::Hexadecimal => intdiv($bits + 3, 4),
        };
    }

    public function word(): string
    {
        return match ($this) {
            self::Octal => 'octal',
            self::Decimal => 'decimal',
            self::Hexadecimal => 'hexadecimal',
        };
    }
}
