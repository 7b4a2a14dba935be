<?php

declare(strict_types=1);

namespace ZapTrace\Rom;

/**
 * What the reads of a chip say, with the reasons.
 */
final readonly class RomComparison
{
    /**
     * @param  list<array{bit: int, value: int}>  $bits  data bits that never change, and the level they have
     * @param  list<array{bits: array{int, int}, inverted: bool}>  $tied  data bits that are always alike, or always opposite
     * @param  list<int>  $addressLines  lines that make no difference, or lead to the wrong places
     * @param  int  $differences  bytes that are not as in the good image, or not alike in all reads
     * @param  list<array{bit: int, toOnes: int, toZeros: int}>  $byBit  bits that differ, and which way
     * @param  list<float>  $map  the image in equal stretches: the share of bytes in each that differ
     * @param  list<array{at: int, length: int}>  $runs  stretches that differ, the first of them
     * @param  int  $first  address of the first byte that differs; -1 without one
     * @param  list<string>  $because  sentences, the most telling first
     */
    public function __construct(
        public RomVerdict $verdict,
        public array $bits = [],
        public array $tied = [],
        public array $addressLines = [],
        public int $differences = 0,
        public array $byBit = [],
        public array $map = [],
        public int $first = -1,
        public array $because = [],
        public array $runs = [],
    ) {
    }

    public function because(string ...$more): self
    {
        return new self($this->verdict, $this->bits, $this->tied, $this->addressLines, $this->differences, $this->byBit, $this->map, $this->first, [...$this->because, ...array_values($more)], $this->runs);
    }

    /**
     * @return array{verdict: string, bits: list<array{bit: int, value: int}>, tied: list<array{bits: array{int, int}, inverted: bool}>, addressLines: list<int>, differences: int, because: list<string>}
     */
    public function summary(): array
    {
        return ['verdict' => $this->verdict->value, 'bits' => $this->bits, 'tied' => $this->tied, 'addressLines' => $this->addressLines, 'differences' => $this->differences, 'because' => $this->because];
    }
}
