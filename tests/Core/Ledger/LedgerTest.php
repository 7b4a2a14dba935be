<?php

declare(strict_types=1);

namespace Tests\Core\Ledger;

use PHPUnit\Framework\TestCase;
use Tests\Support\Bench;
use Tests\Support\Boards;
use ZapTrace\Ledger\Ledger;
use ZapTrace\Ledger\PartHistory;
use ZapTrace\Ledger\Spare;
use ZapTrace\Ledger\Stock;

final class LedgerTest extends TestCase
{
    public function test_a_part_is_followed_from_place_to_place(): void
    {
        $parts = self::parts(Bench::with('tamarisk-two')->note('swap u33 u34 moved', 'refit u33 same', 'exchange u33 cured', 'test u33 fails'));

        self::assertSame(['U33', 'U34', 'U33', 'out, on the bench'], array_column($parts['U33']->places, 'place'));
        self::assertTrue($parts['U33']->tests[0]['failed']);
        self::assertFalse($parts['U33']->home);
        self::assertTrue($parts['U34']->home, 'It went home when U33 was put back.');
        self::assertSame('U33', $parts['new U33']->seat);
        self::assertTrue($parts['new U33']->home);
        self::assertGreaterThan(0.9, $parts['U33']->faulty);
        self::assertTrue($parts['U33']->isSuspected());
        self::assertSame(['in U33', 'where it started', false], [$parts['new U33']->where(), $parts['U34']->where(), $parts['U34']->isSuspected()]);
    }

    public function test_after_four_swaps_between_two_machines_it_is_known_what_is_borrowed(): void
    {
        $bench = Bench::with('tamarisk-two')->note('exchange u33 second same works', 'exchange u34 second same works', 'swap u35 u36 same', 'exchange u31 second same works');
        $ledger = Ledger::of($bench->assess(), $bench->board(), 'X');

        self::assertSame(
            ['U31', 'U31 of the second machine', 'U33', 'U33 of the second machine', 'U34', 'U34 of the second machine'],
            array_map(static fn (PartHistory $part): string => $part->part, $ledger->borrowed()),
        );
        self::assertSame(
            ['U31', 'U31 of the second machine', 'U33', 'U33 of the second machine', 'U34', 'U34 of the second machine', 'U35', 'U36'],
            array_map(static fn (PartHistory $part): string => $part->part, $ledger->displaced()),
        );
        self::assertTrue(self::parts($bench)['U33']->away);
        self::assertSame('U33', self::parts($bench)['U33 of the second machine']->seat);

        $parts = self::parts($bench);
        self::assertSame(['now: U33 of the second machine', 'in the second machine: it has to come back'], [$parts['U33']->where(), $parts['U33']->mustReturn()]);
        self::assertSame(['now: U33', 'borrowed: it has to go back'], [$parts['U33 of the second machine']->where(), $parts['U33 of the second machine']->mustReturn()]);
        self::assertSame(['now: U36', ''], [$parts['U35']->where(), $parts['U35']->mustReturn()], 'It never left this machine.');

        $back = $bench->note('exchange u33 second same', 'exchange u34 second same', 'exchange u31 second same', 'swap u35 u36 same');
        self::assertSame([], Ledger::of($back->assess(), $back->board(), 'X')->displaced());
    }

    public function test_labels_are_proposed_from_the_initials_and_figures_of_the_machine(): void
    {
        foreach (['Weather mast' => 'WM', 'Drawing office 3' => 'DO3', 'the old one from the attic' => 'TOOF', '???' => 'J'] as $machine => $prefix) {
            self::assertSame($prefix, Ledger::prefix($machine));
        }
    }

    public function test_a_label_and_a_drawer_go_with_the_part(): void
    {
        $bench = Bench::with('tamarisk-two')->note('exchange u33 cured', 'mark u33 bad-1 in the tin', 'mark new u33 n1');
        $parts = self::parts($bench);

        self::assertSame(['bad-1', true, 'the tin'], [$parts['U33']->label, $parts['U33']->marked, $parts['U33']->now]);
        self::assertSame('n1', $parts['new U33']->label);
        self::assertSame('X-U34', self::parts($bench->note('swap u34 u35 same'))['U34']->label, 'Proposed until somebody writes it.');
    }

    public function test_what_is_withdrawn_never_happened(): void
    {
        $bench = Bench::with('tamarisk-two')->note('count 11', 'exchange u33 cured');

        self::assertSame(['U33', 'new U33'], array_keys(self::parts($bench)));
        self::assertSame([], self::parts($bench->without(1)));
    }

    public function test_spares_that_work_come_before_near_misses_and_speed_decides(): void
    {
        $stock = new Stock([new Spare('41256', 4, 'drawer 2', 150), new Spare('41256', 2, 'drawer 3', 300), new Spare('4164', 1, 'drawer 1'), new Spare('27256', 3, '', 450), new Spare('2764', 0)], Boards::parts());
        $found = array_map(static fn (array $match): array => [$match['spare']->part, $match['spare']->nanoseconds, $match['works']], $stock->for('4164'));

        self::assertSame([['4164', null, true], ['41256', 150, true], ['41256', 300, false]], $found);
        self::assertStringContainsString('200 ns or better', $stock->for('4164')[2]['but']);
        self::assertContains('4164', $stock->fits());
        self::assertNotContains('2764', $stock->fits(), 'None left of it, and the larger one is too slow.');
    }

    public function test_a_spare_that_stands_in_makes_a_replacement_possible(): void
    {
        $fits = (new Stock([new Spare('41256', 1, '', 120)], Boards::parts()))->fits();
        $bench = new \ZapTrace\Reasoning\Workbench(\ZapTrace\Reasoning\School::MeasureFirst, [], $fits);

        self::assertTrue($bench->hasSpare('4164'));
        self::assertFalse($bench->hasSpare('74LS245'));
    }

    /**
     * @return array<string, PartHistory>
     */
    private static function parts(Bench $bench): array
    {
        $parts = [];
        foreach (Ledger::of($bench->assess(), $bench->board(), 'X')->parts as $part) {
            $parts[$part->part] = $part;
        }

        return $parts;
    }
}
