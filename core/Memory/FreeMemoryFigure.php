<?php

declare(strict_types=1);

namespace ZapTrace\Memory;

use ZapTrace\Board\BoardProfile;
use ZapTrace\Board\MapRange;
use ZapTrace\Board\RangeKind;
use ZapTrace\Board\Settings;
use ZapTrace\Numbers\Notation;
use ZapTrace\Problems\InputRejected;

/**
 * What the free-memory figure of the banner says: when it is the same at every power-on, the first address that
 * failed the machine's own test, and the bank that answers there.
 */
final readonly class FreeMemoryFigure
{
    /**
     * @param  bool  $stable  the same at every power-on, and seen twice at least
     * @param  int|null  $address  first failing address, when the figure can be trusted and is not a good machine's
     */
    private function __construct(
        public bool $stable,
        public ?int $address,
        public ?MapRange $range,
        public string $sentence,
    ) {
    }

    /**
     * @param  non-empty-list<int>  $figures  one for each power-on
     *
     * @throws InputRejected when the board profile does not say how its figure is counted, or a figure is impossible
     */
    public static function interpret(array $figures, BoardProfile $board, Settings $settings): self
    {
        $rule = $board->freeMemory;
        if ($rule === null) {
            throw InputRejected::of('figures', "The profile of {$board->name} does not say how its free-memory figure is counted (\"freeMemory\").");
        }
        $different = array_values(array_unique($figures));
        if (count($different) > 1) {
            return new self(false, null, null, 'The figure changes from one power-on to the next ('.implode(', ', $different).'): the machine is unstable, and the figure says nothing of an address.');
        }
        $figure = $different[0];
        if ($rule->healthy !== null && $figure === $rule->healthy) {
            return new self(count($figures) > 1, null, null, "{$figure} is what a good machine shows: its own test found no fault.");
        }
        $address = $rule->firstFailingAddress($figure);
        if ($figure < 0 || $address > $board->bus->highestAddress() || ($rule->healthy !== null && $figure > $rule->healthy)) {
            throw InputRejected::of('figures', "{$figure} is more than this machine can have".($rule->healthy === null ? '' : "; a good one shows {$rule->healthy}").'.');
        }
        $shown = Notation::format($address, $board->radix, $board->bus->addressWidth);
        if (count($figures) < 2) {
            return new self(false, null, null, "{$figure} would put the first failing address at {$shown}. Power off and on again: only a figure that comes back the same can be trusted.");
        }
        $range = $board->map->find($address, 'read', $settings);
        $where = $range?->kind === RangeKind::Ram ? "in bank {$range->bank}" : 'where no bank answers now';

        return new self(true, $address, $range, "{$figure} at ".count($figures)." power-ons alike: the machine's own test first failed at {$shown}, {$where}.");
    }
}
