<?php

declare(strict_types=1);

namespace ZapTrace\Board;

/**
 * How a bank's address bits become row and column bits of its dynamic memory chips.
 */
final readonly class Multiplex
{
    /**
     * @param  non-empty-list<int>  $row  address bit of the bank behind each row bit, lowest row bit first
     * @param  non-empty-list<int>  $column  address bit of the bank behind each column bit, lowest first
     */
    public function __construct(public array $row, public array $column)
    {
    }

    /** How many cells a data line has. */
    public function cells(): int
    {
        return 1 << (count($this->row) + count($this->column));
    }

    public function rowOf(int $bankAddress): int
    {
        return self::gather($bankAddress, $this->row);
    }

    public function columnOf(int $bankAddress): int
    {
        return self::gather($bankAddress, $this->column);
    }

    /** The address bits of the bank that select this row, all others zero. */
    public function addressOfRow(int $row): int
    {
        return self::scatter($row, $this->row);
    }

    public function addressOfColumn(int $column): int
    {
        return self::scatter($column, $this->column);
    }

    /**
     * @param  list<int>  $bits
     */
    private static function gather(int $address, array $bits): int
    {
        $value = 0;
        foreach ($bits as $place => $bit) {
            $value |= (($address >> $bit) & 1) << $place;
        }

        return $value;
    }

    /**
     * @param  list<int>  $bits
     */
    private static function scatter(int $value, array $bits): int
    {
        $address = 0;
        foreach ($bits as $place => $bit) {
            $address |= (($value >> $place) & 1) << $bit;
        }

        return $address;
    }
}
