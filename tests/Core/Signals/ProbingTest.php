<?php

declare(strict_types=1);

namespace Tests\Core\Signals;

use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;
use Random\Engine\Mt19937;
use Random\Randomizer;
use Tests\Support\Bench;
use Tests\Support\Boards;
use Tests\Support\SickBench;
use ZapTrace\Bench\Apprentice;
use ZapTrace\Bench\FaultKind;
use ZapTrace\Bench\InjectedFault;
use ZapTrace\Bench\LogicShelf;
use ZapTrace\Bench\Machine;
use ZapTrace\Board\Net;
use ZapTrace\Board\Netlist;
use ZapTrace\Reasoning\Step;
use ZapTrace\Signals\ClockTree;
use ZapTrace\Signals\ContinuityPlan;
use ZapTrace\Signals\ContinuitySeen;
use ZapTrace\Signals\Expectations;
use ZapTrace\Signals\GateCheck;
use ZapTrace\Signals\PathStrip;
use ZapTrace\Signals\PinSeen;
use ZapTrace\Signals\ProbeState;
use ZapTrace\Signals\SelectCheck;
use ZapTrace\Signals\Situation;
use ZapTrace\Signals\Structure;

final class ProbingTest extends TestCase
{
    private static ?LogicShelf $shelf = null;

    private static ?Expectations $expected = null;

    private static function expectations(): Expectations
    {
        return self::$expected ??= new Expectations(Boards::shipped('larkspur-64'), [], [], self::$shelf ??= new LogicShelf);
    }

    /** @param  string  $state  as the probe shows it, in a free run */
    private static function see(Bench $bench, string $pin, string $state): Bench
    {
        return $bench->record('probe', ['pin' => $pin, 'situation' => 'free-run', 'state' => $state, 'expected' => self::expectations()->at($pin, Situation::FreeRun)['state']->value ?? 'any']);
    }

    public function test_supplies_and_pull_ups_are_expected_by_the_profile_and_the_rest_by_simulation(): void
    {
        $at = static fn (string $pin): array => self::expectations()->at($pin, Situation::Running);

        self::assertSame([ProbeState::High, 'profile'], [$at('U9.8')['state'], $at('U9.8')['source']]);
        self::assertSame([ProbeState::Low, 'profile'], [$at('U9.16')['state'], $at('U9.16')['source']]);
        self::assertSame([ProbeState::High, 'profile'], [$at('U1.6')['state'], $at('U1.6')['source']], '/NMI hangs on its pull-up.');
        self::assertSame([ProbeState::Pulsing, 'simulation'], [$at('U18.6')['state'], $at('U18.6')['source']]);
        self::assertNull($at('U26.10')['state'], 'What a port gives is not known.');
        self::assertSame(ProbeState::Low, self::expectations()->at('U1.40', Situation::Reset)['state']);
    }

    public function test_hung_as_found_only_what_runs_by_itself_can_be_expected(): void
    {
        self::assertSame(ProbeState::Pulsing, self::expectations()->at('U20.11', Situation::AsFound)['state']);
        self::assertNull(self::expectations()->at('U1.9', Situation::AsFound)['state']);
    }

    /** Source: TI SN74LS00 and SN74HC00 data sheets, from memory: VIL 0.8 V and VIH 2.0 V; at 4.5 V HC has 1.35 and 3.15 V. */
    /** A flip-flop that reset clears is known while it lasts, and what a programme sets is not known in a free run. */
    public function test_what_reset_holds_is_known_in_reset(): void
    {
        $expectations = new Expectations(Boards::shipped('larkspur-64'));

        self::assertSame(ProbeState::Low, $expectations->at('U35.9', Situation::Reset)['state']);
        self::assertNull($expectations->at('U35.9', Situation::FreeRun)['state']);
        $divided = $expectations->at('U20.14', Situation::Reset)['state'];
        self::assertTrue($divided === null || $divided === ProbeState::Pulsing, 'A counter that nothing clears may move later.');

        $structure = Structure::of(Boards::shipped('larkspur-64'));
        $nets = $structure->board->netlist->nets;
        self::assertSame([true, false, false], [$structure->isResettable($nets['ROMSEL']), $structure->isResettable($nets['VA13']), $structure->isResettable($nets['D0'])]);
    }

    public function test_a_latch_of_a_machine_that_does_not_start_is_touched_in_reset_as_well(): void
    {
        $sick = SickBench::with('larkspur-64', new InjectedFault(FaultKind::OutputHigh, 'U35.9'));
        $bench = Bench::with('larkspur-64')->note('sign blank', 'count nothing')->record('bus-capture', $sick->bus())->read(SickBench::swept($sick, '0'));
        foreach (['U2', 'U17'] as $ref) {
            $bench = $bench->record('pin-walk', (new Apprentice($sick))->walked($ref, Situation::FreeRun)['payload']);
        }
        $touch = static fn (Bench $bench): Step => array_values(array_filter($bench->steps(), static fn (Step $step): bool => $step->key() === 'walk U35'))[0] ?? self::fail('U35 is not touched.');
        self::assertStringContainsString('in a free run', $touch($bench)->sentence);
        $free = (new Apprentice($sick))->take($touch($bench)) ?? self::fail('It can be touched.');
        self::assertSame([[], true], [$free['payload']['wrong'], in_array('U35.9', $free['payload']['unknown'], true)], 'It shows nothing there.');
        $bench = $bench->record($free['kind'], $free['payload']);
        self::assertStringContainsString('held in reset', $touch($bench)->sentence);
        $held = (new Apprentice($sick))->take($touch($bench)) ?? self::fail('It can be touched.');
        self::assertSame([['pin' => 'U35.9', 'state' => 'high', 'expected' => 'low']], $held['payload']['wrong']);
        $bench = $bench->record($held['kind'], $held['payload']);

        self::assertSame('U35', $bench->leading());
        self::assertNotContains('walk U35', $bench->proposed(), 'Twice is enough.');
    }

    public function test_volts_are_classed_by_the_family_of_the_chip(): void
    {
        $state = static function (float $volts, string $pin = 'U3.1'): ?string {
            $seen = Bench::with('larkspur-64')->record('probe', ['pin' => $pin, 'volts' => $volts])->assess()->samples[0]->what;

            return $seen instanceof PinSeen ? $seen->state?->value : null;
        };

        self::assertSame(['low', 'between', 'high'], [$state(0.7), $state(1.4), $state(2.1)]);
        self::assertSame(['low', 'between', 'high'], [$state(0.7, 'U2.11'), $state(1.4, 'U2.11'), $state(2.1, 'U2.11')], 'A ROM of the time takes TTL levels.');
        self::assertSame('between', $state(1.4, 'J3.5'), 'A connector by the parts on its net.');
    }

    public function test_the_bench_line_knows_pins_volts_frequencies_and_continuity(): void
    {
        $titles = static fn (string ...$lines): array => array_map(static fn ($entry): string => $entry->title, array_values(Bench::with('larkspur-64')->note(...$lines)->assess()->contributions));

        self::assertSame('U31.7 (2Y) silent, running its ROM', $titles('u31.7 silent')[0]);
        self::assertSame('U9.4 (/RAS) high, free run', $titles('u9./ras high free')[0]);
        self::assertSame('U20.11 (QD) 1.02 MHz, running its ROM', $titles('u20.11 1.02 mhz')[0]);
        self::assertSame('U3.1 (A) 2.1 V, high, reset held', $titles('u3.1 2.1 v reset')[0]);
        self::assertSame('U9.3 to U14.12 open', $titles('open u9.3 u14.12')[0]);
    }

    public function test_a_pin_that_is_not_there_is_told(): void
    {
        $told = Bench::with('larkspur-64')->record('probe', ['pin' => 'U3.17', 'state' => 'high'])->assess()->unreadable;

        self::assertSame(['U3 is a 74LS138 and has no pin 17; its pins are 1 to 16.'], array_values($told));
    }

    public function test_right_at_the_driver_and_silent_behind_it_is_the_trace(): void
    {
        $bench = Bench::with('larkspur-64');
        foreach (['U9.5' => 'silent', 'U10.5' => 'silent', 'U5.4' => 'pulsing'] as $pin => $state) {
            $bench = self::see($bench, $pin, $state);
        }

        self::assertSame('MA0', $bench->leading());
        self::assertLessThan(0.1, $bench->share('U5'));
    }

    public function test_the_same_reading_again_makes_it_surer_but_only_once(): void
    {
        $once = self::see(self::see(Bench::with('larkspur-64'), 'U5.4', 'pulsing'), 'U9.5', 'silent');
        $twice = self::see($once, 'U9.5', 'silent');

        self::assertGreaterThan($once->share('MA0') + 0.05, $twice->share('MA0'));
        self::assertEqualsWithDelta($twice->share('MA0'), self::see($twice, 'U9.5', 'silent')->share('MA0'), 1e-9);
    }

    public function test_continuity_finds_the_break_and_a_wire_settles_it(): void
    {
        $net = Boards::shipped('larkspur-64')->netlist->nets['MA0'];
        $bench = self::see(self::see(self::see(Bench::with('larkspur-64'), $net->pins[5], 'silent'), $net->pins[6], 'silent'), $net->pins[0], 'pulsing')
            ->note("open {$net->pins[0]} {$net->pins[5]}", "closed {$net->pins[0]} {$net->pins[4]}");

        self::assertSame('MA0', $bench->leading());
        self::assertGreaterThan(0.9, $bench->share('MA0'));
        self::assertContains('wire MA0', $bench->proposed());
        self::assertLessThan(0.05, $bench->note('wire ma0 cured')->share('MA0'));
    }

    public function test_a_gate_whose_output_contradicts_its_inputs_is_named(): void
    {
        $structure = Structure::of(Boards::shipped('larkspur-64'));
        $checks = GateCheck::all($structure, ['U29.9' => ProbeState::Low, 'U29.10' => ProbeState::Low, 'U29.8' => ProbeState::High]);

        self::assertSame(['U29.8'], array_map(static fn (GateCheck $check): string => $check->output, $checks));
        self::assertStringContainsString('or something holds its output', $checks[0]->sentence);
        self::assertSame([], GateCheck::all($structure, ['U29.9' => ProbeState::Low, 'U29.10' => ProbeState::High, 'U29.8' => ProbeState::High]));
        self::assertSame([], GateCheck::all($structure, ['U29.9' => ProbeState::Pulsing, 'U29.10' => ProbeState::Pulsing, 'U29.8' => ProbeState::High]), 'Two that move may well never be low together.');
        self::assertCount(1, GateCheck::all($structure, ['U8.3' => ProbeState::Pulsing, 'U8.4' => ProbeState::High]), 'An inverter follows its input.');
        self::assertCount(1, GateCheck::all($structure, ['U29.9' => ProbeState::High, 'U29.8' => ProbeState::Low]), 'One high input is enough for an OR.');
    }

    public function test_a_select_check_gives_every_level_from_the_decoder_to_the_chip(): void
    {
        $board = Boards::shipped('larkspur-64');
        $check = SelectCheck::of(new Machine($board, [], 1), Structure::of($board), 'U2', 0xE000);
        self::assertNotNull($check);

        self::assertTrue($check->reached);
        self::assertSame(['U3', 'U17'], array_column($check->stages, 'chip'));
        self::assertSame(['pin' => 'U3.7', 'level' => 0], $check->stages[0]['output'], '/Y7 of the decoder.');
        self::assertSame([1, 1, 1], array_map(static fn (string $pin): int => array_column($check->stages[0]['inputs'], 'level', 'pin')[$pin], ['U3.1', 'U3.2', 'U3.3']), 'A13 to A15 are high at E000.');
        self::assertSame('U3', $check->broken(['U3.1' => ProbeState::High, 'U3.7' => ProbeState::High]));
        self::assertNull($check->broken(['U3.7' => ProbeState::Low]));
        self::assertFalse(SelectCheck::of(new Machine($board, [], 1), Structure::of($board), 'U2', 0x1000)?->reached);
    }

    /**
     * Half, double and nearest whole divisors. Source: arithmetic.
     *
     * @return iterable<string, array{float, string}>
     */
    public static function measured(): iterable
    {
        yield 'right' => [1.002e6, 'It is right.'];
        yield 'half' => [5e5, 'half of what it should be'];
        yield 'double' => [2e6, 'It is double'];
        yield 'a fifth' => [2e5, 'a 5th of'];
        yield 'three times' => [3e6, '3 times'];
        yield 'absent' => [0.0, 'absent'];
        yield 'another crystal' => [8.9e5, 'by no whole number'];
    }

    #[DataProvider('measured')]
    public function test_a_measured_clock_is_explained(float $hz, string $says): void
    {
        self::assertStringContainsString($says, ClockTree::explain(1e6, $hz));
    }

    public function test_the_clock_tree_stands_beside_the_broadcast_rates(): void
    {
        $tree = ClockTree::of(Boards::shipped('larkspur-64'), self::expectations());

        self::assertEqualsWithDelta(1e6, $tree->find('PHI0'), 1.0);
        self::assertEqualsWithDelta(16e6, $tree->find('CLK16'), 1.0);
        $notes = array_column($tree->nodes, 'note', 'net');
        self::assertStringContainsString('312 whole lines', $notes['VSYNC']);
        self::assertStringContainsString('625 lines', $notes['VSYNC']);
    }

    /** A chain of n places needs at most ceil(log2 n) tests once it is known to be broken. Source: arithmetic. */
    public function test_halving_a_trace_needs_no_more_tests_than_it_must(): void
    {
        for ($count = 2; $count <= 24; $count++) {
            $net = new Net('X', 'other', array_map(static fn (int $number): string => "U{$number}.1", range(1, $count)));
            for ($broken = 1; $broken < $count; $broken++) {
                $seen = [new ContinuitySeen($net->pins[0], $net->pins[$count - 1], false)];
                $plan = ContinuityPlan::of($net, $seen);
                for ($tests = 0; $plan->test !== null; $tests++) {
                    $to = (int) array_search($plan->test['to'], $net->pins, true);
                    $seen[] = new ContinuitySeen($plan->test['from'], $plan->test['to'], $to < $broken);
                    $plan = ContinuityPlan::of($net, $seen);
                }
                self::assertLessThanOrEqual((int) ceil(log($count, 2)), $tests);
                self::assertSame(['from' => $net->pins[$broken - 1], 'to' => $net->pins[$broken]], $plan->wire);
            }
        }
    }

    public function test_what_hangs_together_with_what_is_cut_off_is_cut_off_too(): void
    {
        $net = new Net('MD5', 'data', ['U14.14', 'U14.2', 'U21.14', 'U4.13']);
        $plan = ContinuityPlan::of($net, [new ContinuitySeen('U14.2', 'U21.14', true), new ContinuitySeen('U14.14', 'U21.14', false)]);

        self::assertSame(['yes', 'no', 'no', 'no'], array_column($plan->points, 'reached'));
        self::assertNull($plan->test);
        self::assertSame(['from' => 'U14.14', 'to' => 'U14.2'], $plan->wire);
    }

    public function test_after_a_chip_was_out_each_of_its_pins_is_tested_against_the_next_of_its_net(): void
    {
        $list = ContinuityPlan::afterRemoval(Boards::shipped('larkspur-64'), 'U14');

        self::assertCount(15, $list, 'Sixteen pins, one of them on no net.');
        foreach ($list as $each) {
            self::assertSame('U14', Netlist::chipOf($each['pin']));
            self::assertNotSame('U14', Netlist::chipOf($each['to']));
        }
    }

    /** A random output that is stuck: from the pin where it shows, the walk ends at its chip or its net. */
    public function test_the_walk_from_a_wrong_pin_ends_at_what_is_wrong(): void
    {
        $board = Boards::shipped('larkspur-64');
        $structure = Structure::of($board);
        $random = new Randomizer(new Mt19937(42));
        $outputs = [];
        foreach ($board->netlist->nets as $net) {
            foreach ($net->isPower() || ! in_array($net->kind, ['address', 'control', 'clock'], true) ? [] : $structure->driversOf($net) as $driver) {
                if (count($structure->driversOf($net)) === 1 && $structure->unitOf($driver) !== null) {
                    $outputs[] = $driver;
                }
            }
        }
        $walked = 0;
        for ($try = 0; $try < 14; $try++) {
            $output = $outputs[$random->getInt(0, count($outputs) - 1)];
            $sick = new Machine($board, [new InjectedFault($random->getInt(0, 1) === 0 ? FaultKind::OutputLow : FaultKind::OutputHigh, $output)], 1, self::$shelf ??= new LogicShelf);
            $judged = static function (string $pin) use ($sick): ?bool {
                $expected = self::expectations()->at($pin, Situation::FreeRun)['state'];

                return $expected === null ? null : PinSeen::fits($expected, $sick->probe($pin, Situation::FreeRun));
            };
            if ($judged($output) !== false) {
                continue; // It is stuck as it should be, for all that a probe shows.
            }
            // Somewhere downstream it shows first: a load of its net, or of a net that follows from it.
            $start = $board->netlist->netOf($output);
            self::assertNotNull($start);
            foreach ($board->netlist->nets as $net) {
                $upstream = $structure->upstreamOf($net->name);
                if (($upstream[Netlist::chipOf($output)] ?? 9) === 1 && ! $net->isPower() && $judged($net->pins[0]) === false) {
                    $start = $net;
                    break;
                }
            }
            $right = [$start->pins[0] => false];
            for ($step = 0; $step < 40; $step++) {
                $strip = PathStrip::of($structure, $start, $right, []);
                if ($strip->next === null) {
                    break;
                }
                $right[$strip->next] = $judged($strip->next);
            }
            $end = $strip->parts === null ? null : $strip->stages[$strip->parts];
            self::assertNotNull($end);
            self::assertTrue($end['chip'] === Netlist::chipOf($output) || $end['net'] === $board->netlist->netOf($output)?->name, "{$output}: ended at {$end['chip']}, {$end['net']}");
            $walked++;
        }
        self::assertGreaterThan(5, $walked);
    }

    public function test_a_suspected_trace_is_touched_at_its_far_end_and_parts_on_itself(): void
    {
        $board = Boards::shipped('larkspur-64');
        $structure = Structure::of($board);
        $net = $board->netlist->nets['MA0'];
        $loads = $board->netlist->loads($net);
        $far = $loads[count($loads) - 1];
        // Nothing of it was probed yet, and nearly all the suspicion lies on the trace itself.
        self::assertSame($far, PathStrip::of($structure, $net, [], ['MA0' => 0.95])->next);
        // The loads that are right are not touched again.
        self::assertSame($loads[count($loads) - 2], PathStrip::of($structure, $net, [$far => true], ['MA0' => 0.95])->next);
        // Right where it starts, wrong at a load: it parts on the net, behind the last stage.
        $strip = PathStrip::of($structure, $net, ['U5.4' => true, $far => false], ['MA0' => 0.95]);
        self::assertTrue($strip->breaks);
        self::assertSame(['from' => 'U5.4', 'to' => $far, 'points' => count($net->pins) - 2], $strip->between);
        $between = static fn (array $right): ?array => PathStrip::of($structure, $net, ['U5.4' => true] + $right, [])->between;
        self::assertSame(['from' => 'U9.5', 'to' => 'U13.5', 'points' => 0], $between(['U9.5' => true, 'U13.5' => false, 'U14.5' => false]));
        self::assertNull($between(['U13.5' => false, 'U14.5' => true]), 'Its pins do not part that way: one leg is open.');
        self::assertNull($strip->parts, 'No stage is to blame.');
        self::assertNull($strip->next);
        self::assertFalse(PathStrip::of($structure, $net, [$far => false], [])->breaks, 'Where it starts was not touched.');
        // A suspected trace before the last stage counts with what stands before the stage it leads to.
        $strip = PathStrip::of($structure, $net, [], []);
        $before = $strip->stages[count($strip->stages) - 2];
        self::assertSame('U5.4', PathStrip::of($structure, $net, [], [$before['net'] => 0.95])->next);
    }
}
