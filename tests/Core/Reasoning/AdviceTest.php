<?php

declare(strict_types=1);

namespace Tests\Core\Reasoning;

use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;
use Tests\Support\Bench;
use Tests\Support\Boards;
use Tests\Support\SickBench;
use ZapTrace\Bench\Apprentice;
use ZapTrace\Bench\FaultKind;
use ZapTrace\Bench\InjectedFault;
use ZapTrace\Reasoning\Equipment;
use ZapTrace\Reasoning\Evidence;
use ZapTrace\Reasoning\Fault;
use ZapTrace\Reasoning\MachineState;
use ZapTrace\Reasoning\School;
use ZapTrace\Reasoning\Step;
use ZapTrace\Reasoning\Workbench;
use ZapTrace\Signals\Situation;

/**
 * What comes next, where a technician would shake his head at anything else.
 */
final class AdviceTest extends TestCase
{
    private static function halved(): Bench
    {
        return Bench::with('tamarisk-two')->note('sign blank', 'count 10', 'count 10')->read("8100 00 00\n8101 FF FD\n9000 00 00\n9001 FF FD")
            ->record('setting', ['ref' => 'LK1', 'position' => '16K', 'since' => 'now', 'result' => 'cured']);
    }

    public function test_a_link_that_was_moved_for_a_test_goes_back_once_it_has_told(): void
    {
        $bench = self::halved();
        $first = $bench->steps()[0];

        self::assertSame(['LK1' => '32K'], $bench->assess()->conclusion->moved());
        self::assertSame('set LK1', trim($first->key()));
        self::assertStringContainsString('back to 32K', $first->sentence);
        self::assertSame('32K', $first->outcomes[0]['observation']['payload']['position'] ?? null);
    }

    public function test_back_where_it_came_it_is_no_longer_moved_and_the_bad_half_is_known(): void
    {
        $bench = self::halved()->record('setting', ['ref' => 'LK1', 'position' => '32K', 'since' => 'now', 'result' => 'as-before']);

        self::assertSame([], $bench->assess()->conclusion->moved());
        self::assertFalse($bench->assess()->conclusion->isQuiet());
        self::assertSame('U32', $bench->leading());
    }

    public function test_nothing_is_proved_while_a_link_keeps_a_bank_out(): void
    {
        $bench = Bench::with('tamarisk-two')->note('sign blank', 'count 2', 'count 2')->read("4100 00 00\n4101 FF FD\n5000 FF FD")
            ->record('setting', ['ref' => 'LK1', 'position' => '16K', 'since' => 'now', 'result' => 'as-before'])
            ->note('exchange u22 cured');

        self::assertSame('set LK1', $bench->proposed()[0]);
    }

    public function test_when_the_complaint_is_gone_and_no_test_pays_the_proof_comes_and_no_neighbour_is_exchanged(): void
    {
        $bench = Bench::with('tamarisk-two')->note('sign clean-banner', 'count 2', 'count 2')->read('4100 00 02')
            ->record('chip-test', ['site' => 'U22', 'result' => 'fail', 'method' => 'chip tester'])->note('exchange u22 cured');

        self::assertTrue($bench->assess()->conclusion->isQuiet());
        self::assertSame('prove', $bench->proposed()[0]);
    }

    public function test_where_only_the_bank_is_known_all_of_it_is_read_and_not_chip_by_chip_exchanged(): void
    {
        $bench = Bench::with('tamarisk-two')->note('sign clean-banner', 'count pass', 'count pass')->record('diagnostic-run', ['diagnostic' => 'step-program', 'result' => '0200']);
        $proposed = $bench->proposed();
        $sweep = array_search('read bank 0', $proposed, true);

        self::assertIsInt($sweep);
        foreach ($proposed as $place => $step) {
            self::assertTrue(! str_starts_with($step, 'exchange') || $place > $sweep, "{$step} comes before the bank is read.");
        }
        $step = $bench->steps()[$sweep];
        self::assertGreaterThan(1.5, $step->bits, 'It tells eight chips apart.');
        self::assertContains('all of it is right', array_column($step->outcomes, 'words'));
    }

    public function test_a_bank_that_was_right_all_over_is_not_read_again(): void
    {
        $lines = [];
        for ($place = 0; $place < 64; $place++) {
            $lines[] = sprintf('%1$04X %2$02X %2$02X', 0x4000 + $place * 253, $place * 37 & 0xFF);
        }
        $bench = Bench::with('tamarisk-two')->note('sign clean-banner')->record('diagnostic-run', ['diagnostic' => 'step-program', 'result' => '0200']);

        self::assertContains('read bank 0', $bench->proposed());
        self::assertNotContains('read bank 0', $bench->read(implode("\n", $lines))->proposed());
        self::assertNotContains('read bank 0', $bench->read(implode("\n", $lines))->note('exchange u24 same')->proposed());
    }

    public function test_a_chip_of_another_bank_can_hold_the_line_of_the_one_that_reads_wrong(): void
    {
        $sick = Bench::with('tamarisk-two')->note('sign blank', 'count 6', 'count 6')->read("4100 FF DF\n4101 20 00\n5000 FF DF\n8000 FF DF\n8001 20 00\n9000 FF DF");
        $before = $sick->assess()->conclusion->posterior->faults;
        $after = $sick->record('chip-test', ['site' => 'U26', 'result' => 'pass', 'method' => 'chip tester'])->assess()->conclusion->posterior->faults;

        self::assertGreaterThan(0.0, $before['U36/holds its line low'] ?? 0.0);
        self::assertGreaterThan($after['U35/holds its line low'] ?? 0.0, $after['U36/holds its line low']);
        self::assertGreaterThan($after['U26/holds its line low'], $after['U36/holds its line low'], 'U26 was tested by itself.');
        self::assertArrayNotHasKey('U14/holds its line low', Bench::with('larkspur-64')->read('1000 FF DF')->assess()->conclusion->posterior->faults, 'One bank alone has no other to disturb.');
    }

    public function test_the_pads_of_a_part_that_was_replaced_are_measured_and_it_is_not_replaced_again(): void
    {
        $bench = Bench::with('larkspur-64')->note('sign blank', 'count 8', 'count 8')->read("0100 00 80\n0101 7F FF\n2000 00 80")->note('replace u16 same')->read("0100 00 80\n0101 7F FF");
        $proposed = $bench->proposed();

        self::assertGreaterThan(0.02, $bench->share('lines at U16') + $bench->share('traces at U16'));
        self::assertContains('wire U16', $proposed);
        self::assertStringContainsString('each leg of U16', implode(' ', array_map(static fn (Step $step): string => $step->sentence, $bench->steps())));
        self::assertGreaterThan($bench->note('wire u16 same')->share('traces at U16'), $bench->share('traces at U16'));
    }

    public function test_what_lies_behind_a_server_of_a_bank_shows_in_the_bank(): void
    {
        $bench = Bench::with('larkspur-64')->note('sign blank')->read("0100 00 FF\n0200 00 FF\n1000 00 FF\n3000 55 FF");
        $faults = $bench->assess()->conclusion->posterior->faults;

        // U8 gives the buffer its direction; U37 and U25 have no part in the memory.
        $sites = $bench->assess()->conclusion->posterior->sites;
        self::assertGreaterThan(3.0 * $sites['U25'], $sites['U8']);
        self::assertArrayHasKey('U4/dead or the wrong way', $faults);
        self::assertGreaterThan($faults['U4/channel stuck high/D3'] ?? 0.0, $faults['U4/dead or the wrong way'], 'All lines at once are one fault.');
    }

    public function test_a_rom_that_a_step_names_may_only_not_be_selected(): void
    {
        $named = Bench::with('tamarisk-two')->note('sign blank')->record('diagnostic-run', ['diagnostic' => 'step-program', 'result' => '0140'])->assess()->conclusion;
        $steps = array_values(array_filter($named->evidence, static fn (Evidence $seen): bool => $seen->kind === Evidence::STEP && $seen->abnormal));

        self::assertSame(['U3'], $steps[0]->sites);
        self::assertGreaterThan(0.1, $steps[0]->strengths['U8'] ?? 0.0, 'It drives the select of U3.');
        self::assertArrayNotHasKey('U3', $steps[0]->strengths);
        self::assertGreaterThan($named->posterior->sites['U8'] ?? 0.0, $named->posterior->sites['U3']);
    }

    public function test_the_same_recording_again_is_one_thing_that_was_seen(): void
    {
        $payload = ['name' => 'a', 'against' => 'b', 'cycles' => 400, 'distance' => 12, 'setup' => 'right', 'notes' => [], 'divergence' => ['cycle' => 12, 'kind' => 'nothing-selected', 'address' => 0xF000, 'expected' => 0x78, 'seen' => 0xFF, 'bits' => [0, 1, 2, 7], 'words' => 'All ones are read at F000, where 78 belongs: nothing is selected there.', 'writes' => false, 'behind' => false]];
        $once = Bench::with('larkspur-64')->note('sign blank')->record('bus-capture', $payload);
        $twice = $once->note('reseat u2 same')->record('bus-capture', $payload);
        $seen = array_values(array_filter($twice->assess()->conclusion->evidence, static fn (Evidence $seen): bool => $seen->kind === Evidence::BUS && $seen->abnormal));

        self::assertCount(1, $seen);
        self::assertSame('reseat', $seen[0]->state->contacts['U2'] ?? '', 'The newest, of the machine as it stands.');
        self::assertCount(1, array_filter($once->assess()->conclusion->evidence, static fn (Evidence $seen): bool => $seen->kind === Evidence::BUS));
    }

    public function test_a_part_tells_whether_its_place_was_wired(): void
    {
        $state = (new MachineState(Bench::with('larkspur-64')->assess()->conclusion->now->settings))->after('replace', 'U16')->after('wire', 'U16');

        self::assertSame('wire', $state->mended['U16']);
        self::assertArrayNotHasKey('U16', $state->after('replace', 'U16')->mended, 'Unsoldered again, it may be open again.');
        self::assertNotSame([], Boards::modes()->of('chip-traces'));
    }

    public function test_no_function_is_tested_while_the_screen_stays_blank(): void
    {
        $functions = static fn (Bench $bench): array => array_filter($bench->proposed(), static fn (string $step): bool => str_starts_with($step, 'function '));
        $blank = Bench::with('larkspur-64')->note('sign blank');

        self::assertNotSame([], $functions(Bench::with('larkspur-64')->note('sign clean-banner')));
        self::assertSame([], $functions($blank));
        self::assertNotSame([], $functions($blank->note('exchange u1 cured')), 'It came up.');
    }

    public function test_bits_that_are_right_clear_what_serves_them_together_once(): void
    {
        $once = Bench::with('larkspur-64')->note('sign blank')->read('0100 00 00');
        $faults = $once->assess()->conclusion->posterior->faults;
        $single = array_values(array_filter($once->assess()->conclusion->evidence, static fn (Evidence $seen): bool => $seen->kind === 'high'));
        self::assertSame([8], array_values(array_unique(array_map(static fn (Evidence $seen): int => count($seen->alike), $single))));
        self::assertGreaterThan(1e-5, $faults['U29/dead'] ?? 0.0, 'One right reading is one thing that was seen.');

        $beside = Bench::with('larkspur-64')->note('sign blank')->read('0100 00 20');
        $shared = array_count_values(array_map(static fn (Evidence $seen): int => count($seen->alike), array_values(array_filter($beside->assess()->conclusion->evidence, static fn (Evidence $seen): bool => $seen->kind === 'high'))));
        self::assertSame([7 => 7, 1 => 1], array_intersect_key($shared, [7 => 0, 1 => 0]));
        self::assertSame('U14', $beside->leading());
    }

    /** All that it should do works but that a programme fills its memory. */
    private static function fillsNoMemory(string ...$notes): Bench
    {
        $bench = Bench::with('larkspur-64')->note('+5 u37 5.0', ...$notes)->note('count pass');
        foreach (['picture' => 'works', 'keys' => 'works', 'printer' => 'works', 'memory' => 'fails'] as $function => $result) {
            $bench = $bench->record('function-test', ['function' => $function, 'result' => $result]);
        }

        return $bench;
    }

    public function test_another_bank_is_read_before_a_memory_chip_that_a_test_has_named_is_unsoldered(): void
    {
        // A chip of the riser pulls the line: the test of the board's own memory names the chip there.
        $bench = Bench::with('halyard-16')->note('+5 u96 5.0', 'sign blank', 'run start-up u54', 'run start-colour green');
        self::assertSame('U54', $bench->leading());
        $proposed = $bench->proposed();
        self::assertLessThan(array_search('replace U54', $proposed, true), array_search('read bank riser', $proposed, true), implode(', ', $proposed));

        $sick = SickBench::with('halyard-16', new InjectedFault(FaultKind::OutputLow, 'U83.18'));
        self::assertLessThan(0.5 * $bench->share('U54'), $bench->read(SickBench::swept($sick, 'riser'))->share('U54'));
    }

    /**
     * @return iterable<string, array{Bench}>
     */
    public static function sick(): iterable
    {
        yield 'nothing but a sign' => [Bench::with('larkspur-64')->note('sign blank')];
        yield 'a bit that is named' => [Bench::with('larkspur-64')->note('sign blank', 'count 6', 'count 6')];
        yield 'a picture that is half wrong' => [self::halfWrong()];
        yield 'a select' => [Bench::with('tamarisk-two')->note('+5 u51 5.0', 'sign blank', 'run plug-in 9', 'reseat u31 same', 'run plug-in 9')];
        yield 'two kinds of result' => [Bench::with('halyard-16')->note('+5 u96 5.0', 'sign blank', 'run start-up u54', 'run start-colour green')];
    }

    private static function halfWrong(): Bench
    {
        return Bench::with('tamarisk-two')->note('+5 u51 5.0', 'sign blank', 'run plug-in pass', 'sign half-wrong')
            ->read(SickBench::swept(SickBench::with('tamarisk-two'), 'screen'))
            ->record('function-test', ['function' => 'picture', 'result' => 'fails']);
    }

    /** One may always go on as if it had not been made (value of information: Howard, IEEE Transactions on Systems Science and Cybernetics 2, 1966). */
    #[DataProvider('sick')]
    public function test_what_a_test_shows_costs_no_more_than_the_test(Bench $bench): void
    {
        $steps = array_filter($bench->steps(), static fn (Step $step): bool => $step->outcomes !== [] && $step->price > 0.0);

        self::assertGreaterThan(5, count($steps));
        foreach ($steps as $step) {
            self::assertGreaterThanOrEqual(-$step->price - 1e-6, $step->saves, $step->key());
        }
    }

    public function test_what_would_all_but_surely_say_what_is_thought_anyway_does_not_come_first(): void
    {
        $bench = self::halfWrong()->record('rom-reading', ['chip' => 'U20', 'where' => 'reader', 'reads' => [], 'result' => 'match']);
        $steps = $bench->steps();
        $legs = array_values(array_filter($steps, static fn (Step $step): bool => preg_match('/^continuity U4[34]\.\d+$/', $step->key()) === 1));
        $walks = array_keys(array_filter($steps, static fn (Step $step): bool => $step->action === 'walk'));

        self::assertNotSame([], $legs);
        self::assertGreaterThan(0.97, max(array_column($legs[0]->outcomes, 'chance')));
        self::assertNotSame([], $walks);
        self::assertLessThan(array_search($legs[0], $steps, true), $walks[0], implode(', ', $bench->proposed()));
    }

    public function test_touching_all_pins_of_a_part_tells_no_less_than_touching_one_of_them(): void
    {
        // It latches the strobe of the columns, and what it goes by is right.
        $sick = SickBench::with('tamarisk-two', new InjectedFault(FaultKind::OutputHigh, 'U15.9'));
        $bench = Bench::with('tamarisk-two')->note('+5 u51 5.0', 'sign blank', 'count 1')->read(SickBench::swept($sick, '1'))->record('pin-walk', (new Apprentice($sick))->walked('U11', Situation::Running)['payload']);
        $steps = $bench->steps();
        $walk = array_values(array_filter($steps, static fn (Step $step): bool => $step->key() === 'walk U15'))[0];
        $probes = array_filter($steps, static fn (Step $step): bool => $step->action === 'probe' && str_starts_with($step->site, 'U15.'));

        self::assertGreaterThan(3, count($walk->outcomes), 'Which of them is wrong tells where it comes from.');
        self::assertNotSame([], $probes);
        foreach ($probes as $probe) {
            self::assertGreaterThan($probe->bits, $walk->bits, $probe->key());
        }
        self::assertLessThan(min(array_keys($probes)), array_search($walk, $steps, true));
    }

    public function test_what_is_as_cheap_and_clearly_saves_more_comes_before_what_is_always_asked_first(): void
    {
        // A decoder of the upper addresses is stuck; the one that goes by it is wrong at an input.
        $sick = SickBench::with('larkspur-64', new InjectedFault(FaultKind::OutputLow, 'U3.9'));
        $bench = Bench::with('larkspur-64')->note('+5 u37 5.0', 'sign blank', 'count nothing');
        foreach (['U29', 'U17'] as $chip) {
            $bench = $bench->record('pin-walk', (new Apprentice($sick))->walked($chip, Situation::FreeRun)['payload']);
        }

        self::assertSame('walk U3', $bench->proposed()[0], implode(', ', $bench->proposed()));
    }

    public function test_one_leg_that_may_be_open_is_measured_and_no_wires_are_laid_to_all(): void
    {
        $bench = Bench::with('tamarisk-two')->note('sign blank', 'run plug-in 1')->read("4100 00 80\n42A5 00 80\n4100 FF FF\n8100 00 00")
            ->note('run plug-in 1', 'exchange u28 same', 'run plug-in 1', 'exchange u21 same', 'run plug-in 1');
        self::assertSame('U21.14', $bench->leading());
        self::assertGreaterThan(0.5, $bench->share('U21.14'));
        $steps = $bench->proposed();
        self::assertContains('wire U21', $steps);
        self::assertLessThan(array_search('wire U21', $steps, true), array_search('continuity U21.14', $steps, true), implode(', ', $steps));
    }

    public function test_a_link_that_keeps_the_fault_out_of_play_goes_back_before_pins_are_touched(): void
    {
        $sick = Bench::with('tamarisk-two')->note('+5 u51 5.0', 'sign blank', 'run plug-in 9', 'reseat u31 same', 'run plug-in 9');
        $out = $sick->record('setting', ['ref' => 'LK1', 'position' => '16K', 'since' => 'now', 'result' => 'cured']);
        $next = $out->steps()[0];

        self::assertSame('set LK1', $next->key());
        self::assertSame('32K', $next->outcomes[0]['observation']['payload']['position'] ?? null);
        self::assertNotSame('set LK1', $out->record('setting', ['ref' => 'LK1', 'position' => '32K', 'since' => 'now', 'result' => 'as-before'])->proposed()[0], 'It is where it was.');
    }

    public function test_a_part_in_a_socket_is_touched_before_it_is_disturbed(): void
    {
        // A flip-flop no longer strobes the memory of the riser: its decoder looks as if it had failed.
        $sick = SickBench::with('halyard-16', new InjectedFault(FaultKind::OutputLow, 'U69.6'));
        $bench = Bench::with('halyard-16')->note('+5 u96 5.0', 'sign blank', 'run start-up pass', 'run start-colour yellow')->read(SickBench::swept($sick, 'riser'));
        foreach (['U84', 'U85', 'U86'] as $multiplexer) {
            $bench = $bench->record('pin-walk', (new Apprentice($sick))->walked($multiplexer, Situation::Running)['payload']);
        }
        foreach (['U87.5', 'U87.6'] as $pin) {
            $bench = $bench->record('probe', ['pin' => $pin, 'situation' => 'running', 'state' => 'pulsing', 'expected' => 'pulsing']);
        }
        self::assertSame('U87', $bench->leading());
        $disturb = static fn (Bench $bench): array => array_keys(preg_grep('/^(reseat|clean|exchange) U87$/', $bench->proposed()) ?: []);
        self::assertNotSame([], $disturb($bench));
        self::assertLessThan(min($disturb($bench)), array_search('walk U87', $bench->proposed(), true), implode(', ', $bench->proposed()));

        $walked = $bench->record('pin-walk', (new Apprentice($sick))->walked('U87', Situation::Running)['payload']);
        self::assertNotSame('U87', $walked->leading(), 'Its strobe does not come.');
    }

    public function test_a_bit_that_was_named_is_read_both_ways_before_its_chip_comes_out(): void
    {
        $bench = Bench::with('tamarisk-two')->note('-5 u38 -5.0', '+5 u51 5.0', '+12 u38 12.0', 'sign blank', 'run plug-in 1', 'run plug-in 1')->read('4100 00 00');
        $read = array_values(array_filter($bench->steps(), static fn (Step $step): bool => $step->key() === 'read U21'))[0];
        self::assertStringStartsWith('Write FF at 4100', $read->sentence, 'Zeros came back right.');
        $proposed = $bench->proposed();
        self::assertLessThan(array_search('exchange U21', $proposed, true), array_search('read U21', $proposed, true), implode(', ', $proposed));

        $both = $bench->read('4100 FF FF');
        $starts = Bench::with('tamarisk-two')->note('-5 u38 -5.0', '+5 u51 5.0', '+12 u38 12.0', 'sign clean-banner', 'run plug-in 1')->read("4100 00 00\n4100 FF FF")->note('run plug-in 1')->proposed();
        self::assertLessThan(array_search('exchange U21', $starts, true), array_search('read bank 0', $starts, true) ?: 99, 'It is wrong elsewhere, and others may be.');
        self::assertNotContains('read U21', $both->proposed());
        self::assertLessThan($bench->share('U21') - 0.1, $both->share('U21'));
        self::assertNotSame('exchange U21', $both->proposed()[0], 'It may be another bit, or another place.');
        self::assertSame([], array_filter($bench->read('4101 FF FE')->steps(), static fn (Step $step): bool => str_contains($step->tells, 'the bit that was named')), 'It is wrong: no more has to be asked of it.');
    }

    public function test_two_readings_in_which_many_bits_are_wrong_are_no_look_all_over_a_bank(): void
    {
        // Bits 3 and 4 are wrong in both, 5 in the one and 0 in the other: no chip comes out before all of the bank was read.
        $bench = Bench::with('larkspur-64')->note('+5 u37 5.0', 'sign blank', 'count 1', 'count 1')->read('0100 00 38')->read('02A5 00 19');

        self::assertContains('read bank 0', array_slice($bench->proposed(), 0, 2));
        self::assertNotContains('read bank 0', array_slice($bench->read(SickBench::swept(SickBench::with('larkspur-64', new InjectedFault(FaultKind::ReadsHigh, 'U12')), '0'))->proposed(), 0, 10));
    }

    public function test_lines_of_the_bus_that_move_clear_no_part_that_is_not_asked(): void
    {
        $bench = Bench::with('larkspur-64')->note('+5 u37 5.0', 'sign clean-banner', 'count pass');
        foreach (['picture' => 'works', 'memory' => 'works', 'keys' => 'fails', 'printer' => 'fails'] as $function => $result) {
            $bench = $bench->record('function-test', ['function' => $function, 'result' => $result]);
        }
        $before = $bench->share('U26');
        foreach (range(26, 33) as $pin) {
            $bench = $bench->record('probe', ['pin' => "U1.{$pin}", 'situation' => 'free-run', 'state' => 'pulsing', 'expected' => 'pulsing']);
        }

        self::assertGreaterThan(0.15, $before);
        self::assertGreaterThan(0.6 * $before, $bench->share('U26'), 'Others drive them as well.');
    }

    public function test_where_nothing_shows_it_is_warmed_and_switched_on_often_and_then_goes_back(): void
    {
        $bench = Bench::with('larkspur-64')->note('+5 u37 5.0', 'sign clean-banner', 'count pass')->record('look', ['sites' => ['U1'], 'finding' => 'fine']);
        foreach ($bench->board()->functions as $function) {
            $bench = $bench->record('function-test', ['function' => $function->id, 'result' => 'works']);
        }
        foreach ($bench->board()->diagnostics as $diagnostic) {
            $bench = $bench->record('diagnostic-run', ['diagnostic' => $diagnostic->id, 'result' => 'pass']);
        }

        // Common practice: (7/8)^23 is less than one in twenty.
        self::assertSame(['prove'], array_map(static fn (Step $step): string => $step->action, $bench->steps()));
        self::assertStringContainsString('23 times', $bench->steps()[0]->sentence);
        self::assertSame(23.0, $bench->steps()[0]->minutes);
        self::assertStringContainsString('3 more times', $bench->record('power-ons', ['clean' => 20])->steps()[0]->sentence);
        self::assertStringContainsString('Nothing was found, and it stayed well 23 times', $bench->record('power-ons', ['clean' => 20])->record('power-ons', ['clean' => 3])->steps()[0]->sentence);
        self::assertNotSame('prove', $bench->record('power-ons', ['failed' => 1])->steps()[0]->action);
    }

    public function test_a_machine_that_starts_is_not_recorded_at_its_start(): void
    {
        $analyser = new Workbench(School::MeasureFirst, [...Workbench::usual()->equipment, Equipment::Analyser]);
        self::assertContains('capture U1', Bench::with('larkspur-64')->note('+5 u37 5.0', 'sign blank', 'count nothing')->proposed($analyser));
        self::assertNotContains('capture U1', self::fillsNoMemory('sign clean-banner')->proposed($analyser));
    }

    public function test_once_something_fails_what_tells_nothing_is_not_tried_before_the_bank_is_read(): void
    {
        $fails = self::fillsNoMemory('sign clean-banner');

        self::assertLessThan(0.2, $fails->share((string) $fails->leading()), 'Nothing stands out.');
        self::assertContains('function tape', $fails->proposed());
        self::assertSame('read bank 0', array_values(array_diff($fails->proposed(), ['look-over']))[0]);
    }

    public function test_what_is_likelier_good_than_bad_comes_out_only_when_nothing_is_left_to_measure(): void
    {
        $sick = SickBench::with('larkspur-64', new InjectedFault(FaultKind::OutputLow, 'U3.9'), new InjectedFault(FaultKind::Dead, 'U2'));
        $bench = Bench::with('larkspur-64')->note('+5 u37 5.0', 'sign blank', 'count nothing')->record('probe', ['pin' => 'U1.37', 'situation' => 'free-run', 'state' => 'pulsing', 'expected' => 'pulsing'])->read(SickBench::swept($sick, '0'))->note('reseat lk1 as before', 'sign blank', 'reseat lk2 as before', 'sign blank');

        self::assertSame('U17', $bench->leading());
        self::assertLessThan(0.5, $bench->share('U17'));
        $proposed = $bench->proposed();
        self::assertLessThan(array_search('exchange U1', $proposed, true), array_search('walk U29', $proposed, true), implode(', ', $proposed));
    }

    /** A law: what is foreseen of a pin is what the reading says when it is made, so that what tells nothing promises nothing. */
    public function test_what_a_probe_is_foreseen_to_show_is_what_it_says(): void
    {
        $sick = SickBench::with('larkspur-64', new InjectedFault(FaultKind::Dead, 'U5'), new InjectedFault(FaultKind::OutputLow, 'U17.12'));
        $bench = Bench::with('larkspur-64')->note('+5 u37 5.0', 'sign blank', 'run test-rom 5')->read(SickBench::swept($sick, '0'));
        foreach (['U17', 'U35'] as $chip) {
            $bench = $bench->record('pin-walk', (new Apprentice($sick))->walked($chip, Situation::Running)['payload']);
        }
        $conclusion = $bench->assess()->conclusion;
        $known = array_map(static fn (Evidence $seen): string => $seen->id, $conclusion->evidence);
        $probes = 0;
        foreach ($bench->steps() as $step) {
            foreach ($step->action === 'probe' ? $step->outcomes : [] as $outcome) {
                if ($outcome['words'] !== 'it is as it should be' || $outcome['observation'] === null) {
                    continue;
                }
                $after = $bench->record('probe', $outcome['observation']['payload'])->assess()->conclusion;
                $says = $of = 0.0;
                foreach ($conclusion->leading() as $diagnosis) {
                    $faults = array_map(static fn (Fault $fault): string => $fault->id, $diagnosis->faults);
                    $chance = 1.0;
                    foreach ($after->evidence as $number => $seen) {
                        $chance *= in_array($seen->id, $known, true) ? 1.0 : $after->network->findings[$number]->chance($faults);
                    }
                    $says += $diagnosis->share * $chance;
                    $of += $diagnosis->share;
                }
                self::assertEqualsWithDelta($says / $of, $outcome['chance'], 0.05, $step->key());
                $probes++;
            }
        }
        self::assertGreaterThan(5, $probes);
    }
}
