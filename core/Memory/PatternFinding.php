<?php

declare(strict_types=1);

namespace ZapTrace\Memory;

/**
 * A pattern found in the readings, with the counts that support it. What it says of causes is for others to judge.
 */
final readonly class PatternFinding
{
    /**
     * @param  non-empty-list<string>  $banks  the banks it was seen in
     * @param  list<int>  $lines  the data lines (bits) it was seen on
     * @param  list<string>  $chips  the memory chips that hold those lines in those banks
     * @param  Scope  $scope  what the failing places have in common
     * @param  int  $failed  readings that failed
     * @param  int  $able  readings that could have shown it
     * @param  float  $confidence  0 to 1: how sure the pattern is, given how much was tried
     * @param  list<int>  $addressLines  address lines lost, for an alias
     * @param  bool  $lineGoodElsewhere  the same lines were read right in another bank
     * @param  string  $sentence  the pattern in words, with its counts
     * @param  string|null  $latch  the latch that seems to stand otherwise, for memory that something else is laid over
     */
    public function __construct(
        public Pattern $pattern,
        public Scope $scope,
        public array $banks,
        public array $lines,
        public array $chips,
        public int $failed,
        public int $able,
        public float $confidence,
        public array $addressLines,
        public bool $lineGoodElsewhere,
        public string $sentence,
        public ?string $latch = null,
    ) {
    }
}
