<?php

declare(strict_types=1);

namespace ZapTrace\Signals;

use ZapTrace\Board\BoardProfile;
use ZapTrace\Board\Net;
use ZapTrace\Board\Netlist;
use ZapTrace\Parts\Logic\LogicFunction;
use ZapTrace\Parts\Logic\LogicMistake;
use ZapTrace\Parts\Logic\LogicUnit;
use ZapTrace\Parts\Logic\Output;
use ZapTrace\Parts\Pin;

/**
 * How signals run through a board: which inputs an output follows from, and what lies upstream of a net.
 */
final class Structure
{
    /** Further up than this nothing is followed. */
    private const FAR = 8;

    /** A line of the processor's is followed so many stages further than the inputs of a part. */
    private const CARRIED = 3;

    /** The structures of so many boards are kept, with what was found out about them: a board does not change. */
    private const KEPT = 4;

    /** @var array<string, LogicFunction|null> by part and equations */
    private array $functions = [];

    /** @var array<string, array<string, int>> net => chips upstream of it, and how many stages */
    private array $upstream = [];

    /** @var array<string, array<string, int>> net, how far and how deep => inputs behind it, and how many stages */
    private array $behind = [];

    /** @var array<string, true>|null */
    private ?array $resetLines = null;

    /** @var array<string, list<string>> net => its outputs */
    private array $drivers = [];

    /** @var list<self> those asked for last */
    private static array $kept = [];

    private function __construct(public readonly BoardProfile $board)
    {
    }

    public static function of(BoardProfile $board): self
    {
        foreach (self::$kept as $structure) {
            if ($structure->board === $board) {
                return $structure;
            }
        }
        $structure = new self($board);
        self::$kept = [$structure, ...array_slice(self::$kept, 0, self::KEPT - 1)];

        return $structure;
    }

    /**
     * The pins whose levels decide what an output gives; none for a source.
     *
     * @return list<string>
     */
    public function inputsOf(string $output): array
    {
        $ref = Netlist::chipOf($output);
        $chip = $this->board->chips[$ref] ?? null;
        if ($chip === null || in_array($chip->kind(), ['processor', 'oscillator', 'regulator', 'connector', 'discrete'], true)) {
            return [];
        }
        $unit = $this->unitOf($output);
        if ($unit !== null) {
            return array_map(static fn (int $pin): string => "{$ref}.{$pin}", $unit->inputs);
        }
        $inputs = [];
        foreach ($chip->type?->pinList() ?? [] as $pin) {
            if ($pin->direction === 'in') {
                $inputs[] = "{$ref}.{$pin->number}";
            }
        }

        return $inputs;
    }

    /**
     * The pins without which a processor does nothing: its clock, and what resets, halts or holds it.
     *
     * @param  bool  $clock  its clock alone
     * @return list<string>
     */
    public function runsBy(string $ref, bool $clock = false): array
    {
        $type = ($this->board->chips[$ref] ?? null)?->type;
        $bus = $type?->bus;
        if ($type === null || $bus === null) {
            return [];
        }
        $pins = [];
        foreach ($type->pinList() as $pin) {
            $name = ($pin->activeLow ? '/' : '').$pin->name;
            $listens = $pin->direction === 'in' || $pin->direction === 'both' && ! in_array($name, $bus->data, true);
            if ($clock ? $name === $bus->clock : $listens && ! in_array($name, $bus->interrupts, true)) {
                $pins[] = "{$ref}.{$pin->number}";
            }
        }

        return $pins;
    }

    /**
     * What an output goes by, that of a processor too.
     *
     * @return list<string>
     */
    public function causesOf(string $output): array
    {
        $inputs = $this->inputsOf($output);

        return $inputs === [] ? $this->runsBy(Netlist::chipOf($output)) : $inputs;
    }

    /**
     * The pins that what drives a net goes by, and what those go by in turn. The data bus is not followed: a latch that software
     * sets is far away.
     *
     * @param  int  $far  stages
     * @param  bool  $deep  also what a processor runs by
     * @return array<string, int> input => stages between it and the net, from 1 on
     */
    public function inputsBehind(Net $net, int $far, bool $deep = false): array
    {
        $kept = "{$net->name} {$far} ".($deep ? 'deep' : '');
        if (isset($this->behind[$kept])) {
            return $this->behind[$kept];
        }

        return $this->behind[$kept] = $this->walk($net, $far, $deep);
    }

    /**
     * @param  (callable(string): bool)|null  $isRight  whether a pin was seen to be right: nothing is followed past it
     * @return array<string, int> input => stages between it and the net, from 1 on
     */
    private function walk(Net $net, int $far, bool $deep, ?callable $isRight = null): array
    {
        $inputs = [];
        $known = [$net->name => true];
        $edge = [[$net, $isRight]];
        for ($stage = 1; $stage <= $far; $stage++) {
            $next = [];
            foreach ($edge as [$at, $stops]) {
                foreach ($this->driversOf($at) as $driver) {
                    $causes = $deep ? $this->causesOf($driver) : $this->inputsOf($driver);
                    // What software sets is as right as the programme that runs, whatever moves on the way to it.
                    $here = $stops !== null && array_filter($causes, fn (string $input): bool => $this->board->netlist->netOf($input)?->kind === 'data') !== [] ? null : $stops;
                    foreach ($causes as $input) {
                        $from = $this->board->netlist->netOf($input);
                        if ($from === null || $from->isPower() || $from->kind === 'data' || $here !== null && array_filter([$input, ...$this->driversOf($from)], $here) !== []) {
                            continue;
                        }
                        $inputs[$input] ??= $stage;
                        if (! isset($known[$from->name])) {
                            $known[$from->name] = true;
                            $next[] = [$from, $here];
                        }
                    }
                }
            }
            $edge = $next;
        }

        return $inputs;
    }

    /** The unit of a chip that gives an output; null when it has no equations. */
    public function unitOf(string $output): ?LogicUnit
    {
        $number = Netlist::numberOf($output);
        foreach ($this->unitsOf(Netlist::chipOf($output)) as $unit) {
            foreach ($unit->outputs as $given) {
                if ($given->pin === $number) {
                    return $unit;
                }
            }
        }

        return null;
    }

    /**
     * @return list<LogicUnit>
     */
    public function unitsOf(string $ref): array
    {
        $chip = $this->board->chips[$ref] ?? null;
        if ($chip === null || $chip->type === null || $chip->equations() === '') {
            return [];
        }
        $key = "{$chip->part} {$chip->equations()}";
        if (! array_key_exists($key, $this->functions)) {
            try {
                $this->functions[$key] = LogicFunction::parse($chip->equations(), $chip->type->pinout);
            } catch (LogicMistake) {
                $this->functions[$key] = null;
            }
        }

        return $this->functions[$key]->units ?? [];
    }

    /**
     * How many outputs of a chip fail one by one: those that its equations give, or those of its pinout. 0 where neither is
     * known, and for a processor: what runs drives them all.
     */
    public function outputsOf(string $ref): int
    {
        $units = $this->unitsOf($ref);
        $chip = $this->board->chips[$ref] ?? null;
        $pins = $units !== [] || $chip?->kind() === 'processor' ? [] : $chip?->type?->pinList() ?? [];

        return array_sum(array_map(static fn (LogicUnit $unit): int => count($unit->outputs), $units)) + count(array_filter($pins, static fn (Pin $pin): bool => $pin->direction === 'out'));
    }

    /**
     * @param  bool  $deep  also what enables the drivers of a data line; for what is wrong there
     * @return array<string, int> chips that drive the net (stage 0) or lie upstream of it, and how many stages
     */
    public function upstreamOf(string $net, bool $deep = false): array
    {
        $kept = $deep ? "{$net} deep" : $net;
        if (isset($this->upstream[$kept])) {
            return $this->upstream[$kept];
        }
        $found = $this->board->netlist->nets[$net] ?? null;
        $chips = array_fill_keys(array_map(Netlist::chipOf(...), $this->driversOf($found)), 0);
        // That a data line moves says nothing of what is behind its drivers: they give now this, now that.
        foreach ($found === null || $found->kind === 'data' && ! $deep ? [] : $this->inputsBehind($found, self::FAR - 1, $deep) as $input => $stage) {
            foreach ($this->driversOf($this->board->netlist->netOf((string) $input)) as $driver) {
                $chips[Netlist::chipOf($driver)] ??= $stage;
            }
        }

        return $this->upstream[$kept] = $chips;
    }

    /**
     * The chips that drive a net, and those whose signals come to it by inputs, and from outputs, that are not known to be
     * right.
     *
     * @param  callable(string): bool  $isRight  whether a pin is
     * @return array<string, true> by chip
     */
    public function leadingTo(Net $net, callable $isRight): array
    {
        $nets = [$net, ...array_map(fn (string $input): ?Net => $this->board->netlist->netOf($input), array_map(strval(...), array_keys($this->walk($net, self::FAR - 1, true, $isRight))))];

        return array_fill_keys(array_map(Netlist::chipOf(...), array_merge(...array_map($this->driversOf(...), $nets))), true);
    }

    /**
     * The outputs of a net. A pin that can drive and does not, by what its part is programmed for, is none; nor is a pin by
     * which a processor that something else resets or halts could do so itself.
     *
     * @return list<string>
     */
    public function driversOf(?Net $net): array
    {
        if ($net === null || $net->isPower()) {
            return [];
        }
        if (! isset($this->drivers[$net->name])) {
            $all = $this->board->netlist->drivers($net);
            $able = array_values(array_filter($all, fn (string $pin): bool => $this->board->netlist->pin($pin)?->direction === 'out' || $this->unitsOf(Netlist::chipOf($pin)) === [] || $this->unitOf($pin) !== null));
            $others = array_values(array_filter($able, fn (string $pin): bool => ! in_array($pin, $this->runsBy(Netlist::chipOf($pin)), true)));
            $this->drivers[$net->name] = $others === [] ? ($able === [] ? $all : $able) : $others;
        }

        return $this->drivers[$net->name];
    }

    /**
     * @return list<Net> what comes in at a chip and is neither data nor address: its clocks, selects, enables and strobes
     */
    public function controlsOf(string $ref): array
    {
        $nets = [];
        foreach (($this->board->chips[$ref] ?? null)?->type?->pinList() ?? [] as $pin) {
            $name = "{$ref}.{$pin->number}";
            $net = in_array($pin->direction, ['in', 'both'], true) ? $this->board->netlist->netOf($name) : null;
            // A pin that can be either is an input where its part does not drive it.
            if ($net !== null && ! $net->isPower() && ! in_array($net->kind, ['data', 'address'], true) && ($pin->direction === 'in' || ! in_array($name, $this->driversOf($net), true))) {
                $nets[] = $net;
            }
        }

        return $nets;
    }

    /**
     * The outputs of a part that pass on a line, directly or by way of other parts.
     *
     * @return list<string> none where the netlist does not tell one line from another
     */
    public function carrying(string $ref, Net $line): array
    {
        $carrying = [];
        $outputs = 0;
        foreach (($this->board->chips[$ref] ?? null)?->type?->pinList() ?? [] as $pin) {
            $own = $this->board->netlist->netOf("{$ref}.{$pin->number}");
            if ($own === null || ! in_array("{$ref}.{$pin->number}", $this->driversOf($own), true)) {
                continue;
            }
            $outputs++;
            $from = [...$this->causesOf("{$ref}.{$pin->number}"), ...($own->kind === 'data' ? [] : array_map(strval(...), array_keys($this->inputsBehind($own, self::CARRIED))))];
            if (in_array($line, [$own, ...array_map($this->board->netlist->netOf(...), $from)], true)) {
                $carrying[] = "{$ref}.{$pin->number}";
            }
        }

        return count($carrying) < $outputs ? $carrying : [];
    }

    /** Whether the one output that drives a net is that of something that keeps a state, and that the reset of a processor clears or sets. */
    public function isResettable(?Net $net): bool
    {
        $drivers = $this->driversOf($net);
        $unit = count($drivers) === 1 ? $this->unitOf($drivers[0]) : null;
        $processor = $this->board->processor->chip ?? '';
        $reset = (new LineFaults($this))->netOf($processor, ($this->board->chips[$processor] ?? null)->type->bus->reset ?? '')[1] ?? null;

        return $reset !== null && $unit?->keeps() === true && array_filter($unit->inputs, fn (int $pin): bool => $this->board->netlist->netOf(Netlist::chipOf($drivers[0]).".{$pin}") === $reset) !== [];
    }

    /** Whether a net is the reset of the machine, on its way from the button: it stands at one level while reset is held and at the other afterwards. */
    public function isResetLine(?Net $net): bool
    {
        return $net !== null && isset($this->resetLines()[$net->name]);
    }

    /**
     * The net of the button or the power-on circuit, and what gates that go by nothing else make of it.
     *
     * @return array<string, true>
     */
    private function resetLines(): array
    {
        if ($this->resetLines !== null) {
            return $this->resetLines;
        }
        $from = $this->board->processor->resetNet ?? '';
        $chain = isset($this->board->netlist->nets[$from]) ? [$from => true] : [];
        do {
            $before = count($chain);
            foreach ($this->board->netlist->nets as $net) {
                $drivers = $this->driversOf($net);
                $inputs = count($drivers) === 1 && $this->unitOf($drivers[0])?->keeps() === false ? $this->inputsOf($drivers[0]) : [];
                if ($inputs !== [] && array_filter($inputs, fn (string $input): bool => ! isset($chain[$this->board->netlist->netOf($input)->name ?? ''])) === []) {
                    $chain[$net->name] = true;
                }
            }
        } while ($chain !== [] && count($chain) > $before);

        return $this->resetLines = $chain;
    }

    /** Whether an output that cannot let go drives a net. */
    public function isAlwaysDriven(?Net $net): bool
    {
        foreach ($this->driversOf($net) as $driver) {
            $number = Netlist::numberOf($driver);
            foreach ($this->unitOf($driver)->outputs ?? [] as $output) {
                if ($output->pin === $number && $output->isAlways()) {
                    return true;
                }
            }
        }

        return false;
    }

    /** The pin of the resistor that alone takes a net up or down, where every output on it can only pull the other way or let go; null elsewhere. */
    public function pullOf(Net $net): ?string
    {
        foreach ($this->driversOf($net) as $driver) {
            $outputs = array_filter($this->unitOf($driver)->outputs ?? [], static fn (Output $output): bool => $output->pin === Netlist::numberOf($driver));
            if ($outputs === [] || array_filter($outputs, static fn (Output $output): bool => ! $output->open) !== []) {
                return null;
            }
        }
        $resistor = $this->board->netlist->pull($net)['resistor'] ?? null;

        return array_values(array_filter($net->pins, static fn (string $pin): bool => Netlist::chipOf($pin) === $resistor))[0] ?? null;
    }

    /**
     * Nets that this one is joined to by a link as it stands.
     *
     * @param  array<string, string>  $positions  link => position; as the maker sets it where it is not given
     * @return list<Net>
     */
    public function joined(Net $net, array $positions): array
    {
        $joined = [];
        foreach ($this->board->settings as $setting) {
            foreach ($setting->joins[$positions[$setting->ref] ?? $setting->default] ?? [] as $pair) {
                foreach (in_array($net->name, $pair, true) ? array_diff($pair, [$net->name]) : [] as $name) {
                    $joined[] = $this->board->netlist->nets[$name] ?? null;
                }
            }
        }

        return array_values(array_filter($joined));
    }
}
