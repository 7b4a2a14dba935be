<?php

declare(strict_types=1);

namespace ZapTrace\Parts;

/**
 * A type of part, by its generic number.
 */
final readonly class Part
{
    /**
     * @param  string  $name  generic type number with its family: 74LS257, 4164
     * @param  string  $kind  dram, sram, rom, eprom, processor, peripheral, video, logic, programmed, regulator, oscillator, connector or discrete
     * @param  bool  $wide  true when the pin rows are 0.6 inch apart, false for 0.3 inch
     */
    public function __construct(
        public string $name,
        public string $title,
        public string $kind,
        public int $pins,
        public bool $wide,
        public ?MemoryGeometry $memory,
        public string $source,
    ) {
    }
}
