<?php

declare(strict_types=1);

namespace ZapTrace\Board;

/**
 * A stretch of the memory map, and the access, settings and page under which it is reached.
 */
final readonly class MapRange
{
    /**
     * @param  int  $from  first address
     * @param  int  $to  last address
     * @param  string|null  $bank  name of the bank, for RAM
     * @param  int  $bankAddress  the bank's own address that answers at $from
     * @param  string|null  $chip  the chip that answers, for ROM and I/O
     * @param  'read'|'write'|'any'  $access
     * @param  array<string, list<string>>  $when  link or latch => positions under which the range exists
     * @param  int  $mask  interleaving: only addresses with (address AND mask) = value
     */
    public function __construct(
        public int $from,
        public int $to,
        public RangeKind $kind,
        public string $name,
        public ?string $bank,
        public int $bankAddress,
        public ?string $chip,
        public string $access,
        public ?int $page,
        public array $when,
        public int $mask,
        public int $value,
    ) {
    }

    public function existsUnder(Settings $settings): bool
    {
        foreach ($this->when as $ref => $positions) {
            if (! in_array($settings->position($ref), $positions, true)) {
                return false;
            }
        }

        return true;
    }

    public function answersTo(string $access): bool
    {
        return $this->access === 'any' || $this->access === $access;
    }

    public function answersOnPage(?int $page): bool
    {
        return $this->page === null || $this->page === ($page ?? 0);
    }

    public function holds(int $address): bool
    {
        return $address >= $this->from && $address <= $this->to && ($address & $this->mask) === $this->value;
    }

    /**
     * The bank's own address for an address of this range. Address lines that pick among interleaved banks stay in.
     */
    public function bankAddressOf(int $address): int
    {
        return $address - $this->from + $this->bankAddress;
    }
}
