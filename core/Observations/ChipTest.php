<?php

declare(strict_types=1);

namespace ZapTrace\Observations;

use ZapTrace\Problems\InputRejected;
use ZapTrace\Reasoning\Evidence;

/**
 * A part tested by itself: a fail is good evidence, a pass is weak, how weak depends on the method and the part. It
 * speaks of the physical part, wherever that is now: the one that came in a position, or a new one fitted there.
 */
final class ChipTest implements Interpreter
{
    public const METHOD = 'chip tester';

    public function kind(): string
    {
        return 'chip-test';
    }

    public function interpret(Observation $observation, Moment $moment, Attachments $attachments): Contribution
    {
        $payload = $observation->payload;
        $text = trim($payload->string('site'));
        $isNew = preg_match('/^new /i', $text) === 1;
        $chip = $moment->board->findChip($isNew ? substr($text, 4) : $text);
        if ($chip === null) {
            throw InputRejected::of('site', "{$moment->board->name} has no chip \"{$text}\". Give a reference from the plan, such as ".(array_key_first($moment->board->chips) ?? 'U1').'.');
        }
        $method = $payload->string('method', self::METHOD);
        $tester = $moment->modes->tester($method);
        if ($tester === null) {
            throw InputRejected::of('method', "\"{$method}\" is not a way of testing a chip. Known are ".implode(', ', $moment->modes->testers()).'.');
        }
        $part = $isNew ? $moment->state->partAt($chip->ref) : $chip->ref;
        $failed = $payload->string('result') === 'fail';
        $title = 'The '.($method === 'known-good machine' ? 'known good machine' : $method).' '.($failed ? 'fails' : 'passes')." {$part}";

        return new Contribution($title, evidence: [new Evidence(
            "{$part}/{$method}/".($failed ? 'fail' : 'pass'), Evidence::TESTER, $failed, $tester->falseAlarm, $tester->miss, [], [], [], 1.0,
            $moment->state, lcfirst($title), $observation->id, site: $part, setup: "{$method} for {$chip->part}", tester: $tester, type: $chip->part,
        )]);
    }
}
