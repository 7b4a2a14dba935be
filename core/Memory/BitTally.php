<?php

declare(strict_types=1);

namespace ZapTrace\Memory;

/**
 * What is known of one data line of one bank: how often it was tried, and how it failed.
 */
final class BitTally
{
    /** Readings in which 0 was expected: only these can show a stuck 1. */
    public int $ableHigh = 0;

    /** Readings in which 1 was expected: only these can show a stuck 0. */
    public int $ableLow = 0;

    /** Read 1 where 0 was expected. */
    public int $failedHigh = 0;

    /** Read 0 where 1 was expected. */
    public int $failedLow = 0;

    /** Cells that gave different answers to the same question. */
    public int $unstable = 0;

    /** Of all those, in readings made after a pause on purpose. */
    public int $heldAble = 0;

    public int $heldFailed = 0;

    public function __construct(
        public readonly string $bank,
        public readonly int $line,
        public readonly string $chip,
    ) {
    }

    public function tested(): int
    {
        return $this->ableHigh + $this->ableLow;
    }

    public function failed(): int
    {
        return $this->failedHigh + $this->failedLow;
    }

    /** Readings that could have shown the fault that was seen; without a fault, all. */
    public function able(): int
    {
        return match ($this->stuck()) {
            Stuck::High => $this->ableHigh,
            Stuck::Low => $this->ableLow,
            Stuck::Either, Stuck::None => $this->tested(),
        };
    }

    public function stuck(): Stuck
    {
        return match (true) {
            $this->failedHigh > 0 && $this->failedLow > 0 => Stuck::Either,
            $this->failedHigh > 0 => Stuck::High,
            $this->failedLow > 0 => Stuck::Low,
            default => Stuck::None,
        };
    }

    /** Fails at every reading that could show it. */
    public function failsEverywhere(): bool
    {
        return $this->failed() > 0 && $this->failed() === $this->able();
    }

    /** Read right where 0 and where 1 was expected, and never wrong. */
    public function isCleared(): bool
    {
        return $this->failed() === 0 && $this->ableHigh > 0 && $this->ableLow > 0;
    }

    /** Never seen to give more than one value: it may be stuck and the readings could not show it. */
    public function couldBeConstant(): bool
    {
        $readHigh = $this->failedHigh + ($this->ableLow - $this->failedLow);
        $readLow = $this->failedLow + ($this->ableHigh - $this->failedHigh);

        return $readHigh === 0 || $readLow === 0;
    }
}
