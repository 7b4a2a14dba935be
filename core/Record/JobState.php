<?php

declare(strict_types=1);

namespace ZapTrace\Record;

/**
 * How far a job is.
 */
enum JobState: string
{
    case Open = 'open';
    case Repaired = 'repaired';
    case NoFaultFound = 'no-fault-found';
    case WaitingForParts = 'waiting-for-parts';
    case Parked = 'parked';
    case GivenUp = 'given-up';
    case CuredUnexplained = 'cured-unexplained';

    public function words(): string
    {
        return $this === self::CuredUnexplained ? 'cured without knowing why' : str_replace('-', ' ', $this->value);
    }

    /**
     * States in which it is known what was wrong, so that later jobs can learn from it.
     *
     * @return list<string>
     */
    public static function explained(): array
    {
        return [self::Repaired->value];
    }
}
