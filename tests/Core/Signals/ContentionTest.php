<?php

declare(strict_types=1);

namespace Tests\Core\Signals;

use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;
use Tests\Support\Bench;
use Tests\Support\Boards;
use Tests\Support\SickBench;
use ZapTrace\Bench\Apprentice;
use ZapTrace\Bench\FaultKind;
use ZapTrace\Bench\InjectedFault;
use ZapTrace\Reasoning\Evidence;
use ZapTrace\Reasoning\Suspect;
use ZapTrace\Signals\LineFaults;
use ZapTrace\Signals\SignalEvidence;
use ZapTrace\Signals\Situation;
use ZapTrace\Signals\Structure;

/**
 * Two outputs that drive one line at once, and what a break parts from what. Common practice: the low one wins, the level
 * stands between the two, and what drives nothing cannot be one of them.
 */
final class ContentionTest extends TestCase
{
    /**
     * @return iterable<string, array{string, string}>
     */
    public static function enables(): iterable
    {
        yield 'a buffer that is always let drive' => ['tamarisk-two', 'U8.17'];
        yield 'a decoder that always selects a bank' => ['tamarisk-two', 'U10.6'];
    }

    #[DataProvider('enables')]
    public function test_a_recording_in_which_only_ones_are_lost_shows_two_that_drive_at_once(string $slug, string $pin): void
    {
        $bench = SickBench::with($slug, new InjectedFault(FaultKind::OutputLow, $pin));
        $payload = $bench->bus();
        self::assertSame('contention', $payload['divergence']['kind'] ?? null);
        self::assertStringContainsString('two outputs drive at once', $payload['divergence']['words']);

        $log = Bench::with($slug)->note('sign blank')->record('bus-capture', $payload);
        $contention = array_values(array_filter($log->assess()->conclusion->evidence, static fn (Evidence $seen): bool => $seen->kind === Evidence::CONTENTION));
        self::assertCount(1, $contention);
        $chip = strtok($pin, '.');
        self::assertGreaterThan(0.2, $contention[0]->strengths[$chip] ?? 0.0);
        self::assertLessThan($contention[0]->strengths[$chip], $contention[0]->strengths['U31'] ?? 0.0, 'One memory chip spoils one line.');
        $faults = $log->assess()->conclusion->posterior->faults;
        self::assertLessThan(0.05, ($faults['U2/bad contact'] ?? 0.0) + ($faults['U2/contents'] ?? 0.0) + ($faults['U2/dead'] ?? 0.0), 'A ROM that drives nothing contends with nothing.');
        // The recording and one walk round the part are enough.
        $found = $log->record('pin-walk', (new Apprentice($bench))->walked($chip, Situation::FreeRun)['payload']);
        self::assertContains($found->leading(), [$chip, Boards::shipped($slug)->netlist->netOf($pin)?->name]);
    }

    public function test_a_rom_that_is_always_selected_spoils_every_bank_and_what_selects_it_is_looked_at(): void
    {
        $bench = SickBench::with('larkspur-64', new InjectedFault(FaultKind::OutputLow, 'U17.12'));
        $log = Bench::with('larkspur-64')->note('sign blank')->record('bus-capture', $bench->bus())->read($bench->readingsOf(array_map(static fn (int $place): array => [0x200 + 37 * $place, crc32("{$place}") & 0xFF], range(0, 60)), Boards::shipped('larkspur-64')->radix));

        self::assertContains('walk U17', array_slice($log->proposed(), 0, 5));
        self::assertContains('U17', array_map(static fn (Suspect $suspect): string => $suspect->site, array_slice($log->assess()->conclusion->suspects(), 0, 4)), 'Before all the others that can drive the bus.');
        $walked = $log->record('pin-walk', (new Apprentice($bench))->walked('U17', Situation::Running)['payload']);
        self::assertSame('U17', $walked->leading());
        self::assertGreaterThan(2 * $log->share('U17'), $walked->share('U17'));
    }

    public function test_what_lets_a_part_drive_counts_with_what_lies_behind_it(): void
    {
        $lines = new LineFaults(Structure::of(Boards::shipped('tamarisk-two')));
        $against = $lines->against('U1', ['D0', 'D1', 'D2', 'D3'], 0.8);

        self::assertSame(0.8, $against['U2'], 'The ROM is on all four lines.');
        self::assertArrayNotHasKey('U21', $against, 'Its output is behind the buffer.');
        self::assertEqualsWithDelta(0.8 / 4.0, (new LineFaults(Structure::of(Boards::shipped('larkspur-64'))))->against('U4', ['B1', 'B2', 'B3', 'B4'], 0.8)['U9'] ?? 0.0, 0.01, 'What is on one of four lines.');
        self::assertGreaterThan($against['U10'], $against['U8'], 'What selects the ROM, then what selects that.');
        self::assertArrayHasKey('/SBUF/held or shorted', $against);
    }

    public function test_a_break_parts_what_lies_behind_it_from_the_processor(): void
    {
        $netlist = Boards::shipped('larkspur-64')->netlist;
        $a3 = $netlist->nets['A3']; // U1.12 J3.4 U2.7 U30.13 U26.35

        self::assertSame(['U2.7', 'U30.13', 'U26.35'], $netlist->cutOff($a3, 2, null, 'U1'));
        self::assertSame(['U2.7'], $netlist->cutOff($a3, null, 'U2.7', 'U1'));
        self::assertSame($a3->pins, $netlist->cutOff($a3, null, 'U1.12', 'U1'), 'The leg that drives it.');
        self::assertSame($a3->pins, $netlist->cutOff($a3, null, null, 'U1'), 'Held, all of it is.');
        $data = Boards::shipped('halyard-16')->netlist->nets['D5']; // U3.17 U91.7 U65.7 U1.64
        self::assertSame(['U3.17', 'U91.7'], Boards::shipped('halyard-16')->netlist->cutOff($data, 2, null, 'U1'), 'The processor is at the end of it.');
        self::assertSame(['U4.19'], SignalEvidence::cutOff(Boards::shipped('larkspur-64'), $netlist->nets['/BUFEN'], 'open before U4.19'));
    }

    /** A trace that is broken before what serves a bank reads like a dead server; the continuity tester is proposed before a part comes out. */
    public function test_a_broken_enable_is_measured_before_the_buffer_is_replaced(): void
    {
        $bench = SickBench::with('larkspur-64', new InjectedFault(FaultKind::OpenTrace, '/BUFEN', 'U4.19'));
        $apprentice = new Apprentice($bench);
        $log = Bench::with('larkspur-64')->note('sign blank')->read("0100 00 FF\n0200 00 FF\n1000 55 FF")
            ->record('pin-walk', $apprentice->walked('U4', Situation::Running)['payload'])
            ->record('pin-walk', $apprentice->walked('U17', Situation::Running)['payload']);

        self::assertSame('/BUFEN', $log->leading());
        $first = array_values(array_filter($log->proposed(), static fn (string $step): bool => preg_match('/^(continuity|replace|exchange|wire) /', $step) === 1));
        self::assertSame('continuity /BUFEN', $first[0]);
    }

    /** What follows from an input that is wrong says nothing more. */
    public function test_outputs_that_are_wrong_because_an_input_is_are_not_held_against_the_part(): void
    {
        $bench = SickBench::with('larkspur-64', new InjectedFault(FaultKind::OpenTrace, 'NORAM', 'U29.13'));
        $walk = (new Apprentice($bench))->walked('U29', Situation::Running)['payload'];
        self::assertContains('U29.11', array_column($walk['wrong'], 'pin'));
        $wrong = array_values(array_filter(Bench::with('larkspur-64')->record('pin-walk', $walk)->assess()->conclusion->evidence, static fn (Evidence $seen): bool => $seen->kind === Evidence::PROBE && $seen->abnormal));

        self::assertCount(1, $wrong);
        self::assertStringContainsString('NORAM is silent at U29.13', $wrong[0]->words);
        self::assertGreaterThan(0.9, $wrong[0]->strengths['NORAM/open before U29.13'] ?? 0.0);
    }

    public function test_a_line_that_nothing_drives_is_its_driver_or_its_trace_and_nothing_further_up(): void
    {
        $seen = static fn (string $state): array => array_values(array_filter(Bench::with('larkspur-64')->record('probe', ['pin' => 'U29.5', 'situation' => 'running', 'state' => $state, 'expected' => 'pulsing'])->assess()->conclusion->evidence, static fn (Evidence $each): bool => $each->kind === Evidence::PROBE))[0]->strengths;

        self::assertGreaterThan(5.0 * ($seen('silent')['U29'] ?? 0.0), $seen('silent')['U19']);
        self::assertLessThan(2.0 * $seen('high')['U29'], $seen('high')['U19'], 'A level that stands still can come from further up.');
    }

    public function test_two_lines_between_the_levels_touch_rather_than_hang_on_one_part(): void
    {
        $bench = SickBench::with('tamarisk-two', new InjectedFault(FaultKind::Short, 'SA7', 'SA9'));
        $apprentice = new Apprentice($bench);
        $log = Bench::with('tamarisk-two')->note('sign clean-banner')->record('pin-walk', $apprentice->walked('U44', Situation::Running)['payload'])->record('pin-walk', $apprentice->walked('U43', Situation::Running)['payload']);

        self::assertContains($log->leading(), ['SA7', 'SA9']);
        self::assertContains('continuity SA7', $log->proposed());
    }

    public function test_of_three_lines_that_touch_each_is_laid_to_another_of_them(): void
    {
        $sick = SickBench::with('larkspur-64', new InjectedFault(FaultKind::Short, 'A3', 'A11'), new InjectedFault(FaultKind::Short, 'A13', 'A3'));
        $walk = (new Apprentice($sick))->walked('U1', Situation::FreeRun)['payload'];
        self::assertSame(['between', 'between', 'between'], array_column($walk['wrong'], 'state'));
        $bench = Bench::with('larkspur-64')->note('+5 u37 5.0', 'sign blank', 'count nothing')->record('pin-walk', $walk);

        $touching = array_filter($bench->assess()->conclusion->posterior->faults, static fn (string $fault): bool => str_contains($fault, '/shorted to '), ARRAY_FILTER_USE_KEY);
        self::assertEqualsCanonicalizing(['A3/shorted to A11', 'A3/shorted to A13', 'A11/shorted to A13'], array_keys($touching));
        self::assertGreaterThan(0.1, array_sum($touching), 'Before anything was measured.');
        $before = array_slice($bench->proposed(), 0, (int) array_search('exchange U1', $bench->proposed(), true));
        self::assertNotSame([], array_intersect(['read A3', 'drop A3', 'continuity A3'], $before), implode(', ', $bench->proposed()));
    }
}
