<?php

declare(strict_types=1);

namespace ZapTrace\Bus;

use ZapTrace\Board\Bank;
use ZapTrace\Board\MapRange;
use ZapTrace\Board\Netlist;
use ZapTrace\Board\RangeKind;
use ZapTrace\Board\Setting;
use ZapTrace\Board\Settings;
use ZapTrace\Rom\RomEvidence;
use ZapTrace\Rom\RomVerdict;
use ZapTrace\Signals\LineFaults;
use ZapTrace\Signals\Structure;

/**
 * Which faults would lead a machine astray at such a place, and what to measure there.
 */
final readonly class BusEvidence
{
    /** For so many cycles after the start a ROM that a latch lays over everything is still there. */
    private const STARTING = 24;

    /** How strongly a ROM shows alone of several beside each other. */
    private const ALONE = 0.8;

    /** How much of what leads to all of them is left then. */
    private const HARDLY = 0.05;

    private LineFaults $lines;

    public function __construct(private Structure $structure, private Settings $settings)
    {
        $this->lines = new LineFaults($structure);
    }

    /**
     * @return array<string, float> position => how strongly a fault there would show so
     */
    public function of(Divergence $found): array
    {
        $processor = $this->structure->board->processor->chip ?? '';

        return match ($found->kind) {
            Divergence::NEVER_STARTS => LineFaults::together([$processor => 0.6], $this->control($found->kind, 0.85)),
            Divergence::STOPS => LineFaults::together([$processor => 0.5], $this->control($found->kind, 0.7)),
            Divergence::REPEATS => $found->seen !== null && $found->seen === ($this->structure->board->chips[$processor]->type->bus->start['at'] ?? -1)
                ? LineFaults::together([$processor => 0.3], $this->control(Divergence::NEVER_STARTS, 0.6))
                : LineFaults::together([$processor => 0.2], $this->answers($found, 0.3)),
            Divergence::ADDRESS_BITS => $this->addressBits($found, $processor),
            Divergence::NOTHING_SELECTED => $this->answers($found, 0.6, 0.85),
            Divergence::CONTENTION => $this->contention($found, $processor, 0.85),
            Divergence::WRONG_TARGET => LineFaults::together([$processor => 0.1], $this->answers($found, 0.35, 0.85), $this->misled($found, 0.6)),
            default => $found->writes ? $this->writtenBits($found, $processor) : $this->dataBits($found, $processor),
        };
    }

    /**
     * What a run as it should be clears.
     *
     * @return array<string, float>
     */
    public function clears(): array
    {
        // What would have kept it from starting did not.
        $strengths = LineFaults::together($this->control(Divergence::NEVER_STARTS, 0.85), [$this->structure->board->processor->chip ?? '' => 0.85]);
        foreach ($this->structure->board->map->ranges as $range) {
            if ($range->kind === RangeKind::Rom && $range->chip !== null) {
                $strengths = LineFaults::together($strengths, (new RomEvidence($this->structure))->onBoard($range->chip, RomVerdict::Match, [], [], false));
            }
        }

        return array_map(static fn (float $strength): float => 0.97 * $strength, $strengths);
    }

    /**
     * The chip that should answer at an address; "" where that is not known. Of several beside each other the first, or one
     * that is on a bit that is wrong.
     *
     * @param  int  $cycle  cycles after the start
     * @param  list<int>  $bits  that are wrong
     */
    public function chipAt(int $address, int $cycle = PHP_INT_MAX, array $bits = []): string
    {
        $range = $this->rangeAt($address, $cycle);
        $bank = $this->structure->board->banks[$range->bank ?? ''] ?? null;
        $chip = $range->chip ?? $bank->chipOfLine[$bits[0] ?? -1] ?? $bank?->chips()[0] ?? '';

        return $range?->kind === RangeKind::Rom && $bits !== [] && $chip !== '' ? $this->romOn($chip, $bits[0]) : $chip;
    }

    /**
     * The bank and the bits that were read wrong, where it was memory that was read: whatever shows in those shows so as well.
     *
     * @return array{list<string>, list<int>} banks and data lines; of both none where it was something else
     */
    public function memoryRead(Divergence $found): array
    {
        $bank = $found->kind === Divergence::DATA_BITS && ! $found->writes && $found->address !== null ? $this->rangeAt($found->address, $found->cycle)?->bank : null;

        return $bank !== null && $found->bits !== [] && isset($this->structure->board->banks[$bank]) ? [[$bank], $found->bits] : [[], []];
    }

    /** What should answer at an address: right after the start, and where a latch decides, the ROM. */
    private function rangeAt(int $address, int $cycle): ?MapRange
    {
        $board = $this->structure->board;
        $ranges = array_values(array_filter($board->map->ranges, static fn (MapRange $range): bool => $address >= $range->from && $address <= $range->to && $range->access !== 'write'));
        $latches = array_map(static fn (Setting $setting): string => $setting->ref, array_filter($board->settings, static fn (Setting $setting): bool => $setting->isLatch));
        foreach ($cycle < self::STARTING ? $ranges : [] as $range) {
            if ($range->kind === RangeKind::Rom && array_intersect(array_keys($range->when), $latches) !== []) {
                return $range;
            }
        }

        return array_values(array_filter($ranges, fn (MapRange $range): bool => $range->existsUnder($this->settings)))[0] ?? null;
    }

    /** The ROM of a data line: of several beside each other the one that is on it. */
    private function romOn(string $chip, int $bit): string
    {
        $onLine = array_map(Netlist::chipOf(...), $this->structure->board->netlist->nets["D{$bit}"]->pins ?? []);
        $roms = array_values(array_filter($onLine, fn (string $ref): bool => in_array($this->structure->board->chips[$ref]->kind(), ['rom', 'eprom'], true)));

        return in_array($chip, $onLine, true) ? $chip : $roms[0] ?? $chip;
    }

    /**
     * @return array<string, float>
     */
    private function addressBits(Divergence $found, string $processor): array
    {
        if ($found->behind) {
            return (new RomEvidence($this->structure))->onBoard($this->chipAt((int) $found->address), RomVerdict::Mirrored, [], $found->bits, false);
        }
        $strengths = [$processor => 0.5];
        foreach ($found->bits as $bit) {
            $strengths = LineFaults::together($strengths, $this->lines->at($processor, "A{$bit}", 0.9));
        }

        return $strengths;
    }

    /**
     * @return array<string, float>
     */
    private function dataBits(Divergence $found, string $processor): array
    {
        $board = $this->structure->board;
        $strengths = [];
        $range = $found->address === null ? null : $this->rangeAt($found->address, $found->cycle);
        if ($range !== null) {
            $chip = $range->chip ?? '';
            foreach ($chip === '' ? [] : $found->bits as $bit) {
                $strengths[$this->romOn($chip, $bit)] = 0.75;
            }
            $bank = $range->bank === null ? null : $board->banks[$range->bank] ?? null;
            foreach ($bank === null ? [] : $found->bits as $bit) {
                $chip = $bank->chipOfLine[$bit] ?? null;
                if ($bank !== null && $chip !== null) {
                    $strengths = [...LineFaults::together($strengths, $this->atMemory($chip, $bit, $bank)), $chip => 0.9];
                }
                foreach ($bank->servers ?? [] as $server) {
                    if ($server->role !== 'supply' && $server->carries("D{$bit}")) {
                        $strengths[$server->chip] = max($strengths[$server->chip] ?? 0.0, $server->role === 'buffer' ? 0.7 : 0.15);
                    }
                }
            }
        }
        foreach ($found->bits as $bit) {
            $strengths = LineFaults::together($strengths, $this->lines->at($processor, "D{$bit}", 0.6));
        }

        // Many bits at once: the wrong chip answers, none does, or two do.
        return count($found->bits) > 3 ? LineFaults::together(array_map(static fn (float $strength): float => 0.4 * $strength, $strengths), $this->answers($found, 0.5, 0.5), $this->misled($found, 0.6)) : $strengths;
    }

    /**
     * The trace that a memory chip gives a bit on.
     *
     * @return array<string, float>
     */
    private function atMemory(string $chip, int $bit, Bank $bank): array
    {
        $pin = $this->structure->board->netlist->pin($this->structure->board->dataPin($bank, $bit) ?? '');

        return $pin === null ? [] : $this->lines->at($chip, ($pin->activeLow ? '/' : '').$pin->name, 0.6);
    }

    /**
     * What the processor writes comes out wrong at its own pins: it, or something that drives against it, by itself or
     * because it is selected when it should not be.
     *
     * @return array<string, float>
     */
    private function writtenBits(Divergence $found, string $processor): array
    {
        $strengths = [$processor => 0.5];
        foreach ($found->bits as $bit) {
            $strengths = LineFaults::together($strengths, $this->lines->at($processor, "D{$bit}", 0.6));
        }

        return LineFaults::together($strengths, $this->contention($found, $processor, 0.6));
    }

    /**
     * Something drives the data lines when it should not: by itself, or because it is selected.
     *
     * @return array<string, float>
     */
    private function contention(Divergence $found, string $processor, float $strength): array
    {
        return $found->bits === [] ? [] : $this->lines->against($processor, array_map(static fn (int $bit): string => "D{$bit}", $found->bits), $strength);
    }

    /**
     * What answers at the place, and the chain that selects it.
     *
     * @return array<string, float>
     */
    private function answers(Divergence $found, float $chip, float $selects = 0.3): array
    {
        $ref = $found->address === null ? '' : $this->chipAt($found->address, $found->cycle, $found->bits);
        if ($ref === '') {
            return [];
        }
        $kind = $this->structure->board->chips[$ref]->kind();
        if (in_array($kind, ['rom', 'eprom'], true)) {
            $blank = fn (string $rom): array => (new RomEvidence($this->structure))->onBoard($rom, RomVerdict::Blank, [], [], false);
            [$wrong, $right] = $this->besideEachOther($ref, $found->bits);
            $strengths = [];
            foreach ($wrong as $rom) {
                $strengths = LineFaults::together($strengths, array_map(static fn (float $strength): float => $selects * $strength, self::apart($blank($rom), array_map($blank, $right))), [$rom => $right === [] ? $chip : self::ALONE]);
            }

            return [...$strengths, ...($right === [] ? array_fill_keys($wrong, $chip) : [])];
        }
        $strengths = [$ref => $kind === 'dram' ? 0.05 : $chip];
        foreach ($this->structure->board->banks as $bank) {
            foreach (in_array($ref, $bank->chips(), true) ? $bank->servers : [] as $server) {
                $strengths[$server->chip] = $server->role === 'supply' ? 0.1 : $selects;
            }
        }
        foreach (['/RAS', '/CAS', '/CS', '/CS1', '/CE', 'CS', 'CS1', 'CS2'] as $name) {
            $strengths = LineFaults::together($strengths, $this->lines->at($ref, $name, 0.6 * $selects), $this->lines->upstream($ref, $name, 0.8 * $selects));
        }

        // A link that stands otherwise takes what should answer there away.
        $when = $this->rangeAt((int) $found->address, $found->cycle)->when ?? [];
        foreach ($this->structure->board->links() as $link) {
            $strengths += isset($when[$link->ref]) ? [$link->ref => $selects] : [];
        }

        return $strengths;
    }

    /**
     * A ROM that is led to another address gives another byte.
     *
     * @return array<string, float>
     */
    private function misled(Divergence $found, float $strength): array
    {
        $ref = $found->address === null || $found->writes ? '' : $this->chipAt($found->address, $found->cycle);
        $isRom = in_array(($this->structure->board->chips[$ref] ?? null)?->kind(), ['rom', 'eprom'], true);

        if (! $isRom) {
            return [];
        }
        $roms = new RomEvidence($this->structure);
        [$wrong, $right] = $this->besideEachOther($ref, $found->bits);
        $strengths = LineFaults::together(...array_map(static fn (string $rom): array => self::apart($roms->misled($rom), array_map($roms->misled(...), $right)), $wrong));

        return array_map(static fn (float $each): float => $strength * $each, $strengths);
    }

    /**
     * Of ROMs beside each other those on the bits that are wrong, and those whose bits are all right.
     *
     * @param  list<int>  $bits
     * @return array{non-empty-list<string>, list<string>}
     */
    private function besideEachOther(string $chip, array $bits): array
    {
        $all = array_values(array_unique(array_map(fn (int $bit): string => $this->romOn($chip, $bit), range(0, $this->structure->board->bus->dataWidth - 1))));
        $wrong = array_values(array_unique(array_map(fn (int $bit): string => $this->romOn($chip, $bit), $bits)));

        return $wrong === [] ? [[$chip], []] : [$wrong, array_values(array_diff($all, $wrong))];
    }

    /**
     * What would show in one ROM; hardly what would show in another beside it too, which is right.
     *
     * @param  array<string, float>  $strengths
     * @param  list<array<string, float>>  $others
     * @return array<string, float>
     */
    private static function apart(array $strengths, array $others): array
    {
        foreach ($others as $other) {
            foreach (array_intersect_key($strengths, $other) as $site => $strength) {
                $strengths[$site] = self::HARDLY * $strength;
            }
        }

        return $strengths;
    }

    /**
     * Reset, clock and waits, with what drives them.
     *
     * @return array<string, float>
     */
    private function control(string $kind, float $strength): array
    {
        $processor = $this->structure->board->processor->chip ?? '';
        $bus = $this->structure->board->chips[$processor]->type->bus ?? null;
        $strengths = [];
        foreach ($bus === null ? [] : [$bus->clock, ...($kind === Divergence::NEVER_STARTS ? [$bus->reset] : []), ...$bus->waits] as $signal) {
            $strengths = LineFaults::together($strengths, $this->lines->at($processor, $signal, $strength), $this->lines->upstream($processor, $signal, 0.8 * $strength));
        }

        return $strengths;
    }
}
