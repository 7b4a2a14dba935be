<?php

declare(strict_types=1);

namespace ZapTrace\Observations;

use ZapTrace\Problems\InputRejected;

/**
 * The machine was tried as it stands: what the complaint does now, after something was done and left for later.
 */
final class Tried implements Interpreter
{
    public const KIND = 'tried';

    public function kind(): string
    {
        return self::KIND;
    }

    public function interpret(Observation $observation, Moment $moment, Attachments $attachments): Contribution
    {
        $result = $observation->payload->string('result');
        if ($result === 'moved') {
            throw InputRejected::of('result', 'Only what was swapped can have taken the fault along; say same, better, cured, worse or different.');
        }
        $title = 'Tried it: '.(Intervention::RESULTS[$result] ?? $result);

        return new Contribution($title, evidence: Intervention::complaint($observation->id, $result, lcfirst($title), $moment));
    }
}
