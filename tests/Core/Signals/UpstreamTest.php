<?php

declare(strict_types=1);

namespace Tests\Core\Signals;

use PHPUnit\Framework\TestCase;
use Tests\Support\Bench;
use Tests\Support\Boards;
use Tests\Support\SickBench;
use ZapTrace\Bench\Apprentice;
use ZapTrace\Bench\FaultKind;
use ZapTrace\Bench\InjectedFault;
use ZapTrace\Reasoning\Evidence;
use ZapTrace\Signals\LineFaults;
use ZapTrace\Signals\Situation;
use ZapTrace\Signals\Structure;

/**
 * What lies behind a line that was seen to be wrong: the traces to the inputs of what drives it, what a processor runs by,
 * and what else is on the same line.
 */
final class UpstreamTest extends TestCase
{
    private static function probed(Bench $bench, InjectedFault $fault, Situation $situation, string ...$pins): Bench
    {
        $apprentice = new Apprentice(SickBench::with($bench->board()->slug, $fault));
        foreach ($pins as $pin) {
            $bench = $bench->record('probe', $apprentice->probed($pin, $situation)['payload']);
        }

        return $bench;
    }

    private static function walked(Bench $bench, InjectedFault $fault, string $chip): Bench
    {
        return $bench->record('pin-walk', (new Apprentice(SickBench::with($bench->board()->slug, $fault)))->walked($chip, Situation::FreeRun)['payload']);
    }

    public function test_a_break_before_an_input_is_suspected_of_what_the_output_does_not_do(): void
    {
        // A7 does not reach its buffer: the buffered line stands still, at the ROM as at the buffer.
        $broken = new InjectedFault(FaultKind::OpenTrace, 'A7', 'U5.17');
        $seen = self::probed(Bench::with('tamarisk-two')->note('sign blank'), $broken, Situation::FreeRun, 'U12.3', 'U5.3');
        self::assertGreaterThan(0.0, $seen->assess()->conclusion->posterior->faults['A7/open before U5.17'] ?? 0.0);

        $walked = self::walked($seen, $broken, 'U5');
        self::assertSame('A7', $walked->leading());
        self::assertContains('continuity A7', $walked->proposed(), 'It can be measured.');
        $open = $walked->record('continuity', ['from' => 'U1.37', 'to' => 'U5.17', 'result' => 'open']);
        self::assertSame('A7', $open->leading());
        self::assertContains('wire A7', $open->proposed());
    }

    public function test_what_reads_a_rom_wrong_may_lie_before_the_buffer_of_its_address(): void
    {
        $bench = SickBench::with('tamarisk-two', new InjectedFault(FaultKind::OpenTrace, 'A7', 'U5.17'));
        $recorded = Bench::with('tamarisk-two')->note('sign blank')->record('bus-capture', $bench->bus());
        $evidence = array_values(array_filter($recorded->assess()->conclusion->evidence, static fn (Evidence $seen): bool => $seen->abnormal && $seen->kind === Evidence::BUS));

        self::assertGreaterThan(0.2, $evidence[0]->strengths['A7/open before U5.17'] ?? 0.0);
        self::assertArrayNotHasKey('A7/open before U3.3', $evidence[0]->strengths, 'There is no such pin on that line.');
    }

    public function test_a_processor_without_its_clock_is_not_the_suspect(): void
    {
        $stuck = new InjectedFault(FaultKind::OutputHigh, 'U47.13');
        $bench = self::walked(self::walked(Bench::with('tamarisk-two')->note('sign blank'), $stuck, 'U47'), $stuck, 'U8');

        self::assertContains($bench->leading(), ['U47', 'CLK']);
        self::assertLessThan(0.3, $bench->share('U1'), 'It stands still because its clock does.');
    }

    public function test_an_address_line_that_a_gate_passes_on_is_lost_behind_it_as_well(): void
    {
        $read = Bench::with('larkspur-64')->note('sign blank')->read(SickBench::swept(SickBench::with('larkspur-64', new InjectedFault(FaultKind::OpenTrace, 'VA14', 'U6.10')), '0'));

        self::assertGreaterThan(0.05, $read->share('VA14'));
        self::assertContains('continuity VA14', $read->proposed());
    }

    public function test_what_comes_in_right_at_a_part_is_not_why_its_output_is_wrong(): void
    {
        // The processor stands still; its clock, from U20, is right at its pin, its reset, from U37, is not touched.
        $dead = new InjectedFault(FaultKind::Dead, 'U1');
        $output = self::probed(Bench::with('larkspur-64')->note('sign blank'), $dead, Situation::FreeRun, 'U1.9');
        $fed = self::probed($output, $dead, Situation::FreeRun, 'U1.37');
        $strengths = static fn (Bench $bench): array => array_values(array_filter($bench->assess()->conclusion->evidence, static fn (Evidence $seen): bool => $seen->abnormal && $seen->kind === Evidence::PROBE))[0]->strengths;

        self::assertGreaterThan(0.05, $strengths($output)['U20'] ?? 0.0);
        self::assertLessThan(0.2 * $strengths($output)['U20'], $strengths($fed)['U20']);
        self::assertSame($strengths($output)['U37'], $strengths($fed)['U37']);
        self::assertSame($strengths($output)['U1'], $strengths($fed)['U1']);
    }

    public function test_each_right_output_clears_a_part_a_little_and_its_contents_hardly(): void
    {
        $seen = Bench::with('larkspur-64')->note('sign blank', 'picture fails');
        $healthy = new Apprentice(SickBench::with('larkspur-64'));
        $faults = static fn (Bench $bench): array => $bench->assess()->conclusion->posterior->faults;
        $before = $faults($seen);
        foreach (['U22.11', 'U22.12', 'U22.13', 'U22.14', 'U22.3', 'U22.4', 'U22.5', 'U22.6'] as $pin) {
            $seen = $seen->record('probe', $healthy->probed($pin, Situation::FreeRun)['payload']);
        }
        $after = $faults($seen);
        $left = static fn (string $fault): float => ($after[$fault] / $before[$fault]) / ($after['U24/dead'] / $before['U24/dead']);

        self::assertLessThan(0.2, $left('U23/dead'), 'All outputs of the character generator move.');
        self::assertGreaterThan(0.7, $left('U23/contents'), 'What they say is not known.');
        self::assertGreaterThan(0.25, $left('U23/bad contact'), 'Of an address, it may be.');
    }

    public function test_a_processor_runs_by_its_clock_its_reset_and_its_waits(): void
    {
        $structure = Structure::of(Boards::shipped('tamarisk-two'));
        $names = static fn (array $pins): array => array_map(static fn (string $pin): string => Boards::shipped('tamarisk-two')->netlist->called($pin), $pins);
        $pins = implode(' ', $names($structure->runsBy('U1')));

        foreach (['CLK', '/RESET', '/WAIT', '/BUSRQ'] as $name) {
            self::assertStringContainsString("({$name})", $pins);
        }
        self::assertStringNotContainsString('(/INT)', $pins);
        self::assertStringNotContainsString('(D0)', $pins);
        self::assertCount(1, $structure->runsBy('U1', true));
        self::assertSame([], $structure->runsBy('U5'), 'A buffer runs by nothing.');
    }

    public function test_only_breaks_that_part_a_pin_from_what_drives_it_are_thought_of(): void
    {
        $board = Boards::shipped('tamarisk-two');
        $net = $board->netlist->nets['BA7'];
        $lines = new LineFaults(Structure::of($board));
        $pin = $net->pins[2];
        $cutting = $lines->cutting($net, $pin, 0.5);

        self::assertSame(0.5, $cutting["BA7/open at {$pin}"]);
        self::assertArrayHasKey("BA7/open before {$net->pins[1]}", $cutting);
        self::assertArrayNotHasKey("BA7/open before {$net->pins[3]}", $cutting, 'What is broken behind it leaves it alone.');
    }

    public function test_one_wrong_output_of_a_buffer_is_not_outweighed_by_its_others(): void
    {
        $stuck = new InjectedFault(FaultKind::OutputHigh, 'U5.3');
        $one = self::probed(Bench::with('tamarisk-two')->note('sign blank'), $stuck, Situation::FreeRun, 'U5.3', 'U5.17');
        $others = self::probed($one, $stuck, Situation::FreeRun, 'U5.5', 'U5.7', 'U5.9', 'U5.12', 'U5.14', 'U5.16', 'U5.18');

        self::assertSame('U5', $others->leading());
        self::assertGreaterThan(0.9 * $one->share('U5'), $others->share('U5'));
    }

    public function test_one_wrong_output_of_a_decoder_is_not_outweighed_either(): void
    {
        $stuck = new InjectedFault(FaultKind::OutputLow, 'U3.7');
        $bench = self::probed(self::walked(Bench::with('larkspur-64')->note('sign blank'), $stuck, 'U3'), $stuck, Situation::FreeRun, 'U17.1', 'U3.1', 'U3.2', 'U3.3', 'U3.9');

        self::assertSame('U3', $bench->leading());
        self::assertLessThan(0.2, $bench->share('/Y7'));
    }

    public function test_what_else_drives_a_line_may_be_what_holds_it(): void
    {
        // The refresh buffer holds an address line of the memory; the multiplexer on the same line is touched.
        $bench = self::walked(Bench::with('larkspur-64')->note('sign blank'), new InjectedFault(FaultKind::OutputLow, 'U33.18'), 'U5');
        $gate = array_values(array_filter($bench->assess()->conclusion->evidence, static fn (Evidence $seen): bool => str_starts_with($seen->id, 'gate ') && str_contains($seen->id, 'U5.4')));
        self::assertStringStartsWith('U5.4 (', $gate[0]->words, 'A designator is written as it is on the board.');

        self::assertGreaterThan(0.8, $gate[0]->strengths['U33'] ?? 0.0);
        self::assertGreaterThan(0.1, $bench->share('U33'));
    }

    public function test_a_pin_of_which_nothing_is_known_is_not_touched_again(): void
    {
        $bench = Bench::with('larkspur-64')->note('sign blank')->record('probe', ['pin' => 'U17.4', 'situation' => 'free-run', 'state' => 'low', 'expected' => 'any', 'by' => 'simulation']);
        $unjudged = array_values(array_filter($bench->assess()->conclusion->evidence, static fn (Evidence $seen): bool => $seen->kind === Evidence::PROBE));

        self::assertCount(1, $unjudged);
        self::assertFalse($unjudged[0]->abnormal);
        self::assertSame([0.0], array_values($unjudged[0]->strengths));
        self::assertEqualsWithDelta(Bench::with('larkspur-64')->note('sign blank')->share('U17'), $bench->share('U17'), 1e-5, 'It says nothing.');
    }

    public function test_the_select_of_a_multiplexer_can_be_lost_on_its_way(): void
    {
        $bench = SickBench::with('tamarisk-two', new InjectedFault(FaultKind::OpenTrace, 'MUXS', 'U13.1'));
        $read = Bench::with('tamarisk-two')->note('sign blank')->read(SickBench::swept($bench, '0'));

        self::assertGreaterThan(0.01, $read->assess()->conclusion->posterior->faults['MUXS/open before U13.1'] ?? 0.0);
    }

    public function test_an_address_line_that_does_not_reach_what_selects_the_memory_takes_all_of_it(): void
    {
        $broken = new InjectedFault(FaultKind::OpenTrace, 'A23', 'U6.1');
        $bench = SickBench::with('halyard-16', $broken);
        $read = Bench::with('halyard-16')->note('sign blank')->record('bus-capture', $bench->bus())->read(SickBench::swept($bench, 'main'));

        self::assertGreaterThan(0.0, $read->assess()->conclusion->posterior->faults['A23/open before U6.1'] ?? 0.0);
    }

    public function test_that_a_reset_is_not_there_when_none_is_wanted_does_not_say_that_it_comes(): void
    {
        // The flip-flop of the start-up overlay stands as it came up: what resets it never does.
        $apprentice = new Apprentice(SickBench::with('halyard-16', new InjectedFault(FaultKind::OutputHigh, 'U56.2')));
        $walked = Bench::with('halyard-16')->note('sign blank', 'run start-up nothing')->record('pin-walk', $apprentice->walked('U94', Situation::FreeRun)['payload']);
        self::assertLessThan(0.4, $walked->share('U94'));
        self::assertGreaterThan(0.3, $walked->share('U56') + $walked->share('/RESET'));
        self::assertContains('walk U94', array_slice($walked->proposed(), 0, 2), 'In reset it shows.');

        $held = $walked->record('pin-walk', $apprentice->walked('U94', Situation::Reset)['payload']);
        self::assertLessThan(0.1, $held->share('U94'));
        self::assertGreaterThan(0.7, $held->share('U56') + $held->share('/RESET') + $held->share('U57'), 'The gate before it leaves it so as well.');
    }

    public function test_an_output_that_fails_leads_as_far_astray_as_its_line_does_when_it_is_held(): void
    {
        $walked = (new Apprentice(SickBench::with('larkspur-64', new InjectedFault(FaultKind::OutputLow, 'U34.9'))))->walked('U34', Situation::FreeRun)['payload'];
        $bench = Bench::with('larkspur-64')->note('sign blank', 'count nothing')->record('pin-walk', $walked);

        // That the test ROM said nothing does not speak for the trace against its driver.
        self::assertGreaterThan(8.0 * $bench->share('VA14'), $bench->share('U34'));
    }

    public function test_pins_of_a_chip_are_not_touched_one_after_another_where_three_are_not_right(): void
    {
        // An input pulls the line down that holds high whatever is not used: nothing runs.
        $apprentice = new Apprentice(SickBench::with('larkspur-64', new InjectedFault(FaultKind::HoldsLow, 'U20.6')));
        $bench = Bench::with('larkspur-64')->note('+5 u37 5.0', 'sign blank', 'count nothing');
        foreach (['U29', 'U37', 'U20', 'U35', 'U27', 'U3'] as $chip) {
            $bench = $bench->record('pin-walk', $apprentice->walked($chip, Situation::FreeRun)['payload']);
        }
        $bench = $bench->record('pin-walk', $apprentice->walked('U35', Situation::Reset)['payload']);
        $single = static fn (Bench $bench): array => array_values(preg_grep('/^probe U2\./', $bench->proposed()) ?: []);
        self::assertNotSame([], $single($bench));

        foreach (['U2.2', 'U2.3', 'U2.4'] as $pin) {
            $bench = $bench->record('probe', $apprentice->probed($pin, Situation::FreeRun)['payload']);
        }
        self::assertSame([], $single($bench), 'What is wrong comes in from elsewhere.');
    }
}
