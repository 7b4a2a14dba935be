<?php

declare(strict_types=1);

namespace ZapTrace\Memory;

use ZapTrace\Board\BoardProfile;
use ZapTrace\Board\MapRange;
use ZapTrace\Board\Setting;
use ZapTrace\Board\Settings;
use ZapTrace\Numbers\Notation;

/**
 * Looks for memory that reads as if a latch stood at its other position: all of it is wrong where the latch lays something
 * else over it, and the same bits are right beside.
 */
final readonly class OverlaySearch
{
    /** Readings that are wanted where the latch decides, and beside. */
    private const FEW = 8;

    /** So much of it is wrong: a byte is the same by chance now and then. */
    private const ALMOST_ALL = 0.9;

    /** So many of the bits that are right beside were seen wrong. */
    private const MOST = 0.75;

    public function __construct(private BoardProfile $board)
    {
    }

    /**
     * @param  list<Slice>  $slices  readings made under the same settings
     * @return list<array{finding: PatternFinding, slices: list<Slice>}> what was found, and the readings that say nothing of the memory then
     */
    public function find(array $slices, Settings $settings): array
    {
        $found = [];
        foreach (array_filter($this->board->settings, static fn (Setting $setting): bool => $setting->isLatch) as $latch) {
            foreach ($this->board->banks as $bank) {
                $here = array_values(array_filter($slices, static fn (Slice $slice): bool => $slice->bank === $bank && isset($slice->range->when[$latch->ref])));
                $beside = array_values(array_filter($slices, static fn (Slice $slice): bool => $slice->bank === $bank && ! isset($slice->range->when[$latch->ref])));
                $over = $here === [] ? null : $this->laidOver($here[0]->range, $latch, $settings);
                if ($over !== null && $this->isOverlaid($here, $beside)) {
                    $found[] = ['finding' => $this->finding($latch, $over, $here), 'slices' => $here];
                }
            }
        }

        return $found;
    }

    /** What answers in place of the memory where the latch stands otherwise. */
    private function laidOver(MapRange $memory, Setting $latch, Settings $settings): ?MapRange
    {
        foreach ($this->board->map->ranges as $range) {
            $positions = $range->when[$latch->ref] ?? [];
            if ($positions !== [] && ! in_array($settings->positions[$latch->ref] ?? '', $positions, true) && $range->answersTo('read') && $range->bank !== $memory->bank && $range->from <= $memory->to && $range->to >= $memory->from) {
                return $range;
            }
        }

        return null;
    }

    /**
     * @param  list<Slice>  $here
     * @param  list<Slice>  $beside
     */
    private function isOverlaid(array $here, array $beside): bool
    {
        if (self::count($here) < self::FEW || self::count($beside) < self::FEW || self::wrong($here) < self::ALMOST_ALL * self::count($here)) {
            return false;
        }
        $wrong = self::wrongBits($here);
        $wrongBeside = self::wrongBits($beside);
        $right = array_keys(array_filter($wrongBeside, static fn (int $times): bool => $times === 0));
        $only = array_filter($right, static fn (int $line): bool => ($wrong[$line] ?? 0) > 0);

        return 2 * count($right) >= count($wrongBeside) && count($only) >= self::MOST * count($right);
    }

    /**
     * @param  list<Slice>  $slices
     */
    private static function count(array $slices): int
    {
        return array_sum(array_map(static fn (Slice $slice): int => $slice->count(), $slices));
    }

    /**
     * @param  list<Slice>  $slices
     */
    private static function wrong(array $slices): int
    {
        return array_sum(array_map(static fn (Slice $slice): int => $slice->wrong(), $slices));
    }

    /**
     * @param  list<Slice>  $slices
     * @return array<int, int> data line => readings in which it was wrong
     */
    private static function wrongBits(array $slices): array
    {
        $wrong = [];
        foreach ($slices as $slice) {
            foreach (BitCounter::ones($slice->masked($slice->block->expected ^ $slice->block->read)) as $bit => $times) {
                if (($slice->ownLines >> $bit) & 1) {
                    $wrong[$slice->firstLine + $bit] = ($wrong[$slice->firstLine + $bit] ?? 0) + $times;
                }
            }
        }

        return $wrong;
    }

    /**
     * @param  non-empty-list<Slice>  $here
     */
    private function finding(Setting $latch, MapRange $over, array $here): PatternFinding
    {
        $bank = $here[0]->bank;
        $range = $here[0]->range;
        $at = fn (int $address): string => Notation::format($address, $this->board->radix, $this->board->bus->addressWidth);

        return new PatternFinding(
            Pattern::Overlaid, Scope::Bank, [$bank->name], $bank->lines(), [], self::wrong($here), self::count($here), 0.95, [], true,
            self::wrong($here).' of '.self::count($here)." bytes from {$at($range->from)} to {$at($range->to)} are wrong while bank {$bank->name} is right beside them: it reads as if {$latch->ref} ({$latch->name}) stood at \"{$over->when[$latch->ref][0]}\", with the {$over->name} there.",
            latch: $latch->ref,
        );
    }
}
