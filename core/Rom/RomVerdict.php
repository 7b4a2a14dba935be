<?php

declare(strict_types=1);

namespace ZapTrace\Rom;

/**
 * What the reads of a ROM chip come to.
 */
enum RomVerdict: string
{
    /** The same as the known-good image, whole or repeated to fill the chip. */
    case Match = 'match';

    /** All ones: erased, dead, or never selected. */
    case Blank = 'blank';

    case Zeros = 'zeros';

    /** Some data bits never change. */
    case ConstantBits = 'constant-bits';

    /** Some data bits are always alike, or always opposite. */
    case TiedBits = 'tied-bits';

    /** Contents that come again: an address line that makes no difference, or a smaller image. */
    case Mirrored = 'mirrored';

    /** The right contents in the wrong places. */
    case AddressLines = 'address-lines';

    case Differs = 'differs';

    /** Reads of the same chip that do not agree. */
    case Unstable = 'unstable';

    /** Nothing odd about it, and no good image to hold it against. */
    case Unknown = 'unknown';

    public function words(): string
    {
        return match ($this) {
            self::Match => 'matches',
            self::Blank => 'all ones',
            self::Zeros => 'all zeros',
            self::ConstantBits => 'data bits that never change',
            self::TiedBits => 'data bits tied together',
            self::Mirrored => 'contents that repeat',
            self::AddressLines => 'addresses mixed up',
            self::Differs => 'differs',
            self::Unstable => 'reads that disagree',
            self::Unknown => 'nothing odd, nothing to compare with',
        };
    }

    /** Whether it speaks of a fault; null where it says nothing. */
    public function isAbnormal(): ?bool
    {
        return match ($this) {
            self::Match => false,
            self::Unknown => null,
            default => true,
        };
    }
}
