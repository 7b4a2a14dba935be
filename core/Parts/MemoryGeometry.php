<?php

declare(strict_types=1);

namespace ZapTrace\Parts;

/**
 * The inside of a memory chip.
 */
final readonly class MemoryGeometry
{
    /**
     * @param  int  $words  how many words it holds
     * @param  int  $bits  bits to a word: its data pins
     * @param  int|null  $rowBits  for dynamic memory
     * @param  int|null  $columnBits  for dynamic memory
     * @param  list<int>  $dataPins  pins its data comes out of, lowest bit first
     */
    public function __construct(
        public int $words,
        public int $bits,
        public ?int $rowBits,
        public ?int $columnBits,
        public array $dataPins = [],
    ) {
    }
}
