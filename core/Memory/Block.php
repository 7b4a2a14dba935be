<?php

declare(strict_types=1);

namespace ZapTrace\Memory;

use LogicException;

/**
 * Bytes expected and read, at addresses that either follow each other or are listed in rising order.
 *
 * Held as byte strings so that a mebibyte takes a mebibyte and whole blocks are compared by PHP's own string
 * operators.
 */
final readonly class Block
{
    /**
     * @param  string|null  $addresses  32-bit little-endian addresses in rising order (one address may stand more than once), or null when they run on from $from
     */
    private function __construct(
        public int $from,
        public ?string $addresses,
        public string $expected,
        public string $read,
    ) {
        if (strlen($expected) !== strlen($read)) {
            throw new LogicException('A block holds as many bytes expected as read.');
        }
    }

    public static function contiguous(int $from, string $expected, string $read): self
    {
        return new self($from, null, $expected, $read);
    }

    /**
     * @param  list<int>  $codes  each address << 16 | expected << 8 | read, in rising order
     */
    public static function listed(array $codes): self
    {
        $count = count($codes);
        if ($count === 0) {
            return new self(0, null, '', '');
        }
        $first = $codes[0] >> 16;
        $expected = '';
        $read = '';
        $runsOn = ($codes[$count - 1] >> 16) - $first === $count - 1;
        $addresses = '';
        foreach ($codes as $place => $code) {
            $expected .= chr(($code >> 8) & 0xFF);
            $read .= chr($code & 0xFF);
            $addresses .= pack('V', $code >> 16);
            $runsOn = $runsOn && ($code >> 16) === $first + $place;
        }

        return new self($first, $runsOn ? null : $addresses, $expected, $read);
    }

    public function count(): int
    {
        return strlen($this->expected);
    }

    public function addressAt(int $offset): int
    {
        if ($this->addresses === null) {
            return $this->from + $offset;
        }
        $at = $offset * 4;

        return ord($this->addresses[$at]) | ord($this->addresses[$at + 1]) << 8 | ord($this->addresses[$at + 2]) << 16 | ord($this->addresses[$at + 3]) << 24;
    }

    /**
     * The offset of the first byte at or after this address; the count when there is none.
     */
    public function offsetFrom(int $address): int
    {
        if ($this->addresses === null) {
            return max(0, min($this->count(), $address - $this->from));
        }
        $low = 0;
        $high = $this->count();
        while ($low < $high) {
            $middle = ($low + $high) >> 1;
            if ($this->addressAt($middle) < $address) {
                $low = $middle + 1;
            } else {
                $high = $middle;
            }
        }

        return $low;
    }

    /**
     * The offset of the byte at this address, or null when the block does not hold it.
     */
    public function offsetOf(int $address): ?int
    {
        $offset = $this->offsetFrom($address);

        return $offset < $this->count() && $this->addressAt($offset) === $address ? $offset : null;
    }

    /**
     * What was written at this address; null when the block does not hold it, or holds it several times written differently:
     * those readings were made one after another, and which of them was last is not known.
     */
    public function expectedAt(int $address): ?int
    {
        $offset = $this->offsetOf($address);
        if ($offset === null) {
            return null;
        }
        for ($next = $offset + 1; $next < $this->count() && $this->addressAt($next) === $address; $next++) {
            if ($this->expected[$next] !== $this->expected[$offset]) {
                return null;
            }
        }

        return ord($this->expected[$offset]);
    }
}
