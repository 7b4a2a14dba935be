<?php

declare(strict_types=1);

namespace ZapTrace\Observations;

use ZapTrace\Board\BoardProfile;
use ZapTrace\Problems\InputRejected;
use ZapTrace\Problems\ProblemList;
use ZapTrace\Reasoning\FailureModes;
use ZapTrace\Signals\ContinuitySeen;
use ZapTrace\Signals\SignalEvidence;
use ZapTrace\Signals\Structure;

/**
 * With the power off, two pins were found to be connected or not.
 */
final class ContinuityTested implements Interpreter, WeighsTogether
{
    public const KIND = 'continuity';

    public function kind(): string
    {
        return self::KIND;
    }

    public function interpret(Observation $observation, Moment $moment, Attachments $attachments): Contribution
    {
        $seen = self::read($observation, $moment->board);
        $netlist = $moment->board->netlist;
        $same = $netlist->netOf($seen->from);
        $should = $same !== null && $netlist->netOf($seen->to)?->name === $same->name;
        $title = "{$seen->from} to {$seen->to} ".($seen->closed ? 'connected' : 'open');
        $notes = match (true) {
            $netlist->isEmpty() || $same === null => ['The profile does not say whether they should be connected.'],
            $should && ! $seen->closed => ["Both are on {$same->name}: the trace between them is broken."],
            ! $should && $seen->closed => ["They are on different nets, {$same->name} and ".($netlist->netOf($seen->to)->name ?? 'none').': something shorts them.'],
            default => [],
        };

        return new Contribution($title, notes: $notes, measured: [$seen]);
    }

    public function together(array $samples, BoardProfile $board, FailureModes $modes): array
    {
        return (new SignalEvidence(Structure::of($board), $modes))->ofContinuity(Sample::of($samples, ContinuitySeen::class));
    }

    /**
     * @throws InputRejected with everything that is wrong with it
     */
    public static function read(Observation $observation, BoardProfile $board): ContinuitySeen
    {
        $problems = new ProblemList;
        $from = PinProbed::pin($observation->payload->string('from'), $board, 'from', $problems);
        $to = PinProbed::pin($observation->payload->string('to'), $board, 'to', $problems);
        if ($from !== null && $from === $to) {
            $problems->add('to', "{$from} is connected to itself. Name another pin of its net.");
        }
        $problems->throwIfAny();

        return new ContinuitySeen((string) $from, (string) $to, $observation->payload->string('result') === 'closed');
    }
}
