<?php

declare(strict_types=1);

namespace Tests\Core\Observations;

use PHPUnit\Framework\TestCase;
use Tests\Support\Boards;
use ZapTrace\Formats\JsonNode;
use ZapTrace\Observations\ContextHistory;
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

    private function done(string $action, string $site): Observation
    {
        return new Observation('d', 'intervention', JsonNode::of((object) ['action' => $action, 'site' => $site]));
    }
}
