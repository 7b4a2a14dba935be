<?php

declare(strict_types=1);

namespace ZapTrace\Signals;

use ZapTrace\Board\Net;
use ZapTrace\Board\Netlist;

/**
 * The way of a signal from its source to a net and on to its loads, stage by stage, with what was seen on it.
 */
final readonly class PathStrip
{
    private const STAGES = 10;

    /** A net that is suspected at least so much is worth a touch at its far end. */
    private const SUSPECTED = 0.05;

    /**
     * @param  list<array{chip: string, inputs: list<string>, output: string, net: string}>  $stages  the source first
     * @param  list<string>  $loads  pins that listen to the net
     * @param  list<string>  $drivers  pins that drive it, when there are several
     * @param  list<array{site: string, how: string}>  $removable  what can be unplugged or pulled to free a shared line
     * @param  string|null  $next  the pin to probe next
     * @param  int|null  $parts  number of the stage at which right becomes wrong
     * @param  bool  $breaks  whether the net starts right and is wrong at a load: it is broken on the way
     * @param  array{from: string, to: string, points: int}|null  $between  the last pin along it that was right and the first that was wrong, with the pins between; null where its pins do not part that way
     */
    private function __construct(public Net $net, public array $stages, public array $loads, public array $drivers, public array $removable, public ?string $next, public ?int $parts, public bool $breaks, public ?array $between)
    {
    }

    /**
     * @param  array<string, bool|null>  $right  what was probed: pin => right or wrong
     * @param  array<string, float>  $shares  how much each site is suspected
     * @param  array<string, string>  $positions  link => position
     */
    public static function of(Structure $structure, Net $net, array $right, array $shares, array $positions = []): self
    {
        $stages = [];
        $known = [];
        $at = $net;
        for ($stage = 0; $stage < self::STAGES && $at !== null; $stage++) {
            $known[$at->name] = true;
            $drivers = $structure->driversOf($at);
            if ($drivers === []) {
                // A link leads on.
                $at = array_values(array_filter($structure->joined($at, $positions), static fn (Net $other): bool => ! isset($known[$other->name])))[0] ?? null;

                continue;
            }
            $driver = self::mostSuspected($drivers, $right, $shares);
            $inputs = $structure->inputsOf($driver);
            array_unshift($stages, ['chip' => Netlist::chipOf($driver), 'inputs' => $inputs, 'output' => $driver, 'net' => $at->name]);
            $at = self::onwards($structure, $inputs, $known, $right, $shares, $at);
        }
        $netlist = $structure->board->netlist;
        $several = $structure->driversOf($net);

        return new self($net, $stages, $netlist->loads($net), count($several) > 1 ? $several : [], self::removable($structure, $net), self::next($stages, $net, $right, $shares, $structure), self::parting($stages, $right), $breaks = self::breaks($stages, $netlist->loads($net), $right), $breaks ? self::between($net, $right) : null);
    }

    /**
     * @param  list<string>  $drivers
     * @param  array<string, bool|null>  $right
     * @param  array<string, float>  $shares
     */
    private static function mostSuspected(array $drivers, array $right, array $shares): string
    {
        $best = $drivers[0];
        foreach ($drivers as $driver) {
            $worth = (($right[$driver] ?? null) === false ? 1.0 : 0.0) + ($shares[Netlist::chipOf($driver)] ?? 0.0);
            $most = (($right[$best] ?? null) === false ? 1.0 : 0.0) + ($shares[Netlist::chipOf($best)] ?? 0.0);
            $best = $worth > $most ? $driver : $best;
        }

        return $best;
    }

    /**
     * The net the walk goes on along: where something was wrong, else towards the more suspected side, else towards a
     * net of the same kind.
     *
     * @param  list<string>  $inputs
     * @param  array<string, true>  $known
     * @param  array<string, bool|null>  $right
     * @param  array<string, float>  $shares
     */
    private static function onwards(Structure $structure, array $inputs, array $known, array $right, array $shares, Net $from): ?Net
    {
        $best = null;
        $most = -1.0;
        foreach ($inputs as $pin) {
            $net = $structure->board->netlist->netOf($pin);
            if ($net === null || $net->isPower() || isset($known[$net->name])) {
                continue;
            }
            $worth = ($net->kind === $from->kind ? 0.2 : 0.0) + ($structure->driversOf($net) === [] ? -0.1 : 0.0);
            foreach ($structure->upstreamOf($net->name) as $chip => $stage) {
                $worth += ($shares[$chip] ?? 0.0) * 0.5 ** $stage;
            }
            foreach ($net->pins as $other) {
                $worth += ($right[$other] ?? null) === false ? 5.0 : 0.0;
            }
            if ($worth > $most) {
                [$best, $most] = [$net, $worth];
            }
        }

        return $best;
    }

    /**
     * Half of what is suspected on the way lies before it: of the outputs not probed yet that part what was right from
     * what was wrong.
     *
     * @param  list<array{chip: string, inputs: list<string>, output: string, net: string}>  $stages
     * @param  array<string, bool|null>  $right
     * @param  array<string, float>  $shares
     */
    private static function next(array $stages, Net $net, array $right, array $shares, Structure $structure): ?string
    {
        $points = [];
        $before = 0.0;
        foreach ($stages as $stage) {
            // What may be broken between the output before and this one: the trace that leads here, and the chip.
            $points[] = ['pin' => $stage['output'], 'weight' => 0.02 + $before + ($shares[$stage['chip']] ?? 0.0)];
            $before = $shares[$stage['net']] ?? 0.0;
        }
        $load = self::farLoad($structure->board->netlist->loads($net), $right, $before);
        if ($load !== null) {
            $points[] = ['pin' => $load, 'weight' => 0.02 + $before];
        }
        $from = 0;
        $to = count($points);
        foreach ($points as $place => $point) {
            if (($right[$point['pin']] ?? null) === true) {
                $from = $place + 1;
            } elseif (($right[$point['pin']] ?? null) === false) {
                $to = $place;
                break;
            }
        }
        $open = array_slice($points, $from, $to - $from);
        $half = array_sum(array_column($open, 'weight')) / 2.0;
        $sum = 0.0;
        foreach ($open as $point) {
            $sum += $point['weight'];
            if ($sum >= $half && ! isset($right[$point['pin']])) {
                return $point['pin'];
            }
        }
        // Between a right output and a wrong one there are the inputs of the stage.
        foreach ($stages[$from]['inputs'] ?? [] as $input) {
            $on = $structure->board->netlist->netOf($input);
            if ($on !== null && ! $on->isPower() && ! array_key_exists($input, $right)) {
                return $input;
            }
        }

        return null;
    }

    /**
     * The load that stands for the net itself: one that is wrong, or the farthest when the net is suspected.
     *
     * @param  list<string>  $loads
     * @param  array<string, bool|null>  $right
     */
    private static function farLoad(array $loads, array $right, float $share): ?string
    {
        foreach ($loads as $load) {
            if (($right[$load] ?? null) === false) {
                return $load;
            }
        }
        $open = array_values(array_filter($loads, static fn (string $load): bool => ! array_key_exists($load, $right)));

        return $share >= self::SUSPECTED && $open !== [] ? $open[count($open) - 1] : null;
    }

    /**
     * @param  list<array{chip: string, inputs: list<string>, output: string, net: string}>  $stages
     * @param  array<string, bool|null>  $right
     */
    private static function parting(array $stages, array $right): ?int
    {
        foreach ($stages as $number => $stage) {
            if (($right[$stage['output']] ?? null) === false) {
                return $number;
            }
        }

        return null;
    }

    /**
     * @param  list<array{chip: string, inputs: list<string>, output: string, net: string}>  $stages
     * @param  list<string>  $loads
     * @param  array<string, bool|null>  $right
     */
    private static function breaks(array $stages, array $loads, array $right): bool
    {
        $last = $stages === [] ? '' : $stages[count($stages) - 1]['output'];

        return ($right[$last] ?? null) === true && array_filter($loads, static fn (string $load): bool => ($right[$load] ?? null) === false) !== [];
    }

    /**
     * @param  array<string, bool|null>  $right
     * @return array{from: string, to: string, points: int}|null
     */
    private static function between(Net $net, array $right): ?array
    {
        $reached = $lost = [];
        foreach ($net->pins as $place => $pin) {
            $seen = $right[$pin] ?? null;
            $reached = $seen === true ? [...$reached, $place] : $reached;
            $lost = $seen === false ? [...$lost, $place] : $lost;
        }
        if ($reached === [] || $lost === [] || max($reached) > min($lost)) {
            return null;
        }

        return ['from' => $net->pins[max($reached)], 'to' => $net->pins[min($lost)], 'points' => min($lost) - max($reached) - 1];
    }

    /**
     * @return list<array{site: string, how: string}>
     */
    private static function removable(Structure $structure, Net $net): array
    {
        $removable = [];
        foreach ($net->pins as $pin) {
            $chip = $structure->board->chips[Netlist::chipOf($pin)];
            $assembly = $structure->board->findAssembly($chip->assembly);
            if ($assembly !== null && $assembly->removable) {
                $removable[$assembly->id] = ['site' => $assembly->id, 'how' => "unplug the {$assembly->name}".($assembly->needed ? '; the machine will not start without it' : '')];
            } elseif ($chip->socketed && ! in_array($chip->kind(), ['discrete'], true)) {
                $removable[$chip->ref] = ['site' => $chip->ref, 'how' => ($chip->kind() === 'connector' ? 'unplug ' : 'pull ')."{$chip->ref}".($chip->role === '' ? '' : ", {$chip->role}")];
            }
        }

        return array_values($removable);
    }
}
