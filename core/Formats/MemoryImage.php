<?php

declare(strict_types=1);

namespace ZapTrace\Formats;

/**
 * Bytes at addresses: what a dump or image file holds. Segments do not overlap and are in order of address.
 */
final readonly class MemoryImage
{
    /**
     * @param  array<int, string>  $segments  first address => bytes
     */
    private function __construct(public array $segments)
    {
    }

    public static function contiguous(int $from, string $bytes): self
    {
        return new self($bytes === '' ? [] : [$from => $bytes]);
    }

    /**
     * Joins records that touch. Where records overlap, the later one in the file wins.
     *
     * @param  list<array{int, string}>  $records  address and bytes, in the order of the file
     */
    public static function fromRecords(array $records): self
    {
        $inOrder = true;
        $end = -1;
        foreach ($records as [$address, $bytes]) {
            if ($address < $end) {
                $inOrder = false;
                break;
            }
            $end = $address + strlen($bytes);
        }

        return new self($inOrder ? self::join($records) : self::overlay($records));
    }

    public function size(): int
    {
        return array_sum(array_map(strlen(...), $this->segments));
    }

    public function isEmpty(): bool
    {
        return $this->segments === [];
    }

    public function firstAddress(): int
    {
        return array_key_first($this->segments) ?? 0;
    }

    public function lastAddress(): int
    {
        $from = array_key_last($this->segments);

        return $from === null ? 0 : $from + strlen($this->segments[$from]) - 1;
    }

    /**
     * @param  list<array{int, string}>  $records  in order, not overlapping
     * @return array<int, string>
     */
    private static function join(array $records): array
    {
        $segments = [];
        $from = -1;
        $parts = [];
        $end = -1;
        foreach ($records as [$address, $bytes]) {
            if ($bytes === '') {
                continue;
            }
            if ($address !== $end) {
                if ($parts !== []) {
                    $segments[$from] = implode('', $parts);
                }
                $from = $address;
                $parts = [];
            }
            $parts[] = $bytes;
            $end = $address + strlen($bytes);
        }
        if ($parts !== []) {
            $segments[$from] = implode('', $parts);
        }

        return $segments;
    }

    /**
     * @param  list<array{int, string}>  $records
     * @return array<int, string>
     */
    private static function overlay(array $records): array
    {
        $bytes = [];
        foreach ($records as [$address, $text]) {
            $length = strlen($text);
            for ($i = 0; $i < $length; $i++) {
                $bytes[$address + $i] = $text[$i];
            }
        }
        ksort($bytes);
        $single = [];
        foreach ($bytes as $address => $byte) {
            $single[] = [$address, $byte];
        }

        return self::join($single);
    }
}
