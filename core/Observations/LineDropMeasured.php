<?php

declare(strict_types=1);

namespace ZapTrace\Observations;

use ZapTrace\Board\BoardProfile;
use ZapTrace\Problems\InputRejected;
use ZapTrace\Problems\ProblemList;
use ZapTrace\Reasoning\FailureModes;
use ZapTrace\Signals\LineDrop;
use ZapTrace\Signals\SignalEvidence;
use ZapTrace\Signals\Structure;

/**
 * A line that is held was measured at each of its pins, to the millivolt: the pin that is nearest to what it is held at is
 * where the current goes.
 */
final class LineDropMeasured implements Interpreter, WeighsTogether
{
    public const KIND = 'line-drop';

    public function kind(): string
    {
        return self::KIND;
    }

    public function interpret(Observation $observation, Moment $moment, Attachments $attachments): Contribution
    {
        $drop = self::read($observation, $moment->board);

        return new Contribution("{$drop->net} measured to the millivolt: ".($drop->pin === null ? 'no pin stands out' : "{$drop->pin} pulls it"), measured: [$drop]);
    }

    public function together(array $samples, BoardProfile $board, FailureModes $modes): array
    {
        return (new SignalEvidence(Structure::of($board), $modes))->ofDrops(Sample::of($samples, LineDrop::class));
    }

    /**
     * @throws InputRejected with everything that is wrong with it
     */
    public static function read(Observation $observation, BoardProfile $board): LineDrop
    {
        $problems = new ProblemList;
        $name = $observation->payload->string('net');
        $net = $board->netlist->find($name);
        if ($net === null || $net->isPower()) {
            $problems->add('net', "There is no line {$name} on {$board->name}. Name one of its nets that is no supply.");
        }
        $pin = $observation->payload->string('pin', '') === '' ? null : PinProbed::pin($observation->payload->string('pin'), $board, 'pin', $problems);
        if ($net !== null && $pin !== null && ! in_array($pin, $net->pins, true)) {
            $problems->add('pin', "{$pin} is not on {$net->name}. Its pins are ".implode(', ', $net->pins).'.');
        }
        $problems->throwIfAny();

        return new LineDrop($net->name ?? $name, $pin);
    }
}
