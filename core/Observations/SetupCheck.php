<?php

declare(strict_types=1);

namespace ZapTrace\Observations;

use ZapTrace\Reasoning\BoardFaults;
use ZapTrace\Reasoning\Evidence;

/**
 * What is measured with was looked at itself: whether the table of a diagnostic is the one for this revision, whether a
 * tester knows this type of part, whether the board has anything that is not on its profile.
 */
final class SetupCheck implements Interpreter
{
    public const KIND = 'setup-check';

    /** The board profile is looked at as the tables are. */
    public const PROFILE = 'board profile';

    /** Going through a profile beside the board, so much of what is not on it is not seen; estimated. */
    public const OVERLOOKED = 0.3;

    private const MISS = 0.05;

    public function kind(): string
    {
        return self::KIND;
    }

    public function interpret(Observation $observation, Moment $moment, Attachments $attachments): Contribution
    {
        $setup = $observation->payload->string('setup');
        $wrong = $observation->payload->string('result') === 'wrong';
        $title = 'Looked at the '.$setup.': '.($wrong ? 'it is wrong' : 'it is right');

        $isProfile = $setup === self::PROFILE;

        return new Contribution($title, evidence: [new Evidence(
            $observation->id, Evidence::SETUP, $wrong, 0.02, $isProfile ? self::OVERLOOKED : self::MISS, [], [], [], 1.0, $moment->state, lcfirst($title), $observation->id, setup: $isProfile ? BoardFaults::ELSEWHERE : $setup,
        )]);
    }
}
