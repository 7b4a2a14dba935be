<?php

declare(strict_types=1);

namespace Tests\Core\Reasoning;

use Eris\Generators;
use Eris\TestTrait;
use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;
use ZapTrace\Reasoning\DiagnosticOutcome;

/**
 * One run, one likelihood: the chances of all results that a run can have add up to one, whatever is bad.
 */
final class DiagnosticOutcomeTest extends TestCase
{
    use TestTrait;

    private const RATES = ['pass' => 0.05, 'error' => 0.02, 'slip' => 0.08, 'slipAlways' => 0.02, 'wild' => 0.02];

    #[DataProvider('orders')]
    public function test_the_chances_of_all_results_add_up_to_one(string $order): void
    {
        $this->limitTo(40)->forAll(Generators::choose(1, 1_000_000), Generators::choose(0, 3))->disableShrinking()
            ->then(function (int $seed, int $bad) use ($order): void {
                mt_srand($seed);
                $faults = [];
                for ($i = 0; $i < $bad; $i++) {
                    $faults["f{$i}"] = [mt_rand(0, 7) => mt_rand(1, 100) / 100, mt_rand(0, 7) => mt_rand(1, 100) / 100];
                }
                $perRun = mt_rand(0, 1) === 1 && $bad > 0 ? ['f0' => 0.4] : [];
                $crash = $bad > 1 ? ['f1' => 0.3] : [];
                $sum = 0.0;
                foreach ([...range(0, 7), 'pass', 'nothing'] as $result) {
                    $sum += $this->outcome([$result], $order, $faults, $perRun, $crash)->chance(array_keys($faults));
                }
                self::assertEqualsWithDelta(1.0, $sum, 1e-6);
            });
    }

    /**
     * @return iterable<string, array{string}>
     */
    public static function orders(): iterable
    {
        yield 'lowest first' => ['lowest'];
        yield 'highest first' => ['highest'];
        yield 'any' => ['any'];
    }

    public function test_what_is_always_there_lets_a_diagnostic_through_each_time_or_never(): void
    {
        $chance = fn (array $results, array $perRun = []): float => $this->outcome($results, 'any', ['f' => [1 => 1.0]], $perRun, ['f' => 0.5])->chance(['f']);

        // One half for its being of the kind that lets it through; what the runs say besides is much the same.
        self::assertEqualsWithDelta(0.5, $chance(['through', 'through', 'through']), 0.01);
        self::assertEqualsWithDelta($chance(['through']), $chance(['through', 'through', 'through']), 0.01);
        self::assertLessThan(0.6 * $chance(['through'], ['f' => 0.9]), $chance(['through', 'through'], ['f' => 0.9]), 'What comes and goes may do otherwise each time.');
        self::assertLessThan(0.3, $chance(['through', 'nothing']));
    }

    public function test_of_two_bad_bits_the_lowest_is_named_by_one_that_looks_from_below(): void
    {
        $faults = ['a' => [2 => 1.0], 'b' => [5 => 1.0]];
        $chance = fn (int $named, string $order): float => $this->outcome([$named], $order, $faults)->chance(['a', 'b']);

        self::assertGreaterThan(20 * $chance(5, 'lowest'), $chance(2, 'lowest'));
        self::assertGreaterThan(20 * $chance(2, 'highest'), $chance(5, 'highest'));
        self::assertEqualsWithDelta($chance(2, 'any'), $chance(5, 'any'), 0.03, 'Either is as likely.');
    }

    public function test_a_bit_that_was_not_named_is_not_acquitted(): void
    {
        $faults = ['a' => [2 => 1.0], 'b' => [5 => 1.0]];
        $outcome = $this->outcome([2], 'any', $faults);

        // A second bad bit halves the chance that this one is named, and no more: common practice, one of several.
        self::assertEqualsWithDelta(0.5, $outcome->chance(['a', 'b']) / $outcome->chance(['a']), 0.03);
        self::assertEqualsWithDelta(1.0, $this->outcome([2], 'lowest', $faults)->chance(['a', 'b']) / $this->outcome([2], 'lowest', $faults)->chance(['a']), 0.05);
    }

    public function test_the_same_bit_is_named_again_when_nothing_changes(): void
    {
        $faults = ['a' => [2 => 1.0], 'b' => [5 => 1.0]];

        // Two runs are not two draws: a diagnostic looks in the same order every time.
        self::assertGreaterThan(0.35, $this->outcome([2, 2], 'any', $faults)->chance(['a', 'b']));
        self::assertLessThan(0.02, $this->outcome([2, 5], 'any', $faults)->chance(['a', 'b']));
    }

    public function test_a_neighbour_is_likelier_after_one_count_than_after_two(): void
    {
        $faults = ['a' => [2 => 1.0], 'b' => [3 => 1.0]];
        $ratio = fn (array $runs): float => $this->outcome($runs, 'any', $faults)->chance(['b']) / $this->outcome($runs, 'any', $faults)->chance(['a']);

        self::assertEqualsWithDelta(0.05, $ratio([2]), 0.02);
        self::assertLessThan(0.6 * $ratio([2]), $ratio([2, 2]));
        self::assertGreaterThan(0.005, $ratio([2, 2]), 'One who miscounts once may do so again.');
    }

    public function test_what_is_always_there_leads_nowhere_each_time_or_never(): void
    {
        $chance = fn (array $results, array $perRun = []): float => $this->outcome($results, 'any', ['f' => [1 => 1.0]], $perRun, ['f' => 0.5])->chance(['f']);

        self::assertEqualsWithDelta($chance(['nothing']), $chance(['nothing', 'nothing', 'nothing']), 0.01);
        self::assertLessThan(0.6 * $chance(['nothing'], ['f' => 0.9]), $chance(['nothing', 'nothing'], ['f' => 0.9]), 'What comes and goes may do otherwise each time.');
        self::assertLessThan(0.01, $chance(['nothing', 1]), 'Not now this way and now that.');
    }

    public function test_what_serves_all_bits_may_well_pass_with_all_of_them_and_is_cleared_once_by_all_states_in_which_it_did(): void
    {
        $pass = fn (int $bits, int $passes): float => $this->outcome(['pass'], 'lowest', ['f' => array_fill(0, $bits, 0.36)], passes: $passes)->chance(['f']);

        // Half of the doubt whether it shows is common to its bits.
        self::assertGreaterThan(0.4, $pass(8, 1));
        self::assertEqualsWithDelta(0.66, $pass(1, 1), 0.02, 'One bit alone: as before.');
        self::assertEqualsWithDelta($pass(8, 1), $pass(8, 4) ** 4, 0.05);
        self::assertLessThan($pass(8, 1), $this->outcome(['pass'], 'lowest', ['f' => array_fill(0, 8, 0.9)])->chance(['f']));
        $named = fn (int $code): float => $this->outcome([$code], 'lowest', ['f' => array_fill(0, 8, 0.36)])->chance(['f']);
        self::assertGreaterThan(0.3, $named(0));
        self::assertGreaterThan(0.01, $named(3), 'It need not be all of them.');
    }

    public function test_a_wrong_table_makes_every_code_as_likely_and_goes_on_saying_the_same(): void
    {
        $faults = ['a' => [2 => 1.0]];
        $one = fn (int $named): float => $this->outcome([$named], 'any', $faults)->chance(['a', 'table']);

        self::assertEqualsWithDelta($one(2), $one(7), 1e-9);
        $repeated = $this->outcome(array_fill(0, 10, 7), 'any', $faults);
        self::assertGreaterThan(0.3 * $one(7), $repeated->chance(['a', 'table']), 'Ten equal runs cost a wrong table next to nothing.');
        self::assertLessThan(1e-12, $repeated->chance(['a']));
    }

    public function test_what_comes_and_goes_does_so_for_a_whole_run(): void
    {
        $faults = ['a' => [2 => 1.0]];
        $mixed = [2, 'pass', 2, 'pass'];

        self::assertGreaterThan(10 * $this->outcome($mixed, 'any', $faults)->chance(['a']), $this->outcome($mixed, 'any', $faults, ['a' => 0.5])->chance(['a']));
    }

    public function test_only_what_could_be_meant_explains_it(): void
    {
        $outcome = $this->outcome([2], 'any', ['a' => [2 => 0.9], 'weak' => [6 => 0.1]], crash: ['stops' => 0.9]);

        self::assertContains('a', $outcome->explainedBy());
        self::assertContains('table', $outcome->explainedBy());
        self::assertNotContains('weak', $outcome->explainedBy());
        self::assertNotContains('stops', $outcome->explainedBy());
        self::assertSame([], $this->outcome(['pass'], 'any', ['a' => [2 => 0.9]])->explainedBy(), 'A pass wants no explaining.');
    }

    /**
     * @param  list<int|string>  $results
     * @param  array<string, array<int, float>>  $wrong
     * @param  array<string, float>  $perRun
     * @param  array<string, float>  $crash
     */
    private function outcome(array $results, string $order, array $wrong, array $perRun = [], array $crash = [], int $passes = 1): DiagnosticOutcome
    {
        $slips = [];
        foreach (range(0, 7) as $code) {
            $slips[$code] = array_values(array_filter([$code - 1, $code + 1], static fn (int $other): bool => $other >= 0 && $other <= 7));
        }

        /** @var array<string, non-empty-array<int, float>> $wrong */
        return new DiagnosticOutcome(8, $wrong, $perRun, $crash, 'table', $results, [$order], $slips, self::RATES, $passes);
    }
}
