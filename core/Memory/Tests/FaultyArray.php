<?php

declare(strict_types=1);

namespace ZapTrace\Memory\Tests;

use LogicException;

/**
 * A simulated memory of bytes with one fault put in, for measuring what a test finds.
 *
 * Fault models after van de Goor: stuck-at, transition, coupling (inversion, idempotent, state), address decoder, data
 * retention.
 */
final class FaultyArray implements MemoryUnderTest
{
    /** @var array<int, int> address => byte */
    private array $cells = [];

    private float $clock = 0.0;

    /** @var array<int, float> address => when it was last written or read */
    private array $used = [];

    /**
     * @param  int  $size  bytes, from address 0 on
     * @param  array{kind: string, address?: int, bit?: int, value?: int, rising?: bool, byAddress?: int, byBit?: int, other?: int, seconds?: float}|null  $fault
     */
    public function __construct(private readonly int $size, private readonly ?array $fault = null)
    {
    }

    public static function stuck(int $size, int $address, int $bit, int $value): self
    {
        return new self($size, ['kind' => 'stuck', 'address' => $address, 'bit' => $bit, 'value' => $value]);
    }

    /** A bit that cannot go up (or down) any more. */
    public static function transition(int $size, int $address, int $bit, bool $rising): self
    {
        return new self($size, ['kind' => 'transition', 'address' => $address, 'bit' => $bit, 'rising' => $rising]);
    }

    /** A transition of the one bit turns the other over. */
    public static function inversionCoupling(int $size, int $byAddress, int $byBit, bool $rising, int $address, int $bit): self
    {
        return new self($size, ['kind' => 'inversion', 'byAddress' => $byAddress, 'byBit' => $byBit, 'rising' => $rising, 'address' => $address, 'bit' => $bit]);
    }

    /** A transition of the one bit forces the other to a value. */
    public static function idempotentCoupling(int $size, int $byAddress, int $byBit, bool $rising, int $address, int $bit, int $value): self
    {
        return new self($size, ['kind' => 'idempotent', 'byAddress' => $byAddress, 'byBit' => $byBit, 'rising' => $rising, 'address' => $address, 'bit' => $bit, 'value' => $value]);
    }

    /** While the one bit is up (or down) the other is forced to a value. */
    public static function stateCoupling(int $size, int $byAddress, int $byBit, bool $up, int $address, int $bit, int $value): self
    {
        return new self($size, ['kind' => 'state', 'byAddress' => $byAddress, 'byBit' => $byBit, 'rising' => $up, 'address' => $address, 'bit' => $bit, 'value' => $value]);
    }

    /**
     * @param  'no cell'|'another cell'|'both cells'  $kind  what the address reaches
     */
    public static function decoder(int $size, int $address, string $kind, int $other = 0): self
    {
        return new self($size, ['kind' => $kind, 'address' => $address, 'other' => $other]);
    }

    /** A bit that falls to a value when it is left alone for so long. */
    public static function retention(int $size, int $address, int $bit, int $value, float $seconds): self
    {
        return new self($size, ['kind' => 'retention', 'address' => $address, 'bit' => $bit, 'value' => $value, 'seconds' => $seconds]);
    }

    public function write(int $address, int $value): void
    {
        foreach ($this->reached($address) as $cell) {
            $this->store($cell, $value);
        }
    }

    public function read(int $address): int
    {
        $value = null;
        foreach ($this->reached($address) as $cell) {
            // Two cells that drive one line: the lower wins.
            $value = $value === null ? $this->cell($cell) : $value & $this->cell($cell);
        }

        return $value ?? 0xFF; // Nothing drives the line: it floats high.
    }

    public function wait(float $seconds): void
    {
        $this->clock += $seconds;
    }

    /**
     * @return list<int>
     */
    private function reached(int $address): array
    {
        if ($address < 0 || $address >= $this->size) {
            throw new LogicException("Address {$address} is outside the array of {$this->size} bytes.");
        }
        $fault = $this->fault;
        if ($fault === null || ($fault['address'] ?? -1) !== $address) {
            return [$address];
        }

        return match ($fault['kind']) {
            'no cell' => [],
            'another cell' => [$fault['other'] ?? 0],
            'both cells' => [$address, $fault['other'] ?? 0],
            default => [$address],
        };
    }

    private function store(int $cell, int $value): void
    {
        $before = $this->cell($cell);
        $fault = $this->fault;
        if ($fault !== null && $fault['kind'] === 'transition' && ($fault['address'] ?? -1) === $cell) {
            $mask = 1 << ($fault['bit'] ?? 0);
            $rising = ($before & $mask) === 0 && ($value & $mask) !== 0;
            $falling = ($before & $mask) !== 0 && ($value & $mask) === 0;
            if (($fault['rising'] ?? true) ? $rising : $falling) {
                $value ^= $mask;
            }
        }
        $this->cells[$cell] = $value;
        $this->used[$cell] = $this->clock;
        if ($fault === null || ! in_array($fault['kind'], ['inversion', 'idempotent'], true) || ($fault['byAddress'] ?? -1) !== $cell) {
            return;
        }
        $by = 1 << ($fault['byBit'] ?? 0);
        $went = ($before & $by) !== ($value & $by) && (($value & $by) !== 0) === ($fault['rising'] ?? true);
        if ($went) {
            $victim = $fault['address'] ?? 0;
            $mask = 1 << ($fault['bit'] ?? 0);
            $held = $this->cells[$victim] ?? 0;
            $this->cells[$victim] = match (true) {
                $fault['kind'] === 'inversion' => $held ^ $mask,
                ($fault['value'] ?? 0) === 1 => $held | $mask,
                default => $held & ~$mask,
            };
        }
    }

    private function cell(int $cell): int
    {
        $value = $this->cells[$cell] ?? 0;
        $fault = $this->fault;
        if ($fault === null || ($fault['address'] ?? -1) !== $cell) {
            return $value;
        }
        $mask = 1 << ($fault['bit'] ?? 0);
        $forced = ($fault['value'] ?? 0) === 1 ? $value | $mask : $value & ~$mask;
        if ($fault['kind'] === 'stuck') {
            return $forced;
        }
        if ($fault['kind'] === 'state') {
            $by = ($this->cells[$fault['byAddress'] ?? 0] ?? 0) & (1 << ($fault['byBit'] ?? 0));

            return ($by !== 0) === ($fault['rising'] ?? true) ? $forced : $value;
        }
        if ($fault['kind'] === 'retention' && $this->clock - ($this->used[$cell] ?? 0.0) >= ($fault['seconds'] ?? 0.0)) {
            return $this->cells[$cell] = $forced;
        }

        return $value;
    }
}
