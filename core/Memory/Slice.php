<?php

declare(strict_types=1);

namespace ZapTrace\Memory;

use ZapTrace\Board\Bank;
use ZapTrace\Board\MapRange;

/**
 * The part of a block that one lane of one bank answers.
 */
final readonly class Slice
{
    /**
     * @param  int  $firstLine  the data line of bit 0 of these bytes
     * @param  int  $ownLines  mask of the bits of a byte that the bank holds
     * @param  Block  $whole  the readings that $block was cut from, those of other banks included
     * @param  string|null  $mask  FF for each byte that belongs to the slice, 00 for those of other lanes and interleaved banks; null when all do
     * @param  float  $held  seconds between writing and reading
     */
    public function __construct(
        public Bank $bank,
        public MapRange $range,
        public int $firstLine,
        public int $ownLines,
        public Block $block,
        public Block $whole,
        public ?string $mask,
        public float $held,
    ) {
    }

    public function bankAddressAt(int $offset): int
    {
        return $this->range->bankAddressOf($this->block->addressAt($offset));
    }

    /** How many bytes of the block belong to the slice. */
    public function count(): int
    {
        return $this->mask === null ? $this->block->count() : substr_count($this->mask, "\xFF");
    }

    /** How many of those were read otherwise than they were written. */
    public function wrong(): int
    {
        $differs = $this->masked($this->block->expected ^ $this->block->read);

        return strlen($differs) - substr_count($differs, "\0");
    }

    public function owns(int $offset): bool
    {
        return $this->mask === null || $this->mask[$offset] === "\xFF";
    }

    /** The bytes with those of other lanes, and the bits that the bank does not hold, made zero. */
    public function masked(string $bytes): string
    {
        if ($this->ownLines !== 0xFF) {
            $bytes &= str_repeat(chr($this->ownLines), strlen($bytes));
        }

        return $this->mask === null ? $bytes : $bytes & $this->mask;
    }
}
