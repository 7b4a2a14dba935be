<?php

declare(strict_types=1);

namespace ZapTrace\Signals;

use ZapTrace\Board\Net;
use ZapTrace\Board\Netlist;

/**
 * The faults behind a pin that does not carry what it should: its leg, its trace, what holds the trace, and what lies
 * upstream. As strengths by position, for evidence that looks at parts from afar: a ROM that is read, a bus.
 */
final readonly class LineFaults
{
    /** A break somewhere along the trace shows less surely than one at the pin itself. */
    private const ALONG = 0.7;

    /** What selects a part that drives against another, beside that part itself. */
    private const AGAINST = 0.8;

    private const HELD = 0.85;

    private const OFF = 0.3;

    /** An enable that floats lets drive as often as not. */
    private const FLOATS = 0.5;

    /** So many stages up breaks are thought of; more where a line itself was seen to be wrong. */
    private const STAGES = 2;

    private const FAR = 5;

    /** How much of it is left with each stage upstream. */
    private const STAGE = 0.8;

    public function __construct(private Structure $structure)
    {
    }

    /**
     * @param  string  $name  of a pin, "/" before what is active low
     * @return array{string, Net}|null the pin with its number and its net; null where it is on none that carries a signal
     */
    public function netOf(string $ref, string $name): ?array
    {
        foreach (($this->structure->board->chips[$ref] ?? null)?->type?->pinList() ?? [] as $pin) {
            if (($pin->activeLow ? '/' : '').$pin->name === $name) {
                $net = $this->structure->board->netlist->netOf("{$ref}.{$pin->number}");

                return $net === null || $net->isPower() ? null : ["{$ref}.{$pin->number}", $net];
            }
        }

        return null;
    }

    /**
     * The line at a pin alone: lifted, broken, held.
     *
     * @return array<string, float>
     */
    public function at(string $ref, string $name, float $strength): array
    {
        $found = $this->netOf($ref, $name);
        if ($found === null) {
            return [];
        }
        [$pin, $net] = $found;
        $strengths = [SignalEvidence::lifted($net->name, $pin) => $strength, SignalEvidence::held($net->name) => self::HELD * $strength];
        $drivers = $this->structure->driversOf($net);
        if (! in_array($pin, $drivers, true) && $drivers !== []) {
            // It only listens: what parts it from all that drives.
            return $strengths + $this->cutting($net, $pin, self::ALONG * $strength);
        }
        foreach (array_slice($net->pins, 1) as $before) {
            $strengths[SignalEvidence::open($net->name, $before)] = self::ALONG * $strength;
        }

        return $strengths;
    }

    /**
     * What drives the line at a pin, what drives that, and breaks on the way.
     *
     * @return array<string, float>
     */
    public function upstream(string $ref, string $name, float $strength): array
    {
        $found = $this->netOf($ref, $name);

        return $found === null ? [] : $this->feeding($found[1], $strength, $ref);
    }

    /**
     * A line that stands at the wrong level: what feeds it, the line itself, and breaks before what listens to it.
     *
     * @return array<string, float>
     */
    public function standing(Net $net, float $strength): array
    {
        $cut = array_map(fn (string $pin): array => $this->cutting($net, $pin, self::ALONG * $strength), array_values(array_diff($net->pins, $this->structure->driversOf($net))));

        return self::together($this->feeding($net, $strength), [SignalEvidence::held($net->name) => self::HELD * $strength], ...$cut);
    }

    /**
     * What drives a line, what drives that, and breaks on the way.
     *
     * @param  string  $but  a chip that is not meant
     * @return array<string, float>
     */
    private function feeding(Net $net, float $strength, string $but = ''): array
    {
        $strengths = array_map(static fn (int $stage): float => $strength * self::STAGE ** $stage, $this->structure->upstreamOf($net->name));
        unset($strengths[$but]);

        return self::together($strengths, $this->behind($net, $strength));
    }

    /**
     * What else can drive the lines at some pins, and what lets it: two that drive at once spoil what both say. What drives
     * but one of the lines spoils no more than that.
     *
     * @param  non-empty-list<string>  $names
     * @return array<string, float>
     */
    public function against(string $ref, array $names, float $strength): array
    {
        return $this->contendingOn(array_map(fn (string $name): array => array_slice($this->netOf($ref, $name) ?? [], 1), $names), $ref, $strength);
    }

    /**
     * What can drive several lines at the wrong time; what drives but one of them spoils no more than that.
     *
     * @param  non-empty-list<list<Net>>  $lines  of each line the traces it goes along
     * @param  string  $but  a chip that may
     * @return array<string, float>
     */
    public function contendingOn(array $lines, string $but, float $strength): array
    {
        $strengths = [];
        foreach ($lines as $traces) {
            foreach (self::together(...array_map(fn (Net $trace): array => $this->contending($trace, $but, $strength), $traces)) as $site => $each) {
                $strengths[$site] = ($strengths[$site] ?? 0.0) + $each / count($lines);
            }
        }

        return $strengths;
    }

    /**
     * What can drive a line at the wrong time, and what lets it.
     *
     * @param  string  $but  a chip that may
     * @return array<string, float>
     */
    public function contending(Net $line, string $but, float $strength): array
    {
        $strengths = [];
        foreach ($this->structure->driversOf($line) as $driver) {
            if (Netlist::chipOf($driver) === $but) {
                continue;
            }
            $strengths[Netlist::chipOf($driver)] = $strength;
            foreach ($this->structure->inputsOf($driver) as $input) {
                $net = $this->structure->board->netlist->netOf($input);
                // Its enables, not the data it passes on; nor what it is reset or clocked by.
                if ($net === null || in_array($net->kind, ['data', 'address', 'clock'], true) || $net->isPower() || $this->structure->isResetLine($net)) {
                    continue;
                }
                $selects = array_map(static fn (int $stage): float => self::AGAINST * self::STAGE ** $stage * $strength, $this->structure->upstreamOf($net->name));
                unset($selects[$but]);
                $strengths = self::together($strengths, $selects, [SignalEvidence::held($net->name) => self::AGAINST * self::HELD * $strength], $this->floating($net, $input, self::FLOATS * $strength));
            }
        }

        return $strengths;
    }

    /**
     * Breaks that leave an enable floating: in its own trace, and in those behind the gate that drives it.
     *
     * @return array<string, float>
     */
    private function floating(Net $net, string $input, float $strength): array
    {
        $strengths = [];
        $before = [$net->name => [$net, $input]];
        foreach ($this->structure->driversOf($net) as $driver) {
            foreach ($this->structure->inputsOf($driver) as $behind) {
                $far = $this->structure->board->netlist->netOf($behind);
                if ($far !== null && ! $far->isPower() && ! in_array($far->kind, ['data', 'address'], true)) {
                    $before[$far->name] ??= [$far, $behind];
                }
            }
        }
        foreach ($before as [$line, $pin]) {
            // An enable that is active low and floats is mostly off.
            $here = $strength * (($this->structure->board->netlist->pin($pin)->activeLow ?? false) ? self::OFF : 1.0);
            $strengths = [...$strengths, ...$this->cutting($line, $pin, $here)];
        }

        return $strengths;
    }

    /**
     * Breaks of a trace that part a pin from what drives it.
     *
     * @return array<string, float>
     */
    public function cutting(Net $line, string $pin, float $strength): array
    {
        $drivers = array_map(static fn (string $driver): int => (int) array_search($driver, $line->pins, true), $this->structure->driversOf($line));
        $place = (int) array_search($pin, $line->pins, true);
        $strengths = [SignalEvidence::lifted($line->name, $pin) => $strength];
        if (count($drivers) === 1) {
            // The one that drives it may not touch its trace.
            $strengths[SignalEvidence::lifted($line->name, $line->pins[$drivers[0]])] = $strength;
        }
        foreach ($line->pins as $number => $broken) {
            if ($number > 0 && SignalEvidence::isCut($place, $number, $drivers)) {
                $strengths[SignalEvidence::open($line->name, $broken)] = $strength;
            }
        }

        return $strengths;
    }

    /**
     * Breaks before the inputs that a line hangs on, and what holds those, a few stages up: less with each.
     *
     * @param  bool  $deep  the line itself was seen to be wrong; also of what a processor runs by
     * @return array<string, float>
     */
    public function behind(Net $net, float $strength, bool $deep = false): array
    {
        $strengths = [];
        foreach ($this->structure->inputsBehind($net, $deep ? self::FAR : self::STAGES, $deep) as $input => $stage) {
            $line = $this->structure->board->netlist->netOf((string) $input);
            if ($line !== null) {
                $here = $strength * self::STAGE ** $stage;
                $strengths = self::together($strengths, $this->cutting($line, (string) $input, $here), [SignalEvidence::held($line->name) => self::HELD * $here]);
            }
        }

        return $strengths;
    }

    /**
     * What leaves a processor standing: its clock, reset and waits cut off or held, and what leads there.
     *
     * @return array<string, float>
     */
    public function stopping(string $processor, float $strength): array
    {
        $strengths = [];
        foreach ($this->structure->runsBy($processor) as $pin) {
            $net = $this->structure->board->netlist->netOf($pin);
            if ($net !== null && ! $net->isPower()) {
                $strengths = self::together($strengths, $this->cutting($net, $pin, $strength), [SignalEvidence::held($net->name) => self::HELD * $strength], $this->behind($net, $strength, true));
            }
        }

        return $strengths;
    }

    /**
     * Strengths together: of each position the largest.
     *
     * @param  array<string, float>  ...$parts
     * @return array<string, float>
     */
    public static function together(array ...$parts): array
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
