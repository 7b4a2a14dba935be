<?php

declare(strict_types=1);

namespace ZapTrace\Bus;

/**
 * The first place at which a machine does something else than it should.
 */
final readonly class Divergence
{
    public const NOTHING_SELECTED = 'nothing-selected';

    public const DATA_BITS = 'data-bits';

    public const ADDRESS_BITS = 'address-bits';

    public const WRONG_TARGET = 'wrong-target';

    public const NEVER_STARTS = 'never-starts';

    public const STOPS = 'stops';

    public const REPEATS = 'repeats';

    /**
     * @param  int  $cycle  of the capture that was looked at, counted from 0
     * @param  string  $kind  one of the constants
     * @param  int|null  $expected  data, or for address bits the address
     * @param  list<int>  $bits  data or address bits that are wrong
     * @param  string  $words  a sentence
     * @param  bool  $writes  it is a cycle that writes
     */
    public function __construct(
        public int $cycle,
        public string $kind,
        public ?int $address,
        public ?int $expected,
        public ?int $seen,
        public array $bits,
        public string $words,
        public bool $writes = false,
    ) {
    }
}
