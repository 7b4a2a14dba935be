<?php

declare(strict_types=1);

namespace ZapTrace\Rom;

use ZapTrace\Board\Net;
use ZapTrace\Signals\SignalEvidence;
use ZapTrace\Signals\Structure;

/**
 * Which faults would explain what a chip read as: the chip, its socket, its select chain, a data or an address line.
 */
final readonly class RomEvidence
{
    public function __construct(private Structure $structure)
    {
    }

    /**
     * Read by itself, in a reader: nothing of the board is part of it.
     *
     * @return array<string, float> position => how strongly a fault there would show so
     */
    public static function inReader(string $ref): array
    {
        return [$ref => 0.97];
    }

    /**
     * Read in its place, through the board.
     *
     * @param  list<int>  $bits  data bits that are wrong
     * @param  list<int>  $addressLines
     * @param  bool  $towardsOnes  what differs reads 1 for 0, and never the other way
     * @return array<string, float>
     */
    public function onBoard(string $ref, RomVerdict $verdict, array $bits, array $addressLines, bool $towardsOnes): array
    {
        return match ($verdict) {
            RomVerdict::Match, RomVerdict::Unknown => $this->whole($ref),
            RomVerdict::Blank, RomVerdict::Zeros => $this->together([$ref => 0.6], $this->selects($ref, $verdict === RomVerdict::Blank ? 0.9 : 0.3)),
            RomVerdict::ConstantBits => count($bits) >= 8
                ? $this->together([$ref => 0.6], $this->selects($ref, 0.8))
                : $this->together([$ref => 0.7], $this->lines($ref, array_map(static fn (int $bit): string => "D{$bit}", $bits), 0.9, false)),
            RomVerdict::TiedBits => $this->together([$ref => 0.1], $this->lines($ref, array_map(static fn (int $bit): string => "D{$bit}", $bits), 0.9, true)),
            RomVerdict::Mirrored, RomVerdict::AddressLines => $this->together([$ref => 0.25], $this->lines($ref, array_map(static fn (int $line): string => "A{$line}", $addressLines), 0.9, $verdict === RomVerdict::AddressLines)),
            RomVerdict::Differs => $this->together([$ref => 0.9], $bits === [] || count($bits) > 3 || $towardsOnes ? [] : $this->lines($ref, array_map(static fn (int $bit): string => "D{$bit}", $bits), 0.5, false)),
            RomVerdict::Unstable => $this->together([$ref => 0.7], $this->lines($ref, array_map(static fn (int $bit): string => "D{$bit}", $bits), 0.5, false)),
        };
    }

    /**
     * What a right read clears: the chip, its lines, its select.
     *
     * @return array<string, float>
     */
    private function whole(string $ref): array
    {
        $all = [];
        foreach ($this->structure->board->chips[$ref]->type?->pinList() ?? [] as $pin) {
            if (preg_match('/^[AD]\d+$/', $pin->name) === 1) {
                $all[] = $pin->name;
            }
        }

        return $this->together([$ref => 0.95], $this->selects($ref, 0.9), $this->lines($ref, $all, 0.9, true));
    }

    /**
     * @param  list<string>  $names  of pins of the chip
     * @return array<string, float>
     */
    private function lines(string $ref, array $names, float $strength, bool $touching): array
    {
        $strengths = [];
        foreach ($names as $name) {
            $net = $this->netOf($ref, $name);
            if ($net === null) {
                continue;
            }
            [$pin, $net] = $net;
            $strengths[SignalEvidence::lifted($net->name, $pin)] = $touching ? 0.2 : $strength;
            $strengths[SignalEvidence::held($net->name)] = $touching ? $strength : 0.8 * $strength;
            foreach (array_slice($net->pins, 1) as $before) {
                $strengths[SignalEvidence::open($net->name, $before)] = 0.7 * $strength;
            }
            if ($name[0] === 'A') {
                foreach ($this->structure->upstreamOf($net->name) as $chip => $stage) {
                    $strengths[$chip] = 0.5 * 0.8 ** $stage;
                }
            }
        }
        unset($strengths[$ref]);

        return $strengths;
    }

    /**
     * The chain that selects the chip.
     *
     * @return array<string, float>
     */
    private function selects(string $ref, float $strength): array
    {
        $strengths = [];
        foreach (['/CE', '/OE', '/CS', 'CS', 'CS1', 'CS2'] as $name) {
            $found = $this->netOf($ref, $name);
            if ($found === null) {
                continue;
            }
            [$pin, $net] = $found;
            $strengths[SignalEvidence::lifted($net->name, $pin)] = $strength;
            $strengths[SignalEvidence::held($net->name)] = 0.8 * $strength;
            foreach (array_slice($net->pins, 1) as $before) {
                $strengths[SignalEvidence::open($net->name, $before)] = 0.8 * $strength;
            }
            foreach ($this->structure->upstreamOf($net->name) as $chip => $stage) {
                $strengths[$chip] = max($strengths[$chip] ?? 0.0, $strength * 0.8 ** $stage);
            }
        }
        unset($strengths[$ref]);

        return $strengths;
    }

    /**
     * @return array{string, Net}|null the pin and its net
     */
    private function netOf(string $ref, string $name): ?array
    {
        foreach ($this->structure->board->chips[$ref]->type?->pinList() ?? [] as $pin) {
            if (($pin->activeLow ? '/' : '').$pin->name === $name) {
                $net = $this->structure->board->netlist->netOf("{$ref}.{$pin->number}");

                return $net === null || $net->isPower() ? null : ["{$ref}.{$pin->number}", $net];
            }
        }

        return null;
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
                $strengths[$site] = max($strengths[$site] ?? 0.0, $strength);
            }
        }

        return $strengths;
    }
}
