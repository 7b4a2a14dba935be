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
use ZapTrace\Reasoning\BoardFaults;
use ZapTrace\Reasoning\Evidence;
use ZapTrace\Reasoning\FailureMode;
use ZapTrace\Reasoning\Reasoner;
use ZapTrace\Reasoning\Step;
use ZapTrace\Reasoning\SuspectedFault;
use ZapTrace\Signals\SignalEvidence;
use ZapTrace\Signals\Situation;
use ZapTrace\Signals\Structure;

/**
 * A fault shows far from where it is: what is wrong is laid to what leads there, and to nothing that was seen to be right on
 * the way. The boards are the simulated ones; the rules are common practice.
 */
final class WhatLeadsThereTest extends TestCase
{
    public function test_an_input_that_is_wrong_is_not_laid_to_a_part_of_which_what_leads_there_was_right(): void
    {
        // U29 starts the way of REFEN2 by another of its gates, which was seen to be right; U8.6 on that way is stuck.
        $sick = SickBench::with('larkspur-64', new InjectedFault(FaultKind::OutputHigh, 'U8.6'));
        $walk = (new Apprentice($sick))->walked('U29', Situation::Running)['payload'];
        $bench = Bench::with('larkspur-64')->note('sign blank', 'count 2')->record('bus-capture', $sick->bus())->read(SickBench::swept($sick, '0'))->record('pin-walk', $walk);

        $wrong = array_values(array_filter($bench->assess()->conclusion->evidence, static fn (Evidence $seen): bool => $seen->kind === Evidence::PROBE && $seen->abnormal && str_starts_with($seen->words, 'REFEN2')))[0];
        self::assertLessThan(0.5 * $wrong->strengths['U8'], $wrong->strengths['U29']);
        self::assertGreaterThan(0.1, $wrong->strengths['U37']);
        self::assertNotContains('replace U29', array_slice($bench->proposed(), 0, 3));
    }

    public function test_an_output_that_moves_and_should_stand_still_is_laid_to_what_comes_in(): void
    {
        // U3.9 selects the ports at every address: a select of U36, which is well, moves when none should.
        $sick = SickBench::with('larkspur-64', new InjectedFault(FaultKind::OutputLow, 'U3.9'));
        $walk = (new Apprentice($sick))->walked('U36', Situation::FreeRun)['payload'];
        self::assertContains(['pin' => 'U36.6', 'state' => 'pulsing', 'expected' => 'high'], $walk['wrong']);
        $bench = Bench::with('larkspur-64')->note('sign blank', 'count nothing')->record('bus-capture', $sick->bus())->record('pin-walk', $walk);

        $wrong = array_values(array_filter($bench->assess()->conclusion->evidence, static fn (Evidence $seen): bool => $seen->kind === Evidence::PROBE && $seen->abnormal))[0];
        self::assertLessThan($wrong->strengths['U17'], $wrong->strengths['U36']);
        self::assertGreaterThan(0.2, $wrong->strengths['U3']);
        self::assertLessThan(0.3, $bench->share('U36'));
    }

    public function test_what_software_sets_is_followed_past_signals_that_move(): void
    {
        $structure = Structure::of(Boards::shipped('larkspur-64'));
        $leading = $structure->leadingTo($structure->board->netlist->nets['ROMSEL'], static fn (): bool => true);

        self::assertArrayHasKey('U17', $leading, 'It selects the latch that a programme sets.');
        self::assertSame(['U29' => true], $structure->leadingTo($structure->board->netlist->nets['/WE'], static fn (): bool => true), 'A gate with right inputs is by itself.');
        $ram = $structure->board->netlist->nets['RAMOFF'];
        self::assertArrayHasKey('U8', $structure->leadingTo($ram, static fn (): bool => false));
        self::assertArrayNotHasKey('U8', $structure->leadingTo($ram, static fn (string $pin): bool => $pin === 'U29.12'));
        self::assertArrayHasKey('U17', $structure->leadingTo($ram, static fn (string $pin): bool => $pin === 'U29.12'));
    }

    public function test_a_bus_that_moves_does_not_clear_a_peripheral_that_may_be_dead(): void
    {
        $sick = SickBench::with('larkspur-64', new InjectedFault(FaultKind::Dead, 'U26'));
        $bench = Bench::with('larkspur-64')->note('sign clean-banner', 'count nothing', 'keys fails');
        $walked = $bench->record('pin-walk', (new Apprentice($sick))->walked('U26', Situation::FreeRun)['payload']);

        self::assertSame('U26', $bench->leading());
        self::assertGreaterThan(0.6 * $bench->share('U26'), $walked->share('U26'));
    }

    public function test_an_input_that_pulls_an_address_line_explains_all_that_the_line_shows(): void
    {
        $sick = SickBench::with('larkspur-64', new InjectedFault(FaultKind::OutputLow, 'U17.13'));
        self::assertSame('U17.13', $sick->pullsAt('A15'));
        $bench = Bench::with('larkspur-64')->note('sign blank', 'count nothing')->read(SickBench::swept($sick, '0'))->record('bus-capture', $sick->bus())->record('line-drop', ['net' => 'A15', 'pin' => 'U17.13']);

        self::assertSame('U17', $bench->leading());
        self::assertGreaterThan(0.9, $bench->share('U17'));
        self::assertLessThan(0.3, $bench->share('A15'), 'It starts at 7FFC and the memory repeats: by U17, not by a trace besides.');
        self::assertContains($bench->proposed()[0], ['exchange U17', 'obtain U17']);
    }

    public function test_an_output_that_pulls_a_line_of_the_bus_shows_in_the_memory(): void
    {
        // The screen buffer holds D5 low: the memory reads it low as well, and nothing but the buffer is bad.
        $sick = SickBench::with('halyard-16', new InjectedFault(FaultKind::OutputLow, 'U91.7'));
        self::assertSame('U91.7', $sick->pullsAt('D5'));
        $bench = Bench::with('halyard-16')->note('sign blank', 'run start-up nothing', 'run start-colour nothing')->read(SickBench::swept($sick, 'main'))->record('bus-capture', $sick->bus())->record('line-drop', ['net' => 'D5', 'pin' => 'U91.7']);

        self::assertSame('U91', $bench->leading());
        self::assertGreaterThan(0.8, $bench->share('U91'));
        self::assertLessThan(0.3, $bench->share('elsewhere'));
        self::assertLessThan(0.3, $bench->share('D5'));
    }

    /**
     * @return iterable<string, array{string}>
     */
    public static function held(): iterable
    {
        yield 'the trace that leads to the reset driver' => ['RST/open before U56.1'];
        yield 'the driver itself' => ['U56/dead'];
    }

    #[DataProvider('held')]
    public function test_a_reset_that_is_held_keeps_the_memory_from_being_selected(string $fault): void
    {
        $sick = SickBench::with('halyard-16', new InjectedFault(FaultKind::OpenTrace, 'RST', 'U56.1'));
        $bench = Bench::with('halyard-16')->note('sign blank')->read(SickBench::swept($sick, 'main'))->record('bus-capture', $sick->bus())->note('u94.1 low free');
        $high = array_values(array_filter($bench->assess()->conclusion->evidence, static fn (Evidence $seen): bool => $seen->kind === 'high' && $seen->abnormal))[0];
        $reasoner = new Reasoner(Boards::shipped('halyard-16'), Boards::modes());
        $finding = $reasoner->finding($high, [...$bench->assess()->conclusion->suspected], $bench->assess()->conclusion->circumstances->first);

        self::assertGreaterThan(100 * $finding->chance([]), $finding->chance([$fault]));
    }

    public function test_a_processor_that_gives_no_clock_shows_in_the_memory_too(): void
    {
        $sick = SickBench::with('larkspur-64', new InjectedFault(FaultKind::Dead, 'U1'));
        $bench = Bench::with('larkspur-64')->note('sign blank', 'count nothing')->read(SickBench::swept($sick, '0'))->record('bus-capture', $sick->bus());

        self::assertContains('U1', array_map(static fn ($suspect): string => $suspect->site, array_slice($bench->assess()->conclusion->suspects(), 0, 4)));
        $exchanged = $bench->note('exchange u1 cured');
        self::assertGreaterThan(0.6, $exchanged->cured('U1'));
        self::assertGreaterThan(0.9, array_sum(array_map($exchanged->cured(...), ['U1', 'PHI0', 'RDY', '/RESET'])), 'It, or one of its legs that did not touch.');
        self::assertGreaterThan(0.6, $exchanged->nothingLeft(), 'Nothing else has to be wrong besides.');
    }

    public function test_an_address_that_does_not_arrive_is_found_before_the_memory_chip_is_unsoldered(): void
    {
        // Beside a decoder that is dead and a ROM that does not sit well.
        $sick = SickBench::with('larkspur-64', new InjectedFault(FaultKind::OpenTrace, 'MA3', 'U9.12'), new InjectedFault(FaultKind::Dead, 'U3'), new InjectedFault(FaultKind::BadContact, 'U2.6'));
        $apprentice = new Apprentice($sick);
        $bench = Bench::with('larkspur-64')->note('+5 u37 5.0', 'sign blank', 'count nothing')->read(SickBench::swept($sick, '0'));
        self::assertEqualsCanonicalizing(['U9', 'MA3'], array_map(static fn ($suspect): string => $suspect->site, array_slice($bench->assess()->conclusion->suspects(), 0, 2)));
        $taken = [];
        for ($step = 0; $step < 20 && ! in_array('wire MA3', $taken, true) && ! in_array('replace U9', $taken, true); $step++) {
            $next = array_values(array_filter($bench->steps(), static fn (Step $each): bool => ! in_array($each->key(), $taken, true)))[0];
            $taken[] = $next->key();
            $seen = $apprentice->take($next);
            $bench = $seen === null ? $bench : $bench->record($seen['kind'], $seen['payload']);
        }

        self::assertNotContains('replace U9', $taken);
        self::assertContains('wire MA3', $taken);
        self::assertLessThan(array_search('wire MA3', $taken, true), array_search('continuity MA3', $taken, true), 'Its address was measured.');
    }

    public function test_where_nothing_stands_out_what_the_machine_should_do_is_tried_first(): void
    {
        $bench = Bench::with('larkspur-64')->note('+5 u37 5.0', 'sign clean-banner', 'count nothing', 'exchange u26 same', 'count pass')->read(SickBench::swept(SickBench::with('larkspur-64'), '0'));

        self::assertLessThan(0.2, $bench->share((string) $bench->leading()));
        self::assertStringStartsWith('function ', $bench->proposed()[0]);
    }

    public function test_with_nothing_suspected_the_function_that_fails_most_for_its_minutes_comes_first_and_a_long_test_last(): void
    {
        $order = array_values(array_filter(Bench::with('larkspur-64')->note('sign clean-banner', 'count pass')->proposed(), static fn (string $step): bool => str_starts_with($step, 'function ') || $step === 'run long-test'));

        self::assertSame(['function memory', 'function picture'], array_slice($order, 0, 2));
        self::assertSame('run long-test', $order[count($order) - 1]);
    }

    public function test_only_the_diagnostic_that_reports_by_a_part_is_hidden_by_it(): void
    {
        // The test ROM flashes a lamp at a port of U26; the long test writes on the screen.
        $bench = Bench::with('larkspur-64')->note('sign clean-banner', 'run test-rom nothing');
        $through = $bench->note('run long-test pass');

        self::assertGreaterThan(2 * $bench->share('U26'), $through->share('U26'));
        self::assertSame('U26', $through->leading());
    }

    public function test_a_pin_that_only_could_drive_drives_nothing(): void
    {
        $drivers = static fn (string $slug, string $net): array => Structure::of(Boards::shipped($slug))->driversOf(Boards::shipped($slug)->netlist->nets[$net]);

        self::assertSame(['U1.25'], $drivers('larkspur-64', 'A15'), 'Pin 13 of the programmed part is one of its inputs here.');
        self::assertSame(['U56.2'], $drivers('halyard-16', '/RESET'), 'The processor could pull it by an instruction.');
        self::assertGreaterThan(4, count($drivers('larkspur-64', 'D0')));
    }

    public function test_changed_contents_of_a_character_generator_can_leave_the_start_up_screen_clean(): void
    {
        $bench = Bench::with('larkspur-64')->note('picture fails');
        $clean = $bench->note('sign clean-banner');
        $faults = static fn (Bench $log, string $id): float => $log->assess()->conclusion->posterior->faults[$id] ?? 0.0;

        self::assertGreaterThan(2 * $faults($bench, 'U23/contents') / $faults($bench, 'U23/dead'), $faults($clean, 'U23/contents') / $faults($clean, 'U23/dead'));
    }

    public function test_the_faults_of_a_pulling_part_are_named_by_its_line(): void
    {
        self::assertSame('A15', SignalEvidence::pulled(substr(SignalEvidence::pulling('U17', 'A15'), strlen('U17/'))));
        self::assertNull(SignalEvidence::pulled('dead'));
    }

    public function test_what_selects_one_bank_and_enables_the_buffer_of_others_shows_in_all(): void
    {
        // U8 selects the screen memory, and lets the buffer of the other banks drive.
        $faults = BoardFaults::of(Boards::shipped('tamarisk-two'), Boards::modes())->all();
        $whole = array_values(array_filter($faults, static fn (SuspectedFault $fault): bool => $fault->id === 'U8/dead/all its banks'));
        self::assertCount(1, $whole);
        self::assertEqualsCanonicalizing(['0', '1', 'screen'], $whole[0]->banks);

        $sick = SickBench::with('tamarisk-two', new InjectedFault(FaultKind::Dead, 'U8'));
        $bench = Bench::with('tamarisk-two')->note('sign blank', 'count nothing')->read(SickBench::swept($sick, '0'))->read(SickBench::swept($sick, 'screen'))
            ->record('probe', ['pin' => 'U14.19', 'situation' => 'free-run', 'state' => 'silent', 'expected' => 'pulsing'])
            ->record('continuity', ['from' => 'U8.14', 'to' => 'U14.19', 'result' => 'closed']);
        self::assertSame('U8', $bench->leading());
        self::assertGreaterThan(0.6, $bench->share('U8'));
    }

    public function test_of_banks_that_lose_ones_the_select_is_named_that_lets_another_drive(): void
    {
        // U7.15 selects the ROM all the time: it drives against every bank.
        $sick = SickBench::with('tamarisk-two', new InjectedFault(FaultKind::OutputLow, 'U7.15'));
        $bench = Bench::with('tamarisk-two')->note('sign blank', 'count nothing')->read(SickBench::swept($sick, '0'))->read(SickBench::swept($sick, '1'))->read(SickBench::swept($sick, 'screen'));

        $contention = array_values(array_filter($bench->assess()->conclusion->evidence, static fn (Evidence $seen): bool => $seen->abnormal && $seen->kind === Evidence::CONTENTION));
        self::assertCount(3, $contention);
        self::assertGreaterThan(0.5, $contention[0]->strengths['U7']);
        self::assertArrayNotHasKey('U9', $contention[0]->strengths, 'A reset lets nothing drive.');
        // Bits that read right where no one was to be read do not speak against what takes ones away.
        self::assertGreaterThan(0.08, $bench->share('U7'));
        self::assertGreaterThan($bench->share('U5'), $bench->share('U7'), 'An address buffer loses no ones.');
        self::assertContains('walk U7', array_slice($bench->proposed(), 0, 3));
    }

    public function test_what_comes_through_a_link_is_laid_to_what_drives_it_beyond(): void
    {
        // The select of bank 1 goes by LK1: one decoder drives it, which is on another line.
        $sick = SickBench::with('tamarisk-two', new InjectedFault(FaultKind::OutputHigh, 'U10.6'));
        $bench = Bench::with('tamarisk-two')->note('sign blank')->record('pin-walk', (new Apprentice($sick))->walked('U11', Situation::Running)['payload']);
        $wrong = array_values(array_filter($bench->assess()->conclusion->evidence, static fn (Evidence $seen): bool => $seen->abnormal && str_contains($seen->id, 'SEL1 wrong')))[0];
        self::assertGreaterThan(0.5, $wrong->strengths['U10.6 drives']);
        self::assertSame('U10', $bench->leading());
        self::assertGreaterThan(3.0 * $bench->share('SEL1'), $bench->share('U10'));
        self::assertContains('walk U10', $bench->proposed());

        // With the link at 16K nothing comes to it.
        $away = Bench::with('tamarisk-two')->note('sign blank')->record('setting', ['ref' => 'LK1', 'position' => '16K', 'since' => 'now', 'result' => 'as-before'])->record('probe', ['pin' => 'U11.10', 'situation' => 'running', 'state' => 'low', 'expected' => 'high']);
        self::assertSame([], array_filter($away->assess()->conclusion->evidence, static fn (Evidence $seen): bool => isset($seen->strengths['U10.6 drives'])));
    }

    public function test_what_a_picture_generator_gives_a_multiplexer_switches_nothing(): void
    {
        $shows = [];
        foreach (['U30.5', 'U5.1'] as $pin) {
            $bench = Bench::with('larkspur-64')->note('sign blank')->record('probe', ['pin' => $pin, 'situation' => 'running', 'state' => 'low', 'expected' => 'pulsing']);
            foreach ($bench->assess()->conclusion->suspected as $fault) {
                $shows[$fault->id] = $fault->mode->shows;
            }
        }
        self::assertArrayNotHasKey('bank-multiplexer', $shows['CA1/held or shorted'], 'The processor goes by the other channel.');
        self::assertArrayHasKey('bank-multiplexer', $shows['MUXS/held or shorted']);
    }

    public function test_a_line_that_nothing_drives_and_that_is_at_its_level_is_not_held(): void
    {
        $seen = static fn (string $pin, string $level): array => array_values(array_filter(Bench::with('larkspur-64')->note('sign blank')->record('probe', ['pin' => $pin, 'situation' => 'running', 'state' => $level, 'expected' => $level])->assess()->conclusion->evidence, static fn (Evidence $seen): bool => $seen->kind === Evidence::PROBE))[0]->strengths;

        self::assertSame(0.9, $seen('U3.6', 'high')['HI/held or shorted'], 'A resistor pulls it up.');
        self::assertEqualsWithDelta(0.4, $seen('U3.9', 'high')['/Y6/held or shorted'], 0.01, 'A decoder drives that: it may be stuck there.');
        self::assertSame(0.97, $seen('U3.9', 'pulsing')['/Y6/held or shorted']);
    }

    public function test_a_line_that_is_right_since_what_touched_it_was_mended_is_not_measured_along(): void
    {
        $seen = static fn (Bench $bench, string $pin, string $state): Bench => $bench->record('probe', ['pin' => $pin, 'situation' => 'free-run', 'state' => $state, 'expected' => 'pulsing']);
        $bench = $seen(Bench::with('halyard-16')->note('sign blank'), 'U84.13', 'between');
        self::assertContains('drop A13', $bench->proposed());
        $mended = $bench->note('fix a4 same');
        self::assertContains('drop A13', $mended->proposed(), 'They may fight over it still.');
        self::assertNotContains('drop A13', $seen($mended, 'U1.41', 'pulsing')->proposed());
        self::assertContains('drop A13', $seen($seen($mended, 'U1.41', 'pulsing'), 'U84.13', 'between')->proposed(), 'It comes and goes.');
    }

    public function test_an_output_that_was_right_at_both_levels_is_not_stuck(): void
    {
        // Common practice: a reset that is held when the button is, and let go when it is, is there.
        $well = SickBench::with('tamarisk-two');
        $apprentice = new Apprentice($well);
        $bench = Bench::with('tamarisk-two')->note('sign blank', 'count nothing')->record('probe', ['pin' => 'U1.6', 'situation' => 'free-run', 'state' => 'pulsing', 'expected' => 'pulsing']);
        $once = $bench->record('pin-walk', $apprentice->walked('U9', Situation::FreeRun)['payload']);
        $both = $once->record('pin-walk', $apprentice->walked('U9', Situation::Reset)['payload']);

        $odds = static function (Bench $bench, string $fault): float {
            $faults = $bench->assess()->conclusion->posterior->faults;

            return $faults[$fault] / $faults['U20/dead'];
        };
        $stuck = 'U9/output stuck/4';
        self::assertEqualsWithDelta(0.5, $odds($once, $stuck) / $odds($bench, $stuck), 0.15, 'What stays as it should may be stuck as it should: one of two ways.');
        self::assertLessThan(0.15 * $odds($bench, $stuck), $odds($both, $stuck));
        self::assertGreaterThan(0.45 * $bench->share('U9'), $once->share('U9'));
        self::assertLessThan(0.25 * $bench->share('U9'), $both->share('U9'));
    }

    public function test_where_power_ons_come_and_go_an_output_of_a_multiplexer_may_come_and_go_too(): void
    {
        // VA2 stuck at U30.9 in one power-on of two; read while it showed.
        $sick = SickBench::with('larkspur-64', new InjectedFault(FaultKind::OutputLow, 'U30.9'));
        $bench = Bench::with('larkspur-64')->note('+5 u37 5.0', 'sign clean-banner', 'count pass')->read(SickBench::swept(SickBench::with('larkspur-64'), '0'))->record('power-ons', ['clean' => 3, 'failed' => 1]);
        $read = $bench->read(SickBench::swept($sick, '0'));

        self::assertGreaterThan(0.2, $read->share('U30'));
        $now = array_values(array_filter($read->assess()->conclusion->suspected, static fn (SuspectedFault $fault): bool => $fault->id === 'U30/channel dead/A2, now and then'));
        self::assertSame([0.5], array_map(static fn (SuspectedFault $fault): float => $fault->mode->perRun, $now));
    }

    public function test_where_a_diagnostic_passes_and_then_does_not_what_serves_the_memory_may_come_and_go(): void
    {
        $now = static fn (Bench $bench): array => array_values(array_filter($bench->assess()->conclusion->suspected, static fn (SuspectedFault $fault): bool => $fault->id === 'U14/dead or the wrong way, now and then'));
        $fails = Bench::with('tamarisk-two')->note('sign blank')->record('diagnostic-run', ['diagnostic' => 'plug-in', 'result' => '1']);
        $other = $fails->record('intervention', ['action' => 'exchange', 'site' => 'U21', 'result' => 'as-before'])->record('diagnostic-run', ['diagnostic' => 'plug-in', 'result' => 'pass']);
        $both = $fails->record('diagnostic-run', ['diagnostic' => 'plug-in', 'result' => 'pass']);

        self::assertSame([], $now($fails));
        self::assertSame([], $now($other), 'With another part in it may be that.');
        self::assertSame([0.5], array_map(static fn (SuspectedFault $fault): float => $fault->mode->perRun, $now($both)));
        self::assertSame([], $now($fails->record('diagnostic-run', ['diagnostic' => 'plug-in', 'result' => '1'])));
        self::assertNotSame([], $now($fails->read("4100 00 FF\n42A5 00 FF\n4A33 55 FF")->read("4100 00 00\n42A5 00 FF\n4A33 55 55")), 'All of a bank gave different answers.');
    }

    public function test_what_reads_wrong_now_and_right_then_is_not_ruled_out_by_reading_differently(): void
    {
        $bench = Bench::with('tamarisk-two')->note('sign blank')->record('diagnostic-run', ['diagnostic' => 'plug-in', 'result' => '1'])->record('diagnostic-run', ['diagnostic' => 'plug-in', 'result' => 'pass'])
            ->read("4100 00 FF\n42A5 00 FF\n4A33 55 FF")->read("4100 00 00\n42A5 00 FF\n4A33 55 55")->read("4100 00 FF\n42A5 00 00\n4A33 55 FF");
        $faults = $bench->assess()->conclusion->posterior->faults;

        self::assertGreaterThan(3 * $faults['U14/dead or the wrong way'], $faults['U14/dead or the wrong way, now and then']);
    }

    public function test_where_power_ons_come_and_go_a_crack_may_come_and_go_too(): void
    {
        $bench = Bench::with('halyard-16')->note('sign blank')->record('probe', ['pin' => 'U66.8', 'situation' => 'free-run', 'state' => 'silent', 'expected' => 'pulsing']);
        $modeOf = static fn (Bench $bench): FailureMode => array_values(array_filter($bench->assess()->conclusion->suspected, static fn (SuspectedFault $fault): bool => $fault->id === 'D14/open at U66.8'))[0]->mode;
        self::assertSame(0.0, $modeOf($bench)->perRun);

        $comes = $bench->record('power-ons', ['clean' => 3, 'failed' => 2]);
        self::assertSame(0.5, $modeOf($comes)->perRun);
        self::assertLessThan($modeOf($bench)->prior, $modeOf($comes)->prior);
        $wired = $comes->record('intervention', ['action' => 'wire', 'site' => 'D14', 'result' => 'as-before']);
        self::assertSame(0.0, $modeOf($wired)->perRun, 'That one is mended.');
        self::assertSame(0.0, $modeOf($bench->record('power-ons', ['clean' => 3]))->perRun);
    }

    public function test_a_trace_is_followed_on_behind_what_was_measured(): void
    {
        $bench = Bench::with('tamarisk-two')->note('sign blank');
        foreach (['U12.3' => 'silent', 'U5.3' => 'pulsing', 'U5.17' => 'pulsing'] as $pin => $state) {
            $bench = $bench->record('probe', ['pin' => $pin, 'situation' => 'free-run', 'state' => $state, 'expected' => 'pulsing']);
        }
        // BA7 lies U5.3 U8.9 U42.14 U2.3 J2.8 U3.3 U12.3, and is broken before U3.3.
        $places = array_flip(Boards::shipped('tamarisk-two')->netlist->nets['BA7']->pins);
        $tests = 0;
        while (($step = array_values(array_filter($bench->steps(), static fn (Step $each): bool => $each->key() === 'continuity BA7'))[0] ?? null) !== null) {
            self::assertMatchesRegularExpression('/is U5\.3 connected to (\S+)\?/', $step->sentence);
            preg_match('/connected to (\S+)\?/', $step->sentence, $match);
            $bench = $bench->record('continuity', ['from' => 'U5.3', 'to' => $match[1], 'result' => $places[$match[1]] >= $places['U3.3'] ? 'open' : 'closed']);
            self::assertLessThanOrEqual(3, ++$tests, 'Six places are halved in at most three tests.');
        }
        $wire = array_values(array_filter($bench->steps(), static fn (Step $each): bool => $each->key() === 'wire BA7'))[0] ?? null;
        self::assertStringContainsString('from J2.8 to U3.3', $wire->sentence ?? '');
    }

    public function test_a_trace_is_followed_on_where_the_meter_speaks_against_what_is_likely(): void
    {
        $bench = Bench::with('tamarisk-two')->note('sign blank');
        foreach (['U5.3' => 'pulsing', 'U5.17' => 'pulsing', 'U8.9' => 'silent', 'U42.14' => 'silent', 'U2.3' => 'silent'] as $pin => $state) {
            $bench = $bench->record('probe', ['pin' => $pin, 'situation' => 'free-run', 'state' => $state, 'expected' => 'pulsing']);
        }
        $bench = $bench->record('continuity', ['from' => 'U5.3', 'to' => 'U8.9', 'result' => 'closed']);

        self::assertSame('BA7', $bench->leading());
        self::assertContains('continuity BA7', $bench->proposed(), 'There is something left to measure.');
    }

    public function test_a_break_before_what_strobes_the_memory_is_thought_of_before_its_decoder_comes_out(): void
    {
        // U7 gives the row strobe of the main memory by /MAIN; U60 and U61 the column strobes.
        $sick = SickBench::with('halyard-16', new InjectedFault(FaultKind::OpenTrace, '/MAIN', 'U7.5'));
        $bench = Bench::with('halyard-16')->note('sign blank')->read(SickBench::swept($sick, 'main'));
        $bench = $bench->record('pin-walk', (new Apprentice($sick))->walked('U67', Situation::FreeRun)['payload'])
            ->record('probe', ['pin' => 'U7.5', 'situation' => 'free-run', 'state' => 'silent', 'expected' => 'pulsing'])
            ->record('continuity', ['from' => 'U67.4', 'to' => 'U60.5', 'result' => 'closed']);

        self::assertSame('/MAIN', $bench->leading());
        self::assertSame('continuity /MAIN', $bench->proposed()[0]);
        self::assertStringContainsString('U7.5', $bench->steps()[0]->sentence);
    }

    public function test_an_output_that_was_right_before_another_repair_still_clears_its_part(): void
    {
        $walked = ['chip' => 'U67', 'situation' => 'free-run', 'wrong' => [], 'pulsing' => ['U67.1', 'U67.2', 'U67.3', 'U67.4'], 'unknown' => []];
        $wrong = ['pin' => 'U7.5', 'situation' => 'free-run', 'state' => 'silent', 'expected' => 'pulsing'];
        $touched = Bench::with('halyard-16')->note('sign blank')->record('pin-walk', $walked)->note('reseat u6 as before')->record('probe', $wrong);
        $inReset = Bench::with('halyard-16')->note('sign blank')->record('pin-walk', ['situation' => 'reset'] + $walked)->note('reseat u6 as before')->record('probe', $wrong);
        $untouched = Bench::with('halyard-16')->note('sign blank', 'reseat u6 as before')->record('probe', $wrong);

        self::assertSame('/MAIN', $touched->leading());
        self::assertLessThan($untouched->share('U67') / 3.0, $touched->share('U67'));
        self::assertGreaterThan($untouched->share('U67') / 2.0, $inReset->share('U67'), 'What it gives in reset is another thing.');
    }

    public function test_a_bit_of_a_bank_that_is_now_this_now_that_is_not_read_once_more(): void
    {
        // The multiplexers never switch: nothing is where it was written. One bit of the main memory is low besides.
        $sick = SickBench::with('halyard-16', new InjectedFault(FaultKind::OutputLow, 'U94.8'), new InjectedFault(FaultKind::ReadsLow, 'U53'));
        $bits = static fn (Bench $log): array => array_values(array_filter($log->proposed(), static fn (string $step): bool => str_starts_with($step, 'read U')));
        $main = Bench::with('halyard-16')->note('sign blank')->read(SickBench::swept($sick, 'main'));
        self::assertSame(['read U83'], $bits($main), 'The same bit of the other bank.');

        self::assertSame([], $bits($main->read(SickBench::swept($sick, 'riser'))), 'Read all over, and nothing stays.');
    }

    public function test_by_however_many_ways_what_lies_far_up_let_one_thing_move(): void
    {
        // U3 decodes addresses for U17, and U17 selects memory, whose strobes lead to U18 and to the multiplexers.
        $good = SickBench::with('larkspur-64');
        $bench = Bench::with('larkspur-64')->note('sign blank', 'run test-rom nothing', 'run test-rom nothing');
        $before = $bench->share('U3');
        foreach (['U5', 'U8', 'U18', 'U32'] as $chip) {
            $bench = $bench->record('pin-walk', (new Apprentice($good))->walked($chip, Situation::FreeRun)['payload']);
        }

        self::assertGreaterThan(0.5 * $before, $bench->share('U3'), 'One of its outputs led there, and may not be the one that fails.');
        self::assertLessThan(0.5 * $bench->share('U3'), $bench->share('U18'), 'Each of its own outputs was seen to move.');
    }

    public function test_what_the_select_of_the_rom_goes_by_keeps_the_machine_from_starting(): void
    {
        $crash = [];
        foreach (BoardFaults::of(Boards::shipped('larkspur-64'), Boards::modes())->all() as $fault) {
            $crash[$fault->id] = $fault->mode->crash;
        }
        self::assertSame([0.85, 0.4, 0.4], [$crash['U17/dead'], $crash['U3/dead'], $crash['U35/dead']], 'As a whole it selects no ROM.');
        self::assertSame([0.7, 0.3, 0.5], [$crash['U17/output stuck/12'], $crash['U17/output stuck/19'], $crash['U3/output stuck/7']], 'The output that selects the ROM, one that does not, and one that leads there.');
        self::assertSame(0.2, $crash['U21/dead'], 'The screen latch does not.');
    }

    public function test_a_blank_screen_is_laid_to_a_resistor_no_sooner_than_to_a_gate(): void
    {
        // Common practice: a capacitor or a resistor of dozens holds the reset; a counter that stands keeps the picture away.
        $bench = Bench::with('tamarisk-two')->note('-5 u38 -5.0', '+5 u51 5.0', '+12 u38 12.0', 'sign blank', 'run plug-in pass');
        $blank = array_values(array_filter($bench->assess()->conclusion->evidence, static fn (Evidence $seen): bool => $seen->kind === Evidence::SIGN))[0];

        self::assertLessThanOrEqual($blank->strengths['U39'], $blank->strengths['R1']);
        self::assertLessThan($bench->share('J1') + 0.005, $bench->share('R1'));
        self::assertLessThan($bench->share('U39') * 2.0, $bench->share('F1'));
    }

    public function test_a_likely_part_is_touched_though_what_comes_in_is_wrong_to_see_whether_it_drives_at_all(): void
    {
        // Without U7 the processor gets no answer and stands still: all that comes in at U7 does, too.
        $sick = SickBench::with('halyard-16', new InjectedFault(FaultKind::Dead, 'U7'));
        $apprentice = new Apprentice($sick);
        $bench = Bench::with('halyard-16')->note('sign blank', 'run start-up nothing', 'run start-colour nothing')->read(SickBench::swept($sick, 'main'))->read('080101 00 FF');
        foreach (['U94', 'U6', 'U69'] as $chip) {
            $bench = $bench->record('pin-walk', $apprentice->walked($chip, Situation::FreeRun)['payload']);
        }
        $bench = $bench->note('closed u1.47 u6.5', 'closed u1.48 u6.4', 'exchange u6 as before', 'run start-colour nothing', 'sign blank', 'closed u7.12 u1.10')
            ->record('probe', $apprentice->probed('U7.3', Situation::FreeRun)['payload']);
        self::assertContains('probe U1.15', array_slice($bench->proposed(), 0, 4), 'First what the processor runs by.');
        foreach (['U1.12', 'U1.13', 'U1.15', 'U1.17', 'U1.18', 'U1.21', 'U1.22'] as $pin) {
            $bench = $bench->record('probe', $apprentice->probed($pin, Situation::FreeRun)['payload']);
        }

        self::assertLessThan(0.3, $bench->share('U7'));
        self::assertContains('walk U7', $bench->proposed());
        $touched = $bench->record('pin-walk', $apprentice->walked('U7', Situation::FreeRun)['payload']);
        self::assertGreaterThan(0.95, $touched->share('U7'));
        self::assertStringEndsWith(' U7', $touched->proposed()[0]);
    }

    public function test_a_line_that_one_memory_chip_lacks_is_touched_before_the_chip_comes_out(): void
    {
        $sick = SickBench::with('larkspur-64', new InjectedFault(FaultKind::OpenTrace, 'MA4', 'U16.11'));
        $bench = Bench::with('larkspur-64')->note('+5 u37 5.0', 'sign clean-banner', 'count pass')->record('function-test', ['function' => 'memory', 'result' => 'fails'])->read(SickBench::swept($sick, '0'));

        self::assertGreaterThan(0.05, $bench->share('MA4'), 'It is as likely as one address input of the chip, of eight.');
        self::assertGreaterThan($bench->share('MA4'), $bench->share('U16'));
        $before = array_slice($bench->proposed(), 0, (int) array_search('replace U16', [...$bench->proposed(), 'replace U16'], true));
        self::assertNotSame([], array_intersect(['walk U16', 'probe U16.11'], $before), implode(', ', $bench->proposed()));
    }

    public function test_a_shared_line_is_wrong_because_what_enables_its_driver_is(): void
    {
        $pins = static fn (int ...$numbers): array => array_map(static fn (int $number): string => "U62.{$number}", $numbers);
        $bench = Bench::with('halyard-16')->note('sign blank')->record('pin-walk', [
            'chip' => 'U62', 'situation' => 'running', 'pulsing' => $pins(1, 2, 3, 5, 6, 7, 10, 11, 12, 13, 14), 'high' => [], 'low' => [], 'unknown' => [],
            'wrong' => [['pin' => 'U62.4', 'state' => 'high', 'expected' => 'pulsing'], ['pin' => 'U62.9', 'state' => 'high', 'expected' => 'pulsing'], ['pin' => 'U62.15', 'state' => 'silent', 'expected' => 'pulsing']],
        ]);

        self::assertLessThan(0.02, $bench->share('U62'), 'Another part drives the lines as well, but this one is not enabled.');
        self::assertGreaterThan(0.1, $bench->share('REFR'));
        self::assertSame('U7', $bench->leading(), 'What drives it.');
    }

    public function test_of_two_gates_one_behind_the_other_the_first_is_touched_before_the_second_comes_out(): void
    {
        // The reset never ends: what the second gate goes by is held by the first.
        $apprentice = new Apprentice(SickBench::with('halyard-16', new InjectedFault(FaultKind::OutputHigh, 'U57.2')));
        $bench = Bench::with('halyard-16')->note('sign blank', 'run start-up nothing', 'run start-colour nothing');
        foreach (['U7', 'U58', 'U1'] as $chip) {
            $bench = $bench->record('pin-walk', $apprentice->walked($chip, Situation::FreeRun)['payload']);
        }
        $proposed = $bench->proposed();

        self::assertGreaterThan(0.1, $bench->share('U57'), 'It would leave both outputs of U56 as they are.');
        self::assertGreaterThan($bench->share('U57'), $bench->share('U56'));
        self::assertNotSame([], array_intersect(['walk U56', 'probe U56.1', 'probe U56.3'], array_slice($proposed, 0, (int) array_search('replace U56', $proposed, true))), implode(', ', $proposed));
        $touched = $bench->record('probe', $apprentice->probed('U56.3', Situation::FreeRun)['payload']);
        self::assertSame('U57', $touched->leading());
        self::assertLessThan(0.1, $touched->share('U56'));
    }

    public function test_an_output_that_lets_go_and_floats_has_lost_its_pull_up(): void
    {
        // The trace breaks between the gate, which can only pull it down, and the resistor that takes it up.
        $apprentice = new Apprentice(SickBench::with('halyard-16', new InjectedFault(FaultKind::OpenTrace, '/RESET', 'U1.18')));
        $bench = Bench::with('halyard-16')->note('sign blank', 'run start-up nothing');
        foreach (['U94', 'U56'] as $chip) {
            $bench = $bench->record('pin-walk', $apprentice->walked($chip, Situation::FreeRun)['payload']);
        }

        self::assertSame('/RESET', $bench->leading());
        self::assertLessThan(0.25, $bench->share('U56'));
        self::assertNotContains('replace U56', array_slice($bench->proposed(), 0, 5));

        $structure = Structure::of(Boards::shipped('halyard-16'));
        $nets = Boards::shipped('halyard-16')->netlist->nets;
        self::assertSame('RP1.2', $structure->pullOf($nets['/RESET']));
        self::assertNull($structure->pullOf($nets['RST']), 'Its output takes it both ways.');
        self::assertNull($structure->pullOf($nets['REFR']));
    }
}
