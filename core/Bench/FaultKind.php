<?php

declare(strict_types=1);

namespace ZapTrace\Bench;

/**
 * What can be wrong on the simulated bench.
 */
enum FaultKind: string
{
    /** An output that stays low, whatever its inputs. */
    case OutputLow = 'output-low';

    case OutputHigh = 'output-high';

    /** An input that its part sees as low, or high, whatever the line does. */
    case InputLow = 'input-low';

    case InputHigh = 'input-high';

    /** A memory chip that reads zeros, or ones, whatever was written. */
    case ReadsLow = 'reads-low';

    case ReadsHigh = 'reads-high';

    /** A part that drives nothing any more. */
    case Dead = 'dead';

    /** A quarter, a row or a column of a memory chip that does not hold what is written. */
    case Cells = 'cells';

    /** An address input that a memory chip does not feel any more. */
    case AddressInput = 'address-input';

    /** The trace is broken: the pins behind the break hang in the air. */
    case OpenTrace = 'open-trace';

    /** A leg that does not touch its socket. */
    case BadContact = 'bad-contact';

    /** Two nets that touch. */
    case Short = 'short';

    /** An input that has gone to ground or to the rail inside, and holds its net. */
    case HoldsLow = 'holds-low';

    case HoldsHigh = 'holds-high';

    case WrongSetting = 'wrong-setting';

    /** A rail that is too low. */
    case RailLow = 'rail-low';

    /** A memory chip that gives now one thing, now another. */
    case Weak = 'weak';

    /** A ROM whose contents have changed. */
    case Contents = 'contents';

    public function words(): string
    {
        return match ($this) {
            self::OutputLow => 'output stuck low',
            self::OutputHigh => 'output stuck high',
            self::InputLow => 'an input seen as low',
            self::InputHigh => 'an input seen as high',
            self::ReadsLow => 'reads zeros',
            self::ReadsHigh => 'reads ones',
            self::Dead => 'dead',
            self::Cells => 'bad cells',
            self::AddressInput => 'an address input that does nothing',
            self::OpenTrace => 'broken trace',
            self::BadContact => 'bad contact',
            self::Short => 'short',
            self::HoldsLow => 'an input that pulls its line low',
            self::HoldsHigh => 'an input that pulls its line high',
            self::WrongSetting => 'set wrongly',
            self::RailLow => 'rail too low',
            self::Weak => 'forgets',
            self::Contents => 'changed contents',
        };
    }
}
