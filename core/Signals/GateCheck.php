<?php

declare(strict_types=1);

namespace ZapTrace\Signals;

use ZapTrace\Board\Netlist;
use ZapTrace\Parts\Logic\LogicUnit;

/**
 * Whether what was seen at the output of a gate can follow from what was seen at its inputs.
 */
final readonly class GateCheck
{
    /**
     * @param  string  $output  the pin that contradicts its inputs
     * @param  list<string>  $inputs
     */
    private function __construct(public string $output, public array $inputs, public ProbeState $seen, public string $sentence)
    {
    }

    /**
     * Every output that contradicts the inputs of its gate, all seen in one situation.
     *
     * @param  array<string, ProbeState>  $seen  pin => state
     * @return list<self>
     */
    public static function all(Structure $structure, array $seen): array
    {
        $netlist = $structure->board->netlist;
        $found = [];
        foreach ($seen as $pin => $state) {
            $pin = (string) $pin;
            $unit = $netlist->pin($pin)?->direction === 'out' ? $structure->unitOf($pin) : null;
            if ($unit === null || $unit->keeps()) {
                continue;
            }
            $ref = Netlist::chipOf($pin);
            $levels = $moving = [];
            foreach ($unit->inputs as $place => $number) {
                $levels[$place] = self::levelsAt("{$ref}.{$number}", $seen, $netlist);
                $moving[$place] = ($seen["{$ref}.{$number}"] ?? null) === ProbeState::Pulsing;
            }
            $possible = self::possible($unit, Netlist::numberOf($pin), $levels);
            $contradicts = match ($state) {
                ProbeState::Low => ! isset($possible[LogicUnit::LOW]),
                ProbeState::High => ! isset($possible[LogicUnit::HIGH]) && ! isset($possible[LogicUnit::FLOATING]),
                ProbeState::Silent => ! isset($possible[LogicUnit::FLOATING]),
                ProbeState::Pulsing => count($possible) === 1,
                ProbeState::Between => true,
            } || in_array($state, [ProbeState::Low, ProbeState::High], true) && self::mustMove($unit, Netlist::numberOf($pin), $levels, $moving);
            if ($contradicts) {
                $inputs = array_map(static fn (int $number): string => "{$ref}.{$number}", $unit->inputs);
                $found[] = new self($pin, $inputs, $state, "{$netlist->called($pin)} is {$state->value}, which its inputs do not give: {$ref} is bad, or something holds its output. Lift the pin, pull a load that can be pulled, or compare it with a neighbour of the same kind.");
            }
        }

        return $found;
    }

    /**
     * Whether an output stands just where what was seen at its inputs puts it, whatever those that were not touched or move do.
     *
     * @param  array<string, ProbeState>  $seen  pin => state
     */
    public static function isGiven(Structure $structure, string $output, array $seen): bool
    {
        $unit = $structure->unitOf($output);
        if ($unit === null || $unit->keeps()) {
            return false;
        }
        $ref = Netlist::chipOf($output);
        $levels = array_map(static fn (int $number): array => self::levelsAt("{$ref}.{$number}", $seen, $structure->board->netlist), $unit->inputs);

        return array_keys(self::possible($unit, Netlist::numberOf($output), $levels)) === [match ($seen[$output] ?? null) {
            ProbeState::Low => LogicUnit::LOW,
            ProbeState::High => LogicUnit::HIGH,
            default => -1,
        }];
    }

    /**
     * @param  array<string, ProbeState>  $seen
     * @return list<int> levels that the input takes; both when it was not seen
     */
    private static function levelsAt(string $pin, array $seen, Netlist $netlist): array
    {
        $net = $netlist->netOf($pin);
        if ($net !== null && $net->isPower()) {
            return [str_starts_with($net->name, '-') || $net->name === 'GND' ? 0 : 1];
        }

        return match ($seen[$pin] ?? null) {
            ProbeState::Low => [0],
            ProbeState::High, ProbeState::Silent => [1],
            default => [0, 1],
        };
    }

    /**
     * @param  array<int, list<int>>  $levels
     * @return array<int, true> what the output can give
     */
    private static function possible(LogicUnit $unit, int $output, array $levels): array
    {
        $place = 0;
        foreach ($unit->outputs as $number => $given) {
            $place = $given->pin === $output ? $number : $place;
        }
        $possible = [];
        for ($case = 0; $case < 1 << min(12, count($levels)); $case++) {
            foreach ($levels as $input => $allowed) {
                if (! in_array($case >> $input & 1, $allowed, true)) {
                    continue 2;
                }
            }
            $possible[$unit->settle($case, 0)[1] >> 2 * $place & 3] = true;
        }

        return $possible;
    }

    /**
     * Exactly one input moves, and was seen to; the output follows it under the levels of the others.
     *
     * @param  array<int, list<int>>  $levels
     * @param  array<int, bool>  $moving  an input that was not touched may stand still
     */
    private static function mustMove(LogicUnit $unit, int $output, array $levels, array $moving): bool
    {
        $both = array_filter($levels, static fn (array $allowed): bool => count($allowed) === 2);

        return count($both) === 1 && $moving[array_key_first($both)] && count($levels) <= 12 && count(self::possible($unit, $output, $levels)) === 2;
    }
}
