<?php

declare(strict_types=1);

namespace ZapTrace\Rom;

use ZapTrace\Signals\LineFaults;
use ZapTrace\Signals\SignalEvidence;
use ZapTrace\Signals\Structure;

/**
 * Which faults would explain what a chip read as: the chip, its socket, its select chain, a data or an address line.
 */
final readonly class RomEvidence
{
    private LineFaults $lines;

    public function __construct(private Structure $structure)
    {
        $this->lines = new LineFaults($structure);
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
            RomVerdict::Blank, RomVerdict::Zeros => LineFaults::together([$ref => 0.6], $this->selects($ref, $verdict === RomVerdict::Blank ? 0.9 : 0.3)),
            RomVerdict::ConstantBits => count($bits) >= 8
                ? LineFaults::together([$ref => 0.6], $this->selects($ref, 0.8))
                : LineFaults::together([$ref => 0.7], $this->lines($ref, array_map(static fn (int $bit): string => "D{$bit}", $bits), 0.9, false)),
            RomVerdict::TiedBits => LineFaults::together([$ref => 0.1], $this->lines($ref, array_map(static fn (int $bit): string => "D{$bit}", $bits), 0.9, true)),
            RomVerdict::Mirrored, RomVerdict::AddressLines => LineFaults::together([$ref => 0.25], $this->lines($ref, array_map(static fn (int $line): string => "A{$line}", $addressLines), 0.9, $verdict === RomVerdict::AddressLines)),
            RomVerdict::Differs => LineFaults::together([$ref => 0.9], $bits === [] || count($bits) > 3 || $towardsOnes ? [] : $this->lines($ref, array_map(static fn (int $bit): string => "D{$bit}", $bits), 0.5, false)),
            RomVerdict::Unstable => LineFaults::together([$ref => 0.7], $this->lines($ref, array_map(static fn (int $bit): string => "D{$bit}", $bits), 0.5, false)),
        };
    }

    /**
     * What drives its data lines at the wrong time, so that it is not read as it is.
     *
     * @return array<string, float>
     */
    public function spoilt(string $ref): array
    {
        $names = $this->pins($ref, 'D');

        return $names === [] ? [] : $this->lines->against($ref, $names, 0.7);
    }

    /**
     * What leads to it another address than is meant: a line that does not get through, or what drives it.
     *
     * @return array<string, float>
     */
    public function misled(string $ref): array
    {
        return $this->lines($ref, $this->pins($ref, 'A'), 0.9, false);
    }

    /**
     * What a right read clears: the chip, its lines, its select.
     *
     * @return array<string, float>
     */
    private function whole(string $ref): array
    {
        return LineFaults::together([$ref => 0.95], $this->selects($ref, 0.9), $this->lines($ref, $this->pins($ref, 'AD'), 0.9, false));
    }

    /**
     * @param  string  $letters  of the names that are wanted, before their number
     * @return list<string> names of its pins
     */
    private function pins(string $ref, string $letters): array
    {
        $names = array_map(static fn ($pin): string => $pin->name, $this->structure->board->chips[$ref]->type?->pinList() ?? []);

        return array_values(array_filter($names, static fn (string $name): bool => preg_match("/^[{$letters}]\\d+$/", $name) === 1));
    }

    /**
     * @param  list<string>  $names  of pins of the chip
     * @param  bool  $touching  something that joins lines shows it rather than something that breaks one
     * @return array<string, float>
     */
    private function lines(string $ref, array $names, float $strength, bool $touching): array
    {
        $all = [];
        foreach ($names as $name) {
            $line = $this->lines->at($ref, $name, $strength);
            if ($touching) {
                [$pin, $net] = $this->lines->netOf($ref, $name) ?? [null, null];
                $line = $net === null ? [] : [SignalEvidence::held($net->name) => $strength, SignalEvidence::lifted($net->name, (string) $pin) => 0.2] + $line;
            }
            $all = LineFaults::together($all, $line, $name[0] === 'A' ? $this->lines->upstream($ref, $name, 0.5) : []);
        }

        return $all;
    }

    /**
     * The chain that selects the chip.
     *
     * @return array<string, float>
     */
    private function selects(string $ref, float $strength): array
    {
        $all = [];
        foreach (['/CE', '/OE', '/CS', 'CS', 'CS1', 'CS2'] as $name) {
            $all = LineFaults::together($all, $this->lines->at($ref, $name, $strength), $this->lines->upstream($ref, $name, $strength));
        }

        return $all;
    }
}
