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

    public const CONTENTION = 'contention';

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
     * @param  bool  $behind  the address is right at the processor, and wrong where it arrives
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
        public bool $behind = false,
    ) {
    }

    /** Its kind, as a heading. */
    public function title(): string
    {
        return match ($this->kind) {
            self::NOTHING_SELECTED => 'Nothing selected',
            self::DATA_BITS => 'Data bits wrong',
            self::ADDRESS_BITS => 'Address bits wrong',
            self::WRONG_TARGET => 'The wrong place answers',
            self::CONTENTION => 'Bus contention',
            self::NEVER_STARTS => 'It never starts',
            self::STOPS => 'It stops',
            default => 'It repeats',
        };
    }

    /**
     * @return array<string, mixed> as it is kept and printed, without what is not known
     */
    public function toArray(): array
    {
        return array_filter([
            'cycle' => $this->cycle, 'kind' => $this->kind, 'address' => $this->address, 'expected' => $this->expected, 'seen' => $this->seen,
            'bits' => $this->bits, 'words' => $this->words, 'writes' => $this->writes, 'behind' => $this->behind,
        ], static fn (mixed $value): bool => $value !== null && $value !== false);
    }
}
