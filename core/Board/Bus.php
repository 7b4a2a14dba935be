<?php

declare(strict_types=1);

namespace ZapTrace\Board;

/**
 * The processor's bus as memory sees it. Addresses count single bytes; a byte's lane is the group of eight data
 * lines it travels on.
 */
final readonly class Bus
{
    /**
     * @param  8|16|32  $dataWidth  data lines, in bits
     * @param  int  $addressWidth  address lines, in bits
     * @param  bool  $bigEndian  true when the byte at the lowest address of a word uses the upper lines
     */
    public function __construct(
        public int $dataWidth,
        public int $addressWidth,
        public bool $bigEndian,
    ) {
    }

    /** Bytes a full-width access carries: the number of lanes. */
    public function lanes(): int
    {
        return intdiv($this->dataWidth, 8);
    }

    public function highestAddress(): int
    {
        return (1 << $this->addressWidth) - 1;
    }

    /** The lowest data line of the lane that the byte at this address uses: 0, 8, 16 or 24. */
    public function firstLineOf(int $address): int
    {
        $place = $address % $this->lanes();

        return 8 * ($this->bigEndian ? $this->lanes() - 1 - $place : $place);
    }

    /** The remainder (address modulo lanes) of the bytes that use the lane starting at this data line. */
    public function placeOfLane(int $firstLine): int
    {
        $lane = intdiv($firstLine, 8);

        return $this->bigEndian ? $this->lanes() - 1 - $lane : $lane;
    }
}
