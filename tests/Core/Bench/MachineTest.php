<?php

declare(strict_types=1);

namespace Tests\Core\Bench;

use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;
use Tests\Support\Boards;
use ZapTrace\Bench\Circuit;
use ZapTrace\Bench\FaultKind;
use ZapTrace\Bench\InjectedFault;
use ZapTrace\Bench\LogicShelf;
use ZapTrace\Bench\Machine;
use ZapTrace\Bench\Routine;
use ZapTrace\Board\NetlistCheck;
use ZapTrace\Board\RangeKind;
use ZapTrace\Signals\ProbeState;
use ZapTrace\Signals\Situation;

final class MachineTest extends TestCase
{
    private static ?LogicShelf $shelf = null;

    private static function machine(string $slug, InjectedFault ...$faults): Machine
    {
        return new Machine(Boards::shipped($slug), array_values($faults), 7, self::$shelf ??= new LogicShelf);
    }

    /**
     * @return iterable<string, array{string}>
     */
    public static function boards(): iterable
    {
        yield 'Larkspur 64' => ['larkspur-64'];
        yield 'Tamarisk Two' => ['tamarisk-two'];
        yield 'Halyard 16' => ['halyard-16'];
    }

    #[DataProvider('boards')]
    public function test_the_netlist_of_a_demo_board_leaves_nothing_to_be_looked_at_twice(string $slug): void
    {
        $board = Boards::shipped($slug);

        self::assertSame([], (new NetlistCheck)->notices($board));
        self::assertGreaterThanOrEqual(40, count($board->chips));
        self::assertLessThanOrEqual(90, count($board->chips));
    }

    #[DataProvider('boards')]
    public function test_a_healthy_board_starts_and_all_of_its_memory_holds(string $slug): void
    {
        $machine = self::machine($slug);

        self::assertTrue($machine->starts());
        foreach ($machine->board->map->ranges as $range) {
            if ($range->kind !== RangeKind::Ram || $range->access !== 'any' || ! Routine::holds($machine->board, $range, [])) {
                continue;
            }
            $wide = $machine->board->bus->dataWidth === 16;
            $at = $range->from + 0x2E;
            $read = $machine->exercise([[$at, $wide ? 0x5AA5 : 0x5A], [$at, null], [$at, $wide ? 0xA55A : 0xA5], [$at, null]]);
            self::assertSame($wide ? [null, 0x5AA5, null, 0xA55A] : [null, 0x5A, null, 0xA5], $read, "{$slug} {$range->name}");
        }
    }

    #[DataProvider('boards')]
    public function test_the_same_board_answers_the_same_each_time(string $slug): void
    {
        $seen = static fn (): array => array_map(static fn ($net): string => self::machine($slug)->probe($net->pins[0], Situation::Reset)->value, array_slice(Boards::shipped($slug)->netlist->nets, 0, 12));

        self::assertSame($seen(), $seen());
    }

    /** Source: 6502 instruction timing; two clocks an address, so A0 is the clock / 4 and each line above it half of that. */
    public function test_a_6502_that_does_nothing_halves_its_clock_from_address_line_to_address_line(): void
    {
        $machine = self::machine('larkspur-64');
        $expected = 1000000.0 / 4.0;
        foreach ([9, 10, 11, 12] as $pin) {
            self::assertEqualsWithDelta($expected, $machine->frequency("U1.{$pin}", Situation::FreeRun), $expected * 0.02);
            $expected /= 2.0;
        }
    }

    /** Common practice: what an input pulls low while its driver moves it stands between the levels, a clock as any other line. */
    public function test_a_clock_line_that_an_input_pulls_stands_between_the_levels(): void
    {
        $machine = self::machine('larkspur-64', new InjectedFault(FaultKind::HoldsLow, 'U35.1'));

        foreach ([Situation::Running, Situation::FreeRun] as $situation) {
            self::assertSame([ProbeState::Between, ProbeState::Between, ProbeState::Pulsing], array_map(static fn (string $pin): ProbeState => $machine->probe($pin, $situation), ['U20.12', 'U18.1', 'U20.13']));
        }
        self::assertSame('U35.1', $machine->pullsAt('CLK2'));
        self::assertSame(ProbeState::Low, self::machine('larkspur-64', new InjectedFault(FaultKind::OutputLow, 'U20.12'))->probe('U35.1', Situation::Running), 'Nothing drives against an output that is stuck itself.');
    }

    /** Source: Z80 instruction timing; four clocks a fetch, with a refresh address in the second half of it. */
    public function test_a_z80_puts_refresh_addresses_between_its_fetches(): void
    {
        $machine = self::machine('tamarisk-two');

        self::assertEqualsWithDelta(2500000.0 / 4.0, $machine->frequency('U1.28', Situation::FreeRun), 20000.0, '/RFSH comes once a fetch.');
        self::assertEqualsWithDelta(2500000.0 / 2.0, $machine->frequency('U1.19', Situation::FreeRun), 40000.0, '/MREQ comes twice a fetch.');
    }

    /** Source: ITU-R BT.1700; home machines count whole lines. */
    public function test_line_and_field_rates_follow_from_the_crystal(): void
    {
        self::assertEqualsWithDelta(15625.0, self::machine('larkspur-64')->frequency('U24.39', Situation::Running), 1600.0);
        $video = Boards::shipped('larkspur-64')->video;
        self::assertNotNull($video);
        self::assertEqualsWithDelta(50.08, $video->fieldHz(), 0.01);
    }

    public function test_clocks_are_divided_as_the_netlist_says(): void
    {
        $machine = self::machine('larkspur-64');
        foreach (['U28.8' => 16e6, 'U20.14' => 8e6, 'U20.13' => 4e6, 'U20.12' => 2e6, 'U20.11' => 1e6] as $pin => $hz) {
            self::assertEqualsWithDelta($hz, $machine->frequency($pin, Situation::Reset), $hz * 1e-6);
        }
    }

    public function test_a_stuck_line_of_a_shared_bus_shows_at_every_pin_of_it(): void
    {
        $machine = self::machine('larkspur-64', new InjectedFault(FaultKind::OutputLow, 'U13.14'));
        $net = $machine->board->netlist->netOf('U13.14');
        self::assertNotNull($net);
        foreach ($net->pins as $pin) {
            self::assertContains($machine->probe($pin, Situation::Running), [ProbeState::Low, ProbeState::Between], $pin);
        }
    }

    public function test_behind_a_broken_trace_the_pins_hang_in_the_air(): void
    {
        $healthy = self::machine('larkspur-64');
        $net = $healthy->board->netlist->nets['MA3'];
        $sick = self::machine('larkspur-64', new InjectedFault(FaultKind::OpenTrace, 'MA3', $net->pins[4]));
        foreach ($net->pins as $place => $pin) {
            self::assertSame(ProbeState::Pulsing, $healthy->probe($pin, Situation::FreeRun));
            self::assertSame($place < 4 ? ProbeState::Pulsing : ProbeState::Silent, $sick->probe($pin, Situation::FreeRun), $pin);
            self::assertSame($place < 4, $sick->continuity($net->pins[0], $pin), $pin);
        }
    }

    /**
     * @return iterable<string, array{InjectedFault, int}>
     */
    public static function memoryFaults(): iterable
    {
        yield 'reads zeros' => [new InjectedFault(FaultKind::ReadsLow, 'U14'), 0x20];
        yield 'reads ones' => [new InjectedFault(FaultKind::ReadsHigh, 'U9'), 0x01];
        yield 'dead' => [new InjectedFault(FaultKind::Dead, 'U16'), 0x80];
        yield 'output low' => [new InjectedFault(FaultKind::OutputLow, 'U12.14'), 0x08];
    }

    #[DataProvider('memoryFaults')]
    public function test_a_bad_memory_chip_fails_its_bit_and_no_other(InjectedFault $fault, int $bit): void
    {
        $machine = self::machine('larkspur-64', $fault);
        $read = $machine->exercise([[0x1234, 0x00], [0x1234, null], [0x1234, 0xFF], [0x1234, null]]);

        self::assertSame($bit, ($read[1] ?? 0) | (0xFF ^ ($read[3] ?? 0)));
    }

    public function test_a_lost_address_line_makes_two_addresses_one(): void
    {
        $machine = self::machine('larkspur-64', new InjectedFault(FaultKind::OpenTrace, 'VA2', Boards::shipped('larkspur-64')->netlist->nets['VA2']->pins[1]));

        self::assertSame([null, null, 0xAA, 0xAA], $machine->exercise([[0x1000, 0x55], [0x1004, 0xAA], [0x1000, null], [0x1004, null]]));
    }

    public function test_a_link_moves_the_banks(): void
    {
        $board = Boards::shipped('tamarisk-two');
        $sick = [new InjectedFault(FaultKind::ReadsHigh, 'U23')];
        $usual = new Machine($board, $sick, 1, new LogicShelf);
        $swapped = new Machine($board, $sick, 1, new LogicShelf, ['LK1' => 'swapped']);
        $at = static fn (Machine $machine, int $address): ?int => $machine->exercise([[$address, 0x00], [$address, null]])[1];

        self::assertSame([0x04, 0x00], [$at($usual, 0x4040), $at($usual, 0x8040)]);
        self::assertSame([0x00, 0x04], [$at($swapped, 0x4040), $at($swapped, 0x8040)]);
    }

    public function test_without_a_clock_nothing_moves(): void
    {
        $machine = self::machine('halyard-16', new InjectedFault(FaultKind::Dead, 'U78'));

        self::assertFalse($machine->starts());
        self::assertNotSame(ProbeState::Pulsing, $machine->probe('U58.14', Situation::Running));
    }

    public function test_what_comes_and_goes_shows_in_some_power_ons(): void
    {
        $fault = new InjectedFault(FaultKind::ReadsLow, 'U11', '', 0.5);
        $started = array_map(static fn (int $seed): bool => (new Machine(Boards::shipped('larkspur-64'), [$fault], $seed))->starts(), range(1, 16));

        self::assertContains(true, $started);
        self::assertContains(false, $started);
    }

    /**
     * Source: ISCAS-85 benchmark circuits (Brglez and Fujiwara 1985): c17 has six NAND gates, 34 single stuck-at faults,
     * 22 after equivalence collapsing, and every one of them can be detected.
     */
    public function test_c17_has_34_faults_in_22_classes_all_of_them_detectable(): void
    {
        $nets = ['N1' => 'X1.1 U1.1', 'N3' => 'X1.3 U1.2 U1.4', 'N6' => 'X1.4 U1.5', 'N2' => 'X1.2 U1.9', 'N7' => 'X1.5 U1.13', 'N10' => 'U1.3 U2.1', 'N11' => 'U1.6 U1.10 U1.12', 'N16' => 'U1.8 U2.2 U2.4', 'N19' => 'U1.11 U2.5', 'N22' => 'U2.3 X1.6', 'N23' => 'U2.6 X1.7'];
        $board = Boards::build(Boards::plain([
            'chips' => [['ref' => 'U1', 'part' => '74LS00'], ['ref' => 'U2', 'part' => '74LS00'], ['ref' => 'X1', 'part' => 'HEADER20']], 'banks' => [],
            'map' => [['from' => '0x0000', 'to' => '0xFFFF', 'kind' => 'open']],
            'nets' => array_map(static fn (string $name, string $pins): array => ['name' => $name, 'kind' => 'other', 'pins' => $pins], array_keys($nets), $nets),
        ]));
        $inputs = ['N1', 'N2', 'N3', 'N6', 'N7'];
        $faults = ['' => []];
        foreach ([FaultKind::OutputLow, FaultKind::OutputHigh] as $kind) {
            foreach (['U1.3', 'U1.6', 'U1.8', 'U1.11', 'U2.3', 'U2.6'] as $pin) {
                $faults["{$kind->value} {$pin}"] = [new InjectedFault($kind, $pin)];
            }
        }
        foreach ([FaultKind::InputLow, FaultKind::InputHigh] as $kind) {
            foreach (['U1.2', 'U1.4', 'U1.10', 'U1.12', 'U2.2', 'U2.4'] as $pin) {
                $faults["{$kind->value} {$pin}"] = [new InjectedFault($kind, $pin)];
            }
        }
        foreach ($inputs as $input) {
            $faults["{$input} low"] = [];
            $faults["{$input} high"] = [];
        }
        self::assertCount(34, array_filter(array_keys($faults)));
        $answers = [];
        foreach ($faults as $name => $injected) {
            $circuit = new Circuit($board, $injected, [], [], new LogicShelf);
            $answer = '';
            for ($vector = 0; $vector < 32; $vector++) {
                foreach ($inputs as $bit => $input) {
                    $circuit->hold($input, str_starts_with((string) $name, "{$input} ") ? (str_ends_with((string) $name, 'high') ? 1 : 0) : $vector >> $bit & 1);
                }
                $circuit->settle();
                $answer .= $circuit->level($circuit->nodeOf('U2.3')).$circuit->level($circuit->nodeOf('U2.6'));
            }
            $answers[$name] = $answer;
        }
        $good = $answers[''];
        unset($answers['']);

        self::assertNotContains($good, $answers, 'All are detectable.');
        self::assertCount(22, array_unique($answers));
    }

    public function test_a_reset_line_that_something_holds_stays_held_when_the_button_is_let_go(): void
    {
        $machine = self::machine('larkspur-64', new InjectedFault(FaultKind::HoldsLow, 'U37.3'));

        self::assertSame(ProbeState::Low, $machine->probe('U1.40', Situation::Reset));
        self::assertNotSame(ProbeState::High, $machine->probe('U1.40', Situation::FreeRun));
        self::assertSame(ProbeState::High, self::machine('larkspur-64')->probe('U1.40', Situation::FreeRun));
        self::assertFalse($machine->starts());
    }
}
