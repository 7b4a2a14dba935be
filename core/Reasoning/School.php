<?php

declare(strict_types=1);

namespace ZapTrace\Reasoning;

/**
 * How a workshop prefers to go about it: prices on kinds of step.
 */
enum School: string
{
    case MeasureFirst = 'measure-first';
    case SwapFirst = 'swap-first';
    case CleanFirst = 'clean-first';
    case Likelihood = 'likelihood';

    public function words(): string
    {
        return match ($this) {
            self::MeasureFirst => 'measure first',
            self::SwapFirst => 'swap known good parts first',
            self::CleanFirst => 'clean and reseat first',
            self::Likelihood => 'replace in order of likelihood',
        };
    }
}
