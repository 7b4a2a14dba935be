<?php

declare(strict_types=1);

namespace ZapTrace\Observations;

use ZapTrace\Board\BoardProfile;
use ZapTrace\Reasoning\Evidence;
use ZapTrace\Reasoning\MachineState;

/**
 * A second machine of the same kind, tried as it stands: proved before parts are exchanged with it, and tested
 * afterwards.
 */
final class SecondMachine implements ChangesMachine, Interpreter
{
    public function kind(): string
    {
        return 'second-machine';
    }

    public function change(Observation $observation, BoardProfile $board, MachineState $state): Change
    {
        return new Change($state->seenOnSecond(), $state, secondUsed: true);
    }

    public function interpret(Observation $observation, Moment $moment, Attachments $attachments): Contribution
    {
        $works = $observation->payload->string('result') === 'works';
        $title = 'The second machine '.($works ? 'works' : 'shows the fault');

        return new Contribution($title, evidence: [self::evidence($observation->id, ! $works, lcfirst($title), $moment, $observation->id)]);
    }

    public static function evidence(string $id, bool $abnormal, string $words, Moment $moment, string $observation): Evidence
    {
        return new Evidence($id, Evidence::COMPLAINT, $abnormal, $moment->modes->rate('sickFalseAlarm'), $moment->modes->rate('sickMiss'), [], [], [], 1.0, $moment->state->seenOnSecond(), $words, $observation);
    }
}
