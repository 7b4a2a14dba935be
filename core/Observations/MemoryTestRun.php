<?php

declare(strict_types=1);

namespace ZapTrace\Observations;

use ZapTrace\Memory\Listings\Language;
use ZapTrace\Memory\Listings\PrintedResults;
use ZapTrace\Memory\Reading;
use ZapTrace\Memory\ReadingSet;
use ZapTrace\Memory\Tests\MemoryTest;
use ZapTrace\Problems\InputRejected;

/**
 * A memory test was typed in and ran, and this is what it printed.
 */
final class MemoryTestRun implements Interpreter
{
    public const KIND = 'memory-test';

    /** A range beyond this is not told address by address where nothing failed. Bytes. */
    private const MOST = 4 * 1024 * 1024;

    public function kind(): string
    {
        return self::KIND;
    }

    public function interpret(Observation $observation, Moment $moment, Attachments $attachments): Contribution
    {
        $payload = $observation->payload;
        $test = MemoryTest::named($payload->string('test'));
        $language = Language::tryFrom($payload->string('language')) ?? throw InputRejected::of('language', 'There is no such language of listings.');
        [$from, $to] = [$payload->integer('from'), $payload->integer('to')];
        $highest = $moment->board->bus->highestAddress();
        if ($to < $from || $to > $highest) {
            throw InputRejected::of('to', sprintf('The range %X to %X does not lie on this board, whose last address is %X.', $from, $to, $highest));
        }
        $results = PrintedResults::parse($payload->string('results'), $language, $from, $to);
        $held = $payload->number('pause', 0.0);
        $set = new ReadingSet($moment->board->bus);
        foreach ($results->failures as $failure) {
            $set->add(new Reading($failure->address, $failure->expected, $failure->read, 8), $held);
        }
        if ($results->complete && $to - $from < self::MOST) {
            $this->addClean($set, $test, $from, $to, array_fill_keys(array_map(static fn ($failure): int => $failure->address, $results->failures), true), $held);
        }
        $count = count($results->failures);
        $range = sprintf('%X to %X', $from, $to);

        return new Contribution(
            "{$test->name} over {$range}: ".($count === 0 ? 'clean' : ($results->complete ? '' : 'more than ').$count.($count === 1 ? ' failure' : ' failures')).($held > 0.0 ? ", with pauses of {$held} s" : ''),
            $set,
            [
                ...($test->misses === [] ? [] : ['It is known to miss: '.implode(', ', $test->misses).'.']),
                ...($results->complete ? [] : ['Not every failure was kept: what is not among these was not seen to be right.']),
                'A program that runs leans on the processor, ROM and the memory it lies in.',
            ],
        );
    }

    /**
     * Every address that did not fail gave back both values of every bit.
     *
     * @param  array<int, true>  $failed
     */
    private function addClean(ReadingSet $set, MemoryTest $test, int $from, int $to, array $failed, float $held): void
    {
        $addresses = [...array_keys($failed), $to + 1];
        sort($addresses);
        $start = $from;
        foreach ($addresses as $end) {
            if ($end > $start) {
                $background = $test->backgrounds()[0];
                $zero = '';
                if (in_array($test->data, ['background', 'walking'], true)) {
                    $zero = str_repeat(chr($background), $end - $start);
                } else {
                    for ($address = $start; $address < $end; $address++) {
                        $zero .= chr($test->value($address, $background));
                    }
                }
                $set->addDump($start, $zero, $zero, null, $held);
                $one = $zero ^ str_repeat("\xFF", strlen($zero));
                if ($test->data !== 'walking') {
                    $set->addDump($start, $one, $one, null, $held);
                } else {
                    foreach (array_slice($test->backgrounds(), 1) as $other) {
                        $walked = str_repeat(chr($other), $end - $start);
                        $set->addDump($start, $walked, $walked, null, $held);
                    }
                }
            }
            $start = $end + 1;
        }
    }
}
