<?php

declare(strict_types=1);

namespace Tests\Core\Reasoning;

use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;
use Tests\Support\Bench;
use Tests\Support\Boards;
use ZapTrace\Observations\Assessment;
use ZapTrace\Reasoning\Experience;
use ZapTrace\Reasoning\ProofPlan;

final class ProofAndExperienceTest extends TestCase
{
    /**
     * @return iterable<string, array{float, float, int}>
     */
    public static function runs(): iterable
    {
        // Wilson, JASA 22 (1927): one in five has the lower bound 0.036.
        yield 'clean runs for 95 % at rate 0.036: 82' => [0.0362, 0.95, 82];
        // Hanley and Lippman-Hand, JAMA 249 (1983): none in n bounds the rate at about 3/n, so at rate 3/n about n are enough.
        yield 'the rule of three' => [0.03, 0.95, 99];
        yield 'a fault that always shows' => [1.0, 0.95, 1];
        yield 'half the time' => [0.5, 0.95, 5];
        yield 'for more confidence' => [0.5, 0.99, 7];
    }

    #[DataProvider('runs')]
    public function test_clean_runs_wanted_follow_from_the_rate(float $rate, float $confidence, int $needed): void
    {
        self::assertSame($needed, ProofPlan::cleanRuns($rate, $confidence));
    }

    public function test_a_fault_that_showed_once_in_five_needs_about_eighty_clean_power_ons(): void
    {
        $plan = self::plan(Bench::with('larkspur-64')->note('power-ons 5 failed 1', 'fit u14 new cured'));

        self::assertSame([1, 5], [$plan->shown, $plan->of]);
        self::assertEqualsWithDelta(0.036, $plan->interval->lower, 0.001);
        self::assertEqualsWithDelta(0.62, $plan->interval->upper, 0.005);
        self::assertSame(82, $plan->needed);
        self::assertSame(82, $plan->cleanRunsLeft());
    }

    public function test_clean_runs_count_until_it_shows_again_or_a_part_is_changed(): void
    {
        $plan = static fn (string ...$lines): ProofPlan => self::plan(Bench::with('larkspur-64')->note('power-ons 4 failed 4', 'fit u14 new cured', ...$lines));

        self::assertSame(6, $plan('power-ons 4', 'power-ons 2')->clean);
        self::assertSame(2, $plan('power-ons 4', 'power-ons 1 failed 1', 'power-ons 2')->clean);
        self::assertSame(0, $plan('power-ons 4', 'fit u15 new cured')->clean);
        self::assertSame(61.0, $plan('ran 61 clean')->minutes);
        self::assertGreaterThan($plan('power-ons 4')->needed, $plan('power-ons 9 failed 1')->needed, 'It shows more rarely than was thought.');
    }

    public function test_a_fault_that_showed_each_time_needs_no_more_clean_runs_for_having_been_counted(): void
    {
        $plan = static fn (string ...$lines): ProofPlan => self::plan(Bench::with('larkspur-64')->note(...[...$lines, 'fit u14 new cured']));

        self::assertSame(6, $plan('sign blank')->needed, 'Nobody counted.');
        self::assertSame(6, $plan('count 6')->needed);
        self::assertSame(6, $plan('power-ons 2 failed 2')->needed);
        self::assertSame(6, $plan('power-ons 3 failed 3')->needed);
        self::assertLessThan(6, $plan('power-ons 5 failed 5')->needed);
        self::assertGreaterThan(6, $plan('power-ons 2 failed 1')->needed);
        self::assertStringContainsString('The fault showed each time it was counted, 1 in all', $plan('count 6')->words());
    }

    public function test_what_a_diagnostic_passes_counts_only_where_it_has_shown_the_fault(): void
    {
        $blind = self::plan(Bench::with('larkspur-64')->note('count pass', 'count pass', 'power-ons 1 failed 1', 'fit u14 new cured', 'count pass'));
        self::assertSame([1, 1, 0], [$blind->shown, $blind->of, $blind->clean], 'It never showed it.');
        $rate = self::plan(Bench::with('larkspur-64')->note('count 6', 'count pass', 'count pass', 'fit u14 new cured', 'count pass'));
        self::assertSame([1, 3, 1], [$rate->shown, $rate->of, $rate->clean]);
        // It showed one fault, which went with U14; the other is there each time, and the test does not look at it.
        $other = self::plan(Bench::with('larkspur-64')->note('count 6', 'fit u14 new same', 'power-ons 1 failed 1', 'count pass', 'power-ons 1 failed 1', 'fit u15 new cured'));
        self::assertSame([3, 3], [$other->shown, $other->of]);
    }

    public function test_clean_runs_with_another_part_in_tell_of_the_fault_only_when_it_shows_again(): void
    {
        $plan = static fn (string ...$lines): array => (static fn (ProofPlan $plan): array => [$plan->shown, $plan->of, $plan->clean])(self::plan(Bench::with('larkspur-64')->note('power-ons 3 failed 1', ...$lines)));

        self::assertSame([1, 3, 9], $plan('power-ons 9'));
        self::assertSame([1, 12, 0], $plan('power-ons 9', 'fit u14 new cured'), 'The fault was in there still.');
        self::assertSame([1, 3, 0], $plan('exchange u23 cured', 'power-ons 48', 'fit u14 new cured'), 'That was the machine with the good part.');
        self::assertSame([2, 52, 0], $plan('exchange u23 cured', 'power-ons 48', 'power-ons 1 failed 1', 'fit u14 new cured'), 'It was not the part.');
    }

    public function test_clean_runs_with_a_link_moved_tell_nothing_of_how_often_it_shows_and_prove_nothing(): void
    {
        $bench = Bench::with('tamarisk-two')->note('power-ons 3 failed 3')
            ->record('setting', ['ref' => 'LK1', 'position' => '16K', 'since' => 'now', 'result' => 'cured'])->note('power-ons 9');
        self::assertSame([3, 3, 0], (static fn (ProofPlan $plan): array => [$plan->shown, $plan->of, $plan->clean])(self::plan($bench->note('exchange u37 cured'))), 'The bank may have been out of play.');
        $back = $bench->note('exchange u37 cured', 'power-ons 9')->record('setting', ['ref' => 'LK1', 'position' => '32K', 'since' => 'now', 'result' => 'cured']);
        self::assertSame(0, self::plan($back)->clean, 'Nine without the bank are no proof of it.');
        self::assertSame(2, self::plan($back->note('power-ons 2'))->clean);
        self::assertNotContains('memory', self::plan($bench->note('exchange u37 cured', 'memory works'))->untested(), 'As it stands.');
        self::assertContains('memory', self::plan($bench->note('exchange u37 cured', 'memory works')->record('setting', ['ref' => 'LK1', 'position' => '32K', 'since' => 'now', 'result' => 'cured']))->untested(), 'It was not tested with that bank.');
        // Where it has shown with the link moved as well, clean ones there count.
        self::assertSame([4, 12], (static fn (ProofPlan $plan): array => [$plan->shown, $plan->of])(self::plan($bench->note('power-ons 1 failed 1', 'power-ons 8', 'exchange u37 cured'))));
    }

    public function test_what_shows_with_the_parts_that_are_in_is_not_proved_by_clean_runs(): void
    {
        $works = ['keys works', 'tape works', 'printer works', 'picture works', 'memory works'];
        $bench = Bench::with('larkspur-64')->note('power-ons 3 failed 3', 'reseat u26 cured', 'power-ons 1 failed 1', 'power-ons 12', ...$works);

        self::assertTrue(self::plan($bench)->shows);
        self::assertFalse(self::plan($bench)->isProved(), 'Nothing was done since.');
        self::assertStringContainsString('clean ones prove nothing before something is repaired', self::plan($bench)->words());
        $after = $bench->note('exchange u26 cured', 'power-ons 300', ...$works);
        self::assertFalse(self::plan($after)->shows);
        self::assertTrue(self::plan($after)->isProved());
    }

    public function test_what_failed_each_time_tells_nothing_of_how_often_the_next_fault_shows(): void
    {
        // Ten of ten with the one fault; with what was left of it one of four, and then something was done about that.
        $plan = self::plan(Bench::with('larkspur-64')->note('power-ons 10 failed 10', 'fit u14 new cured', 'power-ons 4 failed 1', 'reseat u26 cured'));

        self::assertSame([1, 4], [$plan->shown, $plan->of]);
        // The lower bound of one in four by Wilson is 4.6 %: 65 clean ones. Outside value.
        self::assertSame(65, $plan->needed);
    }

    public function test_it_is_proved_when_the_runs_are_clean_and_every_function_works(): void
    {
        $bench = Bench::with('larkspur-64')->note('power-ons 3 failed 3', 'fit u14 new cured', 'power-ons 6', 'keys works', 'tape works', 'printer works', 'picture works')->record('pins-measured', ['chip' => 'U14', 'open' => []]);

        self::assertFalse(self::plan($bench)->isProved());
        self::assertSame(['memory'], self::plan($bench)->untested());
        $proved = $bench->note('memory works');
        self::assertTrue(self::plan($proved)->isProved());
        self::assertSame(['It is proved. Write the record for the owner.', 'is all that is left to do'], [$proved->steps()[0]->sentence, $proved->steps()[0]->tells]);
        self::assertFalse(self::plan($bench->note('memory fails'))->isProved());
        self::assertFalse(self::plan($bench->note('memory works', 'reseat u26 same', 'fit u3 new same'))->isProved(), 'With another part in, everything is tested again.');
    }

    public function test_the_advice_says_how_many_are_left_and_then_which_function(): void
    {
        $cured = Bench::with('larkspur-64')->note('count 6 x2', '6c00 00>20', '6c01 ff>ff', 'fit u14 tested cured')->record('pins-measured', ['chip' => 'U14', 'open' => []]);

        self::assertStringContainsString('clean power-ons from cold', $cured->steps()[0]->sentence);
        $clean = $cured->note('power-ons 12');
        self::assertSame('Prove it: a program that fills memory.', $clean->steps()[0]->sentence, 'A memory chip was replaced.');
        self::assertSame('It is proved. Before it goes back try what was not tried yet: every key; save to tape and load back; printer port; picture, all characters. Then write the record for the owner.', $clean->note('memory works')->steps()[0]->sentence);
    }

    public function test_the_proof_wants_the_functions_that_something_was_done_for_and_all_where_it_is_not_sure(): void
    {
        $wanted = static function (float $nothingLeft, string ...$lines): array {
            $bench = Bench::with('larkspur-64')->note(...$lines);
            $assessment = $bench->assess();

            return ProofPlan::of($bench->board(), $assessment->samples, $assessment->now, 0.95, $nothingLeft)->wanted;
        };

        self::assertSame(['memory'], $wanted(0.96, 'fit u14 new cured'));
        self::assertSame(['picture'], $wanted(0.96, 'fit u22 new cured'));
        self::assertSame(['picture', 'memory'], $wanted(0.96, 'fit u14 new same', 'fit u22 new cured'));
        self::assertSame([['memory'], ['picture', 'memory']], [$wanted(0.96, 'wire va3 cured'), $wanted(0.96, 'wire de cured')], 'What is on the trace.');
        self::assertSame(['keys', 'tape', 'printer', 'picture', 'memory'], $wanted(0.94, 'fit u14 new cured'));
        self::assertSame([], $wanted(0.96, 'sign blank'));
    }

    public function test_a_function_that_fails_is_never_proved_whether_the_proof_wants_it_or_not(): void
    {
        $bench = Bench::with('larkspur-64')->note('power-ons 3 failed 3', 'fit u14 new cured', 'power-ons 12', 'memory works')->record('pins-measured', ['chip' => 'U14', 'open' => []]);

        self::assertTrue(self::plan($bench)->isProved());
        self::assertFalse(self::plan($bench->note('printer fails'))->isProved());
    }

    public function test_clean_power_ons_speak_against_every_fault_and_ever_less_against_one_that_comes_and_goes(): void
    {
        $sick = Bench::with('larkspur-64')->note('fit u14 new cured');
        $left = static fn (int $clean): float => $sick->note("power-ons {$clean}")->nothingLeft();

        self::assertGreaterThan($left(1), $left(5));
        self::assertGreaterThan($left(5), $left(20));
        self::assertLessThan($left(5) - $left(1), $left(24) - $left(20), 'So many clean ones manufacture no certainty.');
    }

    public function test_a_rail_out_of_limits_is_put_right_first_and_other_conclusions_are_held_back(): void
    {
        $bench = Bench::with('larkspur-64')->note('count 6 x2', '6c00 00>20', '6c01 ff>ff', '+5 vr1 4.41');
        $outlook = $bench->assess()->outlook($bench->board(), 0.95);

        self::assertStringContainsString('+5 V at VR1 measures 4.41 V', $outlook->held());
        self::assertSame('fix VR1', $bench->proposed()[0]);
        self::assertSame([], array_filter($bench->proposed(), static fn (string $step): bool => str_contains($step, 'U14')), 'Nothing else is proposed while a rail is out.');

        $fixed = $bench->note('fix vr1 same', '+5 vr1 5.01');
        self::assertSame('', $fixed->assess()->outlook($fixed->board(), 0.95)->held());
        self::assertSame('U14', $fixed->leading());
    }

    public function test_a_sight_before_power_raises_what_such_a_sight_does_to_a_part(): void
    {
        $run = ['count 6 x2'];
        $plain = Bench::with('larkspur-64')->note(...$run);
        $unseated = Bench::with('larkspur-64')->note('u2 unseated', 'sign blank', 'count nothing');
        $seated = Bench::with('larkspur-64')->note('sign blank', 'count nothing');
        $site = static fn (Bench $bench, string $site): float => $bench->assess()->conclusion->posterior->sites[$site] ?? 0.0;

        self::assertGreaterThan(3 * $site($seated, 'U2'), $site($unseated, 'U2'));
        self::assertGreaterThan($plain->share('U14') + 0.01, Bench::with('larkspur-64')->note('u14 corroded', ...$run)->share('U14'));
    }

    public function test_an_owner_s_theory_is_weak_evidence(): void
    {
        $run = ['count 6 x2'];
        $theory = Bench::with('larkspur-64')->note('theory u13', ...$run);

        self::assertSame('U14', $theory->leading());
        self::assertLessThan(2.0 * Bench::with('larkspur-64')->note(...$run)->share('U13') + 0.01, $theory->share('U13'));
    }

    public function test_long_storage_is_hard_on_contacts_and_a_few_years_are_not(): void
    {
        $share = static fn (string ...$lines): float => Bench::with('tamarisk-two')->note(...$lines, ...['count 3 x2'])->assess()->conclusion->posterior->faults['U23/bad contact'];

        self::assertGreaterThan(1.5 * $share(), $share('stored 20'));
        self::assertSame($share(), $share('stored 2'));
    }

    public function test_what_is_missing_is_not_in_the_machine(): void
    {
        $bench = Bench::with('larkspur-64')->note('missing u27', 'sign cursor-tone');

        self::assertSame('', $bench->assess()->now->partAt('U27'));
        self::assertLessThan(0.2 * Bench::with('larkspur-64')->note('sign cursor-tone')->share('U27'), $bench->share('U27'));
    }

    public function test_what_failed_before_is_likelier_now_and_says_so(): void
    {
        $board = Boards::shipped('larkspur-64');
        $experience = new Experience([['board' => 'larkspur-64', 'site' => 'U14', 'part' => '4164'], ['board' => 'tamarisk-two', 'site' => 'U12', 'part' => '74LS257']]);
        $factors = $experience->factors($board);

        self::assertSame('U14 failed once on this board before.', $experience->words($board, 'U14'));
        self::assertSame('A 4164 failed once elsewhere.', $experience->words($board, 'U9'));
        self::assertSame('', $experience->words($board, 'U1'));
        self::assertGreaterThan($factors['U9'], $factors['U14'], 'The same place weighs more than the same type.');
        self::assertGreaterThan(1.0, $factors['U5'], 'A 74LS257.');
        self::assertArrayNotHasKey('U1', $factors);
        $often = new Experience(array_fill(0, 50, ['board' => 'larkspur-64', 'site' => 'U14', 'part' => '4164']));
        self::assertLessThan(10.0, $often->factors($board)['U14'], 'Many count less and less.');
    }

    public function test_experience_moves_the_shares_of_the_parts_it_is_about(): void
    {
        $bench = Bench::with('larkspur-64')->note('count 6');
        $with = $bench->assess(['U14' => 4.0]);
        $share = static fn (Assessment $assessment): float => $assessment->conclusion->posterior->sites['U14'];

        self::assertGreaterThan($share($bench->assess()), $share($with));
    }

    private static function plan(Bench $bench): ProofPlan
    {
        $plan = $bench->assess()->outlook($bench->board(), 0.95)->proof;
        self::assertNotNull($plan);

        return $plan;
    }
}
