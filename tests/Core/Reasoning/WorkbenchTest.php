<?php

declare(strict_types=1);

namespace Tests\Core\Reasoning;

use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;
use Tests\Support\Bench;
use Tests\Support\Boards;
use ZapTrace\Reasoning\Equipment;
use ZapTrace\Reasoning\School;
use ZapTrace\Reasoning\Step;
use ZapTrace\Reasoning\Workbench;

/**
 * What is owned decides what can be proposed, and the school in which order. Common practice.
 */
final class WorkbenchTest extends TestCase
{
    private static function sick(): Bench
    {
        return Bench::with('tamarisk-two')->read("8000 00 04\n8001 FF FF\n8100 00 04\n4000 00 00\n4001 FF FF");
    }

    /**
     * @param  list<Equipment>  $equipment
     * @param  list<string>|null  $spares
     */
    private static function bench(School $school = School::MeasureFirst, array $equipment = [Equipment::Meter, Equipment::Tester, Equipment::SolderingStation], ?array $spares = null): Workbench
    {
        return new Workbench($school, $equipment, $spares);
    }

    public function test_what_is_not_owned_is_not_proposed(): void
    {
        $without = self::sick()->proposed(self::bench(equipment: []));
        self::assertSame([], array_filter($without, static fn (string $step): bool => preg_match('/^(test|run|cool|wire|replace|prove-second) /', $step) === 1));

        self::assertContains('test U33', self::sick()->proposed(self::bench()));
        self::assertContains('run plug-in', self::sick()->proposed(self::bench(equipment: [Equipment::Diagnostic])));
        self::assertContains('prove-second', self::sick()->proposed(self::bench(equipment: [Equipment::SecondMachine])));
    }

    public function test_without_a_spare_nothing_is_exchanged_for_one(): void
    {
        self::assertContains('exchange U33', self::sick()->proposed(self::bench()));
        self::assertNotContains('exchange U33', self::sick()->proposed(self::bench(spares: ['74LS157'])));
        self::assertContains('exchange U33', self::sick()->proposed(self::bench(spares: ['4116'])));
    }

    public function test_a_programmed_part_is_at_hand_only_when_the_drawer_says_so(): void
    {
        $dead = Bench::with('halyard-16')->read("80000 0000 FFFF\n80002 5555 FFFF\n90000 1234 FFFF");

        self::assertNotContains('exchange U87', $dead->proposed(self::bench()), 'A 16L8 with its equations cannot be bought.');
        self::assertContains('exchange U87', $dead->proposed(self::bench(spares: ['16L8'])));
    }

    public function test_parts_are_exchanged_with_the_second_machine_only_after_it_was_proved(): void
    {
        $owned = self::bench(equipment: [Equipment::SecondMachine]);

        self::assertNotContains('exchange-second U33', self::sick()->proposed($owned));
        $proved = self::sick()->note('second works');
        self::assertContains('exchange-second U33', $proved->proposed($owned));
        $step = array_values(array_filter($proved->steps($owned), static fn (Step $step): bool => $step->action === 'exchange-second'))[0];
        self::assertSame('borrowed', $step->risk);
        self::assertCount(4, $step->outcomes, 'Here and there, cured or not.');
        self::assertStringContainsString('a fault here can kill the borrowed one', $step->caution);
    }

    #[DataProvider('schools')]
    public function test_the_school_prices_kinds_of_step(School $school, string $kind): void
    {
        $rank = static function (Bench $bench, School $with) use ($kind): float {
            $steps = $bench->steps(self::bench($with, Equipment::cases()));
            $saves = array_map(static fn (Step $step): float => $step->saves, array_filter($steps, static fn (Step $step): bool => $step->kind === $kind));

            return $saves === [] ? -INF : max($saves);
        };
        $others = array_map(static fn (School $other): float => $rank(self::sick(), $other), array_filter(School::cases(), static fn (School $other): bool => $other !== $school));

        self::assertGreaterThanOrEqual(max($others) - 1e-9, $rank(self::sick(), $school), "{$school->words()} likes {$kind} best");
    }

    /**
     * @return iterable<string, array{School, string}>
     */
    public static function schools(): iterable
    {
        yield 'measure first' => [School::MeasureFirst, 'measure'];
        yield 'swap first' => [School::SwapFirst, 'swap'];
        yield 'clean and reseat first' => [School::CleanFirst, 'contact'];
        yield 'likelihood order' => [School::Likelihood, 'repair'];
    }

    public function test_a_step_put_off_is_not_proposed_until_it_is_taken_up_again(): void
    {
        $first = self::sick()->steps()[0];
        $aside = self::sick()->record('set-aside', ['action' => $first->action, 'site' => $first->site, 'reason' => 'no-tool']);

        self::assertNotContains(trim($first->key()), $aside->proposed());
        self::assertNotSame([], $aside->proposed(), 'The next best comes.');
        self::assertSame(trim($first->key()), trim($aside->without(1)->steps()[0]->key()));
        self::assertEquals(self::sick()->assess()->conclusion->posterior, $aside->assess()->conclusion->posterior, 'It says nothing of the machine.');
    }

    public function test_nothing_is_unsoldered_on_one_reading_and_what_is_missing_is_said(): void
    {
        $one = Bench::with('larkspur-64')->read('6C00 00 20');
        foreach ($one->steps() as $step) {
            self::assertNotSame('heat', $step->risk);
        }
        self::assertStringContainsString('U14 waits for a second that says the same', $one->steps()[0]->missing);

        $two = Bench::with('larkspur-64')->read("6C00 00 20\n6C01 0F 2F\n7000 00 20\n7001 FF FF");
        self::assertSame('', $two->steps()[0]->missing);
    }

    public function test_what_has_to_be_opened_is_counted_once(): void
    {
        $closed = Bench::with('halyard-16')->read("80000 0000 00F0\n80002 0000 00F0");
        $find = static fn (Bench $bench): Step => array_values(array_filter($bench->steps(), static fn (Step $step): bool => $step->key() === 'exchange U81'))[0];

        self::assertStringContainsString("First take the lid off and lift the riser's bracket", $find($closed)->access);
        self::assertEqualsWithDelta(10.0, $find($closed)->minutes, 1e-9, 'Five to open it, five for the chip.');
        $open = $closed->note('reseat u80 same');
        self::assertSame('', $find($open)->access);
        self::assertEqualsWithDelta(5.0, $find($open)->minutes, 1e-9);
    }

    public function test_the_link_that_takes_a_bank_away_halves_the_search(): void
    {
        $step = array_values(array_filter(self::sick()->steps(), static fn (Step $step): bool => $step->action === 'set'))[0];

        self::assertStringContainsString('Set LK1 to 16K: bank 1 is out of play then', $step->sentence);
        self::assertSame(['kind' => 'setting', 'payload' => ['ref' => 'LK1', 'position' => '16K', 'since' => 'now', 'result' => 'cured']], array_values(array_filter($step->outcomes, static fn (array $outcome): bool => $outcome['words'] === 'cured'))[0]['observation']);
        $halved = self::sick()->note('lk1 16k cured');
        self::assertGreaterThan(self::sick()->share('U33'), $halved->share('U33'));
    }

    public function test_what_was_unplugged_goes_back_before_anything_is_proved(): void
    {
        $cured = Bench::with('halyard-16')->read("80000 0000 00F0\n80002 0000 00F0")->note('exchange u82 cured', 'unplug riser cured');
        self::assertSame('plug riser', $cured->proposed()[0]);
        self::assertNotContains('plug riser', $cured->note('plug riser cured')->proposed());
        self::assertNotSame('plug riser', Bench::with('halyard-16')->note('sign blank', 'unplug riser same')->proposed()[0], 'While it is sick there is time for that.');
    }

    public function test_what_the_machine_can_start_without_is_unplugged_first(): void
    {
        $steps = Bench::with('halyard-16')->read("20000 0000 0010\n20002 0000 0010\n80000 0000 0010\n80002 0000 0010")->proposed();

        self::assertContains('unplug riser', $steps);
        self::assertNotContains('unplug main', $steps);
    }

    public function test_every_outcome_that_can_be_clicked_is_an_observation_that_is_understood(): void
    {
        $benches = [self::sick()->note('second works'), Bench::with('larkspur-64')->note('count 3')];
        $clicked = 0;
        foreach ($benches as $bench) {
            $seen = [];
            foreach ($bench->steps(self::bench(equipment: Equipment::cases())) as $step) {
                if (isset($seen[$step->action])) {
                    continue; // One step of each kind will do.
                }
                $seen[$step->action] = true;
                self::assertEqualsWithDelta(1.0, array_sum(array_column($step->outcomes, 'chance')) ?: 1.0, 1e-6, $step->sentence);
                self::assertLessThanOrEqual(5, count($step->outcomes), 'What is unlikely is told together.');
                foreach ($step->outcomes as $outcome) {
                    if ($outcome['observation'] !== null) {
                        $after = $bench->record($outcome['observation']['kind'], $outcome['observation']['payload'])->assess();
                        self::assertSame([], $after->unreadable, $step->sentence);
                        $clicked++;
                    }
                }
            }
        }
        self::assertGreaterThan(20, $clicked);
    }

    public function test_after_a_repair_the_cheapest_test_that_showed_the_fault_comes_first(): void
    {
        self::assertStringContainsString('run the test ROM', Bench::with('larkspur-64')->note('count 3 x2', 'fit u11 new')->steps()[0]->sentence);
        self::assertStringContainsString('read the addresses that failed', Bench::with('larkspur-64')->note('count 3 x2')->read("1000 00 04\n1001 FF FF")->note('fit u11 new')->steps()[0]->sentence);
        self::assertStringContainsString('is the complaint as before', Bench::with('larkspur-64')->note('reseat u2')->steps()[0]->sentence);
    }

    public function test_what_was_left_untried_is_answered_with_one_click(): void
    {
        $untried = Bench::with('larkspur-64')->note('count 3 x2', 'fit u11 new');
        $answer = $untried->steps()[0]->outcomes[0]['observation'] ?? self::fail('There is nothing to click.');
        $cured = $untried->record($answer['kind'], $answer['payload']);

        self::assertGreaterThan(0.8, $cured->cured('U11'));
        self::assertSame('pins U11', $cured->proposed()[0]);
        self::assertSame('prove', $cured->record('pins-measured', ['chip' => 'U11', 'open' => []])->proposed()[0]);
        self::assertEqualsWithDelta(Bench::with('larkspur-64')->note('count 3 x2', 'fit u11 new cured')->nothingLeft(), $cured->nothingLeft(), 0.02, 'As if it had been said at once.');
    }

    public function test_what_has_to_be_repaired_anyway_is_repaired_first(): void
    {
        $bench = self::sick()->note('count 11 x2', 'swap u33 u34 moved');

        self::assertGreaterThan(0.95, $bench->share('U33'));
        self::assertSame('exchange U34', $bench->proposed()[0], 'That is where U33 sits now.');
        self::assertNotSame([], $bench->assess()->conclusion->suspects()[0]->reasons, 'With no rival left it can still be told what it explains.');
    }

    public function test_a_swap_of_a_good_chip_is_not_said_to_cure(): void
    {
        $bench = Bench::with('tamarisk-two')->note('over-voltage +5', 'count 3 x2', 'sign at-signs');
        $swaps = array_filter($bench->steps(), static fn ($step): bool => $step->action === 'swap');
        self::assertNotSame([], $swaps);
        foreach ($swaps as $step) {
            $gone = array_values(array_filter($step->outcomes, static fn (array $outcome): bool => $outcome['words'] === 'it is gone'));
            self::assertLessThan(0.2, $gone[0]['chance'] ?? 0.0, $step->sentence);
        }
    }

    public function test_after_a_swap_that_cured_putting_the_original_back_is_offered(): void
    {
        $steps = self::sick()->note('exchange u33 cured')->proposed();

        self::assertSame('prove', $steps[0]);
        self::assertContains('refit U33', $steps);
    }

    public function test_when_it_is_not_on_the_profile_parts_stop_coming_out(): void
    {
        // A profile of the memory alone: whatever else stops the machine is not on it.
        $bench = Bench::on(Boards::build(Boards::plain(['diagnostics' => [['id' => 'rom', 'name' => 'test ROM', 'reports' => 'flashes', 'covers' => [['from' => '0x0000', 'to' => '0xFFFF']], 'codes' => [['code' => '1', 'bank' => '0', 'line' => 'D0']]]]])))->note('count nothing x3')->read("0100 00 00\n0100 FF FF\n0200 55 55\n0200 AA AA\n0300 00 00\n0300 FF FF");

        $widen = $bench->steps()[0];
        self::assertSame('widen', $widen->action);
        foreach ($bench->steps() as $step) {
            self::assertNotSame('heat', $step->risk);
        }

        // Gone through once, and nothing is missing: it is less likely, and not asked again.
        $seen = $widen->outcomes[0]['observation'] ?? self::fail('It can be noted.');
        $whole = $bench->record($seen['kind'], $seen['payload']);
        self::assertLessThan($bench->share('elsewhere') - 0.1, $whole->share('elsewhere'));
        self::assertGreaterThan(0.2 * $bench->share('elsewhere'), $whole->share('elsewhere'), 'What is not on it may have been overlooked.');
        self::assertNotContains('widen', array_map(trim(...), $whole->proposed()));
        self::assertSame(0.0, $whole->share('board profile'));
        self::assertEqualsWithDelta(1.0, array_sum(array_column($widen->outcomes, 'chance')), 1e-9);
    }

    public function test_at_the_start_the_diagnostics_that_there_are_are_offered(): void
    {
        self::assertSame(['look-over', 'rail +5', 'watch', 'run test-rom', 'function memory', 'function picture', 'function keys', 'function printer', 'function tape', 'run long-test'], array_slice(Bench::with('larkspur-64')->proposed(), 0, 10));
    }

    public function test_a_board_can_say_what_its_machine_fails_of(): void
    {
        $plain = Bench::on(Boards::build(Boards::plain()))->read("0100 00 01\n0200 00 01\n0201 FF FF");
        $known = Bench::on(Boards::build(Boards::plain(['reasoning' => ['modes' => [['cause' => 'net', 'mode' => 'held high', 'prior' => 0.05, 'source' => 'a shop that sees many']]]])))->read("0100 00 01\n0200 00 01\n0201 FF FF");

        self::assertSame('U1', $plain->leading());
        self::assertSame('D0', $known->leading());
    }

    public function test_a_board_that_overrides_what_there_is_not_is_told_everything_at_once(): void
    {
        $this->expectExceptionMessageMatches('/no mode "held sideways".*no rate "luck"/s');
        $board = Boards::build(Boards::plain(['reasoning' => ['modes' => [['cause' => 'net', 'mode' => 'held sideways', 'source' => 'x']], 'rates' => ['luck' => 0.5]]]));
        Boards::modes()->overriddenBy($board->reasoning);
    }
}
