<?php

declare(strict_types=1);

namespace ZapTrace\Rom;

/**
 * The checksum of a ROM as the firmware of its machine computes it: over which of the chip's addresses, and what it has
 * to be.
 */
final readonly class FirmwareChecksum
{
    /**
     * @param  int  $from  first address of the chip that is summed
     * @param  int  $to  last one
     * @param  int|null  $at  where the value is kept, low byte first; it is left out of the sum where it lies within
     * @param  int|null  $is  what it has to be, where that is no part of the contents
     */
    public function __construct(public ChecksumKind $kind, public int $from, public int $to, public ?int $at, public ?int $is)
    {
    }

    /** The sentence for a read, and whether it is right; null when it cannot be computed or nothing says what it has to be. */
    public function check(RomImage $image): ?bool
    {
        $wanted = $this->wanted($image);

        return $wanted === null || $this->to >= $image->size() ? null : $this->of($image) === $wanted;
    }

    public function of(RomImage $image): int
    {
        $bytes = substr($image->bytes, $this->from, $this->to - $this->from + 1);
        if ($this->at !== null && $this->at >= $this->from && $this->at <= $this->to) {
            $bytes = substr_replace($bytes, '', $this->at - $this->from, $this->kind->width());
        }

        return $this->kind->of($bytes);
    }

    public function wanted(RomImage $image): ?int
    {
        if ($this->is !== null || $this->at === null) {
            return $this->is;
        }
        $kept = 0;
        for ($place = 0; $place < $this->kind->width(); $place++) {
            $kept |= ord($image->bytes[$this->at + $place] ?? "\xFF") << 8 * $place;
        }

        return $kept;
    }

    public function sentence(RomImage $image): string
    {
        if ($this->to >= $image->size()) {
            return sprintf('The firmware sums %X to %X, which this image does not reach.', $this->from, $this->to);
        }
        $wanted = $this->wanted($image);
        $digits = 2 * $this->kind->width();

        return sprintf("The firmware's own checksum (%s over %X to %X) is %0{$digits}X", $this->kind->value, $this->from, $this->to, $this->of($image)).match (true) {
            $wanted === null => '.',
            $wanted === $this->of($image) => ', as it should be.',
            default => sprintf("; it should be %0{$digits}X.", $wanted),
        };
    }
}
