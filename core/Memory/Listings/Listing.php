<?php

declare(strict_types=1);

namespace ZapTrace\Memory\Listings;

use ZapTrace\Formats\IntelHex;
use ZapTrace\Formats\MemoryImage;

/**
 * A memory test to be typed in.
 */
final readonly class Listing
{
    /**
     * @param  string  $text  as it is typed, or the commented listing of machine code
     * @param  string|null  $bytes  the machine code; null for BASIC
     * @param  int|null  $results  address from which the results are read; null for BASIC, which prints them
     * @param  float  $seconds  running time on this machine, when nothing fails
     * @param  list<string>  $notes  how it is started, and where its results are
     * @param  array<string, int>  $symbols
     */
    public function __construct(
        public ListingRequest $request,
        public string $text,
        public ?string $bytes,
        public ?int $results,
        public float $seconds,
        public array $notes,
        public array $symbols = [],
    ) {
    }

    /** The running time as it is said. */
    public function duration(): string
    {
        return match (true) {
            $this->seconds < 90.0 => (int) ceil($this->seconds).' seconds',
            $this->seconds < 5400.0 => (int) round($this->seconds / 60.0).' minutes',
            default => number_format($this->seconds / 3600.0, 1).' hours',
        };
    }

    /** As Intel HEX; "" for BASIC. */
    public function hex(): string
    {
        return $this->bytes === null ? '' : IntelHex::write(MemoryImage::contiguous($this->request->at, $this->bytes));
    }
}
