<?php

declare(strict_types=1);

namespace ZapTrace\Memory;

use ZapTrace\Board\BoardProfile;
use ZapTrace\Board\MapRange;
use ZapTrace\Board\Settings;

/**
 * The memory map under the present settings with what was tried and what failed, coarse enough to be drawn.
 */
final readonly class AddressRuler
{
    /** Stretches that each range is divided into for ticks. */
    private const STRETCHES = 128;

    /**
     * @param  list<MapRange>  $ranges  what a read reaches, by address
     * @param  list<int>  $failing  one failing address for each stretch that has any
     * @param  list<array{int, int}>  $tested  first and last address of each stretch that was read, neighbours joined
     */
    private function __construct(
        public array $ranges,
        public array $failing,
        public array $tested,
    ) {
    }

    /**
     * @param  list<array{Settings, ReadingSet}>  $groups  only readings under the present settings are drawn: others were at other places
     */
    public static function of(BoardProfile $board, Settings $now, array $groups): self
    {
        $failing = [];
        $tested = [];
        foreach ($groups as [$settings, $set]) {
            if ($settings->key() !== $now->key()) {
                continue;
            }
            foreach ((new Slicer($board))->slice($set, $settings)[0] as $slice) {
                self::draw($slice, $failing, $tested);
            }
        }
        ksort($failing);
        ksort($tested);

        return new self($board->map->reachedBy('read', $now), array_values($failing), self::joined(array_values($tested)));
    }

    /**
     * @param  array<int, int>  $failing
     * @param  array<int, array{int, int}>  $tested
     */
    private static function draw(Slice $slice, array &$failing, array &$tested): void
    {
        $differs = $slice->masked($slice->block->expected ^ $slice->block->read);
        $stretch = max(1, intdiv($slice->range->to - $slice->range->from + 1, self::STRETCHES));
        for ($from = $slice->range->from; $from <= $slice->range->to; $from += $stretch) {
            $start = $slice->block->offsetFrom($from);
            $length = $slice->block->offsetFrom($from + $stretch) - $start;
            if ($length <= 0) {
                continue;
            }
            $first = $slice->block->addressAt($start);
            $last = $slice->block->addressAt($start + $length - 1);
            $tested[$first] = [$first, max($last, $tested[$first][1] ?? 0)];
            $good = strspn($differs, "\0", $start, $length);
            if ($good < $length) {
                $failing[$from] ??= $slice->block->addressAt($start + $good);
            }
        }
    }

    /**
     * @param  list<array{int, int}>  $stretches
     * @return list<array{int, int}>
     */
    private static function joined(array $stretches): array
    {
        $joined = [];
        foreach ($stretches as [$from, $to]) {
            $last = array_key_last($joined);
            if ($last !== null && $from <= $joined[$last][1] + 1) {
                $joined[$last][1] = max($joined[$last][1], $to);
            } else {
                $joined[] = [$from, $to];
            }
        }

        return $joined;
    }
}
