<?php

declare(strict_types=1);

namespace ZapTrace\Rom;

/**
 * How bytes are summed up.
 */
enum ChecksumKind: string
{
    /** All bytes added, 8 bits of it. */
    case Sum8 = 'sum8';

    /** All bytes added, 16 bits of it. */
    case Sum16 = 'sum16';

    /** All bytes, one exclusive-or the other. */
    case Xor8 = 'xor8';

    /** CRC-16 with polynomial 1021, beginning with 0000 (XMODEM). */
    case Crc16 = 'crc16';

    public function of(string $bytes): int
    {
        if ($this === self::Crc16) {
            return self::crc($bytes, 0x0000);
        }
        $sum = $xor = 0;
        foreach (count_chars($bytes, 1) as $byte => $times) {
            $sum += $byte * $times;
            $xor ^= $times & 1 ? $byte : 0;
        }

        return match ($this) {
            self::Sum8 => $sum & 0xFF,
            self::Sum16 => $sum & 0xFFFF,
            default => $xor,
        };
    }

    /** Bytes the value takes where it is kept. */
    public function width(): int
    {
        return $this === self::Sum16 || $this === self::Crc16 ? 2 : 1;
    }

    /** The polynomial 1021, as in CRC-16/XMODEM (start 0000) and CRC-16/IBM-3740 (start FFFF). */
    public static function crc(string $bytes, int $crc): int
    {
        static $table = [];
        if ($table === []) {
            for ($byte = 0; $byte < 256; $byte++) {
                $value = $byte << 8;
                for ($bit = 0; $bit < 8; $bit++) {
                    $value = ($value & 0x8000) !== 0 ? $value << 1 ^ 0x1021 : $value << 1;
                }
                $table[] = $value & 0xFFFF;
            }
        }
        /** @var list<int> $table */
        for ($at = 0, $length = strlen($bytes); $at < $length; $at++) {
            $crc = ($crc << 8 ^ $table[$crc >> 8 ^ ord($bytes[$at])]) & 0xFFFF;
        }

        return $crc;
    }
}
