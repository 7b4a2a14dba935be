<?php

declare(strict_types=1);

namespace ZapTrace\Bench;

use Random\Engine\Mt19937;
use Random\Randomizer;
use ZapTrace\Board\BoardProfile;
use ZapTrace\Board\Firmware;
use ZapTrace\Board\MapRange;
use ZapTrace\Board\Netlist;
use ZapTrace\Board\RangeKind;
use ZapTrace\Bus\LadderBuilder;
use ZapTrace\Bus\MemoryPlan;
use ZapTrace\Diagnostics\Diagnostic;
use ZapTrace\Diagnostics\DiagnosticResult;
use ZapTrace\Numbers\Notation;
use ZapTrace\Numbers\Radix;
use ZapTrace\Parts\Logic\LogicUnit;
use ZapTrace\Signals\Expectations;
use ZapTrace\Signals\ProbeState;
use ZapTrace\Signals\Situation;

/**
 * A broken machine on a bench: instruments that answer, and repairs that change it. What is wrong with it is known to
 * this class alone.
 */
final class SimulatedBench
{
    /** What is done to the machine as a whole. */
    public const ALL = 'machine';

    /** Addresses of a bank that a look at all of the memory reads. */
    private const SWEPT = 12;

    /** Cycles a test ROM is given, and what it writes when all is well, and after its flashes. */
    private const TEST_ROM = 1600;

    private const PASSED = 0x40;

    /** Places of a ROM that are read to see whether it is read as it should. */
    private const ROM_PLACES = 24;

    /** Bus cycles after which the first instruction is there. */
    private const FIRST = 4;

    /** Cycles of a recording of the bus. */
    private const RECORDED = 400;

    private const PAUSES = 0x80;

    private readonly Randomizer $random;

    private Expectations $expectations;

    /** @var list<InjectedFault> */
    private array $faults;

    /** @var array<string, string> link => position */
    private array $positions = [];

    /** @var array<string, true> */
    private array $absent = [];

    /** @var array<string, list<InjectedFault>> chip => what was wrong with the one that came out */
    private array $drawer = [];

    /** @var array<string, true> chips in a socket that was fitted */
    private array $fittedSockets = [];

    private ?Machine $machine = null;

    private bool $warm = false;

    /** @var list<array{action: string, site: string, detail: string}> all that was done to it, so that it can be set up again */
    public array $acts = [];

    /** Good parts that were taken out: of solder, and of sockets. */
    public int $goodSoldered = 0;

    public int $goodPulled = 0;

    /**
     * @param  list<InjectedFault>  $faults
     * @param  int  $powered  how often it was switched on before: what comes and goes is another each time
     */
    public function __construct(public readonly BoardProfile $board, array $faults, private readonly int $seed, private readonly LogicShelf $shelf, private readonly float $tears, private int $powered = 0)
    {
        $this->faults = $faults;
        $this->random = new Randomizer(new Mt19937($seed));
        $this->expectations = new Expectations($board, [], [], $shelf);
    }

    /**
     * @return list<InjectedFault> what is still wrong
     */
    public function left(): array
    {
        return $this->faults;
    }

    /** Whether every link stands where it belongs, and nothing is left out or unplugged. */
    public function isWhole(): bool
    {
        foreach ($this->positions as $link => $position) {
            if (($this->board->findSetting($link)->default ?? $position) !== $position) {
                return false;
            }
        }

        return $this->absent === [];
    }

    /**
     * @return list<string> links that stand otherwise than they should, as the eye sees them
     */
    public function wrongLinks(): array
    {
        return array_values(array_map(static fn (InjectedFault $fault): string => $fault->at, array_filter($this->faults, static fn (InjectedFault $fault): bool => $fault->kind === FaultKind::WrongSetting)));
    }

    /** Whether anything at a site is wrong: a chip, a net, a link. */
    public function isFaulty(string $site): bool
    {
        return $this->isAmong($this->faults, $site);
    }

    /**
     * @param  list<InjectedFault>  $faults
     */
    private function isAmong(array $faults, string $site): bool
    {
        foreach ($faults as $fault) {
            if ($fault->site() === $site || $fault->at === $site || $fault->kind === FaultKind::Short && $fault->detail === $site || Netlist::chipOf($fault->at) === $site && isset($this->board->chips[$site])) {
                return true;
            }
            // A leg that does not touch is a fault of its chip and of its line.
            if (in_array($fault->kind, [FaultKind::BadContact, FaultKind::HoldsLow, FaultKind::HoldsHigh], true) && $this->board->netlist->netOf($fault->at)?->name === $site) {
                return true;
            }
        }

        return false;
    }

    /** Whether a trace is broken before a leg of a chip, or the trace of this leg. */
    public function isOpenAt(string $site): bool
    {
        $net = $this->board->netlist->netOf($site)?->name;

        return array_filter($this->faults, static fn (InjectedFault $fault): bool => $fault->kind === FaultKind::OpenTrace && ($fault->at === $net || in_array($site, [$fault->detail, Netlist::chipOf($fault->detail)], true))) !== [];
    }

    /** How often it was switched on so far. */
    public function powered(): int
    {
        return $this->powered;
    }

    /** It was left on since it was last switched on: what came then, or went, is so yet. */
    public function leftOn(): void
    {
        $this->machine = $this->started($this->powered);
    }

    /** It is switched off and on again: what comes and goes may come, or go. */
    public function powerOn(): void
    {
        if (array_filter($this->faults, static fn (InjectedFault $fault): bool => $fault->rate < 1.0) !== []) {
            $this->machine = null;
        }
    }

    /** Whether the machine does all it should, this time: it starts, all of its memory holds, every function works. */
    public function works(): bool
    {
        $machine = $this->machine();
        if (! $machine->starts()) {
            return false;
        }
        foreach ($this->board->functions as $function) {
            if (! $this->functionWorks($function->id)) {
                return false;
            }
        }
        foreach ($this->board->banks as $bank) {
            if ($this->failingBits($bank->name, null) !== []) {
                return false;
            }
        }

        return true;
    }

    public function isWarm(): bool
    {
        return $this->warm;
    }

    public function starts(): bool
    {
        return $this->machine()->starts();
    }

    /**
     * What its screen shows after it was switched on, by the names of the signs that all boards know: nothing where it does
     * not start or no dots come out, other characters where what is kept to be shown is wrong, misshapen ones where how they are drawn is.
     */
    public function sign(): string
    {
        if (! $this->starts()) {
            return 'blank';
        }
        $picture = $this->board->findFunction('picture');
        if ($picture === null || $this->functionWorks($picture->id)) {
            return 'clean-banner';
        }
        $showing = array_filter($this->machine()->showing(), fn (InjectedFault $fault): bool => array_filter($picture->sites, fn (string $site): bool => $this->isAmong([$fault], $site)) !== []);
        foreach ($showing as $fault) {
            $chip = $this->board->chips[Netlist::chipOf($fault->at)] ?? null;
            $draws = in_array($chip?->kind(), ['rom', 'eprom'], true);
            $keeps = $draws || in_array($chip?->kind(), ['dram', 'sram'], true) || $chip !== null && array_filter($this->shelf->units($chip), static fn (LogicUnit $unit): bool => $unit->isLatch()) !== [];
            if (! $keeps) {
                return 'blank';
            }
            if ($draws && $fault->kind !== FaultKind::Dead) {
                return 'misshapen';
            }
            if (in_array($fault->kind, [FaultKind::Dead, FaultKind::BadContact, FaultKind::Cells, FaultKind::Weak, FaultKind::AddressInput], true)) {
                return 'garbage';
            }
        }

        return 'half-wrong';
    }

    /** What a link has taken out of play is not tried. */
    public function functionWorks(string $id): bool
    {
        $function = $this->board->findFunction($id);
        $showing = $this->machine()->showing();
        foreach ($function->banks ?? [] as $bank) {
            if ($this->failingBits($bank, null) !== []) {
                return false;
            }
        }
        foreach ($function->sites ?? [] as $site) {
            if ($this->isAmong($showing, $site)) {
                return false;
            }
        }

        return true;
    }

    public function probe(string $pin, Situation $situation): ProbeState
    {
        return $this->machine()->probe($pin, $situation);
    }

    public function frequency(string $pin, Situation $situation): float
    {
        return $this->machine()->frequency($pin, $situation);
    }

    /**
     * @return array{state: ProbeState|null, hz: float|null, source: string}
     */
    public function expected(string $pin, Situation $situation): array
    {
        return $this->expectations->at($pin, $situation);
    }

    public function continuity(string $from, string $to): bool
    {
        return $this->machine()->continuity($from, $to);
    }

    /** Whether a line stands between the levels now. */
    public function isHeld(string $net): bool
    {
        return $this->machine()->isHeld($net);
    }

    /**
     * The pin at which a line is pulled, by what is measured along it to the millivolt.
     *
     * @return string|null null where it is pulled at no pin, or at several
     */
    public function pullsAt(string $net): ?string
    {
        return $this->machine()->pullsAt($net);
    }

    public function rail(string $name): float
    {
        return $this->machine()->rail($name);
    }

    /** How a part feels beside its like. */
    public function warmth(string $ref): string
    {
        foreach ($this->faults as $fault) {
            if (Netlist::chipOf($fault->at) === $ref && in_array($fault->kind, [FaultKind::Dead, FaultKind::OutputLow, FaultKind::HoldsLow], true) && crc32("{$this->seed} {$ref} warm") % 3 === 0) {
                return 'hot';
            }
        }

        return 'cool';
    }

    /** A chip tester: it does not see a bad contact, what shows only when warm, and now and then it is blind. */
    public function tester(string $ref): bool
    {
        foreach ([...$this->faults, ...$this->drawer[$ref] ?? []] as $fault) {
            if (Netlist::chipOf($fault->at) === $ref && $fault->isInPart() && $fault->isSteady()) {
                return crc32("{$this->seed} {$ref} tester") % 10 === 0;
            }
        }

        return true;
    }

    /** A ROM in a reader, held against a good image; what is wrong with its place does not show there. */
    public function romMatches(string $ref): bool
    {
        foreach ($this->faults as $fault) {
            if (Netlist::chipOf($fault->at) === $ref && $fault->isInPart()) {
                return false;
            }
        }

        return true;
    }

    /**
     * The bus recorded from reset on, beside that of a machine that is well.
     *
     * @return array<string, mixed> as it is noted
     */
    public function bus(): array
    {
        $bus = $this->board->chips[$this->board->processor->chip ?? '']->type->bus ?? null;
        if ($bus === null) {
            return [];
        }
        $good = $this->good()->recorded(self::RECORDED);
        $sick = $this->machine()->recorded(self::RECORDED);
        if ($good === null || $sick === null) {
            return [];
        }
        $ladder = (new LadderBuilder($bus, MemoryPlan::of($this->board)))->against($sick, $good);

        return $ladder->noted('recording', 'a good machine', 'right');
    }

    /**
     * The start-up as an analyser records it, of this machine or of a good one of its kind that stands as this one does.
     *
     * @return string a Value Change Dump
     */
    public function recording(bool $ofGood): string
    {
        return ($ofGood ? $this->good() : $this->machine())->capture(self::RECORDED);
    }

    private function good(): Machine
    {
        return new Machine($this->board, [], $this->seed, $this->shelf, $this->positions, $this->absent);
    }

    /** Whether the processor gets as far as its first instruction. */
    private function comesUp(): bool
    {
        return ($this->bus()['distance'] ?? self::FIRST) >= self::FIRST;
    }

    /**
     * Writes bytes, then reads them.
     *
     * @param  list<array{int, int}>  $bytes  address and value
     * @return list<int> as they were read
     */
    public function bytes(array $bytes): array
    {
        $wide = $this->board->bus->dataWidth === 16;
        $accesses = [];
        foreach ($bytes as [$address, $value]) {
            $accesses[] = $wide ? [$address & ~1 | (($address & 1) === 0 ? 0x1000000 : 0x2000000), $value * 257] : [$address, $value];
        }
        foreach ($bytes as [$address]) {
            $accesses[] = [$wide ? $address & ~1 : $address, null];
        }
        $read = array_slice($this->machine()->exercise($accesses), count($bytes));

        return array_map(static fn (?int $word, array $byte): int => ($wide ? (($byte[0] & 1) === 0 ? ($word ?? 0xFFFF) >> 8 : ($word ?? 0xFFFF) & 0xFF) : $word ?? 0xFF), $read, $bytes);
    }

    /**
     * @return list<MapRange> what the map holds as the links stand
     */
    public function ranges(): array
    {
        return array_values(array_filter($this->board->map->ranges, fn (MapRange $range): bool => Routine::holds($this->board, $range, $this->positions) && ! Routine::isOut($this->board, $range, $this->absent)));
    }

    /**
     * What a diagnostic reports.
     */
    public function diagnostic(Diagnostic $diagnostic): string
    {
        $firmware = $this->machine()->firmware($diagnostic->id);
        if ($firmware !== null && $diagnostic->reports === 'flashes') {
            return $this->flashes($firmware);
        }
        foreach ($diagnostic->reports === 'step' && ! $this->isFaulty($this->board->processor->chip ?? '') ? $diagnostic->codes : [] as $code) {
            // It adds up each ROM: one changed byte is enough.
            if (array_filter($code->sites, fn (string $site): bool => in_array($this->board->chips[$site]->kind(), ['rom', 'eprom'], true) && ! $this->romMatches($site)) !== []) {
                return $code->code;
            }
        }
        if ($diagnostic->insert === '' && $diagnostic->reports !== 'step' && ! $this->comesUp()) {
            return DiagnosticResult::NOTHING;
        }
        $wrong = $this->wrongRoms();
        if ($wrong !== []) {
            foreach ($diagnostic->reports === 'step' && ! $this->isFaulty($this->board->processor->chip ?? '') ? $diagnostic->codes : [] as $code) {
                if (array_intersect($code->sites, $wrong) !== []) {
                    return $code->code;
                }
            }

            return DiagnosticResult::NOTHING;
        }
        $failing = [];
        $chips = [];
        foreach ($this->board->banks as $bank) {
            foreach ($this->failingBits($bank->name, $diagnostic->covers) as $line) {
                $failing["{$bank->name} {$line}"] = true;
                $chips[] = $bank->chipOfLine[$line];
            }
        }
        $named = [];
        foreach ($diagnostic->codes as $code) {
            if ($code->bit !== null && isset($failing["{$code->bit['bank']} {$code->bit['line']}"])) {
                $named[] = $code->code;
            } elseif ($code->bit === null && array_intersect($code->sites, $chips) !== []) {
                $named[] = $code->code;
            } elseif ($code->bit === null && array_filter($code->sites, fn (string $site): bool => in_array($this->board->chips[$site]->kind(), ['peripheral'], true) && $this->isFaulty($site)) !== []) {
                $named[] = $code->code;
            }
        }

        return match (true) {
            // What is in its own ROM says nothing when that does not run.
            $named === [] && $diagnostic->insert === '' && $diagnostic->reports !== 'step' && ! $this->starts() => DiagnosticResult::NOTHING,
            $named === [] => DiagnosticResult::PASS,
            $diagnostic->reports === 'mask' => strtoupper(str_pad(dechex((int) array_sum(array_map(hexdec(...), $named))), 2, '0', STR_PAD_LEFT)),
            $diagnostic->reports === 'chips' => implode(' ', $named),
            default => $named[0],
        };
    }

    /** The test ROM really runs: what it writes to its port is counted, as long as the port shows it. */
    private function flashes(Firmware $firmware): string
    {
        $port = array_values(array_filter($this->board->map->ranges, static fn (MapRange $range): bool => $range->kind === RangeKind::Io && $firmware->signal >= $range->from && $firmware->signal <= $range->to))[0]->chip ?? '';
        $ended = static fn (Watched $program): bool => array_intersect($program->writesTo($firmware->signal), [self::PASSED, self::PAUSES]) !== [];
        $program = $this->machine()->run($firmware, self::TEST_ROM, $ended);
        if ($this->isFaulty($port) || ! $ended($program)) {
            return DiagnosticResult::NOTHING;
        }
        $writes = $program->writesTo($firmware->signal);

        return in_array(self::PASSED, $writes, true) ? DiagnosticResult::PASS : (string) count(array_keys($writes, 1, true));
    }

    /**
     * Something is done to the machine.
     */
    public function do(string $action, string $site, string $detail = ''): void
    {
        $this->acts[] = ['action' => $action, 'site' => $site, 'detail' => $detail];
        $this->machine = null;
        $chip = Netlist::chipOf($site);
        switch ($action) {
            case 'reseat':
            case 'clean':
                $this->remove(fn (InjectedFault $fault): bool => $fault->kind === FaultKind::WrongSetting && $fault->at === $site || $fault->kind === FaultKind::BadContact && Netlist::chipOf($fault->at) === $chip && ($this->board->chips[$chip]->socketed ?? false) && $this->random->getInt(0, 99) < 85);
                break;
            case 'exchange':
            case 'replace':
                $this->exchange($chip);
                break;
            case 'swap':
                // What is wrong in a part goes with it.
                $this->faults = array_map(static fn (InjectedFault $fault): InjectedFault => match (true) {
                    ! $fault->isInPart() => $fault,
                    Netlist::chipOf($fault->at) === $chip => $fault->movedTo($detail),
                    Netlist::chipOf($fault->at) === $detail => $fault->movedTo($chip),
                    default => $fault,
                }, $this->faults);
                break;
            case 'refit':
                $this->remove(static fn (InjectedFault $fault): bool => $fault->isInPart() && Netlist::chipOf($fault->at) === $chip);
                array_push($this->faults, ...$this->drawer[$chip] ?? []);
                unset($this->drawer[$chip], $this->absent[$chip]);
                break;
            case 'remove':
            case 'unplug':
                $this->absent[$site] = true;
                break;
            case 'plug':
                unset($this->absent[$site]);
                break;
            case 'wire':
            case 'bridge':
                $this->remove(fn (InjectedFault $fault): bool => $fault->kind === FaultKind::OpenTrace && ($fault->at === $site || isset($this->board->chips[$site]) && Netlist::chipOf($fault->detail) === $site || $this->board->netlist->netOf($site)?->name === $fault->at) || $fault->kind === FaultKind::BadContact && ($fault->at === $site || $this->board->netlist->netOf($fault->at)?->name === $site));
                break;
            case 'fix':
                $this->remove(static fn (InjectedFault $fault): bool => $fault->kind === FaultKind::Short && ($fault->at === $site || $fault->detail === $site) || in_array($fault->kind, [FaultKind::RailLow, FaultKind::Dead], true) && $fault->at === $site);
                break;
            case 'warm':
            case 'cool':
                $this->warm = $action === 'warm';
                break;
            case 'set':
                $this->remove(static fn (InjectedFault $fault): bool => $fault->kind === FaultKind::WrongSetting && $fault->at === $site);
                $this->positions[$site] = $detail;
                break;
        }
        if (in_array($action, ['set', 'unplug', 'plug', 'remove', 'refit'], true)) {
            // A healthy machine with the same links, and the same parts out.
            $this->expectations = new Expectations($this->board, $this->positions, $this->absent, $this->shelf);
        }
    }

    /** Whether the bit that a memory chip holds is wrong. */
    public function isBitWrong(string $chip): bool
    {
        foreach ($this->board->banks as $bank) {
            if (in_array($chip, $bank->chips(), true) && array_intersect($bank->linesOf($chip), $this->failingBits($bank->name, null)) !== []) {
                return true;
            }
        }

        return false;
    }

    /** Whether it works while one chip is warmed, or cooled, by itself. */
    public function worksWith(string $ref, bool $warm): bool
    {
        $this->machine = $this->started(++$this->powered, [$ref => $warm]);
        $works = $this->works();
        $this->machine = null;

        return $works;
    }

    /** Whether it works with a good chip pressed on top of another. */
    public function piggybacked(string $ref): bool
    {
        $faults = $this->faults;
        $this->machine = null;
        $this->remove(static fn (InjectedFault $fault): bool => $fault->kind === FaultKind::Dead && $fault->at === $ref);
        $works = $this->works();
        $this->faults = $faults;
        $this->machine = null;

        return $works;
    }

    public function isSocketed(string $ref): bool
    {
        return ($this->board->chips[$ref]->socketed ?? false) || isset($this->fittedSockets[$ref]);
    }

    /**
     * Readings of a list of bytes as text: "6C00 00 20" in each line.
     *
     * @param  list<array{int, int}>  $bytes  address and value
     */
    public function readingsOf(array $bytes, Radix $radix): string
    {
        $lines = [];
        foreach ($this->bytes($bytes) as $number => $read) {
            $lines[] = implode(' ', [Notation::format($bytes[$number][0], $radix, $this->board->bus->addressWidth), Notation::format($bytes[$number][1], $radix, 8), Notation::format($read, $radix, 8)]);
        }

        return implode("\n", $lines);
    }

    private function exchange(string $chip): void
    {
        $bad = array_values(array_filter($this->faults, static fn (InjectedFault $fault): bool => $fault->isInPart() && Netlist::chipOf($fault->at) === $chip));
        $soldered = ! $this->isSocketed($chip);
        if ($bad === []) {
            $soldered ? $this->goodSoldered++ : $this->goodPulled++;
        }
        // A new part in its socket, or a socket fitted: the contact is made anew.
        $this->remove(static fn (InjectedFault $fault): bool => Netlist::chipOf($fault->at) === $chip && ($fault->isInPart() || $fault->kind === FaultKind::BadContact));
        $this->drawer[$chip] = $bad;
        $this->fittedSockets[$chip] = true;
        if ($soldered && $this->random->getInt(0, 9999) < $this->tears * 10000) {
            $pins = array_values(array_filter(array_map(static fn ($pin): string => "{$chip}.{$pin->number}", $this->board->chips[$chip]->type?->pinList() ?? []), function (string $pin): bool {
                $net = $this->board->netlist->netOf($pin);

                return $net !== null && ! $net->isPower() && ($net->pins[0] ?? '') !== $pin;
            }));
            if ($pins !== []) {
                $pin = $pins[$this->random->getInt(0, count($pins) - 1)];
                $this->faults[] = new InjectedFault(FaultKind::OpenTrace, $this->board->netlist->netOf($pin)->name ?? '', $pin);
            }
        }
    }

    /**
     * @param  callable(InjectedFault): bool  $which
     */
    private function remove(callable $which): void
    {
        $this->faults = array_values(array_filter($this->faults, static fn (InjectedFault $fault): bool => ! $which($fault)));
    }

    private function machine(): Machine
    {
        return $this->machine ??= $this->started(++$this->powered);
    }

    /**
     * The machine as it is, switched on for the nth time.
     *
     * @param  array<string, bool>  $heated  chips that are warmed (true) or cooled (false) by themselves
     */
    private function started(int $time, array $heated = []): Machine
    {
        return new Machine($this->board, $this->faults, $this->seed + 1000 * $time, $this->shelf, $this->positions, $this->absent, $this->warm, $heated);
    }

    /**
     * @return list<string> ROMs of which the processor reads something else than they should hold
     */
    private function wrongRoms(): array
    {
        $machine = $this->machine();
        $accesses = [];
        $chips = [];
        $even = $this->board->bus->dataWidth === 16 ? ~1 : ~0;
        foreach ($this->board->map->ranges as $range) {
            for ($place = 0; $range->kind === RangeKind::Rom && $place < self::ROM_PLACES; $place++) {
                $accesses[] = [$range->from + crc32("rom {$place}") % ($range->to - $range->from) & $even, null];
                $chips[] = $range->chip ?? '';
            }
        }
        $wrong = [];
        foreach ($machine->exercise($accesses) as $number => $read) {
            $should = $machine->contents($accesses[$number][0]);
            // A latch that is over the ROM by now makes no fault of it.
            if ($should !== null && $read !== $should && $accesses[$number][0] >= ($this->board->bus->dataWidth === 16 ? 0xF00000 : 0)) {
                $wrong[$chips[$number]] = ($wrong[$chips[$number]] ?? 0) + 1;
            }
        }

        return array_sum($wrong) > 2 ? array_map(strval(...), array_keys($wrong)) : [];
    }

    /**
     * @param  list<array{int, int}>|null  $within  stretches; all of the bank when null
     * @return list<int> data lines that do not hold what is written
     */
    private function failingBits(string $bank, ?array $within): array
    {
        $ranges = array_filter($this->ranges(), static fn (MapRange $range): bool => $range->kind === RangeKind::Ram && $range->bank === $bank && $range->access === 'any');
        $addresses = [];
        foreach ($ranges as $range) {
            $even = $this->board->bus->dataWidth === 16 ? ~1 : ~0;
            foreach ($within ?? [[$range->from, $range->to]] as [$from, $to]) {
                $low = max($from, $range->from);
                $high = min($to, $range->to);
                if ($low > $high) {
                    continue;
                }
                for ($place = 0; $place < self::SWEPT; $place++) {
                    $addresses[] = $low + crc32("{$bank} {$place} {$from}") % ($high - $low + 1) & $even;
                }
                // Addresses that differ in one line only: two of them are one where that line is lost.
                $addresses[] = $low & $even;
                for ($line = $this->board->bus->dataWidth === 16 ? 1 : 0; 1 << $line <= $high - $low; $line++) {
                    $addresses[] = $low + (1 << $line) & $even;
                }
            }
        }
        $addresses = array_values(array_unique($addresses));
        $all = (1 << $this->board->bus->dataWidth) - 1;
        $accesses = [];
        foreach ([0, $all, 1] as $pattern) {
            // Ones and zeros everywhere, then each address as its own data, so that two that are one show.
            foreach ($addresses as $address) {
                $accesses[] = [$address, $pattern === 1 ? crc32("{$address}") & $all : $pattern];
            }
            foreach ($addresses as $address) {
                $accesses[] = [$address, null];
            }
        }
        $read = $this->machine()->exercise($accesses);
        $wrong = 0;
        $written = [];
        foreach ($accesses as $number => [$address, $value]) {
            if ($value !== null) {
                $written[$address] = $value;
            } else {
                $wrong |= ($read[$number] ?? $all) ^ $written[$address];
            }
        }
        $lines = [];
        foreach ($this->board->banks[$bank]->lines() as $line) {
            if (($wrong >> $line & 1) === 1) {
                $lines[] = $line;
            }
        }

        return $lines;
    }
}
