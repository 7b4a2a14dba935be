<?php

declare(strict_types=1);

namespace ZapTrace\Observations;

use ZapTrace\Problems\InputRejected;
use ZapTrace\Reasoning\MachineState;

/**
 * A physical part was marked, or put away: its label, and the drawer it lies in.
 */
final class PartLabelled implements Interpreter
{
    public const KIND = 'label';

    public function kind(): string
    {
        return self::KIND;
    }

    public function interpret(Observation $observation, Moment $moment, Attachments $attachments): Contribution
    {
        $part = self::partOf($observation->payload->string('part'), $moment);
        $label = trim($observation->payload->string('label', ''));
        $drawer = trim($observation->payload->string('drawer', ''));
        if ($label === '' && $drawer === '') {
            throw InputRejected::of('label', "What is written on {$part}, or which drawer does it lie in?");
        }

        return new Contribution(
            $part.($label === '' ? '' : " is marked {$label}").($drawer === '' ? '' : ($label === '' ? ' lies in ' : ' and lies in ').$drawer),
            measured: [new PartMark($part, $label, $drawer)],
        );
    }

    /**
     * The physical part as it is written everywhere: "U14", "new U14", "U14 of the second machine".
     *
     * @throws InputRejected
     */
    private static function partOf(string $text, Moment $moment): string
    {
        if (preg_match('/^(new )?(.+?)( \(\d+\))?( of the second machine)?$/i', trim($text), $match) !== 1) {
            throw InputRejected::of('part', 'Which part? Give where it came from, such as U14, new U14, or U14 of the second machine.');
        }
        $chip = Intervention::siteOf($match[2], $moment->board);

        return ($match[1] === '' ? '' : 'new ').$chip.($match[3] ?? '').(isset($match[4]) ? MachineState::SECOND : '');
    }
}
