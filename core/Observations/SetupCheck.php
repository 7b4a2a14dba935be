<?php

declare(strict_types=1);

namespace ZapTrace\Observations;

use ZapTrace\Reasoning\Evidence;

/**
 * What is measured with was looked at itself: whether the table of a diagnostic is the one for this revision, whether a
 * tester knows this type of part.
 */
final class SetupCheck implements Interpreter
{
    public function kind(): string
    {
        return 'setup-check';
    }

    public function interpret(Observation $observation, Moment $moment, Attachments $attachments): Contribution
    {
        $setup = $observation->payload->string('setup');
        $wrong = $observation->payload->string('result') === 'wrong';
        $title = 'Looked at the '.$setup.': '.($wrong ? 'it is wrong' : 'it is right');

        return new Contribution($title, evidence: [new Evidence(
            $observation->id, Evidence::SETUP, $wrong, 0.02, 0.05, [], [], [], 1.0, $moment->state, lcfirst($title), $observation->id, setup: $setup,
        )]);
    }
}
