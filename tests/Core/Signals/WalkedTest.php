<?php

declare(strict_types=1);

namespace Tests\Core\Signals;

use PHPUnit\Framework\TestCase;
use Tests\Support\Bench;
use Tests\Support\Boards;
use Tests\Support\SickBench;
use ZapTrace\Bench\Apprentice;
use ZapTrace\Bench\FaultKind;
use ZapTrace\Bench\InjectedFault;
use ZapTrace\Reasoning\Evidence;
use ZapTrace\Reasoning\SuspectedFault;
use ZapTrace\Signals\Situation;

/**
 * What is cleared when every pin of a chip was touched, and what a broken trace takes with it.
 */
final class WalkedTest extends TestCase
{
    private static function walked(string $slug, string $chip, Situation $situation, InjectedFault ...$faults): Bench
    {
        $bench = SickBench::with($slug, ...$faults);

        return Bench::with($slug)->note('sign blank')->record('pin-walk', (new Apprentice($bench))->walked($chip, $situation)['payload']);
    }

    private static function clears(Bench $bench, string $chip): float
    {
        $right = array_values(array_filter($bench->assess()->conclusion->evidence, static fn (Evidence $seen): bool => str_ends_with($seen->id, " {$chip}") && ! $seen->abnormal));

        return $right[0]->strengths[$chip] ?? 0.0;
    }

    public function test_a_chip_whose_outputs_all_move_is_cleared(): void
    {
        self::assertEqualsWithDelta(0.93, self::clears(self::walked('larkspur-64', 'U18', Situation::Running), 'U18'), 1e-9);
    }

    public function test_outputs_that_others_drive_too_clear_their_chip_less(): void
    {
        // The refresh moves the same lines when this multiplexer does not.
        self::assertLessThan(0.6, self::clears(self::walked('larkspur-64', 'U6', Situation::Running, new InjectedFault(FaultKind::Dead, 'U6')), 'U6'));
    }

    public function test_a_level_that_stays_as_it_should_clears_less_than_one_that_moves(): void
    {
        $moved = self::walked('larkspur-64', 'U18', Situation::Running);
        $unsaid = Bench::with('larkspur-64')->note('sign blank')->record('pin-walk', ['chip' => 'U18', 'situation' => 'running']);

        self::assertLessThan(self::clears($moved, 'U18'), self::clears($unsaid, 'U18'));
    }

    public function test_one_wrong_output_is_not_outweighed_by_the_others(): void
    {
        $walked = self::walked('tamarisk-two', 'U10', Situation::FreeRun, new InjectedFault(FaultKind::OutputLow, 'U10.6'));
        self::assertSame(0.0, self::clears($walked, 'U10'));
    }

    public function test_a_bus_line_that_only_the_memory_loses_does_not_take_the_programme_along(): void
    {
        $board = Boards::shipped('larkspur-64');
        $suspected = Bench::with('larkspur-64')->note('sign blank')->record('probe', ['pin' => 'U34.10', 'situation' => 'running', 'state' => 'silent', 'expected' => 'pulsing'])->assess()->conclusion->suspected;
        $crash = static fn (string $id): float => (array_values(array_filter($suspected, static fn (SuspectedFault $fault): bool => $fault->id === $id))[0] ?? self::fail("{$id} is not thought of."))->mode->crash;

        self::assertSame(['U1.24', 'U17.14', 'U3.2', 'J3.15', 'U34.10'], $board->netlist->nets['A14']->pins);
        self::assertLessThan(0.5, $crash('A14/open before U34.10'), 'Only the column multiplexer loses it.');
        self::assertGreaterThan(0.8, $crash('A14/open before U3.2'), 'The other ROM loses it.');
    }

    public function test_what_serves_all_bits_is_named_once_however_many_codes_come(): void
    {
        // All sixteen bits at once: what lets their buffers through, not sixteen chips or a wrong table.
        $all = Bench::with('halyard-16')->note('sign blank')->record('diagnostic-run', ['diagnostic' => 'start-up', 'result' => implode(' ', array_map(static fn (int $chip): string => "U{$chip}", range(40, 55)))]);
        $named = array_values(array_filter($all->assess()->conclusion->evidence, static fn (Evidence $seen): bool => $seen->kind === Evidence::NAMED));
        self::assertCount(16, $named);
        self::assertSame([16], array_values(array_unique(array_map(static fn (Evidence $seen): int => count($seen->alike), $named))));
        $one = Bench::with('halyard-16')->note('sign blank')->record('diagnostic-run', ['diagnostic' => 'start-up', 'result' => 'U44']);
        self::assertEqualsCanonicalizing([1, 15], array_unique(array_map(static fn (Evidence $seen): int => count($seen->alike), array_filter($one->assess()->conclusion->evidence, static fn (Evidence $seen): bool => $seen->kind === Evidence::NAMED))));
        self::assertLessThan(0.2, $all->share('table of the start-up test'));
    }

    public function test_under_a_wrong_table_any_bits_would_be_named_and_that_these_are_speaks_little_for_it(): void
    {
        $table = static fn (string ...$chips): float => Bench::with('halyard-16')->record('diagnostic-run', ['diagnostic' => 'start-up', 'result' => implode(' ', $chips)])->share('table of the start-up test');

        self::assertLessThan(0.01, $table('U45'), 'One of sixteen: the chip.');
        self::assertLessThan(0.2, $table('U40', 'U45', 'U51'), 'Three that nothing else has in common.');
        self::assertGreaterThan($table('U45'), $table('U40', 'U45', 'U51'));
    }
}
