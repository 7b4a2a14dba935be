<?php

declare(strict_types=1);

namespace ZapTrace\Memory;

use ZapTrace\Board\BoardProfile;

/**
 * Looks for two addresses that always hold the same: an address line that is stuck or open somewhere.
 *
 * When line k is lost, every address is answered by the cell at that address with line k at one fixed value, and
 * that cell holds what was written to it last. So with line k at the value c: read(a) = expected(a with k = c), at
 * every address. A multiplexed line that is lost at the memory takes two address bits with it, its row bit and its
 * column bit.
 */
final class AliasSearch
{
    private const FAILING = 2048;

    private const PASSING = 512;

    /** How many agreeing addresses with different contents are wanted before an alias is believed. */
    private const SUPPORT = 4;

    /** @var list<Block> */
    private array $blocks = [];

    /** @var array<string, array<int, array{addressLines: list<int>, checked: int, shown: int}>> answers given already */
    private array $known = [];

    public function __construct(private readonly BoardProfile $board, ReadingSet $readings)
    {
        foreach ($readings->blocks() as ['block' => $block]) {
            $this->blocks[] = $block;
        }
    }

    /**
     * @param  array<int, mixed>  $lines  data lines that fail, but not everywhere, as keys
     * @return array<int, array{addressLines: list<int>, checked: int, shown: int}> by data line: the address lines lost, addresses checked, and how many of them showed it
     */
    public function search(Tally $tally, array $lines): array
    {
        return $this->known[implode(',', array_keys($lines))] ??= $this->find($tally, $lines);
    }

    /**
     * @param  array<int, mixed>  $lines
     * @return array<int, array{addressLines: list<int>, checked: int, shown: int}>
     */
    private function find(Tally $tally, array $lines): array
    {
        $found = [];
        if (! $this->hasVariedData($tally)) {
            return $found; // A constant fill can show no alias.
        }
        foreach ($tally->slices as $slice) {
            $wanted = 0;
            for ($bit = 0; $bit < 8; $bit++) {
                $line = $slice->firstLine + $bit;
                $wanted |= isset($lines[$line]) && ! isset($found[$line]) ? 1 << $bit : 0;
            }
            if ($wanted === 0) {
                continue;
            }
            $sample = $this->sample($slice, $wanted);
            foreach ($this->candidates($slice) as [$mask, $value, $addressLines]) {
                foreach ($this->agreeing($sample, $slice->whole, $mask, $value, $wanted) as $bit => $shown) {
                    $found[$slice->firstLine + $bit] ??= ['addressLines' => $addressLines, 'checked' => count($sample), 'shown' => $shown];
                }
            }
        }
        ksort($found);

        return $found;
    }

    private function hasVariedData(Tally $tally): bool
    {
        foreach ($tally->slices as $slice) {
            if (strlen(count_chars($slice->block->expected, 3)) > 1) {
                return true;
            }
        }

        return count($tally->slices) > 1;
    }

    /**
     * @return list<array{int, int, int}> address, expected and read byte: failing ones first, evenly spread
     */
    private function sample(Slice $slice, int $wanted): array
    {
        $block = $slice->block;
        $differs = $slice->masked($block->expected ^ $block->read) & str_repeat(chr($wanted), $block->count());
        $sample = [];
        $length = strlen($differs);
        // One failing byte, the first, from each of as many equal windows as the sample is to have.
        $window = max(1, intdiv($length, self::FAILING));
        for ($start = 0; $start < $length; $start += $window) {
            $offset = $start + strspn($differs, "\0", $start, $window);
            if ($offset < min($length, $start + $window)) {
                $sample[] = [$block->addressAt($offset), ord($block->expected[$offset]), ord($block->read[$offset])];
            }
        }
        $step = max(1, intdiv($block->count(), self::PASSING)) | 1;
        for ($offset = 0, $count = $block->count(); $offset < $count; $offset += $step) {
            if ($differs[$offset] === "\0" && $slice->owns($offset)) {
                $sample[] = [$block->addressAt($offset), ord($block->expected[$offset]), ord($block->read[$offset])];
            }
        }

        return $sample;
    }

    /**
     * @return list<array{int, int, list<int>}> address bits lost as a mask, their fixed value, and the address lines
     */
    private function candidates(Slice $slice): array
    {
        $lowest = (int) log($this->board->bus->lanes(), 2);
        $candidates = [];
        $pairs = [];
        $multiplex = $slice->bank->multiplex;
        if ($multiplex !== null) {
            foreach ($multiplex->row as $place => $row) {
                if (isset($multiplex->column[$place])) {
                    $pairs[] = [$row, $multiplex->column[$place]];
                }
            }
        }
        for ($line = $lowest; $line < $this->board->bus->addressWidth; $line++) {
            $candidates[] = [1 << $line, 1 << $line, [$line]];
            $candidates[] = [1 << $line, 0, [$line]];
        }
        foreach ($pairs as [$row, $column]) {
            $mask = 1 << $row | 1 << $column;
            foreach ([$mask, 0, 1 << $row, 1 << $column] as $value) {
                $candidates[] = [$mask, $value, [$row, $column]];
            }
        }

        return $candidates;
    }

    /**
     * @param  list<array{int, int, int}>  $sample
     * @return array<int, int> bit of the byte that agrees everywhere => addresses that showed it
     */
    private function agreeing(array $sample, Block $whole, int $mask, int $value, int $wanted): array
    {
        $shown = [];
        $unexplained = [];
        $candidates = $wanted;
        foreach ($sample as [$address, $expected, $read]) {
            $other = $this->expectedAt(($address & ~$mask) | $value, $whole);
            if ($other === null) {
                for ($bit = 0, $differs = $expected ^ $read; $differs >> $bit !== 0; $bit++) {
                    $unexplained[$bit] = ($unexplained[$bit] ?? 0) + (($differs >> $bit) & 1);
                }

                continue;
            }
            $candidates &= ~($read ^ $other);
            if ($candidates === 0) {
                return [];
            }
            $differs = $expected ^ $other;
            for ($bit = 0; $differs !== 0 && $bit < 8; $bit++) {
                if (($differs >> $bit) & 1) {
                    $shown[$bit] = ($shown[$bit] ?? 0) + 1;
                }
            }
        }
        // What has no partner among the readings must not carry the verdict: count only what showed it.
        return array_filter(
            $shown,
            static fn (int $count, int $bit): bool => ($candidates >> $bit) & 1 && $count >= self::SUPPORT && $count > ($unexplained[$bit] ?? 0),
            ARRAY_FILTER_USE_BOTH,
        );
    }

    /** What was expected there: by the same readings where they hold the address, else by any other. */
    private function expectedAt(int $address, Block $whole): ?int
    {
        foreach ([$whole, ...$this->blocks] as $block) {
            $offset = $block->offsetOf($address);
            if ($offset !== null) {
                return ord($block->expected[$offset]);
            }
        }

        return null;
    }
}
