<?php

declare(strict_types=1);

namespace ZapTrace\Observations;

use ZapTrace\Board\BoardProfile;
use ZapTrace\Board\Netlist;
use ZapTrace\Problems\InputRejected;
use ZapTrace\Problems\ProblemList;
use ZapTrace\Reasoning\FailureModes;
use ZapTrace\Signals\ContinuityPlan;
use ZapTrace\Signals\ContinuitySeen;
use ZapTrace\Signals\PinsChecked;
use ZapTrace\Signals\SignalEvidence;
use ZapTrace\Signals\Structure;

/**
 * After a part was out, all pins of its place were measured in one go, each to the next point of its line: all connected,
 * or some that are not.
 */
final class PinsMeasured implements Interpreter, WeighsTogether
{
    public const KIND = 'pins-measured';

    public function kind(): string
    {
        return self::KIND;
    }

    public function interpret(Observation $observation, Moment $moment, Attachments $attachments): Contribution
    {
        $payload = $observation->payload;
        $board = $moment->board;
        $chip = $moment->chip($payload->string('chip'), 'chip');
        $list = ContinuityPlan::afterRemoval($board, $chip->ref);
        if ($list === []) {
            throw InputRejected::of('chip', "The netlist of {$board->name} has nothing to measure the pins of {$chip->ref} to. Measure two pins under Traces instead.");
        }
        $problems = new ProblemList;
        $open = [];
        foreach ($payload->strings('open') as $name) {
            $pin = PinProbed::pin($name, $board, 'open', $problems);
            if ($pin !== null && ! in_array($pin, array_column($list, 'pin'), true)) {
                $problems->add('open', Netlist::chipOf($pin) === $chip->ref ? "{$pin} goes nowhere else: there is nothing to measure it to." : "{$pin} is not a pin of {$chip->ref}.");
            } elseif ($pin !== null) {
                $open[$pin] = $pin;
            }
        }
        $problems->throwIfAny();
        $measured = array_map(static fn (array $each): ContinuitySeen => new ContinuitySeen($each['pin'], $each['to'], ! isset($open[$each['pin']])), $list);

        return new Contribution("Pins of {$chip->ref} measured: ".($open === [] ? 'all connected' : implode(', ', $open).' open'), measured: [...$measured, new PinsChecked($chip->ref, array_values($open))]);
    }

    public function together(array $samples, BoardProfile $board, FailureModes $modes): array
    {
        return (new SignalEvidence(Structure::of($board), $modes))->ofPlaces(Sample::of($samples, PinsChecked::class));
    }
}
