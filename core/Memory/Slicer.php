<?php

declare(strict_types=1);

namespace ZapTrace\Memory;

use ZapTrace\Board\BoardProfile;
use ZapTrace\Board\MapRange;
use ZapTrace\Board\RangeKind;
use ZapTrace\Board\Settings;

/**
 * Divides readings among banks and lanes by the memory map.
 */
final readonly class Slicer
{
    public function __construct(private BoardProfile $board)
    {
    }

    /**
     * @return array{list<Slice>, int} the slices, and how many bytes no bank answers
     */
    public function slice(ReadingSet $readings, Settings $settings): array
    {
        $slices = [];
        $outside = 0;
        foreach ($readings->blocks() as ['page' => $page, 'held' => $held, 'block' => $block]) {
            $answered = 0;
            foreach ($this->board->map->reachedBy('read', $settings, $page) as $range) {
                if ($range->kind !== RangeKind::Ram) {
                    continue;
                }
                foreach ($this->lanesOf($range) as $firstLine => $ownLines) {
                    $slice = $this->cut($block, $range, $firstLine, $ownLines, $held);
                    if ($slice !== null) {
                        $slices[] = $slice;
                        $answered += $slice->count();
                    }
                }
            }
            $outside += $block->count() - $answered;
        }

        return [$slices, $outside];
    }

    /**
     * @return array<int, int> first data line of the lane => mask of the bits of a byte that the bank holds
     */
    private function lanesOf(MapRange $range): array
    {
        $bank = $this->board->banks[$range->bank ?? ''];
        $lanes = [];
        for ($firstLine = 0; $firstLine < $this->board->bus->dataWidth; $firstLine += 8) {
            $own = 0;
            for ($bit = 0; $bit < 8; $bit++) {
                $own |= isset($bank->chipOfLine[$firstLine + $bit]) ? 1 << $bit : 0;
            }
            if ($own !== 0) {
                $lanes[$firstLine] = $own;
            }
        }

        return $lanes;
    }

    private function cut(Block $block, MapRange $range, int $firstLine, int $ownLines, float $held): ?Slice
    {
        $start = $block->offsetFrom($range->from);
        $end = $block->offsetFrom($range->to + 1);
        if ($start >= $end) {
            return null;
        }
        $lanes = $this->board->bus->lanes();
        $laneMask = $range->mask | ($lanes - 1);
        $laneValue = $range->value | $this->board->bus->placeOfLane($firstLine);
        $bank = $this->board->banks[$range->bank ?? ''];

        if ($block->addresses !== null) {
            $codes = [];
            for ($offset = $start; $offset < $end; $offset++) {
                $address = $block->addressAt($offset);
                if (($address & $laneMask) === $laneValue) {
                    $codes[] = $address << 16 | ord($block->expected[$offset]) << 8 | ord($block->read[$offset]);
                }
            }

            return $codes === [] ? null : new Slice($bank, $range, $firstLine, $ownLines, Block::listed($codes), $block, null, $held);
        }

        $whole = $start === 0 && $end === $block->count();
        $part = $whole ? $block : Block::contiguous(
            $block->addressAt($start),
            substr($block->expected, $start, $end - $start),
            substr($block->read, $start, $end - $start),
        );
        $mask = $laneMask === 0 ? null : $this->mask($part->from, $part->count(), $laneMask, $laneValue);

        return $mask !== null && ! str_contains($mask, "\xFF") ? null : new Slice($bank, $range, $firstLine, $ownLines, $part, $block, $mask, $held);
    }

    private function mask(int $from, int $length, int $addressMask, int $value): string
    {
        $period = 1;
        while ($period <= $addressMask) {
            $period <<= 1;
        }
        $span = min($period, $length + 1);
        $pattern = '';
        for ($i = 0; $i < $span; $i++) {
            $pattern .= (($from + $i) & $addressMask) === $value ? "\xFF" : "\x00";
        }

        return substr(str_repeat($pattern, intdiv($length, $span) + 1), 0, $length);
    }
}
