<?php

declare(strict_types=1);

namespace ZapTrace\Board;

/**
 * Where each character cell of the screen lives in memory, and how a cell's bits are drawn.
 */
final readonly class ScreenLayout
{
    /**
     * @param  int  $from  address of the cell at column 0, row 0
     * @param  int  $stride  bytes from a row to the next
     * @param  int  $step  bytes from a cell to the next
     * @param  list<int>  $linesLeftToRight  data line behind each pixel column of a cell
     * @param  int|null  $blank  character code of an empty cell
     * @param  array<string, int>  $codes  character => code
     */
    public function __construct(
        public int $from,
        public int $columns,
        public int $rows,
        public int $stride,
        public int $step,
        public array $linesLeftToRight,
        public ?int $blank,
        public array $codes,
    ) {
    }

    public function addressOf(int $column, int $row): int
    {
        return $this->from + $row * $this->stride + $column * $this->step;
    }
}
