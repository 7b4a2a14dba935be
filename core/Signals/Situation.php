<?php

declare(strict_types=1);

namespace ZapTrace\Signals;

/**
 * What the machine does while it is probed: an expectation holds for one situation only.
 */
enum Situation: string
{
    /** Reset is held. */
    case Reset = 'reset';

    /** The processor is given nothing but an instruction that does nothing, so that its addresses count. */
    case FreeRun = 'free-run';

    /** It runs its ROM, or should. */
    case Running = 'running';

    /** It hangs, as it was found; only what never changes can be expected. */
    case AsFound = 'as-found';

    /** A loop that reads one address. */
    case Selecting = 'selecting';

    public function words(): string
    {
        return match ($this) {
            self::Reset => 'reset held',
            self::FreeRun => 'free run',
            self::Running => 'running its ROM',
            self::AsFound => 'hung as found',
            self::Selecting => 'reading',
        };
    }
}
