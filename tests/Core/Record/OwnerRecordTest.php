<?php

declare(strict_types=1);

namespace Tests\Core\Record;

use PHPUnit\Framework\TestCase;
use Tests\Support\Bench;
use ZapTrace\Ledger\Ledger;
use ZapTrace\Record\MarkdownRecord;
use ZapTrace\Record\OwnerRecord;

final class OwnerRecordTest extends TestCase
{
    public function test_the_owner_reads_what_was_found_done_tested_and_left(): void
    {
        $record = self::record(Bench::with('larkspur-64')->note('c1 bulged', '+5 vr1 4.41', 'fit c1 new same', '+5 vr1 5.01', 'count 6 x2', '6c00 00>20', '6c01 ff>ff', 'fit u14 tested cured', 'power-ons 7', 'keys works', 'tape fails'));

        self::assertContains('C1 (ELCAP, reservoir capacitor): bulged.', $record->found);
        self::assertNotSame([], preg_grep('/\+5 V at VR1 measures 4.41 V/', $record->found) ?: []);
        self::assertSame(['C1 replaced', 'U14 replaced'], array_map(static fn (array $done): string => "{$done['site']} {$done['what']}", $record->done));
        self::assertStringContainsString('bit 5', implode(' ', $record->done[1]['why']));
        self::assertContains(['name' => 'Every key', 'result' => 'works', 'good' => true], $record->tested);
        self::assertContains('Save to tape and load back does not work.', $record->remains);
        self::assertContains('Printer port was not tested.', $record->remains);
        self::assertNotContains('Every key was not tested.', $record->remains);
        self::assertSame([], $record->borrowed);
    }

    public function test_what_is_borrowed_has_to_go_back(): void
    {
        $borrowed = self::record(Bench::with('tamarisk-two')->note('exchange u33 second cured fails'))->borrowed;

        self::assertCount(2, $borrowed);
        self::assertStringContainsString('is in the second machine and has to come back', $borrowed[0]);
        self::assertStringContainsString('is borrowed and has to go back', $borrowed[1]);
    }

    public function test_what_a_person_typed_does_not_become_markup(): void
    {
        $text = (new MarkdownRecord(self::record(Bench::with('larkspur-64'))))->text('Desk *3* <b>', "It shows `A`\n# and [B]", ['State' => 'open']);

        self::assertStringContainsString('# Desk \*3\* \<b\>', $text);
        self::assertStringContainsString('It shows \`A\` \# and \[B\]', $text);
        self::assertStringContainsString("## Done\n\nNothing was changed.", $text);
    }

    private static function record(Bench $bench): OwnerRecord
    {
        $assessment = $bench->assess();

        return OwnerRecord::of($assessment, $bench->board(), Ledger::of($assessment, $bench->board(), 'X'), $assessment->proof($bench->board(), 0.95));
    }
}
