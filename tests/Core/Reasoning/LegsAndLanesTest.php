<?php

declare(strict_types=1);

namespace Tests\Core\Reasoning;

use PHPUnit\Framework\TestCase;
use Tests\Support\Bench;
use Tests\Support\Boards;
use Tests\Support\SickBench;
use ZapTrace\Bench\Apprentice;
use ZapTrace\Bench\FaultKind;
use ZapTrace\Bench\InjectedFault;
use ZapTrace\Board\Settings;
use ZapTrace\Reasoning\BoardFaults;
use ZapTrace\Reasoning\Evidence;
use ZapTrace\Reasoning\MachineState;
use ZapTrace\Reasoning\Step;
use ZapTrace\Signals\SignalEvidence;
use ZapTrace\Signals\Situation;

/**
 * A leg of the processor that does not touch, on a line that others drive as well; an output of a multiplexer, which
 * carries a row bit and a column bit; a strobe of one byte. Each found on the simulated bench, where good parts came out.
 */
final class LegsAndLanesTest extends TestCase
{
    /** The data line of a processor whose leg does not touch. */
    private static function lifted(string ...$others): Bench
    {
        $bench = Bench::with('tamarisk-two')->note('sign blank', 'count nothing')->read(SickBench::swept(SickBench::with('tamarisk-two', new InjectedFault(FaultKind::BadContact, 'U1.10')), '0'));
        foreach (['U1.10' => 'silent'] + array_fill_keys($others, 'pulsing') as $pin => $state) {
            $bench = $bench->record('probe', ['pin' => $pin, 'situation' => 'free-run', 'state' => $state, 'expected' => 'pulsing']);
        }

        return $bench;
    }

    public function test_a_bus_line_that_is_silent_at_one_leg_and_moves_at_the_others_is_open_there(): void
    {
        $bench = self::lifted('U2.18', 'U4.28');

        self::assertSame('D6', $bench->leading());
        $open = array_filter($bench->assess()->conclusion->posterior->faults, static fn (string $fault): bool => str_starts_with($fault, 'D6/open'), ARRAY_FILTER_USE_KEY);
        self::assertGreaterThan(0.8, array_sum($open), 'It comes last along its line: any break between it and the others will do.');
        self::assertContains('continuity D6', array_slice($bench->proposed(), 0, 4));
        self::assertNotContains('fix D6', array_slice($bench->proposed(), 0, 4), 'Nothing holds it.');
    }

    public function test_a_leg_in_a_socket_is_seated_again_before_a_wire_is_soldered(): void
    {
        $open = self::lifted('U2.18')->record('continuity', ['from' => 'U1.10', 'to' => 'U37.2', 'result' => 'open']);
        $first = $open->steps()[0];
        self::assertSame(['reseat', 'U1'], [$first->action, $first->site]);
        self::assertStringContainsString('U1.10', $first->sentence);
        self::assertCount(1, array_filter($open->proposed(), static fn (string $key): bool => $key === 'reseat U1'));

        $cured = $open->note('reseat u1 cured');
        self::assertGreaterThan(0.8, $cured->cured('D6'));
        self::assertGreaterThan(0.8, $cured->nothingLeft());

        // It did not help: the line is measured once more, since the leg may touch now and something else be wrong as well.
        $still = $open->note('reseat u1 as before');
        self::assertContains('continuity D6', array_slice($still->proposed(), 0, 3));
        self::assertNotContains('wire D6', $still->proposed());

        // Open as before: the wire, and no second time.
        $broken = $still->record('continuity', ['from' => 'U1.10', 'to' => 'U37.2', 'result' => 'open']);
        self::assertContains('wire D6', $broken->proposed());
        self::assertNotContains('reseat U1', $broken->proposed());
        $touches = $still->record('continuity', ['from' => 'U1.10', 'to' => 'U37.2', 'result' => 'closed']);
        self::assertNotContains('wire D6', $touches->proposed());
    }

    public function test_what_drives_a_line_may_not_touch_it(): void
    {
        $sick = SickBench::with('larkspur-64', new InjectedFault(FaultKind::BadContact, 'U1.11'));
        $bench = Bench::with('larkspur-64')->note('sign blank', 'count nothing')->record('bus-capture', $sick->bus())->record('continuity', ['from' => 'U1.11', 'to' => 'U2.8', 'result' => 'open']);

        self::assertSame('A2', $bench->leading());
        $faults = $bench->assess()->conclusion->posterior->faults;
        self::assertGreaterThan(0.2, $faults['A2/open at U1.11'] ?? 0.0);
        self::assertEqualsWithDelta($faults['A2/open before J3.3'] ?? 0.0, $faults['A2/open at U1.11'] ?? 0.0, 0.05, 'So far nothing tells one from the other.');
    }

    public function test_an_output_of_a_multiplexer_loses_both_bits_that_it_carries(): void
    {
        $sick = SickBench::with('halyard-16', new InjectedFault(FaultKind::OutputLow, 'U85.12'));
        $walk = (new Apprentice($sick))->walked('U85', Situation::Running)['payload'];
        $bench = Bench::with('halyard-16')->note('sign blank')->read(SickBench::swept($sick, 'riser'))->record('pin-walk', $walk);

        self::assertSame('U85', $bench->leading());
        self::assertGreaterThan(0.8, $bench->share('U85'));
        self::assertLessThan(0.2, $bench->share('XA7'));
        foreach ($bench->assess()->conclusion->suspected as $fault) {
            if ($fault->id === 'U85/output stuck/U85.12') {
                self::assertSame([8, 17], $fault->addressLines);
            }
        }
        self::assertArrayHasKey('U85/output stuck/U85.12', $bench->assess()->conclusion->posterior->faults);
    }

    public function test_a_byte_that_is_lost_in_all_banks_may_be_its_strobe(): void
    {
        $sick = SickBench::with('halyard-16', new InjectedFault(FaultKind::BadContact, 'U1.7'));
        $bench = Bench::with('halyard-16')->note('+5 vr1 5.0', 'sign blank')
            ->record('diagnostic-run', ['diagnostic' => 'start-up', 'result' => 'U48 U49 U50 U51 U52 U53 U54 U55'])
            ->read(SickBench::swept($sick, 'riser'))->record('bus-capture', $sick->bus());

        self::assertGreaterThan(0.01, $bench->share('/UDS'), 'Before anybody has touched it.');
        $before = array_slice($bench->proposed(), 0, (int) array_search('replace U66', [...$bench->proposed(), 'replace U66'], true));
        $touched = array_values(array_filter($before, static fn (string $key): bool => in_array($key, ['probe U1.7', 'probe U60.1', 'probe U87.5'], true)));
        self::assertNotSame([], $touched, 'A touch of a minute comes before the iron: '.implode(', ', $bench->proposed()));

        $silent = $bench->record('probe', ['pin' => 'U87.5', 'situation' => 'running', 'state' => 'silent', 'expected' => 'pulsing']);
        self::assertSame('/UDS', $silent->leading());
        self::assertLessThan(0.3, $silent->share('U66'));
    }

    public function test_a_break_before_a_programmed_part_shows_where_its_outputs_lead(): void
    {
        $sick = SickBench::with('tamarisk-two', new InjectedFault(FaultKind::OpenTrace, '/RAM1', 'U8.13'));
        $bench = Bench::with('tamarisk-two')->note('sign clean-banner')->read(SickBench::swept($sick, '1'));
        $faults = array_column($bench->assess()->conclusion->suspected, null, 'id');

        // A whole bank is wrong: what leads to what serves it is suspected before it was touched.
        self::assertArrayHasKey('/RAM1/open before U8.13', $faults);
        // That input of U8 lets the data buffer of the banks, not what selects the picture memory by other outputs.
        self::assertSame(['0', '1'], array_map(strval(...), $faults['/RAM1/open before U8.13']->banks ?? []));
        self::assertGreaterThan(0.3, $faults['/RAM1/open before U8.13']->mode->shows['high'] ?? 0.0);

        $apprentice = new Apprentice($sick);
        $walked = $bench->record('pin-walk', $apprentice->walked('U8', Situation::FreeRun)['payload']);
        self::assertSame([['pin' => 'U8.13', 'state' => 'silent', 'expected' => 'pulsing']], $apprentice->walked('U8', Situation::FreeRun)['payload']['wrong']);
        $gives = $walked->record('probe', ['pin' => 'U10.6', 'situation' => 'free-run', 'state' => 'pulsing', 'expected' => 'pulsing']);
        self::assertSame('/RAM1', $gives->leading());
        self::assertGreaterThan(0.8, $gives->share('/RAM1'));
    }

    public function test_few_bits_of_a_bank_bring_in_no_lines_that_lead_to_it(): void
    {
        $bench = Bench::with('tamarisk-two')->note('sign clean-banner')->read("8100 FF FD\n8200 FF FD");

        self::assertSame([], array_filter(array_column($bench->assess()->conclusion->suspected, 'id'), static fn (string $id): bool => str_starts_with($id, '/RAM1/')));
    }

    public function test_a_part_whose_outputs_do_what_its_wrong_inputs_ask_is_hardly_suspected(): void
    {
        // The reset is held: nothing runs, and the decoder gives what a decoder gives that nobody asks.
        $held = new InjectedFault(FaultKind::OutputHigh, 'U9.2');
        $cleared = static function (InjectedFault ...$faults): float {
            $walk = (new Apprentice(SickBench::with('tamarisk-two', ...$faults)))->walked('U7', Situation::FreeRun)['payload'];
            self::assertContains('U7.4', array_column($walk['wrong'], 'pin'));
            foreach (Bench::with('tamarisk-two')->note('sign blank')->record('pin-walk', $walk)->assess()->conclusion->evidence as $seen) {
                if (! $seen->abnormal && $seen->walked() === 'U7') {
                    return $seen->strengths['U7'] ?? 0.0;
                }
            }
            self::fail('It was touched.');
        };

        self::assertGreaterThan(0.6, $cleared($held));
        self::assertLessThan(0.8, $cleared($held), 'One that is stuck may stand so by chance.');
        self::assertSame(0.0, $cleared($held, new InjectedFault(FaultKind::OutputLow, 'U7.14')), 'It contradicts what comes in.');
        self::assertSame(0.0, $cleared($held, new InjectedFault(FaultKind::Dead, 'U7')));
    }

    public function test_a_trace_that_serves_all_bits_is_weighed_once_and_not_once_for_each_bit(): void
    {
        // Between two address lines that touch no pin stands out, and all sixteen bits are right but for some addresses.
        $sick = SickBench::with('halyard-16', new InjectedFault(FaultKind::Short, 'XA5', 'XA1'));
        $apprentice = new Apprentice($sick);
        $bench = Bench::with('halyard-16')->note('sign blank')->read(SickBench::swept($sick, 'riser'))
            ->record('pin-walk', $apprentice->walked('U84', Situation::FreeRun)['payload']);
        $drop = $apprentice->dropped('XA1');
        self::assertSame(['line-drop', ''], [$drop['kind'], $drop['payload']['pin']]);
        $measured = $bench->record('line-drop', $drop['payload']);

        self::assertSame('XA1', $measured->leading());
        self::assertLessThan(0.2, $measured->share('U84'));
        self::assertNotContains('replace U84', array_slice($measured->proposed(), 0, 3));
    }

    public function test_gates_that_hold_each_other_are_followed_once(): void
    {
        // Their clock comes from two inverters of one part that feed each other.
        foreach (['larkspur-64', 'halyard-16', 'tamarisk-two'] as $slug) {
            $board = Boards::shipped($slug);
            $faults = BoardFaults::of($board, Boards::modes());
            foreach ($board->netlist->nets as $net) {
                foreach ($net->isPower() ? [] : array_slice($net->pins, 1) as $pin) {
                    $seen = new Evidence('open', Evidence::PROBE, true, 0.01, 0.05, [], [], [], 1.0, new MachineState(Settings::of($board, [])), '', strengths: [SignalEvidence::open($net->name, $pin) => 0.9]);
                    self::assertContains(SignalEvidence::open($net->name, $pin), array_column($faults->traces([$seen]), 'id'));
                }
            }
        }
    }

    public function test_a_line_that_is_right_at_one_pin_and_wrong_at_another_is_measured_between_them(): void
    {
        // RFSH moves at U16.2, where it comes from, and floats at U10.1; what it selects goes by a link to the strobes.
        [$bench] = self::refreshCut();
        $step = array_values(array_filter($bench->steps(), static fn (Step $step): bool => $step->key() === 'continuity RFSH'))[0] ?? null;

        self::assertSame('RFSH', $bench->leading(), 'What goes by a link to the strobes is lost with it.');
        self::assertStringContainsString('is U16.2 connected to U7.5?', $step->sentence ?? '', 'It is broken, and halved.');
        self::assertSame('continuity RFSH', $bench->proposed()[0]);
        self::assertContains('wire RFSH', $bench->note('closed u16.2 u7.5', 'open u16.2 u10.1')->proposed());
    }

    /**
     * @return array{Bench, Apprentice}
     */
    private static function refreshCut(): array
    {
        $sick = SickBench::with('tamarisk-two', new InjectedFault(FaultKind::OpenTrace, 'RFSH', 'U10.1'));
        $apprentice = new Apprentice($sick);
        $bench = Bench::with('tamarisk-two')->note('sign blank', 'count 1')->read('4100 00 FF')->read('3D00 00 00')->read(SickBench::swept($sick, '1'))
            ->record('pin-walk', $apprentice->walked('U11', Situation::Running)['payload'])->note('closed u11.5 rp1.2', 'closed u11.10 rp1.3')
            ->read(SickBench::swept($sick, 'screen'))->record('pin-walk', $apprentice->walked('U14', Situation::Running)['payload']);
        foreach (['U8.13', 'U10.2', 'U10.1', 'U16.2'] as $pin) {
            $bench = $bench->record('probe', $apprentice->probed($pin, Situation::Running)['payload']);
        }

        return [$bench->note('closed u10.6 u8.13'), $apprentice];
    }

    public function test_what_two_outputs_fought_over_they_fight_over_still_when_something_else_was_exchanged(): void
    {
        $sick = SickBench::with('halyard-16', new InjectedFault(FaultKind::ReadsHigh, 'U41'), new InjectedFault(FaultKind::OutputLow, 'U82.1'));
        $bench = Bench::with('halyard-16')->note('sign blank')->read(SickBench::swept($sick, 'main'))->record('pin-walk', (new Apprentice($sick))->walked('U66', Situation::Running)['payload']);
        $after = $bench->record('intervention', ['action' => 'replace', 'site' => 'U41', 'result' => 'as-before'])->record('pins-measured', ['chip' => 'U41', 'open' => []]);

        self::assertContains('drop MD8', $bench->proposed());
        self::assertContains('drop MD8', $after->proposed(), 'U41 is not on that line.');
        self::assertNotContains('drop MD8', $after->record('intervention', ['action' => 'replace', 'site' => 'U48', 'result' => 'as-before'])->record('pins-measured', ['chip' => 'U48', 'open' => []])->proposed(), 'U48 is.');
    }

    public function test_after_a_repair_that_did_not_help_something_is_measured_before_the_next_part_comes_out(): void
    {
        $bench = self::refreshCut()[0]->note('open u16.2 u10.1')->record('intervention', ['action' => 'wire', 'site' => 'RFSH', 'result' => 'as-before']);

        self::assertNotSame('heat', $bench->steps()[0]->risk, implode(', ', $bench->proposed()));
    }
}
