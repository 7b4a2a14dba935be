<?php

declare(strict_types=1);

namespace ZapTrace\Memory\Listings;

/**
 * What a listing is written in: a BASIC, or the machine code of a processor.
 */
enum Language: string
{
    case BasicPeek = 'basic-peek';
    case BasicIndirect = 'basic-indirect';
    case Mos6502 = '6502';
    case Z80 = 'z80';
    case M6809 = '6809';
    case I8088 = '8088';
    case M68000 = '68000';

    public function words(): string
    {
        return match ($this) {
            self::BasicPeek => 'BASIC with PEEK and POKE',
            self::BasicIndirect => 'BASIC with indirection operators',
            default => "{$this->value} machine code",
        };
    }

    public function isBasic(): bool
    {
        return $this === self::BasicPeek || $this === self::BasicIndirect;
    }

    /** Highest address its pointers reach; on the 8088 within one segment. */
    public function highest(): int
    {
        return match ($this) {
            self::I8088 => 0xFFFFF,
            self::M68000 => 0xFFFFFF,
            default => 0xFFFF,
        };
    }

    public function isBigEndian(): bool
    {
        return $this === self::M6809 || $this === self::M68000;
    }

    /** Bytes of an address in the results. */
    public function addressBytes(): int
    {
        return $this === self::M68000 ? 4 : 2;
    }

    /** The language of a processor; null when there is none for it. */
    public static function ofPart(string $part): ?self
    {
        return match (strtoupper($part)) {
            '6502', '65C02' => self::Mos6502,
            'Z80', 'Z80A' => self::Z80,
            '6809' => self::M6809,
            '8088' => self::I8088,
            '68000' => self::M68000,
            default => null,
        };
    }
}
