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
use ZapTrace\Reasoning\Evidence;
use ZapTrace\Reasoning\Reasoner;
use ZapTrace\Reasoning\Step;
use ZapTrace\Reasoning\SuspectedFault;
use ZapTrace\Signals\Situation;

/**
 * An output that is stuck shows where its line does, and lines that are lost together show in every bit they go to.
 */
final class OutputsAndLinesTest extends TestCase
{
    private static function fault(Bench $bench, string $id): SuspectedFault
    {
        return array_values(array_filter($bench->assess()->conclusion->suspected, static fn (SuspectedFault $fault): bool => $fault->id === $id))[0] ?? throw new \LogicException("{$id} is not thought of.");
    }

    /** How strongly a fault shows in what was seen, beside what shows without any. */
    private static function times(Bench $bench, Evidence $seen, string $id): float
    {
        $finding = (new Reasoner($bench->board(), Boards::modes()))->finding($seen, [self::fault($bench, $id)], $bench->assess()->conclusion->circumstances->first);

        return $finding->chance([$id]) / $finding->chance([]);
    }

    /** Common practice: a gate whose output does not follow its inputs is suspected before a short of its line. */
    public function test_a_buffer_that_does_not_pass_an_address_on_to_the_rom_leads_before_its_line(): void
    {
        $stuck = SickBench::with('tamarisk-two', new InjectedFault(FaultKind::OutputHigh, 'U5.5'));
        $apprentice = new Apprentice($stuck);
        $bench = Bench::with('tamarisk-two')->note('sign blank', 'sign blank', 'count nothing', 'count nothing');
        foreach (['U42.11', 'U5.15', 'U5.5'] as $pin) {
            $bench = $bench->record('probe', $apprentice->probed($pin, Situation::FreeRun)['payload']);
        }

        self::assertSame('U5', $bench->leading());
        self::assertGreaterThan(3.0 * $bench->share('BA6'), $bench->share('U5'));
        self::assertSame(self::fault($bench, 'BA6/held or shorted')->mode->crash, self::fault($bench, 'U5/output stuck/A6')->mode->crash, 'The ROM is read at the wrong addresses in either case.');
        self::assertContains('replace U5', array_slice($bench->record('pin-walk', $apprentice->walked('U5', Situation::FreeRun)['payload'])->proposed(), 0, 1));
    }

    public function test_what_comes_over_the_bus_shows_an_output_as_its_line(): void
    {
        $stuck = SickBench::with('tamarisk-two', new InjectedFault(FaultKind::OutputHigh, 'U5.5'));
        $bench = Bench::with('tamarisk-two')->note('sign blank')->record('probe', (new Apprentice($stuck))->probed('U5.5', Situation::FreeRun)['payload'])->record('bus-capture', $stuck->bus());
        $seen = array_values(array_filter($bench->assess()->conclusion->evidence, static fn (Evidence $seen): bool => $seen->kind === Evidence::BUS && $seen->abnormal))[0];

        self::assertEqualsWithDelta(self::times($bench, $seen, 'BA6/held or shorted'), self::times($bench, $seen, 'U5/output stuck/A6'), 0.01);
    }

    /** The row and the column are latched alike: no multiplexer carries all of the lines. */
    public function test_a_multiplexer_does_not_lose_lines_that_it_does_not_carry(): void
    {
        $late = SickBench::with('larkspur-64', new InjectedFault(FaultKind::OpenTrace, 'RASG', 'U18.12'));
        $bench = Bench::with('larkspur-64')->note('sign blank')->read(SickBench::swept($late, '0'));
        $lost = array_values(array_filter($bench->assess()->conclusion->evidence, static fn (Evidence $seen): bool => $seen->abnormal && count($seen->addressLines) === 8))[0];

        self::assertEqualsWithDelta(1.0, self::times($bench, $lost, 'U6/dead'), 1e-9);
        self::assertGreaterThan(10.0, self::times($bench, $lost, 'RASG/open before U18.12'));
        self::assertLessThan(0.05, $bench->share('U6'));
    }

    public function test_an_address_that_some_bits_never_miss_arrives_at_the_bank(): void
    {
        $broken = SickBench::with('larkspur-64', new InjectedFault(FaultKind::OpenTrace, 'MA2', 'U15.6'));
        $bench = Bench::with('larkspur-64')->note('sign clean-banner')->read(SickBench::swept($broken, '0'));
        $places = array_values(array_filter($bench->assess()->conclusion->evidence, static fn (Evidence $seen): bool => $seen->abnormal && count($seen->lines) === 5))[0];

        self::assertSame([3, 4, 5], $places->unlike, 'U12 to U14 lie before the break.');
        self::assertLessThan(0.1 * self::times($bench, $places, 'MA2/open before U15.6'), self::times($bench, $places, 'U5/dead'));
    }

    public function test_memory_that_a_programme_reads_wrong_is_read_wrong_as_the_bank_is(): void
    {
        $late = SickBench::with('larkspur-64', new InjectedFault(FaultKind::OpenTrace, 'RASG', 'U18.12'));
        $bench = Bench::with('larkspur-64')->note('sign blank')->read(SickBench::swept($late, '0'))->record('bus-capture', $late->bus());
        $seen = array_values(array_filter($bench->assess()->conclusion->evidence, static fn (Evidence $seen): bool => $seen->kind === Evidence::BUS && $seen->abnormal))[0];

        self::assertSame(['0'], $seen->banks);
        self::assertNotSame([], $seen->lines);
        self::assertGreaterThan(5.0, self::times($bench, $seen, 'RASG/open before U18.12'));
    }

    /** A dead multiplexer is hidden by what drives the same lines while the memory is refreshed. */
    public function test_a_part_whose_lines_others_move_as_well_may_come_out_although_all_its_pins_look_right(): void
    {
        $dead = SickBench::with('larkspur-64', new InjectedFault(FaultKind::Dead, 'U6'));
        $apprentice = new Apprentice($dead);
        $walked = $apprentice->walked('U6', Situation::FreeRun)['payload'];
        self::assertSame([], $walked['wrong'] ?? null);
        $bench = Bench::with('larkspur-64')->note('sign blank', 'sign blank')->read(SickBench::swept($dead, '0'))->record('pin-walk', $walked)->record('bus-capture', $dead->bus());
        $taken = [];
        for ($step = 0; $step < 20 && ! in_array('replace U6', $taken, true); $step++) {
            $next = array_values(array_filter($bench->steps(), static fn (Step $each): bool => ! in_array($each->key(), $taken, true)))[0];
            $taken[] = $next->key();
            $seen = $apprentice->take($next);
            $bench = $seen === null ? $bench : $bench->record($seen['kind'], $seen['payload']);
        }

        self::assertContains('replace U6', $taken);
        self::assertLessThan(12, count($taken), implode(', ', $taken));
        self::assertNotContains('run long-test', $taken);
    }

    /** Read in the processor's place all banks lose the bit, the screen that has a buffer of its own as well. */
    public function test_a_data_line_that_is_broken_at_the_processor_is_lost_to_every_bank(): void
    {
        $broken = SickBench::with('tamarisk-two', new InjectedFault(FaultKind::OpenTrace, 'D1', 'U1.15'));
        $bench = Bench::with('tamarisk-two')->note('sign blank', 'count nothing')->read(SickBench::swept($broken, '0'))->record('probe', (new Apprentice($broken))->probed('U1.15', Situation::FreeRun)['payload']);
        $fault = self::fault($bench, 'D1/open before U1.15');

        self::assertEqualsCanonicalizing(['0', '1', 'screen'], $fault->banks ?? []);
        self::assertSame([1], $fault->lines);
        $silent = array_values(array_filter($bench->assess()->conclusion->evidence, static fn (Evidence $seen): bool => $seen->abnormal && $seen->kind === Evidence::PROBE))[0];
        self::assertGreaterThan(20.0, self::times($bench, $silent, 'D1/open before U1.15'), 'A processor that does nothing drives no data line.');
    }

    public function test_what_would_make_a_bit_low_may_hide_behind_what_holds_it_high(): void
    {
        $bench = Bench::with('tamarisk-two')->note('sign blank')->read(SickBench::swept(SickBench::with('tamarisk-two', new InjectedFault(FaultKind::OpenTrace, 'D1', 'U1.15'), new InjectedFault(FaultKind::ReadsLow, 'U22')), '0'));
        $right = array_values(array_filter($bench->assess()->conclusion->evidence, static fn (Evidence $seen): bool => ! $seen->abnormal && $seen->kind === 'low' && $seen->lines === [1]))[0];

        self::assertEqualsWithDelta(1.0, self::times($bench, $right, 'U22/output stuck low'), 1e-9, 'It reads 1 whatever is written.');
        self::assertLessThan(0.99, self::times($bench, $right, 'U12/dead'), 'What reads now high, now low is seldom so all the time.');
        $other = array_values(array_filter($bench->assess()->conclusion->evidence, static fn (Evidence $seen): bool => ! $seen->abnormal && $seen->kind === 'low' && $seen->lines === [2]))[0];
        self::assertLessThan(0.1, self::times($bench, $other, 'U23/output stuck low'), 'A bit that changes is not held.');
    }

    public function test_a_part_in_a_socket_may_not_touch_whatever_it_does(): void
    {
        // The decoder no longer sees that all of the memory is fitted: the upper half is left out, and reads FF.
        $loose = SickBench::with('larkspur-64', new InjectedFault(FaultKind::BadContact, 'U17.15'));
        $bench = Bench::with('larkspur-64')->note('sign blank')->read(SickBench::swept($loose, '0'));
        $places = array_values(array_filter($bench->assess()->conclusion->evidence, static fn (Evidence $seen): bool => $seen->abnormal && $seen->kind === 'bank-places'))[0];

        self::assertGreaterThan(10.0, self::times($bench, $places, 'U17/bad contact'));
        self::assertTrue($places->foreign, 'One byte, where many different ones were written, comes of no other cell.');
        self::assertLessThan(0.1 * self::times($bench, $places, 'U17/bad contact'), self::times($bench, $places, 'U6/channel dead/A15'));
        self::assertNull(array_values(array_filter($bench->assess()->conclusion->suspected, static fn (SuspectedFault $fault): bool => $fault->id === 'U36/bad contact'))[0] ?? null, 'A soldered one hardly loses touch.');
    }

    public function test_a_machine_that_starts_runs_what_is_in_its_rom(): void
    {
        $blank = Bench::with('larkspur-64')->note('sign blank', 'count nothing');
        $starts = $blank->note('exchange u36 same', 'sign clean-banner');
        $right = array_values(array_filter($starts->assess()->conclusion->evidence, static fn (Evidence $seen): bool => ! $seen->abnormal && $seen->kind === Evidence::SIGN))[0];

        self::assertLessThan(0.5, self::times($starts, $right, 'U17/output stuck/12'), 'It selects no ROM.');
        self::assertLessThan(0.5, self::times($starts, $right, '/ROMCS/open before U2.20'));
        self::assertGreaterThan(0.8, self::times($starts, $right, 'U26/dead'), 'The start-up screen comes without it.');
    }

    /** Common practice: where nothing runs the ROM is touched at all its pins, before it is blamed. */
    public function test_a_programme_that_goes_nowhere_may_not_reach_the_rom(): void
    {
        $broken = SickBench::with('larkspur-64', new InjectedFault(FaultKind::OpenTrace, '/ROMCS', 'U2.20'));
        $bench = Bench::with('larkspur-64')->note('+5 u37 5.0', 'sign blank', 'count nothing');
        self::assertGreaterThan(0.0, $bench->assess()->conclusion->posterior->faults['/ROMCS/open before U2.20'] ?? 0.0);
        self::assertArrayNotHasKey('/ROMCS/open before U2.20', Bench::with('larkspur-64')->note('sign blank', 'count pass')->assess()->conclusion->posterior->faults);
        $out = $bench->note('exchange u2 same', 'count nothing');
        self::assertContains('walk U2', $out->proposed(), 'It is not the ROM, and may be all that leads to it.');

        $walked = $out->record('pin-walk', (new Apprentice($broken))->walked('U2', Situation::FreeRun)['payload']);
        self::assertContains($walked->leading(), ['/ROMCS', 'U17']);
        self::assertGreaterThan(0.3, $walked->share('/ROMCS'));
    }

    public function test_a_processor_that_moves_its_addresses_is_let_run(): void
    {
        $bench = Bench::with('larkspur-64')->note('sign blank', 'count nothing')->record('pin-walk', (new Apprentice(SickBench::with('larkspur-64')))->walked('U17', Situation::FreeRun)['payload']);
        $walk = array_values(array_filter($bench->assess()->conclusion->evidence, static fn (Evidence $seen): bool => $seen->walked() === 'U17'))[0];

        foreach (['RDY/open at U1.2', 'PHI0/open at U1.37', '/RESET/open at U1.40'] as $trace) {
            self::assertGreaterThan(0.5, $walk->strengths[$trace] ?? 0.0, $trace);
        }
    }

    public function test_a_decoder_may_do_without_one_of_several_inputs(): void
    {
        // It floats high, and the decoder goes on most of the time: a diagnostic that passes hardly clears it.
        $walked = (new Apprentice(SickBench::with('larkspur-64', new InjectedFault(FaultKind::BadContact, 'U17.5'))))->walked('U17', Situation::Running)['payload'];
        $bench = Bench::with('larkspur-64')->note('sign blank', 'count pass')->record('pin-walk', $walked);
        $input = self::fault($bench, 'PHI2/open at U17.5');
        $all = self::fault($bench, 'PHI2/open at U1.39');

        self::assertSame(0.5, $input->mode->crash);
        self::assertGreaterThan($input->mode->crash, $all->mode->crash);
        self::assertEqualsWithDelta(0.6 * ($all->mode->shows['high'] ?? 0.0), $input->mode->shows['high'] ?? 0.0, 1e-9);
        self::assertGreaterThan(2.0 * $bench->assess()->conclusion->posterior->faults['PHI2/open at U1.39'], $bench->assess()->conclusion->posterior->faults['PHI2/open at U17.5']);
    }

    public function test_a_function_that_works_shows_that_the_processor_has_its_bus(): void
    {
        $bench = Bench::with('larkspur-64')->note('sign blank', 'count nothing')
            ->record('bus-capture', SickBench::with('larkspur-64', new InjectedFault(FaultKind::OpenTrace, 'D5', 'U1.28'))->bus())
            ->record('function-test', ['function' => 'memory', 'result' => 'works']);
        $works = array_values(array_filter($bench->assess()->conclusion->evidence, static fn (Evidence $seen): bool => $seen->kind === Evidence::FUNCTION))[0];

        self::assertFalse($works->abnormal);
        self::assertLessThan(0.2, self::times($bench, $works, 'D5/open at U1.28'));
        self::assertGreaterThan(0.8, self::times($bench, $works, 'U26/dead'));
    }

    public function test_a_start_up_screen_that_comes_up_clean_no_longer_shows_what_it_showed(): void
    {
        $good = static fn (Bench $bench): Evidence => array_values(array_filter($bench->assess()->conclusion->evidence, static fn (Evidence $seen): bool => ! $seen->abnormal && $seen->kind === Evidence::SIGN))[0];
        $before = Bench::with('larkspur-64')->note('sign misshapen', 'exchange u23 same');
        $after = $before->note('sign clean-banner');
        $clean = $good($after);

        // The pixel shift register would show so, as the board profile says.
        self::assertEqualsWithDelta(0.36, $clean->strengths['U22'] ?? 0.0, 1e-9);
        self::assertLessThan(0.8 * $before->share('U22'), $after->share('U22'));
        self::assertArrayNotHasKey('U22', $good($before->note('sign program-runs'))->strengths, 'A programme that runs says nothing of the picture.');
    }

    public function test_what_comes_after_a_clean_start_or_is_nothing_of_the_screen_is_not_gone_with_it(): void
    {
        $strengths = static fn (Bench $bench): array => array_values(array_filter($bench->assess()->conclusion->evidence, static fn (Evidence $seen): bool => ! $seen->abnormal && $seen->kind === Evidence::SIGN))[0]->strengths;
        $clean = $strengths(Bench::with('larkspur-64')->note('sign clean-banner at 1'));

        self::assertSame($clean, $strengths(Bench::with('larkspur-64')->note('sign half-wrong at 1 after 6', 'sign clean-banner at 2')), 'It starts clean, and goes wrong later.');
        self::assertSame($clean, $strengths(Bench::with('larkspur-64')->note('sign clean-banner at 1', 'sign half-wrong at 2')), 'It was clean before.');
        self::assertSame($clean, $strengths(Bench::with('larkspur-64')->note('sign little-memory at 1', 'sign clean-banner at 2')), 'It counts its memory on a clean screen.');
        self::assertNotSame($clean, $strengths(Bench::with('larkspur-64')->note('sign half-wrong at 1', 'sign clean-banner at 2')));
    }

    public function test_a_machine_that_passes_its_own_test_is_asked_what_it_does(): void
    {
        $blank = Bench::with('halyard-16')->note('+5 u96 5.0', 'sign blank', 'run start-colour yellow');
        self::assertNotContains('function picture', $blank->proposed());
        self::assertContains('function picture', $blank->note('run start-up pass')->proposed(), 'It runs, and only its picture is missing.');
    }

    public function test_pins_that_were_touched_all_are_not_touched_one_by_one_since_what_feeds_them_is_another(): void
    {
        $well = new Apprentice(SickBench::with('larkspur-64'));
        $bench = Bench::with('larkspur-64')->note('+5 u37 5.0', 'sign misshapen', 'count pass')->record('function-test', ['function' => 'picture', 'result' => 'fails'])
            ->record('pin-walk', $well->walked('U22', Situation::Running)['payload'])->note('exchange u23 same', 'sign clean-banner', 'count pass');

        self::assertSame([], preg_grep('/^probe U22\./', $bench->proposed()) ?: [], implode(', ', $bench->proposed()));
    }

    public function test_a_leg_that_may_not_touch_is_reseated_before_a_wire_is_laid_whatever_else_is_wrong(): void
    {
        $sick = SickBench::with('larkspur-64', new InjectedFault(FaultKind::ReadsHigh, 'U14'), new InjectedFault(FaultKind::BadContact, 'U2.20'));
        $bench = Bench::with('larkspur-64')->note('+5 u37 5.0', 'sign blank', 'count nothing');
        foreach (['U17', 'U29', 'U2'] as $chip) {
            $bench = $bench->record('pin-walk', (new Apprentice($sick))->walked($chip, Situation::FreeRun)['payload']);
        }
        $line = array_values(array_filter($bench->assess()->conclusion->evidence, static fn (Evidence $seen): bool => $seen->abnormal && str_starts_with($seen->words, 'D5 is high')))[0];
        self::assertGreaterThan(0.3, $line->strengths['U14'] ?? 0.0, 'A memory chip that is stuck is stuck behind its buffer as well.');

        $open = $bench->record('continuity', ['from' => 'U17.12', 'to' => 'U2.20', 'result' => 'open']);
        self::assertContains('wire /ROMCS', $open->proposed());
        self::assertSame('reseat U2', $open->proposed()[0], implode(', ', $open->proposed()));
    }

    public function test_a_write_line_of_two_banks_is_lost_to_both_when_its_output_is_stuck(): void
    {
        // /WEU at U60.8 is stuck low: all that is read of its byte floats, in the bank that U60 strobes and in the other.
        $sick = SickBench::with('halyard-16', new InjectedFault(FaultKind::OutputLow, 'U60.8'));
        $bench = Bench::with('halyard-16')->note('sign blank')->record('diagnostic-run', ['diagnostic' => 'start-up', 'result' => 'U48 U49 U50 U51 U52 U53 U54 U55'])->read(SickBench::swept($sick, 'riser'));

        self::assertGreaterThan(0.05, $bench->share('U60'));
        foreach (['U66', 'U87'] as $chip) {
            $bench = $bench->record('pin-walk', (new Apprentice($sick))->walked($chip, Situation::Running)['payload']);
        }
        self::assertSame('U66', $bench->leading());
        $next = $bench->steps()[0];
        self::assertSame('walk', $next->action, 'The buffer is likelier, and takes half an hour.');
        $seen = (new Apprentice($sick))->take($next) ?? [];
        self::assertSame('U60', $bench->record($seen['kind'] ?? '', $seen['payload'] ?? [])->leading());
    }
}
