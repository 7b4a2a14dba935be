<?php

declare(strict_types=1);

namespace ZapTrace\Observations;

use ZapTrace\Problems\InputRejected;

/**
 * A part tested by itself, in a chip tester: a fail is good evidence, a pass is weak (ideal supply, room temperature,
 * slow). It speaks of the part that came with the machine, wherever that is now.
 */
final class ChipTest implements Interpreter
{
    public function kind(): string
    {
        return 'chip-test';
    }

    public function interpret(Observation $observation, Moment $moment, Attachments $attachments): Contribution
    {
        $payload = $observation->payload;
        $chip = $moment->board->findChip($payload->string('site'));
        if ($chip === null) {
            throw InputRejected::of('site', "{$moment->board->name} has no chip \"{$payload->string('site')}\". Give a reference from the plan, such as ".(array_key_first($moment->board->chips) ?? 'U1').'.');
        }
        $failed = $payload->string('result') === 'fail';

        return new Contribution('The chip tester '.($failed ? 'fails' : 'passes')." {$chip->ref}", tested: ['site' => $chip->ref, 'failed' => $failed]);
    }
}
