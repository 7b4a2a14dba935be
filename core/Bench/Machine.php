<?php

declare(strict_types=1);

namespace ZapTrace\Bench;

use ZapTrace\Board\BoardProfile;
use ZapTrace\Board\Firmware;
use ZapTrace\Board\MapRange;
use ZapTrace\Board\Netlist;
use ZapTrace\Board\RangeKind;
use ZapTrace\Bus\CycleDecoder;
use ZapTrace\Bus\CycleList;
use ZapTrace\Bus\SignalMap;
use ZapTrace\Formats\VcdWriter;
use ZapTrace\Processors\BusProgram;
use ZapTrace\Processors\Cpu6502;
use ZapTrace\Signals\ProbeState;
use ZapTrace\Signals\Situation;

/**
 * A simulated machine with what is wrong with it. It is switched on anew for every look at it, so that what comes and
 * goes shows in one and not in the other.
 */
final class Machine
{
    /** Accesses of a look with a probe. */
    private const LOOK = 320;

    /** Cycles in which a machine that boots shows that it is alive, and how often it has to. */
    private const BOOTS = 700;

    private const ALIVE = 2;

    /** A programme in a ROM's place other than what belongs there. */
    private ?Firmware $inserted = null;

    /** @var array<string, array{circuit: Circuit, seconds: float}> looks that were taken, by situation */
    private array $looks = [];

    /**
     * @param  list<InjectedFault>  $faults
     * @param  array<string, string>  $positions  link => position, where it is not the default
     * @param  array<string, true>  $absent  chips and assemblies that are out
     * @param  bool  $warm  it has run for a while
     * @param  array<string, bool>  $heated  chips that are warmed (true) or cooled (false) by themselves
     */
    public function __construct(
        public readonly BoardProfile $board,
        public readonly array $faults,
        private readonly int $seed,
        private readonly LogicShelf $shelf = new LogicShelf,
        public readonly array $positions = [],
        private readonly array $absent = [],
        private readonly bool $warm = false,
        private readonly array $heated = [],
    ) {
    }

    /** What a pin shows in a situation. */
    public function probe(string $pin, Situation $situation): ProbeState
    {
        ['circuit' => $circuit] = $this->look($situation);
        $node = $circuit->nodeOf($pin);
        if ($node < 0) {
            return ProbeState::Silent;
        }
        $seen = $circuit->seenAt($node);

        return match (true) {
            isset($circuit->fights[$node]) => ProbeState::Between,
            ($seen & 3) === 3, ($seen & 5) === 5 => ProbeState::Pulsing,
            ($seen & 1) === 1 => ProbeState::Low,
            ($seen & 2) === 2 => ProbeState::High,
            default => ProbeState::Silent,
        };
    }

    /** Hertz at a pin, by what was counted in a short look; 0 where nothing moves. */
    public function frequency(string $pin, Situation $situation): float
    {
        ['circuit' => $circuit, 'seconds' => $seconds] = $this->look($situation, true);
        $node = $circuit->nodeOf($pin);

        return $node < 0 ? 0.0 : $circuit->changesPerSecond($node, $seconds) / 2.0;
    }

    /** Whether two pins are one node, with the power off. */
    public function continuity(string $one, string $other): bool
    {
        $circuit = $this->circuit($this->faults);

        return $circuit->nodeOf($one) >= 0 && $circuit->nodeOf($one) === $circuit->nodeOf($other);
    }

    /** Whether a line stands between the levels, in a free run or in what it runs. */
    public function isHeld(string $net): bool
    {
        $pin = $this->board->netlist->nets[$net]->pins[0] ?? null;

        return $pin !== null && in_array(ProbeState::Between, [$this->probe($pin, Situation::FreeRun), $this->probe($pin, Situation::Running)], true);
    }

    /**
     * Where along a line the current goes that holds it: at the one pin that pulls it.
     *
     * @return string|null null where nothing pulls it at a pin, or where several do
     */
    public function pullsAt(string $net): ?string
    {
        $showing = $this->showing();
        $pins = $this->board->netlist->nets[$net]->pins ?? [];
        if (! $this->isHeld($net)) {
            return null; // Nothing drives against it: no current goes anywhere.
        }
        if (array_filter($showing, static fn (InjectedFault $fault): bool => $fault->kind === FaultKind::Short && in_array($net, [$fault->at, $fault->detail], true)) !== []) {
            return null; // Where the two touch, and that is between pins.
        }
        $pulling = [];
        foreach ($showing as $fault) {
            $at = match ($fault->kind) {
                FaultKind::HoldsLow, FaultKind::HoldsHigh, FaultKind::OutputLow, FaultKind::OutputHigh => [$fault->at],
                FaultKind::ReadsLow, FaultKind::ReadsHigh => ($this->board->chips[$fault->at] ?? null)?->dataOutputs() ?? [],
                default => [],
            };
            $pulling = [...$pulling, ...array_intersect($at, $pins)];
        }

        return count($pulling) === 1 ? $pulling[0] : null;
    }

    /** Volts of a rail at its regulator. */
    public function rail(string $name): float
    {
        $rail = $this->board->findRail($name);
        if ($rail === null) {
            return 0.0;
        }
        foreach ($this->faults as $fault) {
            if ($fault->kind === FaultKind::RailLow && $fault->at === $rail->regulator || $fault->kind === FaultKind::Dead && $fault->at === $rail->regulator) {
                return $fault->kind === FaultKind::Dead ? 0.0 : round($rail->volts * 0.84, 2);
            }
        }

        return $rail->volts;
    }

    /**
     * Writes and reads addresses by an exerciser in the processor's place.
     *
     * @param  list<array{int, int|null}>  $accesses  address, and what is written; null to read
     * @return list<int|null> what each read; null for one that wrote, and for what never came
     */
    public function exercise(array $accesses): array
    {
        // A latch that puts the ROM over everything at start-up goes over when the ROM itself is read.
        $first = [];
        foreach ($this->board->map->ranges as $range) {
            if ($range->kind === RangeKind::Rom) {
                $first[] = [$range->from, null];
            }
        }
        $program = new Exercise([...$first, ...$accesses]);
        $this->power($program, $this->showing(), static fn (): bool => $program->isDone(), count($first) + count($accesses) + 4);
        $read = [];
        foreach ($accesses as $number => [, $written]) {
            $read[] = $written === null ? $program->read[count($first) + $number] ?? null : null;
        }

        return $read;
    }

    /** Whether it starts and does what it should, this time. */
    public function starts(): bool
    {
        $boot = $this->firmware(Firmware::BOOT);
        if ($boot !== null) {
            $alive = static fn (Watched $program): bool => count($program->writesTo($boot->signal)) >= self::ALIVE;

            return $alive($this->run($boot, self::BOOTS, $alive));
        }
        $routine = new Routine($this->board, $this->positions, $this->contents(...), absent: $this->absent);
        $this->power($routine, $this->showing(), static fn (): bool => $routine->finished || $routine->astray, self::LOOK * 2);

        return $routine->finished && ! $routine->astray;
    }

    /** The programme it runs when it is switched on, or a diagnostic; null when none is known or no model runs it. */
    public function firmware(string $runs): ?Firmware
    {
        return in_array($this->board->processor->part ?? '', ['6502', '65C02'], true) ? $this->board->firmware[$runs] ?? null : null;
    }

    /**
     * Runs a programme of the machine from its reset on: the processor executes what it really reads.
     *
     * @param  (callable(Watched): bool)|null  $until  it need not run longer
     */
    public function run(Firmware $firmware, int $cycles, ?callable $until = null): Watched
    {
        $this->inserted = $firmware;
        $program = new Watched(new Cpu6502);
        $this->power($program, $this->showing(), $until === null ? null : static fn (): bool => $until($program), $cycles);
        $this->inserted = null;

        return $program;
    }

    /**
     * A recording of the processor's bus from a little before the end of reset on, as a Value Change Dump: its pins as
     * an analyser with a clip on it sees them.
     */
    public function capture(int $cycles, string $runs = Firmware::BOOT): string
    {
        $names = $this->clip();
        $writer = new VcdWriter(array_keys($names), $this->board->slug);

        return $writer->finish($this->clipped($names, $cycles, $runs, $writer->at(...)));
    }

    /** The same, as the cycles that are made of it; null when the library does not know the bus. */
    public function recorded(int $cycles, string $runs = Firmware::BOOT): ?CycleList
    {
        $names = $this->clip();
        $bus = $this->board->chips[$this->board->processor->chip ?? '']->type->bus ?? null;
        if ($bus === null) {
            return null;
        }
        $decoder = new CycleDecoder($bus, SignalMap::byName(array_keys($names), $bus));
        $watched = $decoder->watches();
        $before = array_fill(0, count($names), 2);
        $end = $this->clipped($names, $cycles, $runs, static function (int $time, array $levels) use ($decoder, $watched, &$before): void {
            /** @var array<int, int> $levels */
            $changes = array_diff_assoc($levels, $before);
            foreach ($watched as $channel) {
                if (isset($changes[$channel])) {
                    $decoder->moment($time, $changes, $before);
                    break;
                }
            }
            $before = $levels;
        });

        return $decoder->cycles($end);
    }

    /**
     * @return array<string, string> signal of the processor's bus => its pin
     */
    private function clip(): array
    {
        $processor = $this->board->processor->chip ?? '';
        $signals = ($this->board->chips[$processor]->type->bus ?? null)?->signals() ?? [];
        $pins = [];
        foreach ($this->board->chips[$processor]->type?->pinList() ?? [] as $pin) {
            $name = ($pin->activeLow ? '/' : '').$pin->name;
            if (in_array($name, $signals, true) && $this->board->netlist->netOf("{$processor}.{$pin->number}") !== null) {
                $pins[$name] = "{$processor}.{$pin->number}";
            }
        }

        return $pins;
    }

    /**
     * @param  array<string, string>  $names
     * @param  callable(int, array<int, int>): void  $see  nanoseconds, and the levels of all channels
     * @return int the last moment
     */
    private function clipped(array $names, int $cycles, string $runs, callable $see): int
    {
        $this->inserted = $this->firmware($runs);
        $program = $this->inserted !== null ? new Cpu6502 : new Routine($this->board, $this->positions, $this->contents(...), true, $this->absent);
        $nodes = null;
        $last = 0;
        $watch = static function (Circuit $circuit) use ($names, $see, &$nodes, &$last): void {
            $nodes ??= array_map($circuit->nodeOf(...), array_values($names));
            // What floats is read high by an analyser as it is by the board.
            $last = (int) round($circuit->seconds() * 1e9);
            $see($last, array_map($circuit->level(...), $nodes));
        };
        $this->power($program, $this->showing(), null, $cycles, false, $watch);
        $this->inserted = null;

        return $last;
    }

    /** What its ROM should hold at an address; null where there is none. */
    public function contents(int $address): ?int
    {
        foreach ($this->board->map->ranges as $range) {
            if ($range->kind === RangeKind::Rom && $address >= $range->from && $address <= $range->to && $range->chip !== null && Routine::holds($this->board, $range, ['BOOT' => 'starting'] + $this->positions)) {
                if ($this->board->bus->dataWidth === 16) {
                    $pair = $this->romPair($range);
                    $offset = ($address & 0x1FFFF) >> 1;

                    return ord($this->image($pair[0])[$offset % strlen($this->image($pair[0]))]) << 8 | ord($this->image($pair[1])[$offset % strlen($this->image($pair[1]))]);
                }
                $image = $this->image($range->chip);

                return ord($image[($address - $range->from) % strlen($image)]);
            }
        }

        return null;
    }

    /**
     * @return array{circuit: Circuit, seconds: float}
     */
    private function look(Situation $situation, bool $slowly = false): array
    {
        $kept = $situation->value.($slowly && $situation === Situation::FreeRun ? ' slowly' : '');
        if (isset($this->looks[$kept])) {
            return $this->looks[$kept];
        }
        $mask = (1 << $this->board->bus->addressWidth) - 1;
        $step = $this->board->bus->dataWidth === 8 ? 1 : 2;
        // A free run goes round all addresses in far less than a second: a look at levels sees every line move.
        $program = match ($situation) {
            Situation::FreeRun => new FreeRun(str_starts_with($this->board->processor->part ?? '', '65') ? 2 : 1, $slowly ? $step : intdiv($mask, 97) | 1, $mask & ~($step - 1)),
            // A pin is probed with the test ROM in, which goes on whatever it finds.
            default => new Routine($this->board, $this->positions, $this->contents(...), true, $this->absent),
        };

        return $this->looks[$kept] = $this->power($program, $this->showing(), null, self::LOOK, $situation === Situation::Reset);
    }

    /**
     * Switches on, lets it run and looks from the end of reset on.
     *
     * @param  list<InjectedFault>  $faults
     * @param  (callable(): bool)|null  $until  it need not run longer
     * @param  (callable(Circuit): void)|null  $watch  looks at every half tick from a little before the end of reset on
     * @return array{circuit: Circuit, seconds: float}
     */
    public function power(BusProgram $program, array $faults, ?callable $until, int $accesses, bool $reset = false, ?callable $watch = null): array
    {
        $circuit = $this->circuit($faults);
        $this->populate($circuit, $program, $faults);
        $button = $this->board->processor->resetNet ?? '';
        if ($button !== '') {
            $circuit->hold($button, 0);
        }
        $circuit->settle();
        if (! $circuit->hasClock()) {
            $circuit->hold($button, $reset ? 0 : null);
            $circuit->settle();
            $circuit->watch();

            return ['circuit' => $circuit, 'seconds' => 1.0];
        }
        $circuit->run(256);
        $circuit->play();
        self::watched($circuit, 256, $watch);
        if (! $reset && $button !== '') {
            $circuit->hold($button, null);
            $circuit->settle();
        }
        $circuit->watch();
        $from = $circuit->seconds();
        $perAccess = (int) ceil(2.0 * $circuit->hz / max(1, $this->board->processor->clockHz ?? 1000000)) * (str_starts_with($this->board->processor->part ?? '', '65') ? 1 : 4);
        for ($access = 0; $access < $accesses && ($until === null || ! $until()); $access++) {
            self::watched($circuit, $perAccess, $watch);
        }

        return ['circuit' => $circuit, 'seconds' => $circuit->seconds() - $from];
    }

    /**
     * @param  (callable(Circuit): void)|null  $watch
     */
    private static function watched(Circuit $circuit, int $halves, ?callable $watch): void
    {
        if ($watch === null) {
            $circuit->run($halves);

            return;
        }
        for ($half = 0; $half < $halves; $half++) {
            $circuit->run(1);
            $watch($circuit);
        }
    }

    /**
     * @return list<InjectedFault> those that show, as long as it is on
     */
    public function showing(): array
    {
        return array_values(array_filter($this->faults, fn (InjectedFault $fault): bool => ($fault->rate >= 1.0 || hexdec(substr(md5("{$this->seed} {$fault->at}"), 0, 4)) < $fault->rate * 0x10000) && (! $fault->whenWarm || ($this->heated[Netlist::chipOf($fault->at)] ?? $this->warm))));
    }

    /**
     * @param  list<InjectedFault>  $faults
     */
    private function circuit(array $faults): Circuit
    {
        $positions = $this->positions;
        foreach ($faults as $fault) {
            if ($fault->kind === FaultKind::WrongSetting) {
                $positions[$fault->at] = $fault->detail;
            }
        }
        $absent = [];
        foreach ($this->board->chips as $chip) {
            if (isset($this->absent[$chip->ref]) || isset($this->absent[$chip->assembly])) {
                $absent[$chip->ref] = true;
            }
        }

        return new Circuit($this->board, $faults, $positions, $absent, $this->shelf);
    }

    /**
     * @param  list<InjectedFault>  $faults
     */
    private function populate(Circuit $circuit, BusProgram $program, array $faults): void
    {
        $of = [];
        $memories = [];
        $unstable = false;
        foreach ($faults as $fault) {
            $of[Netlist::chipOf($fault->at)][] = $fault;
            $unstable = $unstable || $fault->kind === FaultKind::RailLow;
        }
        foreach ($this->board->chips as $chip) {
            $socket = $circuit->sockets[$chip->ref];
            $dead = array_filter($of[$chip->ref] ?? [], static fn (InjectedFault $fault): bool => $fault->kind === FaultKind::Dead) !== [];
            if ($dead || isset($this->absent[$chip->ref]) || isset($this->absent[$chip->assembly])) {
                continue;
            }
            if ($chip->kind() === 'dram') {
                $memories[] = $socket;
            }
            $device = match (true) {
                $chip->kind() === 'sram' => new StaticMemory($socket, null, $this->seed),
                in_array($chip->kind(), ['rom', 'eprom'], true) => new StaticMemory($socket, $this->image($chip->ref, $of[$chip->ref] ?? []), $this->seed),
                $chip->part === '6845' && $this->board->video !== null => new PictureGenerator($socket, $this->board->video),
                $chip->ref === ($this->board->processor->chip ?? '') => Processor::of($socket, $program),
                default => null,
            };
            if ($device !== null) {
                $circuit->add($device);
            }
        }
        foreach (Dram::grouped($memories, $of, $this->seed, 0.004, $unstable) as $device) {
            $circuit->add($device);
        }
    }

    /**
     * The contents of a ROM: the board's own programme where it has one, and between it nothing that means anything.
     *
     * @param  list<InjectedFault>  $faults
     */
    public function image(string $ref, array $faults = []): string
    {
        $words = $this->board->chips[$ref]->type->memory->words ?? 2048;
        $image = $this->shelf->noise("{$this->board->slug} {$ref}", $words);
        $firmware = $this->inserted !== null && $this->inserted->chip === $ref ? $this->inserted : $this->board->firmware[Firmware::BOOT] ?? null;
        $image = $firmware !== null && $firmware->chip === $ref ? $firmware->over($image) : $image;
        foreach ($faults as $fault) {
            if ($fault->kind === FaultKind::Contents) {
                $image |= substr(str_repeat("\0\0\0\0\x08", intdiv($words, 5) + 1), 0, $words);
            }
        }

        return $image;
    }

    /**
     * The ROM of the even bytes and that of the odd ones.
     *
     * @return array{string, string}
     */
    private function romPair(MapRange $range): array
    {
        $roms = array_values(array_filter($this->board->chips, static fn ($chip): bool => in_array($chip->kind(), ['rom', 'eprom'], true)));

        return [$range->chip ?? '', $roms[1]->ref ?? $range->chip ?? ''];
    }
}
