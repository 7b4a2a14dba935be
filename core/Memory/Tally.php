<?php

declare(strict_types=1);

namespace ZapTrace\Memory;

use ZapTrace\Board\Bank;

/**
 * The tallies of all lines of one bank, and the slices they were counted from.
 */
final class Tally
{
    /** So few different bytes are met by chance once in sixteen readings. */
    private const FEW = 16;

    /** So many wrong readings say that they were written nowhere. */
    private const SEVERAL = 5;

    /** Of so many readings some are right by chance or otherwise, where half of the cells are reached; */
    private const MANY = 32;

    /** not of more than this part of them. */
    private const HARDLY = 0.04;

    /** @var array<int, BitTally> by data line */
    public array $bits = [];

    /** @var list<Slice> */
    public array $slices = [];

    public function __construct(public readonly Bank $bank)
    {
        foreach ($bank->chipOfLine as $line => $chip) {
            $this->bits[$line] = new BitTally($bank->name, $line, $chip);
        }
    }

    /**
     * @param  list<Slice>  $slices
     */
    public static function of(Bank $bank, array $slices): self
    {
        $tally = new self($bank);
        array_walk($slices, $tally->add(...));

        return $tally;
    }

    public function add(Slice $slice): void
    {
        $this->slices[] = $slice;
        $expected = $slice->masked($slice->block->expected);
        $read = $slice->masked($slice->block->read);
        $tested = $slice->count();
        $ones = BitCounter::ones($expected);
        $differs = $expected ^ $read;
        $wrong = strspn($differs, "\0") < strlen($differs);
        $high = $wrong ? BitCounter::ones($differs & $read) : null;
        $low = $wrong ? BitCounter::ones($differs & $expected) : null;
        for ($bit = 0; $bit < 8; $bit++) {
            $tally = $this->bits[$slice->firstLine + $bit] ?? null;
            if ($tally === null) {
                continue;
            }
            $tally->ableLow += $ones[$bit];
            $tally->ableHigh += $tested - $ones[$bit];
            $failed = ($high[$bit] ?? 0) + ($low[$bit] ?? 0);
            $tally->failedHigh += $high[$bit] ?? 0;
            $tally->failedLow += $low[$bit] ?? 0;
            if ($slice->held > 0.0) {
                $tally->heldAble += $tested;
                $tally->heldFailed += $failed;
            }
        }
    }

    /**
     * Whether what was read wrong comes of no other cell of the bank: it was written nowhere, where few different bytes were;
     * or it is one byte all over a place to which many different ones were written.
     */
    public function isForeign(): bool
    {
        return $this->isWrittenNowhere() || $this->isOneByte();
    }

    /** Whether what is wrong is mostly one byte, read where many different ones were written. */
    private function isOneByte(): bool
    {
        foreach ($this->slices as $slice) {
            $often = count_chars($slice->block->read, 1);
            arsort($often);
            $byte = chr(array_key_first($often) ?? 0);
            $wrong = $slice->wrong();
            $alike = 0;
            $written = [];
            // Where it is not read so often it cannot be most of it.
            for ($offset = 2 * max([0, ...$often]) < $wrong ? false : strpos($slice->block->read, $byte); $offset !== false; $offset = strpos($slice->block->read, $byte, $offset + 1)) {
                if ($slice->owns($offset) && $slice->block->expected[$offset] !== $byte) {
                    $alike++;
                    $written[$slice->block->expected[$offset]] = true;
                }
            }
            if (count($written) >= self::MANY && 2 * $alike >= $wrong) {
                return true;
            }
        }

        return false;
    }

    private function isWrittenNowhere(): bool
    {
        $written = count_chars(implode('', array_map(static fn (Slice $slice): string => $slice->block->expected, $this->slices)), 3);
        if ($written === '' || strlen($written) > self::FEW) {
            return false;
        }
        $wrong = 0;
        foreach ($this->slices as $slice) {
            $differs = $slice->masked($slice->block->expected ^ $slice->block->read);
            for ($offset = strspn($differs, "\0"); $offset < strlen($differs); $offset += 1 + strspn($differs, "\0", $offset + 1)) {
                if (str_contains($written, $slice->block->read[$offset])) {
                    return false;
                }
                $wrong++;
            }
        }

        return $wrong >= self::SEVERAL;
    }

    /**
     * Whether all of many readings were wrong, as none are that miss one or two address lines: where those are as they should
     * be, the right cell is read.
     */
    public function isWrongEverywhere(): bool
    {
        return $this->readings() >= self::MANY && $this->wrong() >= (1.0 - self::HARDLY) * $this->readings();
    }

    /**
     * Counts the cells that gave different answers to the same question under the same pause.
     */
    public function countUnstable(): void
    {
        $unstable = [];
        foreach ($this->slices as $i => $a) {
            $this->unstableWithin($a, $unstable);
            // Quadratic in slices, of which there is one per dump: single readings that were typed together are one.
            for ($j = 0; $j < $i; $j++) {
                $b = $this->slices[$j];
                if ($a->firstLine === $b->firstLine && $a->held === $b->held) {
                    $this->unstableBetween($a, $b, $unstable);
                }
            }
        }
        // A cell that differed in many pairs of reads is one cell.
        foreach ($unstable as $firstLine => $cells) {
            foreach (BitCounter::ones(implode('', array_map(chr(...), $cells))) as $bit => $count) {
                if (isset($this->bits[$firstLine + $bit])) {
                    $this->bits[$firstLine + $bit]->unstable += $count;
                }
            }
        }
    }

    /**
     * @return list<int> the lines that failed at least once
     */
    public function failingLines(): array
    {
        return array_keys(array_filter($this->bits, static fn (BitTally $bit): bool => $bit->failed() > 0));
    }

    /** How many bytes of this bank were read. */
    public function readings(): int
    {
        return array_sum(array_map(static fn (Slice $slice): int => $slice->count(), $this->slices));
    }

    /** How many of them otherwise than they were written. */
    public function wrong(): int
    {
        return array_sum(array_map(static fn (Slice $slice): int => $slice->wrong(), $this->slices));
    }

    /**
     * @param  array<int, array<int, int>>  $cells  data line of bit 0 => address in the bank => the bits that gave different answers; those of the slice are added
     */
    private function unstableWithin(Slice $slice, array &$cells): void
    {
        $block = $slice->block;
        if ($block->addresses === null) {
            return;
        }
        $count = $block->count();
        for ($offset = 0; $offset < $count; $offset = $next) {
            $address = $block->addressAt($offset);
            [$failedHigh, $goodLow, $failedLow, $goodHigh] = [0, 0, 0, 0];
            for ($next = $offset; $next < $count && ($next === $offset || $block->addressAt($next) === $address); $next++) {
                $expected = ord($block->expected[$next]);
                $read = ord($block->read[$next]);
                $failedHigh |= $read & ~$expected;
                $goodLow |= ~$read & ~$expected;
                $failedLow |= ~$read & $expected;
                $goodHigh |= $read & $expected;
            }
            self::differ($cells, $slice, $offset, ($failedHigh & $goodLow) | ($failedLow & $goodHigh));
        }
    }

    /**
     * @param  array<int, array<int, int>>  $cells  those that differ between the two are added
     */
    private function unstableBetween(Slice $a, Slice $b, array &$cells): void
    {
        if ($a->block->count() > $b->block->count()) {
            [$a, $b] = [$b, $a];
        }
        $shift = $a->range->bankAddressOf(0) - $b->range->bankAddressOf(0);
        if ($a->block->addresses === null && $b->block->addresses === null) {
            $from = max($a->block->from + $shift, $b->block->from);
            $length = min($a->block->from + $shift + $a->block->count(), $b->block->from + $b->block->count()) - $from;
            if ($length <= 0) {
                return;
            }
            $at = $from - $shift - $a->block->from;
            $bt = $from - $b->block->from;
            $sameQuestion = ~(substr($a->block->expected, $at, $length) ^ substr($b->block->expected, $bt, $length));
            $otherAnswer = substr($a->block->read, $at, $length) ^ substr($b->block->read, $bt, $length);
            $unstable = $sameQuestion & $otherAnswer;
            $mask = $a->mask === null ? $unstable : $unstable & substr($a->mask, $at, $length);
            for ($offset = strspn($mask, "\0"); $offset < $length; $offset += 1 + strspn($mask, "\0", $offset + 1)) {
                self::differ($cells, $a, $at + $offset, ord($mask[$offset]));
            }

            return;
        }
        for ($offset = 0, $count = $a->block->count(); $offset < $count; $offset++) {
            $other = $b->block->offsetOf($a->block->addressAt($offset) + $shift);
            if ($other === null || ! $a->owns($offset) || ! $b->owns($other)) {
                continue;
            }
            self::differ($cells, $a, $offset, ~(ord($a->block->expected[$offset]) ^ ord($b->block->expected[$other])) & (ord($a->block->read[$offset]) ^ ord($b->block->read[$other])));
        }
    }

    /**
     * @param  array<int, array<int, int>>  $cells
     */
    private static function differ(array &$cells, Slice $slice, int $offset, int $bits): void
    {
        $bits &= $slice->ownLines;
        if ($bits !== 0) {
            $address = $slice->bankAddressAt($offset);
            $cells[$slice->firstLine][$address] = ($cells[$slice->firstLine][$address] ?? 0) | $bits;
        }
    }
}
