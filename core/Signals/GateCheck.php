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
    /** So many inputs may be open; all of their levels are tried. */
    private const OPEN = 12;

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
            $possible = self::possible($structure, $unit, $pin, $seen);
            if (array_keys($possible) === [LogicUnit::FLOATING] && count($structure->driversOf($netlist->netOf($pin))) > 1) {
                continue; // It does not drive: what is seen is what the others on its line do.
            }
            $contradicts = match ($state) {
                ProbeState::Low => ! isset($possible[LogicUnit::LOW]),
                ProbeState::High => ! isset($possible[LogicUnit::HIGH]) && ! isset($possible[LogicUnit::FLOATING]),
                ProbeState::Silent => ! isset($possible[LogicUnit::FLOATING]),
                ProbeState::Pulsing => count($possible) === 1,
                ProbeState::Between => true,
            } || in_array($state, [ProbeState::Low, ProbeState::High], true) && count($possible) === 2 && self::isLed($structure, $unit, $pin, $seen);
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

        return array_keys(self::possible($structure, $unit, $output, $seen)) === [match ($seen[$output] ?? null) {
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
     * What an output can give under the levels that were seen, whatever the inputs that move or were not touched do. All of
     * it where too many of those are open.
     *
     * @param  array<string, ProbeState>  $seen
     * @return array<int, true>
     */
    private static function possible(Structure $structure, LogicUnit $unit, string $output, array $seen): array
    {
        $place = 0;
        foreach ($unit->outputs as $number => $given) {
            $place = $given->pin === Netlist::numberOf($output) ? $number : $place;
        }
        $fixed = 0;
        $open = [];
        foreach ($unit->inputs as $input => $number) {
            $levels = self::levelsAt(Netlist::chipOf($output).".{$number}", $seen, $structure->board->netlist);
            count($levels) > 1 ? $open[] = $input : $fixed |= $levels[0] << $input;
        }
        if (count($open) > self::OPEN) {
            return [LogicUnit::LOW => true, LogicUnit::HIGH => true, LogicUnit::FLOATING => true];
        }
        $possible = [];
        for ($case = 0; $case < 1 << count($open); $case++) {
            $levels = $fixed;
            foreach ($open as $bit => $input) {
                $levels |= ($case >> $bit & 1) << $input;
            }
            $possible[$unit->settle($levels, 0)[1] >> 2 * $place & 3] = true;
        }

        return $possible;
    }

    /**
     * Whether exactly one input is open, and was seen to move: one that nobody has touched may stand still.
     *
     * @param  array<string, ProbeState>  $seen
     */
    private static function isLed(Structure $structure, LogicUnit $unit, string $output, array $seen): bool
    {
        $pins = array_map(static fn (int $number): string => Netlist::chipOf($output).".{$number}", $unit->inputs);
        $open = array_values(array_filter($pins, static fn (string $pin): bool => count(self::levelsAt($pin, $seen, $structure->board->netlist)) > 1));

        return count($open) === 1 && ($seen[$open[0]] ?? null) === ProbeState::Pulsing;
    }
}
