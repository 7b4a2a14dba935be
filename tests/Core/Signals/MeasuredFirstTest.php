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
use ZapTrace\Reasoning\SuspectedFault;
use ZapTrace\Signals\LineFaults;
use ZapTrace\Signals\ProbeState;
use ZapTrace\Signals\Situation;
use ZapTrace\Signals\Structure;

/**
 * What is measured or touched before anything is soldered; what a right bank clears; which traces touch.
 */
final class MeasuredFirstTest extends TestCase
{
    /**
     * @return list<string> kind and address lines of what clears address lines
     */
    private static function apart(Bench $bench): array
    {
        $right = array_filter($bench->assess()->conclusion->evidence, static fn (Evidence $seen): bool => ! $seen->abnormal && str_contains($seen->id, '/apart ') && $seen->kind !== 'alias');

        return array_values(array_map(static fn (Evidence $seen): string => "{$seen->kind} ".implode(',', $seen->addressLines), $right));
    }

    public function test_a_trace_is_wired_only_once_it_was_measured_open(): void
    {
        $sick = Bench::with('larkspur-64')->note('sign blank')->record('probe', ['pin' => 'U34.10', 'situation' => 'running', 'state' => 'silent', 'expected' => 'pulsing'])->record('probe', ['pin' => 'U3.2', 'situation' => 'running', 'state' => 'pulsing', 'expected' => 'pulsing']);
        self::assertSame('A14', $sick->leading());
        self::assertContains('continuity A14', $sick->proposed());
        self::assertNotContains('wire A14', $sick->proposed());
        self::assertNotContains('wire A14', $sick->note('closed u1.24 u3.2')->proposed());
        self::assertContains('wire A14', $sick->note('open u1.24 u34.10')->proposed());
    }

    /** From memory: a wire from a point that has the signal to one that lacks it mends a trace wherever it is broken between. */
    public function test_a_wire_reaches_past_every_place_where_the_trace_may_be_broken(): void
    {
        $wire = static fn (Bench $bench): string => implode(array_filter(array_column($bench->steps(), 'sentence'), static fn (string $sentence): bool => str_starts_with($sentence, 'Fit a wire')));
        $sick = Bench::with('larkspur-64')->note('sign garbage', 'open u5.4 u16.5');
        self::assertSame('Fit a wire from U5.4 to U16.5, and try it.', $wire($sick));
        $halved = $sick->note('closed u5.4 u10.5');
        self::assertSame('Fit a wire from U10.5 to U16.5, and try it.', $wire($halved));
        $touched = $halved->record('probe', ['pin' => 'U13.5', 'situation' => 'running', 'state' => 'silent', 'expected' => 'pulsing'])->record('probe', ['pin' => 'U14.5', 'situation' => 'running', 'state' => 'silent', 'expected' => 'pulsing']);
        self::assertSame('Fit a wire from U10.5 to U13.5, and try it.', $wire($touched));
        self::assertSame('Fit a wire from U9.5 to U13.5, and try it.', $wire($halved->note('closed u5.4 u9.5', 'open u5.4 u13.5')));
    }

    public function test_logic_is_touched_before_it_is_unsoldered(): void
    {
        $log = Bench::with('larkspur-64')->note('sign blank', '+5 u37 5.0', 'count nothing', 'count nothing');
        foreach (['low', 'low', 'low'] as $state) {
            $log = $log->record('probe', ['pin' => 'U8.8', 'situation' => 'running', 'state' => $state, 'expected' => 'pulsing']);
        }
        foreach (Boards::shipped('larkspur-64')->chips['U8']->type?->pinList() ?? [] as $pin) {
            if ($pin->direction === 'in') {
                $log = $log->record('probe', ['pin' => "U8.{$pin->number}", 'situation' => 'running', 'state' => 'pulsing', 'expected' => 'pulsing']);
            }
        }
        self::assertSame('U8', $log->leading());
        self::assertSame(['walk U8', 'replace U8'], array_slice($log->proposed(), 0, 2));
        $walked = $log->record('pin-walk', ['chip' => 'U8', 'situation' => 'running', 'wrong' => [['pin' => 'U8.8', 'state' => 'low', 'expected' => 'pulsing']]]);
        self::assertNotContains('walk U8', $walked->proposed(), 'Once is enough.');
    }

    public function test_what_nothing_drives_is_wrong_where_something_always_should(): void
    {
        $board = Boards::shipped('larkspur-64');
        $structure = Structure::of($board);
        self::assertTrue($structure->isAlwaysDriven($board->netlist->netOf('U17.4')), 'A flip-flop.');
        self::assertFalse($structure->isAlwaysDriven($board->netlist->netOf('U9.2')), 'Three-state outputs.');
        $silent = Bench::with('larkspur-64')->note('sign blank')->record('probe', ['pin' => 'U17.4', 'situation' => 'free-run', 'state' => 'silent', 'expected' => 'any']);
        self::assertSame('ROMSEL', $silent->leading());
        self::assertNotSame('ROMSEL', Bench::with('larkspur-64')->note('sign blank')->record('probe', ['pin' => 'U17.4', 'situation' => 'free-run', 'state' => 'high', 'expected' => 'any'])->leading(), 'A level may be what it is.');

        $walk = (new Apprentice(SickBench::with('larkspur-64', new InjectedFault(FaultKind::OpenTrace, 'ROMSEL', 'U17.4'))))->walked('U17', Situation::FreeRun);
        self::assertContains(['pin' => 'U17.4', 'state' => ProbeState::Silent->value, 'expected' => 'any'], $walk['payload']['wrong']);
    }

    public function test_a_bank_that_is_right_all_over_clears_its_address_lines_and_what_carries_them(): void
    {
        $text = SickBench::swept(SickBench::with('larkspur-64'), '0');
        $right = Bench::with('larkspur-64')->note('sign blank')->read($text);
        $apart = self::apart($right);
        self::assertContains('bank-alias 0,1,2,3,4,5,6,7,8,9,10,11,12,13,14,15', $apart, 'The highest line too: all stretches of the bank are read.');
        self::assertContains('bank-strobe 8,9,10,11,12,13,14,15', $apart);
        self::assertContains('bank-multiplexer 4,5,6,7,12,13,14,15', $apart);
        $before = Bench::with('larkspur-64')->note('sign blank')->assess()->conclusion->posterior;
        $after = $right->assess()->conclusion->posterior;
        self::assertLessThan(0.2 * ($before->faults['U6/dead'] ?? 0.0) + 1e-9, $after->faults['U6/dead'] ?? 0.0);

        self::assertSame([], self::apart(Bench::with('larkspur-64')->note('sign blank')->read("1000 00 00\n1001 00 00\n1002 00 00")), 'The same byte everywhere tells no address from another.');
        self::assertSame([], self::apart(Bench::with('larkspur-64')->note('sign blank')->read("1000 55 AA\n1001 AA 55\n1002 5A A5\n1003 A5 5A")), 'Nor does one of which no bit is right.');
        self::assertContains('bank-multiplexer 4,5,6,7,12,13,14,15', self::apart(Bench::with('larkspur-64')->note('sign blank')->read($text."\n0300 00 20")), 'One bad bit hides nothing of the others.');
    }

    /**
     * @return iterable<string, array{string, string}>
     */
    public static function touching(): iterable
    {
        yield 'at the memory' => ['MD0', 'MD6'];
        yield 'on the bus' => ['D0', 'D6'];
    }

    #[DataProvider('touching')]
    public function test_two_bits_that_follow_each_other_lead_to_the_two_traces_that_touch(string $one, string $other): void
    {
        $bench = SickBench::with('tamarisk-two', new InjectedFault(FaultKind::Short, $one, $other));
        $log = Bench::with('tamarisk-two')->note('sign blank')->read(SickBench::swept($bench, '0'));
        $tied = array_values(array_filter($log->assess()->conclusion->evidence, static fn (Evidence $seen): bool => $seen->kind === 'tied'));
        self::assertSame([0, 6], $tied[0]->lines ?? []);
        foreach (['MD0', 'D0'] as $line) {
            self::assertContains("continuity {$line}", $log->proposed());
        }
        $found = $log->note('closed '.strtolower(Boards::shipped('tamarisk-two')->netlist->nets[$one]->pins[0].' '.Boards::shipped('tamarisk-two')->netlist->nets[$other]->pins[0]));
        self::assertSame($one, $found->leading());
        self::assertContains("fix {$one}", $found->proposed());
    }

    public function test_bits_follow_each_other_also_where_another_address_is_read(): void
    {
        $bench = SickBench::with('tamarisk-two', new InjectedFault(FaultKind::Short, 'MD0', 'MD6'), new InjectedFault(FaultKind::OutputHigh, 'U12.12'));
        $evidence = Bench::with('tamarisk-two')->note('sign blank')->read(SickBench::swept($bench, '0'))->assess()->conclusion->evidence;
        $kinds = array_map(static fn (Evidence $seen): string => "{$seen->kind} ".implode(',', $seen->kind === 'tied' ? $seen->lines : $seen->addressLines), array_filter($evidence, static fn (Evidence $seen): bool => $seen->abnormal));

        self::assertContains('tied 0,6', $kinds);
        self::assertNotSame([], array_filter($kinds, static fn (string $kind): bool => str_starts_with($kind, 'bank-alias')), implode('; ', $kinds));
    }

    public function test_a_static_bank_that_was_right_all_over_is_not_read_again(): void
    {
        $board = Boards::shipped('tamarisk-two');
        self::assertSame([16384, 1024], [$board->cellsOf('0'), $board->cellsOf('screen')]);
        $sick = Bench::with('tamarisk-two')->note('sign at-signs', 'count pass', 'count pass');
        $screen = static fn (Bench $bench): array => array_values(array_filter($bench->proposed(), static fn (string $step): bool => $step === 'read bank screen'));
        self::assertSame(['read bank screen'], $screen($sick));
        self::assertSame([], $screen($sick->read(SickBench::swept(SickBench::with('tamarisk-two'), 'screen'))));
        $wrong = $sick->read(SickBench::swept(SickBench::with('tamarisk-two', new InjectedFault(FaultKind::Short, 'VD0', 'VD3')), 'screen'));
        self::assertSame([], $screen($wrong->note('reseat u20 same')), 'Nor one that was wrong, when only a contact was tried.');
        self::assertSame('VD0', $wrong->leading());
    }

    public function test_a_line_of_the_memory_that_its_buffer_loses_shows_in_every_bank_it_serves(): void
    {
        $sick = Bench::with('halyard-16')->note('sign blank')->record('continuity', ['from' => 'U44.14', 'to' => 'U65.14', 'result' => 'open']);
        $broken = array_values(array_filter($sick->assess()->conclusion->suspected, static fn (SuspectedFault $fault): bool => $fault->id === 'MD4/open before U65.14'))[0];

        self::assertSame(['main', 'riser'], $broken->banks);
        self::assertSame([4], $broken->lines);
        self::assertGreaterThan(0.5, $broken->mode->shows['high'] ?? 0.0);
    }

    public function test_an_enable_that_floats_can_let_two_drive(): void
    {
        $board = Boards::shipped('larkspur-64');
        $strengths = (new LineFaults(Structure::of($board)))->against('U1', array_map(static fn (int $bit): string => "D{$bit}", range(0, 7)), 0.8);

        self::assertGreaterThan(0.2, $strengths['RW/open before U8.9'] ?? 0.0, 'Behind the gate that turns the buffer round.');
        self::assertGreaterThan($strengths['/ROMCS/open at U2.20'] ?? 0.0, $strengths['RW/open before U8.9'] ?? 0.0, 'What is active low is mostly off when it floats.');
    }
}
