<?php

declare(strict_types=1);

namespace ZapTrace\Board;

/**
 * What answers in a range of the memory map.
 */
enum RangeKind: string
{
    case Ram = 'ram';
    case Rom = 'rom';
    case Io = 'io';
    case Open = 'open';

    public function words(): string
    {
        return match ($this) {
            self::Ram => 'RAM',
            self::Rom => 'ROM',
            self::Io => 'I/O',
            self::Open => 'nothing',
        };
    }
}
