<?php

declare(strict_types=1);

namespace ZapTrace\Board;

/**
 * The memory map: which range answers an access. Overlays are ordinary; among ranges that answer the same access
 * no two share an address (the board reader checks it).
 */
final readonly class MemoryMap
{
    /**
     * @param  list<MapRange>  $ranges
     */
    public function __construct(public array $ranges)
    {
    }

    /**
     * @param  'read'|'write'  $access
     * @return list<MapRange> what this access can reach, by address
     */
    public function reachedBy(string $access, Settings $settings, ?int $page = null): array
    {
        $ranges = array_values(array_filter(
            $this->ranges,
            static fn (MapRange $range): bool => $range->answersTo($access) && $range->existsUnder($settings) && $range->answersOnPage($page),
        ));
        usort($ranges, static fn (MapRange $a, MapRange $b): int => [$a->from, $a->value] <=> [$b->from, $b->value]);

        return $ranges;
    }

    /**
     * The range that answers, or null where nothing does.
     *
     * @param  'read'|'write'  $access
     */
    public function find(int $address, string $access, Settings $settings, ?int $page = null): ?MapRange
    {
        foreach ($this->reachedBy($access, $settings, $page) as $range) {
            if ($range->holds($address)) {
                return $range;
            }
        }

        return null;
    }

    /**
     * @return list<int> the pages that any range names
     */
    public function pages(): array
    {
        $pages = [];
        foreach ($this->ranges as $range) {
            if ($range->page !== null) {
                $pages[$range->page] = $range->page;
            }
        }
        sort($pages);

        return $pages;
    }
}
