<?php

declare(strict_types=1);

namespace ZapTrace\Bus;

use ZapTrace\Board\BoardProfile;
use ZapTrace\Board\MapRange;
use ZapTrace\Board\RangeKind;
use ZapTrace\Board\Settings;
use ZapTrace\Rom\RomImage;

/**
 * What answers at which address: ROM with what it holds, memory, ports; as far as it is known.
 */
final readonly class MemoryPlan
{
    /**
     * @param  list<array{from: int, to: int, kind: 'rom'|'ram'|'io', chip: string, image: RomImage|null}>  $ranges
     */
    public function __construct(public array $ranges)
    {
    }

    /**
     * Under the links as they stand. A latch goes over while the machine runs: what it shows now or then is all here.
     *
     * @param  array<string, RomImage>  $images  chip => what it should hold
     */
    public static function of(BoardProfile $board, array $images = [], ?Settings $settings = null): self
    {
        $ranges = [];
        foreach ($board->map->ranges as $range) {
            $kind = match ($range->kind) {
                RangeKind::Rom => 'rom',
                RangeKind::Ram => 'ram',
                RangeKind::Io => 'io',
                default => null,
            };
            if ($kind !== null && self::isLinked($range, $board, $settings ?? Settings::of($board)) && ($kind !== 'rom' || $range->access !== 'write')) {
                $ranges[] = ['from' => $range->from, 'to' => $range->to, 'kind' => $kind, 'chip' => $range->chip ?? '', 'image' => $kind === 'rom' && $board->bus->dataWidth === 8 ? $images[$range->chip ?? ''] ?? null : null];
            }
        }
        // ROM covers memory that lies beneath it.
        usort($ranges, static fn (array $a, array $b): int => ($b['kind'] === 'rom' ? 1 : 0) <=> ($a['kind'] === 'rom' ? 1 : 0));

        return new self($ranges);
    }

    private static function isLinked(MapRange $range, BoardProfile $board, Settings $settings): bool
    {
        foreach ($board->links() as $link) {
            if (isset($range->when[$link->ref]) && ! in_array($settings->position($link->ref), $range->when[$link->ref], true)) {
                return false;
            }
        }

        return true;
    }

    /**
     * @return array{from: int, to: int, kind: 'rom'|'ram'|'io', chip: string, image: RomImage|null}|null
     */
    public function at(int $address): ?array
    {
        foreach ($this->ranges as $range) {
            if ($address >= $range['from'] && $address <= $range['to']) {
                return $range;
            }
        }

        return null;
    }

    public function isRom(int $address): bool
    {
        return ($this->at($address)['kind'] ?? '') === 'rom';
    }

    public function isPort(int $address): bool
    {
        return ($this->at($address)['kind'] ?? '') === 'io';
    }

    /** What a ROM holds at an address; null where there is none that is known. */
    public function romByte(int $address): ?int
    {
        $range = $this->at($address);
        $image = $range['image'] ?? null;

        return $range === null || $image === null ? null : ord($image->bytes[($address - $range['from']) % $image->size()]);
    }
}
