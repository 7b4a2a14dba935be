<?php

declare(strict_types=1);

namespace ZapTrace\Memory;

/**
 * The pattern in which a bit fails.
 */
enum Pattern: string
{
    case None = 'none';
    case EveryAddress = 'every-address';
    case Cells = 'cells';
    case Row = 'row';
    case Column = 'column';
    case Block = 'block';
    case AllBits = 'all-bits';
    case SameBitEveryBank = 'same-bit-every-bank';
    case Alias = 'alias';
    case TiedBits = 'tied-bits';
    case Fades = 'fades';
    case Unstable = 'unstable';
    case NothingDrives = 'nothing-drives';
    case Overlaid = 'overlaid';

    public function words(): string
    {
        return match ($this) {
            self::None => 'no failure',
            self::EveryAddress => 'every address',
            self::Cells => 'some cells',
            self::Row => 'a row',
            self::Column => 'a column',
            self::Block => 'a block',
            self::AllBits => 'all bits of the bank',
            self::SameBitEveryBank => 'same bit in every bank',
            self::Alias => 'two addresses hold the same',
            self::TiedBits => 'bits tied together',
            self::Fades => 'fades with time',
            self::Unstable => 'differs between reads',
            self::NothingDrives => 'nothing drives the bus',
            self::Overlaid => 'something else answers there',
        };
    }
}
