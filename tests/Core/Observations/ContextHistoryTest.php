<?php

declare(strict_types=1);

namespace Tests\Core\Observations;

use PHPUnit\Framework\TestCase;
use Tests\Support\Boards;
use ZapTrace\Formats\JsonNode;
use ZapTrace\Observations\ContextHistory;
use ZapTrace\Observations\ContextWords;
use ZapTrace\Observations\Interpreters;
use ZapTrace\Observations\Observation;

/**
 * How the machine stood when something was seen, told from the log alone.
 */
final class ContextHistoryTest extends TestCase
{
    public function test_a_move_holds_from_then_on(): void
    {
        self::assertSame(['32K', '32K', '16K', 'swapped'], $this->positions($this->reading(), $this->link('16K'), $this->link('swapped')));
    }

    public function test_what_stood_so_all_along_holds_back_to_the_start(): void
    {
        self::assertSame(['swapped', 'swapped', 'swapped'], $this->positions($this->reading(), $this->link('swapped', 'start')));
    }

    public function test_a_correction_after_a_move_reaches_back_to_that_move(): void
    {
        // A reading, a move to 16K, a reading, and then: it was swapped, not 16K.
        self::assertSame(['32K', '32K', 'swapped', 'swapped', 'swapped'], $this->positions($this->reading(), $this->link('16K'), $this->reading(), $this->link('swapped', 'start')));
    }

    public function test_two_corrections_leave_the_later_one(): void
    {
        self::assertSame(['16K', '16K', '16K'], $this->positions($this->link('swapped', 'start'), $this->link('16K', 'start')));
    }

    public function test_a_part_stays_exchanged_until_it_is_put_back(): void
    {
        $history = $this->history($this->reading(), $this->done('exchange', 'u26'), $this->reading(), $this->done('refit', 'U26'), $this->reading());

        self::assertSame([[], ['U26' => 'exchange'], ['U26' => 'exchange'], [], []], array_map(static fn (int $place): array => $history->at($place)->done, range(0, 4)));
    }

    public function test_a_piggyback_ends_with_the_look_at_it(): void
    {
        $history = $this->history($this->done('piggyback', 'U26'), $this->reading());

        self::assertSame(['U26' => 'piggyback'], $history->at(0)->done);
        self::assertSame([], $history->at(1)->done);
    }

    public function test_links_and_parts_are_followed_together(): void
    {
        $history = $this->history($this->done('replace', 'U26'), $this->link('16K'));

        self::assertSame(['U26' => 'replace'], $history->now->done);
        self::assertSame('16K', $history->now->settings->position('LK1'));
        self::assertSame('32K', $history->first->position('LK1'));
    }

    public function test_what_the_board_does_not_have_any_more_has_no_effect(): void
    {
        $history = $this->history(
            new Observation('x', 'setting', JsonNode::of((object) ['ref' => 'LK9', 'position' => 'on', 'since' => 'now'])),
            $this->link('48K'),
            $this->done('exchange', 'U99'),
            $this->reading(),
        );

        self::assertSame(['32K', []], [$history->at(3)->settings->position('LK1'), $history->at(3)->done]);
    }

    public function test_two_parts_that_changed_places_are_each_in_the_others(): void
    {
        $now = $this->history($this->done('swap', 'U26', ['with' => 'U27']))->now;

        self::assertSame(['U27', 'U26'], [$now->partAt('U26'), $now->partAt('U27')]);
        self::assertSame('U27', $now->seatOf('U26'));
        self::assertSame(['U26' => 'U27', 'U27' => 'U26'], $now->displaced());
        self::assertSame(['U26 and U27 swapped'], ContextWords::of($now, Boards::shipped('tamarisk-two')));
    }

    public function test_putting_one_of_them_back_brings_both_home(): void
    {
        $now = $this->history($this->done('swap', 'U26', ['with' => 'U27']), $this->done('refit', 'U26'))->now;

        self::assertSame([], $now->displaced());
        self::assertSame([], ContextWords::of($now, Boards::shipped('tamarisk-two')));
    }

    public function test_four_swaps_between_two_machines_are_not_lost_track_of(): void
    {
        $now = $this->history(
            $this->done('exchange-second', 'U26'), $this->done('exchange-second', 'U27'), $this->done('swap', 'U26', ['with' => 'U28']), $this->done('exchange-second', 'U28'),
        )->now;

        // U26 went to the second machine and its like came; that one moved on to U28 and home again.
        self::assertSame('U28', $now->partAt('U26'));
        self::assertSame('U27 of the second machine', $now->partAt('U27'));
        self::assertSame('U28 of the second machine', $now->partAt('U28'));
        self::assertSame('U26 of the second machine', $now->seatOf('U26'));
        self::assertSame('U28 of the second machine', $now->seatOf('U26 of the second machine'));
        $seats = array_filter(array_values($now->seats));
        self::assertSame($seats, array_unique($seats), 'No part sits in two places.');
    }

    public function test_any_sequence_of_moves_leaves_every_part_in_one_place(): void
    {
        $actions = ['swap', 'exchange', 'exchange-second', 'refit', 'remove', 'replace'];
        foreach (range(1, 60) as $seed) {
            mt_srand($seed);
            $log = [];
            foreach (range(1, mt_rand(2, 9)) as $unused) {
                $action = $actions[mt_rand(0, 5)];
                $site = 'U'.mt_rand(21, 24);
                $log[] = $this->done($action, $site, $action === 'swap' ? ['with' => 'U'.mt_rand(25, 28)] : []);
            }
            $now = $this->history(...$log)->now;
            $parts = array_filter(array_values($now->seats), static fn (string $part): bool => $part !== '');
            self::assertSame(count($parts), count(array_unique($parts)), "Seed {$seed}: no part sits in two places.");
        }
    }

    public function test_a_new_part_has_a_name_of_its_own_each_time(): void
    {
        $history = $this->history($this->done('replace', 'U26'), $this->done('replace', 'U26', ['tested' => true]));

        self::assertSame('new U26 (2)', $history->now->partAt('U26'));
        self::assertSame(['new U26' => 'new', 'new U26 (2)' => 'tested'], $history->circumstances->fitted);
        self::assertNull($history->now->seatOf('new U26'));
    }

    public function test_conditions_hold_until_they_end_and_exclude_each_other(): void
    {
        $condition = static fn (string $name, bool $on = true): Observation => new Observation('c', 'condition', JsonNode::of((object) ['condition' => $name, 'on' => $on]));
        $history = $this->history($condition('cold'), $this->reading(), $condition('warm'), $condition('plug-in'), $this->reading(), $condition('plug-in', false));

        self::assertSame(['cold'], array_keys($history->at(1)->conditions));
        self::assertSame(['warm', 'plug-in'], array_keys($history->at(4)->conditions));
        self::assertSame(['warmed up', 'plug-in tester in'], ContextWords::of($history->at(4), Boards::shipped('tamarisk-two')));
        self::assertSame(['warm'], array_keys($history->now->conditions));
    }

    public function test_what_was_seen_on_the_second_machine_says_nothing_of_this_one(): void
    {
        $history = $this->history(new Observation('s', 'second-machine', JsonNode::of((object) ['result' => 'works'])), $this->reading());

        self::assertTrue($history->at(0)->onSecond);
        self::assertFalse($history->at(1)->onSecond);
        self::assertTrue($history->circumstances->secondUsed);
    }

    public function test_moments_count_on_so_that_what_is_born_later_was_not_there_before(): void
    {
        $history = $this->history($this->reading(), $this->done('replace', 'U5'), $this->reading());

        self::assertSame([1, 2, 3, 4], [$history->at(0)->moment, $history->at(1)->moment, $history->at(2)->moment, $history->now->moment]);
        self::assertSame(['born-trace', 2], [$history->circumstances->hazards[0]->cause, $history->circumstances->hazards[0]->moment]);
    }

    /**
     * @return list<string> the link's position at each observation, and now
     */
    private function positions(Observation ...$observations): array
    {
        $history = $this->history(...$observations);

        return array_map(static fn (int $place): string => $history->at($place)->settings->position('LK1'), range(0, count($observations)));
    }

    private function history(Observation ...$observations): ContextHistory
    {
        return ContextHistory::of(Boards::shipped('tamarisk-two'), array_values($observations), Interpreters::all());
    }

    private function reading(): Observation
    {
        return new Observation('r', 'memory-readings', JsonNode::of((object) ['text' => '4000 00 20', 'radix' => 16]));
    }

    private function link(string $position, string $since = 'now'): Observation
    {
        return new Observation('l', 'setting', JsonNode::of((object) ['ref' => 'lk1', 'position' => $position, 'since' => $since]));
    }

    /**
     * @param  array<string, mixed>  $more
     */
    private function done(string $action, string $site, array $more = []): Observation
    {
        return new Observation('d', 'intervention', JsonNode::of((object) ['action' => $action, 'site' => $site, ...$more]));
    }
}
