<?php

declare(strict_types=1);

namespace ZapTrace\Memory;

use ZapTrace\Board\Bus;

/**
 * Readings made under one setting of the machine. The order in which they came does not matter: a set holds them
 * by address.
 */
final class ReadingSet
{
    /** @var array<string, array{page: int|null, held: float, codes: list<int>}> */
    private array $single = [];

    /** @var list<array{page: int|null, held: float, block: Block}> */
    private array $dumps = [];

    /** @var list<array{page: int|null, held: float, block: Block}>|null */
    private ?array $blocks = null;

    /** Bytes of single readings beyond the first of each: a word is one reading of two bytes. */
    private int $furtherBytes = 0;

    /** Of those, the ones by which a failing reading fails more than once. */
    private int $furtherFailures = 0;

    public function __construct(private readonly Bus $bus)
    {
    }

    /**
     * @param  float  $held  seconds between writing and reading, when a pause was left on purpose
     */
    public function add(Reading $reading, float $held = 0.0): void
    {
        $this->blocks = null;
        $key = "{$reading->page}/{$held}";
        $this->single[$key] ??= ['page' => $reading->page, 'held' => $held, 'codes' => []];
        $bytes = intdiv($reading->bits, 8);
        $this->furtherBytes += $bytes - 1;
        $this->furtherFailures -= $reading->expected === $reading->read ? 0 : 1;
        for ($i = 0; $i < $bytes; $i++) {
            $shift = 8 * ($this->bus->bigEndian ? $bytes - 1 - $i : $i);
            $this->single[$key]['codes'][] = ($reading->address + $i) << 16
                | (($reading->expected >> $shift) & 0xFF) << 8
                | (($reading->read >> $shift) & 0xFF);
            $this->furtherFailures += (($reading->expected ^ $reading->read) >> $shift & 0xFF) === 0 ? 0 : 1;
        }
    }

    /**
     * Single bytes, many at a time: each address << 16 | expected << 8 | read.
     *
     * @param  list<int>  $codes
     */
    public function addBytes(array $codes, ?int $page = null, float $held = 0.0): void
    {
        if ($codes === []) {
            return;
        }
        $this->blocks = null;
        $key = "{$page}/{$held}";
        $this->single[$key] ??= ['page' => $page, 'held' => $held, 'codes' => []];
        if ($this->single[$key]['codes'] === []) {
            $this->single[$key]['codes'] = $codes;

            return;
        }
        foreach ($codes as $code) {
            $this->single[$key]['codes'][] = $code;
        }
    }

    /**
     * A stretch of memory read in one go.
     */
    public function addDump(int $from, string $expected, string $read, ?int $page = null, float $held = 0.0): void
    {
        $this->blocks = null;
        $this->dumps[] = ['page' => $page, 'held' => $held, 'block' => Block::contiguous($from, $expected, $read)];
    }

    /**
     * The readings of another set too. Where both hold an address, and not alike, one was made after the other: they are kept
     * apart, since what is read back was written last in its own.
     */
    public function addAll(self $other): void
    {
        $this->blocks = null;
        foreach ($other->single as $group) {
            $there = null;
            for ($pass = 0; ; $pass++) {
                $key = "{$group['page']}/{$group['held']}".($pass === 0 ? '' : "/{$pass}");
                if (! isset($this->single[$key])) {
                    $this->single[$key] = $group;
                    break;
                }
                $there ??= self::byAddress($group['codes']);
                $both = array_intersect_key(self::byAddress($this->single[$key]['codes']), $there);
                if ($both === array_intersect_assoc($both, $there)) {
                    array_push($this->single[$key]['codes'], ...$group['codes']);
                    break;
                }
            }
        }
        array_push($this->dumps, ...$other->dumps);
        $this->furtherBytes += $other->furtherBytes;
        $this->furtherFailures += $other->furtherFailures;
    }

    /**
     * @param  list<int>  $codes
     * @return array<int, int> address => its reading
     */
    private static function byAddress(array $codes): array
    {
        return array_combine(array_map(static fn (int $code): int => $code >> 16, $codes), $codes);
    }

    /** How many bytes were read back. */
    public function count(): int
    {
        return array_sum(array_map(static fn (array $dump): int => $dump['block']->count(), $this->dumps))
            + array_sum(array_map(static fn (array $group): int => count($group['codes']), $this->single));
    }

    /** How many readings were made: a word typed as one counts once, a dump counts its bytes. */
    public function readings(): int
    {
        return $this->count() - $this->furtherBytes;
    }

    /** By how much the failing bytes exceed the failing readings. */
    public function furtherFailures(): int
    {
        return $this->furtherFailures;
    }

    /**
     * @return list<array{page: int|null, held: float, block: Block}> in an order that does not depend on the order of adding
     */
    public function blocks(): array
    {
        if ($this->blocks === null) {
            $blocks = $this->dumps;
            foreach ($this->single as $key => $group) {
                sort($this->single[$key]['codes']);
                $blocks[] = ['page' => $group['page'], 'held' => $group['held'], 'block' => Block::listed($this->single[$key]['codes'])];
            }
            usort($blocks, static fn (array $a, array $b): int => [$a['page'] ?? -1, $a['held'], $a['block']->from, $a['block']->count()] <=> [$b['page'] ?? -1, $b['held'], $b['block']->from, $b['block']->count()]
                ?: strcmp($a['block']->expected, $b['block']->expected) ?: strcmp($a['block']->read, $b['block']->read));
            $this->blocks = $blocks;
        }

        return $this->blocks;
    }
}
