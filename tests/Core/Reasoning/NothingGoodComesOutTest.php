<?php

declare(strict_types=1);

namespace Tests\Core\Reasoning;

use PHPUnit\Framework\TestCase;
use Tests\Support\Bench;
use Tests\Support\SickBench;
use ZapTrace\Bench\Apprentice;
use ZapTrace\Bench\FaultKind;
use ZapTrace\Bench\InjectedFault;
use ZapTrace\Reasoning\Equipment;
use ZapTrace\Reasoning\Evidence;
use ZapTrace\Reasoning\School;
use ZapTrace\Reasoning\Step;
use ZapTrace\Reasoning\Workbench;
use ZapTrace\Signals\Situation;

/**
 * What is measured before anything is unsoldered or looked for along a line, and what is not asked twice.
 */
final class NothingGoodComesOutTest extends TestCase
{
    private static function all(): Workbench
    {
        return new Workbench(School::MeasureFirst, [...Workbench::usual()->equipment, Equipment::Analyser, Equipment::EpromReader]);
    }

    public function test_the_line_of_a_memory_chip_is_measured_before_it_comes_out(): void
    {
        $sick = Bench::with('larkspur-64')->note('6c00 00>20', '6c01 0f>2f', '7000 00>20', '7001 ff>ff', 'count 6', 'count 6');
        self::assertSame('U14', $sick->leading());
        $keys = $sick->proposed();
        self::assertContains('continuity U14.14', $keys);
        self::assertLessThan(array_search('replace U14', $keys, true), array_search('continuity U14.14', $keys, true));

        $closed = array_values(array_filter($sick->steps(), static fn (Step $step): bool => $step->key() === 'continuity U14.14'))[0]->outcomes;
        $payload = array_values(array_filter(array_column($closed, 'observation'), static fn (?array $seen): bool => ($seen['payload']['result'] ?? '') === 'open'))[0]['payload'];
        $open = $sick->record('continuity', $payload);
        self::assertContains('wire U14.14', $open->proposed(), 'A wire where it does not reach its line.');
        self::assertLessThan($sick->share('U14'), $open->share('U14'));
        self::assertNotContains('continuity U14.14', $sick->record('continuity', ['result' => 'closed'] + $payload)->proposed(), 'Once is enough.');
    }

    public function test_a_buffer_that_may_hold_the_line_is_touched_before_its_memory_comes_out(): void
    {
        $stuck = new InjectedFault(FaultKind::OutputLow, 'U4.7');
        $read = Bench::with('larkspur-64')->note('sign blank')->read(SickBench::swept(SickBench::with('larkspur-64', $stuck), '0'))->note('count 6');
        self::assertSame('U14', $read->leading());
        self::assertLessThan(0.15, $read->share('U4'));
        self::assertContains('replace U14', $read->proposed());
        // What is advised is done, until one of the two leads.
        $apprentice = new Apprentice(SickBench::with('larkspur-64', $stuck));
        $before = $read;
        for ($step = 0; $step < 8 && ! in_array($before->proposed()[0], ['walk U4', 'replace U4', 'replace U14'], true); $step++) {
            $seen = $apprentice->take($before->steps()[0]);
            self::assertNotNull($seen);
            $before = $before->record($seen['kind'], $seen['payload']);
        }
        // Where it was found before, by what pulls the line, nothing more is touched.
        self::assertSame('replace U4', $before->proposed()[0]);
        self::assertGreaterThan(0.98, $before->share('U4'));
        self::assertLessThan(0.15, $before->share('U14'));

        $walked = $read->record('pin-walk', (new Apprentice(SickBench::with('larkspur-64', $stuck)))->walked('U4', Situation::FreeRun)['payload']);
        self::assertSame('U4', $walked->leading());
    }

    public function test_what_drives_a_line_is_touched_before_it_comes_out(): void
    {
        $stuck = new InjectedFault(FaultKind::OutputHigh, 'U5.3');
        $apprentice = new Apprentice(SickBench::with('tamarisk-two', $stuck));
        $seen = Bench::with('tamarisk-two')->note('sign blank')->record('probe', $apprentice->probed('U12.3', Situation::FreeRun)['payload'])->record('probe', $apprentice->probed('U5.3', Situation::FreeRun)['payload']);
        self::assertSame('U1', $seen->leading(), 'While nobody has touched what comes in it may as well be all that stands still.');

        $seen = $seen->record('probe', $apprentice->probed('U5.17', Situation::FreeRun)['payload']);
        self::assertSame('U5', $seen->leading(), 'Its driver is likelier than something that holds it.');
        $keys = $seen->proposed();
        self::assertContains('walk U5', $keys);
        self::assertNotSame('replace U5', $keys[0]);
    }

    public function test_what_would_tell_nothing_is_not_tried_before_the_part_that_it_is(): void
    {
        // Its outputs are shared: another part drives them while it should, so all of its pins move.
        $dead = new InjectedFault(FaultKind::Dead, 'U5');
        $apprentice = new Apprentice(SickBench::with('larkspur-64', $dead));
        $bench = Bench::with('larkspur-64')->note('sign blank', 'run test-rom pass', 'run test-rom pass')->read(SickBench::swept(SickBench::with('larkspur-64', $dead), '0'))
            ->record('bus-capture', SickBench::with('larkspur-64', $dead)->bus());
        foreach (['U5', 'U8'] as $chip) {
            $bench = $bench->record('pin-walk', $apprentice->walked($chip, Situation::Running)['payload']);
        }
        self::assertSame('U5', $bench->leading());
        $steps = $bench->proposed();
        $place = array_search('replace U5', $steps, true);
        self::assertIsInt($place);
        self::assertSame([], array_values(array_filter(array_slice($steps, 0, $place), static fn (string $step): bool => str_starts_with($step, 'piggyback'))));
    }

    public function test_what_it_surely_is_too_comes_before_all_that_is_hardly_suspected(): void
    {
        $sick = SickBench::with('tamarisk-two', new InjectedFault(FaultKind::OpenTrace, 'A9', 'U6.4'), new InjectedFault(FaultKind::Dead, 'U40'));
        $apprentice = new Apprentice($sick);
        $bench = Bench::with('tamarisk-two')->note('sign garbage')->read(SickBench::swept($sick, '0'))->read(SickBench::swept($sick, '1'));
        foreach ([Situation::FreeRun, Situation::Running] as $situation) {
            $bench = $bench->record('probe', $apprentice->probed('U6.4', $situation)['payload'])->record('probe', $apprentice->probed('U1.39', $situation)['payload'])->record('pin-walk', $apprentice->walked('U40', $situation)['payload']);
        }
        self::assertSame('A9', $bench->leading());
        self::assertGreaterThan(0.95, $bench->share('U40'));
        self::assertSame('continuity A9', $bench->proposed()[0], 'While it can be shown where the trace is broken, that comes first.');

        // The meter says otherwise: nothing shows where, and what else is sure is repaired.
        self::assertSame('replace U40', $bench->note('closed u1.39 u6.4', 'closed u1.39 u6.4')->proposed()[0]);
    }

    public function test_what_was_read_all_over_and_is_right_stays_in(): void
    {
        // A test names bit 5, and all of the bank reads right.
        $right = Bench::with('larkspur-64')->note('sign blank', 'count 6', 'count 6')->read(SickBench::swept(SickBench::with('larkspur-64'), '0'));
        self::assertGreaterThan(0.5, $right->share('U14'));
        $steps = $right->proposed();
        $before = array_slice($steps, 0, (int) array_search('replace U14', $steps, true));
        self::assertSame([], array_diff(['continuity U14.14', 'walk U4', 'piggyback U14', 'run long-test'], $before), 'As long as anything else tells something.');
        self::assertNotContains('reseat LK1', $steps, 'A bank that reads right all over has its links right.');
    }

    public function test_what_was_wrong_only_before_the_last_repair_is_not_unsoldered(): void
    {
        $sick = Bench::with('larkspur-64')->note('6c00 00>20', '6c01 0f>2f', '7000 00>20', '7001 ff>ff', 'count 6', 'count 6');
        $line = array_values(array_filter($sick->steps(), static fn (Step $step): bool => $step->key() === 'continuity U14.14'))[0]->outcomes[0]['observation']['payload'] ?? [];
        $sick = $sick->record('continuity', ['result' => 'closed'] + $line);
        self::assertSame('replace U14', $sick->proposed()[0]);
        $cured = $sick->note('reseat u17 cured');
        self::assertGreaterThan(0.8, $cured->share('U14'), 'It is suspected as before.');
        self::assertSame('prove', trim($cured->proposed()[0]));
        self::assertSame('replace U14', $cured->note('count 6')->proposed()[0], 'Once it shows again.');
    }

    public function test_the_trace_that_it_surely_is_is_located_before_anything_else(): void
    {
        $sick = SickBench::with('halyard-16', new InjectedFault(FaultKind::Short, 'A9', 'A20'), new InjectedFault(FaultKind::Weak, 'U51'));
        $bench = Bench::with('halyard-16')->note('sign blank', 'run start-up nothing', 'run start-colour nothing')->read(SickBench::swept($sick, 'main'))->record('bus-capture', $sick->bus());

        self::assertSame('A9', $bench->leading());
        self::assertEqualsCanonicalizing(['continuity A9', 'probe U75.2'], array_slice($bench->proposed(), 0, 2), 'The last pin of A9.');
    }

    public function test_a_part_is_touched_again_when_what_feeds_it_was_replaced(): void
    {
        $walk = ['chip' => 'U5', 'situation' => 'free-run', 'wrong' => [['pin' => 'U5.2', 'state' => 'silent', 'expected' => 'pulsing'], ['pin' => 'U5.4', 'state' => 'low', 'expected' => 'pulsing']], 'pulsing' => ['U5.1', 'U5.5', 'U5.7', 'U5.9', 'U5.12'], 'unknown' => []];
        $walked = Bench::with('larkspur-64')->note('sign blank')->read(SickBench::swept(SickBench::with('larkspur-64', new InjectedFault(FaultKind::OutputLow, 'U5.4')), '0'))->record('pin-walk', $walk);

        self::assertNotContains('walk U5', $walked->note('reseat u17 same')->proposed());
        self::assertContains('walk U5', $walked->note('fit u30 new same')->proposed(), 'U30 gives it what it multiplexes.');
    }

    public function test_a_part_of_which_no_pin_is_right_is_not_touched_again(): void
    {
        $held = new InjectedFault(FaultKind::HoldsLow, 'U57.9');
        $bench = Bench::with('halyard-16')->note('sign blank')->record('pin-walk', (new Apprentice(SickBench::with('halyard-16', $held)))->walked('U78', Situation::FreeRun)['payload']);

        self::assertGreaterThan(0.3, $bench->share('U78'));
        self::assertNotContains('walk U78', $bench->proposed());
    }

    public function test_a_pass_is_not_asked_for_twice(): void
    {
        $sick = Bench::with('tamarisk-two')->note('sign blank', 'run plug-in pass');
        self::assertNotContains('run plug-in', $sick->proposed(), 'A pass is no miscount.');
        self::assertNotContains('run plug-in', Bench::with('tamarisk-two')->note('sign blank', 'run plug-in nothing')->proposed(), 'Nor is silence.');
        self::assertContains('run plug-in', Bench::with('tamarisk-two')->note('sign blank', 'run plug-in 6')->proposed(), 'A count may be one.');
    }

    public function test_a_diagnostic_of_which_nothing_comes_tells_of_a_crash(): void
    {
        $sick = Bench::with('halyard-16')->note('sign blank');
        $silent = $sick->note('run start-up nothing');
        $runs = array_values(array_filter($silent->assess()->conclusion->evidence, static fn (Evidence $seen): bool => $seen->runs !== null));
        self::assertCount(1, $runs);
        self::assertTrue($runs[0]->abnormal);
        self::assertSame('the start-up test gave no result (one run)', $runs[0]->words);
        self::assertGreaterThan(1.5 * $sick->share('U2'), $silent->share('U2'));
        self::assertNotContains('run start-up', $silent->proposed());

        $through = $sick->note('run start-up U47');
        self::assertFalse(array_values(array_filter($through->assess()->conclusion->evidence, static fn (Evidence $seen): bool => $seen->runs !== null))[0]->abnormal);
        self::assertLessThan($sick->share('U2'), $through->share('U2'), 'What runs a test is not what made it crash.');
    }

    public function test_a_code_that_names_chips_blames_what_leads_to_them_as_well(): void
    {
        $aliased = Bench::with('halyard-16')->read(SickBench::swept(SickBench::with('halyard-16', new InjectedFault(FaultKind::OutputLow, 'U85.7')), 'riser'));
        $coloured = $aliased->note('run start-colour yellow x2');

        self::assertSame('U85', $coloured->leading());
        self::assertGreaterThan(0.9 * $aliased->share('U85'), $coloured->share('U85'), 'The colour says nothing against it.');
    }

    public function test_a_recording_that_was_all_right_is_not_made_again(): void
    {
        $bench = SickBench::with('tamarisk-two', new InjectedFault(FaultKind::ReadsLow, 'U24'));
        $good = SickBench::with('tamarisk-two');
        $sick = Bench::with('tamarisk-two')->note('sign blank');
        self::assertContains('capture U1', $sick->proposed(self::all()));
        $right = $sick->record('bus-capture', $good->bus());
        self::assertNotContains('capture U1', $right->note('exchange u21 same')->proposed(self::all()));
        $wrong = $sick->record('bus-capture', SickBench::with('tamarisk-two', new InjectedFault(FaultKind::Dead, 'U2'))->bus());
        self::assertContains('capture U1', $wrong->note('exchange u2 same', 'sign blank')->proposed(self::all()), 'One that went wrong may go on now.');
        self::assertNotSame([], $bench->bus());
    }

    public function test_while_it_fails_it_is_not_proved_but_looked_at(): void
    {
        $failing = Bench::with('tamarisk-two')->note('count 6', 'count 6')->read("4100 FF DF\n5000 FF DF")->note('exchange u26 cured', 'power-ons 9', 'power-ons 1 failed 1');
        self::assertTrue($failing->assess()->now->isFailing());
        $keys = $failing->proposed();

        self::assertNotSame('prove', $keys[0]);
        foreach (['read bank 0', 'read bank 1', 'read bank screen', 'function tape'] as $look) {
            self::assertContains($look, array_slice($keys, 0, 12), 'Whatever needs no new start.');
        }
    }

    public function test_a_function_takes_what_the_profile_says(): void
    {
        $cured = Bench::with('tamarisk-two')->note('sign blank', 'count 6', 'count 6')->read("4100 FF DF\n5000 FF DF")->note('exchange u26 cured', 'power-ons 20');
        $steps = $cured->steps();

        self::assertSame('prove', $steps[0]->action);
        self::assertStringContainsString('fills both banks', $steps[0]->sentence);
        self::assertSame(3.0, $steps[0]->minutes);
    }

    public function test_a_bank_is_read_before_what_only_a_diagnostic_has_named_comes_out(): void
    {
        $named = Bench::with('halyard-16')->note('+5 vr1 5.0', 'sign blank')
            ->record('diagnostic-run', ['diagnostic' => 'start-up', 'result' => 'U47 U50'])
            ->record('diagnostic-run', ['diagnostic' => 'start-colour', 'result' => 'green'])
            ->record('setup-check', ['setup' => 'table of the start-up test', 'result' => 'right']);

        self::assertContains($named->leading(), ['U47', 'U50']);
        $keys = $named->proposed();
        self::assertContains('replace U47', $keys);
        self::assertLessThan(array_search('replace U47', $keys, true), array_search('read bank main', $keys, true));
    }

    public function test_what_tells_much_in_half_the_time_comes_before_an_exchange_that_may_be_for_nothing(): void
    {
        $bench = Bench::with('halyard-16')->record('rail', ['rail' => '+5', 'volts' => 5, 'site' => 'U96'])->note('sign blank')
            ->record('diagnostic-run', ['diagnostic' => 'start-up', 'result' => 'nothing'])
            ->record('diagnostic-run', ['diagnostic' => 'start-colour', 'result' => 'yellow'])
            ->record('setting', ['ref' => 'LK1', 'position' => 'off', 'since' => 'now', 'result' => 'cured'])
            ->record('setting', ['ref' => 'LK1', 'position' => '080000', 'since' => 'now', 'result' => 'as-before']);

        self::assertSame('U87', $bench->leading());
        self::assertLessThan(0.7, $bench->share('U87'));
        $drawer = new Workbench(School::MeasureFirst, Workbench::usual()->equipment, ['16L8']);
        self::assertContains('exchange U87', $bench->proposed($drawer));
        $steps = $bench->proposed($drawer);
        self::assertMatchesRegularExpression('/^(read bank riser|walk U8[0-3])$/', $steps[0], 'Its memory, as a whole or at the pins of one chip.');
        self::assertLessThan(array_search('exchange U87', $steps, true), array_search('read bank riser', $steps, true));
    }

    public function test_an_original_that_was_back_already_is_not_put_back_again(): void
    {
        $out = Bench::with('tamarisk-two')->note('sign blank', 'count 5', 'count 5', 'exchange u24 as before', 'exchange u28 as before');
        self::assertContains('refit U24', $out->proposed());

        $again = $out->note('refit u24 as before', 'exchange u24 as before', 'refit u28 as before', 'exchange u28 as before');
        self::assertSame([], array_values(array_intersect(['refit U24', 'refit U28'], $again->proposed())), 'It would tell the same.');
    }

    public function test_a_blank_machine_whose_bus_does_what_it_should_is_tried_for_what_it_does(): void
    {
        $sick = SickBench::with('tamarisk-two', new InjectedFault(FaultKind::OutputLow, 'U39.9'));
        $blank = Bench::with('tamarisk-two')->note('sign blank')->record('diagnostic-run', ['diagnostic' => 'plug-in', 'result' => 'pass']);
        self::assertNotContains('function picture', $blank->proposed());

        $runs = $blank->record('bus-capture', $sick->bus());
        self::assertContains('function picture', $runs->proposed());
        $failed = $runs->note('picture fails')->record('pin-walk', (new Apprentice($sick))->walked('U39', Situation::Running)['payload']);
        self::assertSame('U39', $failed->leading());
    }

    public function test_what_nobody_would_suspect_is_unsoldered_last_of_all(): void
    {
        $bench = Bench::with('larkspur-64')->note('+5 u37 5.0', 'sign blank', 'count nothing');
        $steps = $bench->steps();
        $hardly = array_keys(array_filter($steps, static fn (Step $step): bool => $step->action === 'replace' && $step->risk === 'heat' && $bench->share($step->site) < 0.2));

        self::assertNotSame([], $hardly);
        self::assertSame(range(count($steps) - count($hardly), count($steps) - 1), $hardly, implode(', ', $bench->proposed()));
    }

    public function test_what_is_as_likely_good_as_bad_is_not_unsoldered_while_a_touch_tells_something(): void
    {
        // The line breaks just behind the multiplexer, before all of the memory.
        $sick = SickBench::with('larkspur-64', new InjectedFault(FaultKind::OpenTrace, 'MA5', 'U12.10'));
        $apprentice = new Apprentice($sick);
        $bench = Bench::with('larkspur-64')->note('+5 u37 5.0', 'sign clean-banner', 'run test-rom pass')->record('function-test', ['function' => 'memory', 'result' => 'fails'])->read(SickBench::swept($sick, '0'));
        foreach (['U6', 'U34', 'U31'] as $chip) {
            $bench = $bench->record('pin-walk', $apprentice->walked($chip, Situation::Running)['payload']);
        }
        $bench = $bench->note('run long-test FF');
        $proposed = $bench->proposed();

        self::assertSame('U6', $bench->leading());
        self::assertLessThan(0.65, $bench->share('U6'));
        self::assertContains('probe U9.10', array_slice($proposed, 0, (int) array_search('replace U6', $proposed, true)), implode(', ', $proposed));
        self::assertSame('MA5', $bench->record('probe', $apprentice->probed('U9.10', Situation::Running)['payload'])->record('probe', $apprentice->probed('U6.7', Situation::Running)['payload'])->leading());
    }
}
