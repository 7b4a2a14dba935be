<?php

declare(strict_types=1);

namespace ZapTrace\Memory;

use ZapTrace\Board\Multiplex;

/**
 * Where in a bank certain lines fail: which rows and columns of the chips, and the first and last address.
 */
final class FailurePlaces
{
    /** @var array<int, int> row => bits (1 << data line) that failed in it */
    private array $rows = [];

    /** @var array<int, int> column => bits that failed in it */
    private array $columns = [];

    /** @var array<string, string> expected bytes by slice and place */
    private array $gathered = [];

    /** @var array<int, array{int, int}> bits that failed together => first and last bank address */
    private array $extent = [];

    /**
     * @param  array<int, mixed>  $lines  data lines to look at, as keys; the others are left aside
     */
    public function __construct(private readonly Tally $tally, array $lines)
    {
        foreach ($tally->slices as $slice) {
            $wanted = 0;
            for ($bit = 0; $bit < 8; $bit++) {
                $wanted |= isset($lines[$slice->firstLine + $bit]) ? 1 << $bit : 0;
            }
            if ($wanted !== 0) {
                $this->walk($slice, $wanted);
            }
        }
    }

    /**
     * @return list<int>
     */
    public function rowsOf(int $line): array
    {
        return self::places($this->rows, $line);
    }

    /**
     * @return list<int>
     */
    public function columnsOf(int $line): array
    {
        return self::places($this->columns, $line);
    }

    /**
     * @return array{int, int}|null first and last bank address at which the line fails
     */
    public function extentOf(int $line): ?array
    {
        $extent = null;
        foreach ($this->extent as $bits => [$first, $last]) {
            if (($bits >> $line) & 1) {
                $extent = $extent === null ? [$first, $last] : [min($extent[0], $first), max($extent[1], $last)];
            }
        }

        return $extent;
    }

    /**
     * Readings able to show the line's fault in these rows of its chip.
     *
     * @param  list<int>  $rows
     */
    public function ableInRows(int $line, array $rows): int
    {
        return $this->ableIn($line, 0, $rows);
    }

    /**
     * Readings able to show the line's fault in these columns of its chip.
     *
     * @param  list<int>  $columns
     */
    public function ableInColumns(int $line, array $columns): int
    {
        return $this->ableIn($line, 2, $columns);
    }

    /** Readings able to show the line's fault between two bank addresses. */
    public function ableBetween(int $line, int $from, int $to): int
    {
        $able = 0;
        foreach ($this->tally->slices as $slice) {
            if ($line < $slice->firstLine || $line > $slice->firstLine + 7) {
                continue;
            }
            $shift = $slice->range->bankAddressOf(0);
            $start = $slice->block->offsetFrom($from - $shift);
            $length = $slice->block->offsetFrom($to + 1 - $shift) - $start;
            $tested = $slice->mask === null ? $length : substr_count($slice->mask, "\xFF", $start, $length);
            $ones = BitCounter::ones(substr($slice->masked($slice->block->expected), $start, $length))[$line - $slice->firstLine];
            $able += $this->ofPolarity($line, $tested, $ones);
        }

        return $able;
    }

    /**
     * @param  0|2  $table  0 for rows, 2 for columns
     * @param  list<int>  $places
     */
    private function ableIn(int $line, int $table, array $places): int
    {
        $wanted = array_flip($places);
        $able = 0;
        foreach ($this->tally->slices as $i => $slice) {
            if ($line < $slice->firstLine || $line > $slice->firstLine + 7) {
                continue;
            }
            // Lines that fail in the same rows share the walk over the slice.
            $key = "{$i}/{$table}/".implode(',', $places);
            $expected = $this->gathered[$key] ??= $this->gather($slice, $table, $wanted);
            $able += $this->ofPolarity($line, strlen($expected), BitCounter::ones($expected)[$line - $slice->firstLine]);
        }

        return $able;
    }

    /**
     * The expected bytes of a slice that lie in certain rows or columns.
     *
     * @param  0|2  $table
     * @param  array<int, int>  $wanted
     */
    private function gather(Slice $slice, int $table, array $wanted): string
    {
        $tables = $this->tables($slice->bank->multiplex, $slice);
        $low = $tables[$table];
        $high = $tables[$table + 1];
        $block = $slice->block;
        $toBank = $slice->range->bankAddressOf(0);
        $listed = $block->addresses !== null;
        $gathered = '';
        for ($offset = 0, $count = $block->count(), $from = $block->from + $toBank; $offset < $count; $offset++) {
            $address = $listed ? $block->addressAt($offset) + $toBank : $from + $offset;
            if (isset($wanted[$low[$address & 0x3FF] | $high[$address >> 10]]) && $slice->owns($offset)) {
                $gathered .= $block->expected[$offset];
            }
        }

        return $gathered;
    }

    private function ofPolarity(int $line, int $tested, int $ones): int
    {
        return match ($this->tally->bits[$line]->stuck()) {
            Stuck::High => $tested - $ones,
            Stuck::Low => $ones,
            default => $tested,
        };
    }

    private function walk(Slice $slice, int $wanted): void
    {
        $block = $slice->block;
        $differs = $slice->masked($block->expected ^ $block->read) & str_repeat(chr($wanted), $block->count());
        $multiplex = $slice->bank->multiplex;
        $toBank = $slice->range->bankAddressOf(0);
        [$rowLow, $rowHigh, $columnLow, $columnHigh] = $this->tables($multiplex, $slice);
        $length = strlen($differs);
        $listed = $block->addresses !== null;
        $from = $block->from;
        $rows = [];
        $columns = [];
        $firsts = [];
        $lasts = [];
        // The hot loop of mapping: once for each failing byte, so everything is a local.
        for ($offset = strspn($differs, "\0"); $offset < $length; $offset++) {
            $bits = $differs[$offset];
            if ($bits === "\0") {
                $offset += strspn($differs, "\0", $offset) - 1;

                continue;
            }
            $address = ($listed ? $block->addressAt($offset) : $from + $offset) + $toBank;
            if ($multiplex !== null) {
                $low = $address & 0x3FF;
                $high = $address >> 10;
                $row = $rowLow[$low] | $rowHigh[$high];
                $column = $columnLow[$low] | $columnHigh[$high];
                $rows[$row] = isset($rows[$row]) ? $rows[$row] | $bits : $bits;
                $columns[$column] = isset($columns[$column]) ? $columns[$column] | $bits : $bits;
            }
            $firsts[$bits] ??= $address;
            $lasts[$bits] = $address;
        }
        foreach ($rows as $row => $bits) {
            $this->rows[$row] = ($this->rows[$row] ?? 0) | ord($bits) << $slice->firstLine;
        }
        foreach ($columns as $column => $bits) {
            $this->columns[$column] = ($this->columns[$column] ?? 0) | ord($bits) << $slice->firstLine;
        }
        foreach ($firsts as $bits => $first) {
            $key = ord((string) $bits) << $slice->firstLine;
            $last = $lasts[$bits];
            $this->extent[$key] = isset($this->extent[$key]) ? [min($this->extent[$key][0], $first), max($this->extent[$key][1], $last)] : [$first, $last];
        }
    }

    /**
     * Row and column of an address as two look-ups: of its low ten bits and of the rest.
     *
     * @return array{array<int, int>, array<int, int>, array<int, int>, array<int, int>}
     */
    private function tables(?Multiplex $multiplex, Slice $slice): array
    {
        $tables = [[], [], [], []];
        if ($multiplex === null || $slice->block->count() === 0) {
            return $tables;
        }
        for ($low = 0; $low < 0x400; $low++) {
            $tables[0][$low] = $multiplex->rowOf($low);
            $tables[2][$low] = $multiplex->columnOf($low);
        }
        $first = $slice->bankAddressAt(0) >> 10;
        $last = $slice->bankAddressAt($slice->block->count() - 1) >> 10;
        for ($high = $first; $high <= $last; $high++) {
            $tables[1][$high] = $multiplex->rowOf($high << 10);
            $tables[3][$high] = $multiplex->columnOf($high << 10);
        }

        return $tables;
    }

    /**
     * @param  array<int, int>  $places
     * @return list<int>
     */
    private static function places(array $places, int $line): array
    {
        $found = [];
        foreach ($places as $place => $bits) {
            if (($bits >> $line) & 1) {
                $found[] = $place;
            }
        }
        sort($found);

        return $found;
    }
}
