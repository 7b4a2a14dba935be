<?php

declare(strict_types=1);

namespace ZapTrace\Bus;

use ZapTrace\Board\Net;
use ZapTrace\Board\RangeKind;
use ZapTrace\Board\Settings;
use ZapTrace\Rom\RomEvidence;
use ZapTrace\Rom\RomVerdict;
use ZapTrace\Signals\SignalEvidence;
use ZapTrace\Signals\Structure;

/**
 * Which faults would lead a machine astray at such a place, and what to measure there.
 */
final readonly class BusEvidence
{
    public function __construct(private Structure $structure, private Settings $settings)
    {
    }

    /**
     * @return array<string, float> position => how strongly a fault there would show so
     */
    public function of(Divergence $found): array
    {
        $processor = $this->structure->board->processor->chip ?? '';

        return match ($found->kind) {
            Divergence::NEVER_STARTS => $this->together([$processor => 0.6], $this->control($found->kind, 0.85)),
            Divergence::STOPS => $this->together([$processor => 0.5], $this->control($found->kind, 0.7)),
            Divergence::REPEATS => $found->seen !== null && $found->seen === ($this->structure->board->chips[$processor]->type->bus->start['at'] ?? -1)
                ? $this->together([$processor => 0.3], $this->control(Divergence::NEVER_STARTS, 0.6))
                : $this->together([$processor => 0.2], $this->answers($found, 0.3)),
            Divergence::ADDRESS_BITS => $this->addressBits($found, $processor),
            Divergence::NOTHING_SELECTED => $this->answers($found, 0.6, 0.85),
            Divergence::WRONG_TARGET => $this->together([$processor => 0.1], $this->answers($found, 0.35, 0.85)),
            default => $found->writes ? $this->together([$processor => 0.8]) : $this->dataBits($found, $processor),
        };
    }

    /**
     * What a run as it should be clears.
     *
     * @return array<string, float>
     */
    public function clears(): array
    {
        $strengths = [$this->structure->board->processor->chip ?? '' => 0.85];
        foreach ($this->structure->board->map->ranges as $range) {
            if ($range->kind === RangeKind::Rom && $range->chip !== null) {
                $strengths = $this->together($strengths, (new RomEvidence($this->structure))->onBoard($range->chip, RomVerdict::Match, [], [], false));
            }
        }

        return array_map(static fn (float $strength): float => 0.97 * $strength, $strengths);
    }

    /** The chip that should answer at an address; "" where that is not known. */
    public function chipAt(int $address): string
    {
        foreach ($this->structure->board->map->ranges as $range) {
            if ($address < $range->from || $address > $range->to || ! $range->existsUnder($this->settings) || $range->access === 'write') {
                continue;
            }
            if ($range->chip !== null) {
                return $range->chip;
            }
            if ($range->bank !== null) {
                return $this->structure->board->banks[$range->bank]->chips()[0] ?? '';
            }
        }

        return '';
    }

    /**
     * @return array<string, float>
     */
    private function addressBits(Divergence $found, string $processor): array
    {
        // Right on the processor's pins and wrong behind: what came belongs elsewhere in the chip that answers.
        if ($found->seen !== null && $found->expected !== null && ($found->seen ^ $found->expected) <= 0xFFFF && $this->isData($found)) {
            return (new RomEvidence($this->structure))->onBoard($this->chipAt((int) $found->address), RomVerdict::Mirrored, [], $found->bits, false);
        }
        $strengths = [$processor => 0.5];
        foreach ($found->bits as $bit) {
            $strengths = $this->together($strengths, $this->line($processor, "A{$bit}", 0.9));
        }

        return $strengths;
    }

    private function isData(Divergence $found): bool
    {
        return $found->address !== $found->expected;
    }

    /**
     * @return array<string, float>
     */
    private function dataBits(Divergence $found, string $processor): array
    {
        $board = $this->structure->board;
        $strengths = [];
        foreach ($board->map->ranges as $range) {
            if ($found->address === null || $found->address < $range->from || $found->address > $range->to || ! $range->existsUnder($this->settings) || $range->access === 'write') {
                continue;
            }
            if ($range->chip !== null) {
                $strengths[$range->chip] = 0.75;
            }
            $bank = $range->bank === null ? null : $board->banks[$range->bank] ?? null;
            foreach ($bank === null ? [] : $found->bits as $bit) {
                $chip = $bank->chipOfLine[$bit] ?? null;
                if ($chip !== null) {
                    $strengths[$chip] = 0.9;
                }
                foreach ($bank->servers ?? [] as $server) {
                    if ($server->role !== 'supply' && $server->carries("D{$bit}")) {
                        $strengths[$server->chip] = max($strengths[$server->chip] ?? 0.0, $server->role === 'buffer' ? 0.7 : 0.15);
                    }
                }
            }
            break;
        }
        foreach ($found->bits as $bit) {
            $strengths = $this->together($strengths, $this->line($processor, "D{$bit}", 0.6));
        }

        return count($found->bits) > 3 ? $this->together(array_map(static fn (float $strength): float => 0.4 * $strength, $strengths), $this->answers($found, 0.5, 0.5)) : $strengths;
    }

    /**
     * What answers at the place, and the chain that selects it.
     *
     * @return array<string, float>
     */
    private function answers(Divergence $found, float $chip, float $selects = 0.3): array
    {
        $ref = $found->address === null ? '' : $this->chipAt($found->address);
        if ($ref === '') {
            return [];
        }
        $kind = $this->structure->board->chips[$ref]->kind();
        if (in_array($kind, ['rom', 'eprom'], true)) {
            $strengths = (new RomEvidence($this->structure))->onBoard($ref, RomVerdict::Blank, [], [], false);

            return [...array_map(static fn (float $strength): float => $selects * $strength, $strengths), $ref => $chip];
        }
        $strengths = [$ref => $kind === 'dram' ? 0.05 : $chip];
        foreach ($this->structure->board->banks as $bank) {
            foreach (in_array($ref, $bank->chips(), true) ? $bank->servers : [] as $server) {
                $strengths[$server->chip] = $server->role === 'supply' ? 0.1 : $selects;
            }
        }
        foreach ($this->structure->board->chips[$ref]->type?->pinList() ?? [] as $pin) {
            $net = preg_match('/^(CS\d?|CE|RAS|CAS)$/', $pin->name) === 1 ? $this->structure->board->netlist->netOf("{$ref}.{$pin->number}") : null;
            if ($net !== null && ! $net->isPower()) {
                $strengths = $this->together($strengths, $this->net($net, "{$ref}.{$pin->number}", 0.6 * $selects), $this->upstream($net, 0.8 * $selects));
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
            $strengths = $this->together($strengths, $this->line($processor, $signal, $strength));
        }

        return $strengths;
    }

    /**
     * @return array<string, float>
     */
    private function line(string $ref, string $name, float $strength): array
    {
        foreach ($this->structure->board->chips[$ref]->type?->pinList() ?? [] as $pin) {
            if (($pin->activeLow ? '/' : '').$pin->name === $name) {
                $net = $this->structure->board->netlist->netOf("{$ref}.{$pin->number}");

                return $net === null || $net->isPower() ? [] : $this->together($this->net($net, "{$ref}.{$pin->number}", $strength), $name[0] === 'D' ? [] : $this->upstream($net, 0.8 * $strength));
            }
        }

        return [];
    }

    /**
     * @return array<string, float>
     */
    private function net(Net $net, string $pin, float $strength): array
    {
        $strengths = [SignalEvidence::lifted($net->name, $pin) => $strength, SignalEvidence::held($net->name) => 0.9 * $strength];
        foreach (array_slice($net->pins, 1) as $before) {
            $strengths[SignalEvidence::open($net->name, $before)] = 0.6 * $strength;
        }

        return $strengths;
    }

    /**
     * @return array<string, float>
     */
    private function upstream(Net $net, float $strength): array
    {
        return array_map(static fn (int $stage): float => $strength * 0.8 ** $stage, $this->structure->upstreamOf($net->name));
    }

    /**
     * @param  array<string, float>  ...$parts
     * @return array<string, float>
     */
    private function together(array ...$parts): array
    {
        $strengths = [];
        foreach ($parts as $part) {
            foreach ($part as $site => $strength) {
                if ($site !== '') {
                    $strengths[$site] = max($strengths[$site] ?? 0.0, $strength);
                }
            }
        }

        return $strengths;
    }
}
