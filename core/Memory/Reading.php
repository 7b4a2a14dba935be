<?php

declare(strict_types=1);

namespace ZapTrace\Memory;

/**
 * One memory access of a technician: what was written to an address and what came back.
 */
final readonly class Reading
{
    /**
     * @param  int  $address  byte address of its lowest byte
     * @param  8|16|32  $bits  width of the access
     * @param  int|null  $page  page register at that moment, null when unsaid
     */
    public function __construct(
        public int $address,
        public int $expected,
        public int $read,
        public int $bits,
        public ?int $page = null,
    ) {
    }
}
