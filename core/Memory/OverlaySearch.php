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
                $tally = $over === null ? null : Tally::of($bank, $here);
                if ($over !== null && $tally !== null && self::isOverlaid($tally, $beside)) {
                    $found[] = ['finding' => $this->finding($latch, $over, $here[0]->range, $tally), 'slices' => $here];
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
     * @param  list<Slice>  $beside
     */
    private static function isOverlaid(Tally $here, array $beside): bool
    {
        if ($here->readings() < self::FEW || $here->wrong() < self::ALMOST_ALL * $here->readings()) {
            return false;
        }
        $around = Tally::of($here->bank, $beside);
        $right = array_filter($around->bits, static fn (BitTally $bit): bool => $bit->failed() === 0);
        $only = array_filter($right, static fn (BitTally $bit): bool => $here->bits[$bit->line]->failed() > 0);

        return $around->readings() >= self::FEW && 2 * count($right) >= count($around->bits) && count($only) >= self::MOST * count($right);
    }

    private function finding(Setting $latch, MapRange $over, MapRange $range, Tally $here): PatternFinding
    {
        $bank = $here->bank;
        $at = fn (int $address): string => Notation::format($address, $this->board->radix, $this->board->bus->addressWidth);

        return new PatternFinding(
            Pattern::Overlaid, Scope::Bank, [$bank->name], $bank->lines(), [], $here->wrong(), $here->readings(), 0.95, [], true,
            "{$here->wrong()} of {$here->readings()} bytes from {$at($range->from)} to {$at($range->to)} are wrong while bank {$bank->name} is right beside them: it reads as if {$latch->ref} ({$latch->name}) stood at \"{$over->when[$latch->ref][0]}\", with the {$over->name} there.",
            latch: $latch->ref,
        );
    }
}
