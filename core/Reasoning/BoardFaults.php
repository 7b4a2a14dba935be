<?php

declare(strict_types=1);

namespace ZapTrace\Reasoning;

use ZapTrace\Board\Bank;
use ZapTrace\Board\BoardProfile;
use ZapTrace\Board\Chip;
use ZapTrace\Board\MapRange;
use ZapTrace\Board\Net;
use ZapTrace\Board\Netlist;
use ZapTrace\Board\RangeKind;
use ZapTrace\Board\Server;
use ZapTrace\Diagnostics\DiagnosticResult;
use ZapTrace\Signals\LineFaults;
use ZapTrace\Signals\SignalEvidence;
use ZapTrace\Signals\Structure;

/**
 * The faults that can stand behind the memory of a board: its memory chips and their pins, the chips that serve each
 * bank, the lines between them, its links, and what is not on the profile; each with what it can show in.
 *
 * A fault belongs to a place or to a physical part. A part takes its faults along to the position it sits in.
 */
final class BoardFaults
{
    private const CRASH = 0.85;

    /** So often it goes nowhere without a line that leads to memory alone. */
    private const MEMORY_ALONE = 0.1;

    /** So often it does when its processor is without one line of its data, or of its addresses. */
    private const NO_BUS = 0.97;

    /** So often a programme goes nowhere when what selects its ROM has failed: one of its outputs leads there. */
    private const UNSELECTED = 0.5;

    /** The same of what that goes by. */
    private const FURTHER_UNSELECTED = 0.4;

    /** The same when that very output has failed: stuck the other way, the ROM is selected all the time. */
    private const OUTPUT_UNSELECTED = 0.7;

    private const FURTHER_OUTPUT_UNSELECTED = 0.5;

    /** How much of its strength in memory is left to a decoder that has lost one of several inputs. */
    private const OF_SEVERAL_INPUTS = 0.6;

    /** So often nothing is seen of a diagnostic when the port that it shows by has failed. */
    private const UNSEEN = 0.85;

    /** How the failure of what lies behind a server shows in its bank: as the server's own, and less surely. */
    private const BEHIND = [
        'select' => ['high' => 0.6, 'bank-places' => 0.3, 'bank-unstable' => 0.2],
        'strobe' => ['high' => 0.6, 'bank-places' => 0.4, 'bank-unstable' => 0.3, 'bank-strobe' => 0.5], // Stuck, a gate strobes never or all the time.
        'buffer' => ['high' => 0.6, 'low' => 0.15, 'bank-places' => 0.3],
        'multiplexer' => ['bank-alias' => 0.4, 'bank-strobe' => 0.3, 'bank-multiplexer' => 0.3, 'bank-places' => 0.4, 'high' => 0.4],
        'refresh' => ['bank-fades' => 0.6],
    ];

    /** How the failure shows of what lies further up from what selects a bank or strobes it: what resets, clocks or selects that. */
    private const FURTHER = ['bank-places' => 0.15, 'high' => 0.25];

    /** How memory reads where the processor, or what is plugged in in its place, has no clock or is held in reset: nothing drives. */
    private const STANDING = ['high' => 0.5, 'low' => 0.1, 'bank-places' => 0.15];

    /** How it shows when what drives the same address lines does so at the wrong time, or holds one. */
    private const BESIDE = ['bank-alias' => 0.1, 'bank-places' => 0.3];

    /** How a multiplexer shows whose select or enable is lost. */
    private const SWITCHED = ['bank-multiplexer' => 0.85, 'bank-alias' => 0.3, 'bank-strobe' => 0.3, 'bank-places' => 0.3, 'high' => 0.2];

    /** Of a part with several outputs so often one fails and the others do not. */
    private const ONE_OUTPUT = 0.75;

    /** How often it is these two of many traces that touch, where nothing but two wrong bits speaks for it. */
    private const ANY_TWO = 0.125;

    /** How a bit shows that touches one of another byte: the low one wins, wherever that is low. */
    private const LOSING = ['tied' => 0.3, 'low' => 0.05, 'places' => 0.8];

    /** How much less the lines of one multiplexer are lost where several lose their select or enable. */
    private const OF_SEVERAL = 0.1;

    /** How a line of the data bus that a part pulls shows in every bank. */
    private const PULLED = ['low' => 0.9, 'high' => 0.3];

    /** How it shows in every bank when something else that drives the data lines is let do so all the time: the low one wins. */
    private const AGAINST = ['low' => 0.6, 'bank-places' => 0.5, 'bank-unstable' => 0.4, 'high' => 0.1];

    /** How much less surely it is let do so by what that goes by. */
    private const BY_ANOTHER = 0.6;

    /** So many gates up the reset and the clock are followed. */
    private const FAR = 5;

    /** A crack that comes and goes is so much rarer than one that stays; as with other parts. */
    private const COMING = 0.1;

    private const PER_RUN = 0.5;

    /** Kinds of evidence in which bits read otherwise than they were written, at one and the same place. */
    private const READ_WRONG = ['high' => true, 'low' => true, 'places' => true, 'bank-places' => true];

    /** How surely two traces that touch are seen as two bits that follow each other. */
    private const TIED = 0.97;

    /** Of the addresses that differ in one of two lines that touch so many are the same. */
    private const TOUCHING = 0.6;

    public const ELSEWHERE = 'elsewhere';

    /** Of a channel of a multiplexer so much is its input. */
    private const AN_INPUT = 0.33;

    /** A leg that does not touch in its socket does again so often; common practice, as of any contact. */
    private const IN_ITS_SOCKET = ['reseat' => 0.8, 'clean' => 0.85];

    /** How much less likely what is not on the profile is where the whole board is drawn. */
    private const DRAWN = 0.7;

    public const SECOND_MACHINE = 'second machine';

    /** The faults of so many boards are kept: they follow from the board and the modes, which do not change. */
    private const KEPT = 4;

    /** @var array<string, float>|null */
    private ?array $against = null;

    /** @var array<string, SuspectedFault> */
    private array $byId = [];

    /** @var array<string, array<string, list<SuspectedFault>>> position => mode => the faults of the part that came there */
    private array $ofSeat = [];

    /** @var array<string, list<string>>|null input => what listens to the address lines that follow it */
    private ?array $passesOn = null;

    /** @var array<string, list<array{bank: string, role: string}>>|null part => what it enables */
    private ?array $enabling = null;

    /** @var array<string, array<string, true>> bank => parts that lead to what serves it */
    private array $leading = [];

    /** @var array<string, true>|null pins that stop the processor */
    private ?array $stopping = null;

    /** @var list<self> those asked for last */
    private static array $kept = [];

    private readonly Structure $structure;

    private readonly LinesToMemory $toMemory;

    private function __construct(private readonly BoardProfile $board, private readonly FailureModes $modes)
    {
        $this->structure = Structure::of($board);
        $this->toMemory = new LinesToMemory($this->structure);
    }

    public static function of(BoardProfile $board, FailureModes $modes): self
    {
        foreach (self::$kept as $faults) {
            if ($faults->board === $board && $faults->modes === $modes) {
                return $faults;
            }
        }
        $faults = self::build($board, $modes);
        self::$kept = [$faults, ...array_slice(self::$kept, 0, self::KEPT - 1)];

        return $faults;
    }

    private static function build(BoardProfile $board, FailureModes $modes): self
    {
        $faults = new self($board, $modes);
        foreach ($board->banks as $bank) {
            $faults->chips($bank);
            $faults->nets($bank);
        }
        $faults->servers();
        $faults->beyondTheirBanks();
        $faults->links();
        $faults->assemblies();
        $faults->others();
        // Of a board whose netlist is there less is left that is not on its profile.
        $unknown = 1.0 - self::DRAWN * count(array_intersect_key($board->chips, array_flip($board->netlist->chips()))) / max(1, count($board->chips));
        foreach ($modes->of('elsewhere') as $mode) {
            if (str_starts_with($mode->name, 'one data bit')) {
                for ($line = 0; $line < $board->bus->dataWidth; $line++) {
                    $faults->add(self::ELSEWHERE, SiteKind::Elsewhere, $mode, null, [$line], null, "D{$line}", share: $unknown);
                }
            } else {
                $faults->add(self::ELSEWHERE, SiteKind::Elsewhere, $mode, null, null, null, share: $unknown);
            }
        }

        return $faults;
    }

    /**
     * @return list<SuspectedFault> with the machine as it came
     */
    public function all(): array
    {
        return array_values($this->byId);
    }

    /**
     * The faults of a part that was fitted, or that a second machine lent: those of the position it was fitted in.
     *
     * @return list<SuspectedFault>
     */
    public function ofFitted(string $part, string $seat, float $factor): array
    {
        $faults = [];
        foreach ($this->ofSeat[$seat] ?? [] as $sameMode) {
            foreach ($sameMode as $fault) {
                $faults[] = $fault->carriedBy($part, max(1e-7, $fault->prior * $factor));
            }
        }

        return $faults;
    }

    /**
     * The faults of the traces that were looked at: broken before any of their pins, or held. Those of other traces are
     * left to what is not on the profile.
     *
     * @param  list<Evidence>  $evidence
     * @return list<SuspectedFault>
     */
    public function traces(array $evidence): array
    {
        $faults = [];
        $coming = self::isComing($evidence);
        $mended = [];
        foreach ($coming ? $evidence : [] as $seen) {
            $mended += $seen->state->mended;
        }
        foreach ([$this->toMemory->suspected($evidence), ...array_map(static fn (Evidence $seen): array => in_array($seen->kind, Evidence::OF_TRACES, true) ? array_keys($seen->strengths) : [], $evidence)] as $ids) {
            foreach ($ids as $id) {
                $trace = SignalEvidence::trace((string) $id);
                $net = $trace === null ? null : $this->board->netlist->nets[$trace['net']] ?? null;
                if ($net === null || isset($faults[$id])) {
                    continue;
                }
                foreach ($this->modes->of('trace') as $mode) {
                    $name = $trace['mode'];
                    if (str_starts_with($name, $mode->name)) {
                        $prior = $mode->prior / ($mode->name === 'open' ? 2 * count($net->pins) : 1);
                        [$banks, $lines, $addresses, $shows] = $this->memoryBehind($net, $name);
                        $socketed = ($this->board->chips[Netlist::chipOf(SignalEvidence::liftedPin($name) ?? '')] ?? null)->socketed ?? false;
                        $shows = [...$mode->shows, ...($this->isOneOfSeveral($net, $name) ? array_map(static fn (float $strength): float => self::OF_SEVERAL_INPUTS * $strength, $shows) : $shows)];
                        $perRun = $mode->perRun;
                        if ($coming && $mode->name === 'open' && ! isset($mended[$net->name])) {
                            [$prior, $perRun] = [self::COMING * $prior, self::PER_RUN];
                            $shows = array_map(static fn (float $strength): float => self::PER_RUN * $strength, $shows);
                        }
                        $faults[$id] = new SuspectedFault((string) $id, $net->name, SiteKind::Net, new FailureMode($mode->cause, $name, $prior, $shows, $socketed ? [...$mode->relief, ...self::IN_ITS_SOCKET] : $mode->relief, $mode->under, $perRun, $this->crash($net, $name, $mode->crash), true), $banks, $lines, $addresses, null, $net->name, '', 0, $prior);
                    }
                }
            }
        }

        return array_values($this->tied($evidence) + $this->pulling($evidence) + $this->outputsAlone($evidence) + $faults + ($coming ? $this->nowAndThen() : []));
    }

    /**
     * What serves the memory, as it fails now and then: beside the ways in which it fails for good.
     *
     * @return array<string, SuspectedFault>
     */
    private function nowAndThen(): array
    {
        $faults = [];
        foreach ($this->byId as $fault) {
            $mode = $fault->mode;
            if (in_array($fault->kind, [SiteKind::Buffer, SiteKind::Multiplexer, SiteKind::Select, SiteKind::Strobe], true) && $fault->part !== null && $mode->perRun === 0.0 && ! isset($mode->relief['reseat'])) {
                $id = "{$fault->id}, now and then";
                // What reads wrong now and right then differs between reads.
                $differs = $fault->lines !== null && count($fault->lines) === 1 ? 'unstable' : 'bank-unstable';
                $shows = array_map(static fn (float $strength): float => self::PER_RUN * $strength, [...$mode->shows, $differs => max([0.0, ...array_intersect_key($mode->shows, self::READ_WRONG)])]);
                $prior = self::COMING * $fault->prior;
                $faults[$id] = new SuspectedFault($id, $fault->site, $fault->kind, new FailureMode($mode->cause, $mode->name, $prior, $shows, $mode->relief, $mode->under, self::PER_RUN, self::PER_RUN * $mode->crash, $mode->ofPlace, $mode->hides), $fault->banks, $fault->lines, $fault->addressLines, $fault->part, $fault->seat, $fault->assembly, $fault->onset, $prior, $fault->outputs);
            }
        }

        return $faults;
    }

    /**
     * Whether power-ons with the same parts in were clean, and others were not; or a diagnostic passed, and did not; or all of a
     * bank gave different answers: what is left comes and goes, a crack too.
     *
     * @param  list<Evidence>  $evidence
     */
    private static function isComing(array $evidence): bool
    {
        $failed = array_filter($evidence, static fn (Evidence $seen): bool => $seen->kind === Evidence::COMPLAINT && $seen->abnormal && str_ends_with($seen->id, '/failed'));
        foreach ($failed === [] ? [] : $evidence as $seen) {
            if ($seen->kind === Evidence::CLEAN && array_filter($failed, static fn (Evidence $other): bool => $other->state->sameParts($seen->state)) !== []) {
                return true;
            }
        }

        if (array_filter($evidence, static fn (Evidence $seen): bool => $seen->abnormal && $seen->kind === 'bank-unstable') !== []) {
            return true;
        }
        $runs = array_filter($evidence, static fn (Evidence $seen): bool => $seen->runs !== null);
        foreach ($runs as $one) {
            foreach (in_array(DiagnosticResult::PASS, $one->runs->results ?? [], true) ? $runs : [] as $other) {
                if ($one->runs?->diagnostic === $other->runs?->diagnostic && array_diff($other->runs->results ?? [], [DiagnosticResult::PASS]) !== [] && $one->state->sameParts($other->state) && $one->state->settings->key() === $other->state->settings->key()) {
                    return true;
                }
            }
        }

        return false;
    }

    /**
     * Where a line was seen to be pulled at an input of a part, or to be low though nothing drives it: that the part pulls it,
     * which shows as any short of the line does.
     *
     * @param  list<Evidence>  $evidence
     * @return array<string, SuspectedFault>
     */
    private function pulling(array $evidence): array
    {
        $held = $this->held();
        if ($held === null) {
            return [];
        }
        $faults = [];
        foreach ($evidence as $seen) {
            foreach (in_array($seen->kind, [Evidence::DROP, Evidence::PROBE], true) && $seen->abnormal ? array_keys($seen->strengths) : [] as $id) {
                [$ref, $mode] = [...explode('/', (string) $id, 2), ''];
                $net = $this->board->netlist->nets[SignalEvidence::pulled($mode) ?? ''] ?? null;
                if ($net === null) {
                    continue;
                }
                $kind = array_values(array_filter($this->byId, static fn (SuspectedFault $fault): bool => $fault->site === $ref))[0]->kind ?? SiteKind::Part;
                [$banks, $lines, $addresses, $shows] = $this->memoryBehind($net, $held->name);
                $line = $net->kind === 'data' ? self::numberOf($net) : null;
                if ($line !== null) {
                    // A line of the bus shows whatever is read there; the low one wins.
                    [$banks, $lines, $shows] = [null, [$line], self::PULLED];
                }
                $faults[(string) $id] = new SuspectedFault((string) $id, $ref, $kind, new FailureMode($held->cause, $mode, $held->prior, [...$held->shows, ...$shows], [], crash: $this->crash($net, $held->name, $held->crash)), $banks, $lines, $addresses, $ref, $ref, $this->board->chips[$ref]->assembly ?? '', 0, $held->prior);
            }
        }

        return $faults;
    }

    /**
     * Of a part with several outputs mostly one fails. Where one was seen to be wrong: that it alone has failed, which shows as
     * when its line is held, and leaves what its other outputs serve.
     *
     * @param  list<Evidence>  $evidence
     * @return array<string, SuspectedFault>
     */
    private function outputsAlone(array $evidence): array
    {
        $faults = [];
        foreach ($evidence as $seen) {
            foreach (in_array($seen->kind, [Evidence::PROBE, Evidence::CONTENTION], true) && $seen->abnormal ? array_keys($seen->strengths) : [] as $site) {
                $output = SignalEvidence::outputOf((string) $site);
                $dead = $output === null ? null : $this->ofSeat[Netlist::chipOf($output)]['dead'][0] ?? null;
                if ($output === null || $dead === null || $this->isOwn($output)) {
                    continue;
                }
                foreach ($this->failingAlone($this->board->chips[$dead->seat], $dead->mode, [$output]) as ['mode' => $mode, 'banks' => $banks, 'lines' => $lines, 'addresses' => $addresses, 'share' => $share]) {
                    $id = "{$dead->seat}/{$mode->name}/".Netlist::numberOf($output);
                    $faults[$id] ??= new SuspectedFault($id, $dead->site, $dead->kind, $mode, $banks, $lines, $addresses, $dead->part, $dead->seat, $dead->assembly, 0, $share * $mode->prior, [$output]);
                }
            }
        }

        return $faults;
    }

    /**
     * How outputs of a part with several fail alone.
     *
     * @param  list<string>  $outputs  pins
     * @return array<string, array{mode: FailureMode, banks: list<string>|null, lines: list<int>|null, addresses: list<int>|null, share: float}> by output, with its share of what fails of the part; none where the part is no logic
     */
    private function failingAlone(Chip $chip, FailureMode $dead, array $outputs): array
    {
        $held = $this->held();
        $several = $this->structure->outputsOf($chip->ref);
        if ($held === null || $several < 2 || ! in_array($chip->kind(), ['logic', 'programmed'], true)) {
            return [];
        }
        $alone = [];
        foreach ($outputs as $output) {
            $net = $this->board->netlist->netOf($output);
            if ($net !== null) {
                [$banks, $lines, $addresses, $shows] = $this->memoryBehind($net, $held->name);
                $share = $this->against()[$output] ?? 0.0;
                foreach ($share > 0.0 ? self::AGAINST : [] as $kind => $strength) {
                    $banks ??= array_map(static fn (Bank $bank): string => $bank->name, array_values($this->board->banks));
                    $shows[$kind] = max($shows[$kind] ?? 0.0, $share * $strength);
                }
                $warmth = array_intersect_key($dead->shows, [Evidence::HOT => 0, Evidence::COLD => 0]);
                $mode = new FailureMode($dead->cause, 'output stuck', $dead->prior, [...$warmth, ...$shows], $dead->relief, crash: $this->crash($net, $held->name, $held->crash));
                $alone[$output] = ['mode' => $mode, 'banks' => $banks, 'lines' => $lines, 'addresses' => $addresses, 'share' => self::ONE_OUTPUT / $several];
            }
        }

        return $alone;
    }

    private function held(): ?FailureMode
    {
        return array_values(array_filter($this->modes->of('trace'), static fn (FailureMode $mode): bool => $mode->name === SignalEvidence::HELD))[0] ?? null;
    }

    /** Whether an output is the subject of a fault already, whatever was seen. */
    private function isOwn(string $output): bool
    {
        foreach ($this->ofSeat[Netlist::chipOf($output)] ?? [] as $faults) {
            foreach ($faults as $fault) {
                if (in_array($output, $fault->outputs, true)) {
                    return true;
                }
            }
        }

        return false;
    }

    /**
     * Where two bits follow each other, or two alone are wrong in places that are never read together: the traces of theirs that
     * can touch, on the bus and at the memory.
     *
     * @param  list<Evidence>  $evidence
     * @return array<string, SuspectedFault>
     */
    private function tied(array $evidence): array
    {
        $faults = [];
        $modes = array_filter($this->modes->of('trace'), static fn (FailureMode $mode): bool => $mode->name === 'shorted to');
        $pairs = array_map(static fn (Evidence $seen): array => [$seen->lines, 1.0, ['tied' => self::TIED, 'low' => 0.3]], array_values(array_filter($evidence, static fn (Evidence $seen): bool => $seen->abnormal && $seen->kind === 'tied' && count($seen->lines) === 2)));
        foreach ($this->twoAlone($evidence) as $lines) {
            $pairs[] = [$lines, self::ANY_TWO, self::LOSING];
        }
        foreach ($pairs as [$lines, $share, $shows]) {
            foreach ($this->pairsOf($lines[0], $lines[1]) as [$one, $other, $banks]) {
                foreach ($modes as $mode) {
                    $id = SignalEvidence::shorted($one, $other);
                    $onBus = $banks === null;
                    $faults[$id] ??= new SuspectedFault($id, $one, SiteKind::Net, new FailureMode($mode->cause, "shorted to {$other}", $share * $mode->prior, [...$mode->shows, ...$shows], $mode->relief, $mode->under, $mode->perRun, $onBus ? self::CRASH : $mode->crash, true), $banks, $lines, null, null, $one, '', 0, $share * $mode->prior);
                }
            }
        }

        return $faults;
    }

    /**
     * Where two bits of different bytes of a bank are wrong in places, and no others in any way: byte by byte it cannot be read
     * whether they follow each other.
     *
     * @param  list<Evidence>  $evidence
     * @return list<list<int>> two lines each
     */
    private function twoAlone(array $evidence): array
    {
        $wrong = [];
        foreach ($evidence as $seen) {
            foreach ($seen->abnormal && in_array($seen->kind, ['high', 'low', 'places', 'unstable'], true) ? $seen->lines : [] as $line) {
                $wrong["{$seen->banks[0]} {$seen->state->key()}"][$line] = ($wrong["{$seen->banks[0]} {$seen->state->key()}"][$line] ?? true) && $seen->kind === 'places';
            }
        }
        $pairs = [];
        foreach ($wrong as $inPlaces) {
            $lines = array_keys($inPlaces);
            sort($lines);
            if (count($lines) === 2 && ! in_array(false, $inPlaces, true) && $lines[0] >> 3 !== $lines[1] >> 3) {
                $pairs[implode(' ', $lines)] = $lines;
            }
        }

        return array_values($pairs);
    }

    /**
     * @return list<array{string, string, list<string>|null}> two traces of two data lines, and the banks they carry; null for the bus
     */
    private function pairsOf(int $a, int $b): array
    {
        $netlist = $this->board->netlist;
        $names = [];
        /** @var array<string, list<string>> $banks */
        $banks = [];
        foreach ($this->board->banks as $bank) {
            $pair = [];
            foreach ([$a, $b] as $line) {
                $net = $netlist->netOf($this->board->dataPin($bank, $line) ?? '');
                $pair = $net === null ? $pair : [...$pair, $net->name];
            }
            if (count($pair) === 2) {
                sort($pair, SORT_NATURAL);
                $key = implode(' ', $pair);
                $names[$key] = [$pair[0], $pair[1]];
                $banks[$key][] = $bank->name;
            }
        }

        // Those of the bus, where the memory hangs on them or behind a buffer, show everywhere.
        $bus = isset($netlist->nets["D{$a}"], $netlist->nets["D{$b}"]) ? ["D{$a} D{$b}" => ["D{$a}", "D{$b}"]] : [];

        return array_map(static fn (array $pair, string $key): array => [$pair[0], $pair[1], isset($bus[$key]) ? null : $banks[$key]], array_values($bus + $names), array_keys($bus + $names));
    }

    /**
     * A line of the processor's bus that is lost takes its programme with it, and so does one that a ROM is read by, beyond a
     * buffer; not where only a connector loses it, nor where only the memory does: a test ROM goes on without.
     */
    private function crash(Net $net, string $mode, float $chance): float
    {
        $processor = $this->board->processor->chip ?? '';
        $onBus = array_filter($net->pins, static fn (string $pin): bool => Netlist::chipOf($pin) === $processor) !== [];
        $lost = $this->ofParts(SignalEvidence::cutOff($this->board, $net, $mode));

        return match (true) {
            $lost === [] => 0.0,
            $this->isOneOfSeveral($net, $mode) => max($chance, self::UNSELECTED),
            ($net->kind === 'clock' || $this->structure->isResetLine($net)) && array_intersect_key(array_flip($lost), $this->stopping()) !== [] => max($chance, self::CRASH),
            $onBus && $this->isWhole($net, $lost) => max($chance, self::NO_BUS),
            $onBus && array_diff(array_map(Netlist::chipOf(...), $lost), $this->ofMemory()) !== [] => max($chance, self::CRASH),
            array_intersect(array_map(Netlist::chipOf(...), $lost), $this->board->programmes()) !== [] => max($chance, in_array($net->kind, ['address', 'data'], true) ? self::CRASH : self::OUTPUT_UNSELECTED),
            array_diff(array_map(Netlist::chipOf(...), $lost), $this->ofMemory()) === [] => min($chance, self::MEMORY_ALONE),
            default => $chance,
        };
    }

    /**
     * @param  list<string>  $pins
     * @return list<string> those of parts that do something, not of connectors and resistors
     */
    private function ofParts(array $pins): array
    {
        return array_values(array_filter($pins, fn (string $pin): bool => ! in_array(($this->board->chips[Netlist::chipOf($pin)] ?? null)?->kind(), ['connector', 'discrete', null], true)));
    }

    /**
     * Whether the processor is cut off from all of a line of its data or addresses.
     *
     * @param  list<string>  $lost  pins
     */
    private function isWhole(Net $net, array $lost): bool
    {
        $others = array_filter($this->ofParts($net->pins), fn (string $pin): bool => Netlist::chipOf($pin) !== $this->board->processor?->chip);

        return in_array($net->kind, ['address', 'data'], true) && array_diff($others, $lost) === [];
    }

    /** Whether only inputs are lost of parts that decode the line, and pass it on to nobody: it is one of several, and may be done without. */
    private function isOneOfSeveral(Net $net, string $mode): bool
    {
        if ($mode === SignalEvidence::HELD) {
            return false;
        }
        $drivers = $this->structure->driversOf($net);
        foreach ($this->ofParts(SignalEvidence::cutOff($this->board, $net, $mode)) as $pin) {
            $ref = Netlist::chipOf($pin);
            $decodes = match ($this->board->chips[$ref]->kind()) {
                'programmed' => true,
                'logic' => $this->structure->carrying($ref, $net) === [],
                default => false,
            };
            if (! $decodes || in_array($pin, $drivers, true) || isset($this->stopping()[$pin])) {
                return false;
            }
        }

        return true;
    }

    /**
     * @return list<string> memory chips, and what leads addresses, data and strobes to them alone
     */
    private function ofMemory(): array
    {
        $chips = [];
        foreach ($this->board->banks as $bank) {
            array_push($chips, ...$bank->chips(), ...array_map(static fn (Server $server): string => $server->chip, [...$bank->serversIn('multiplexer'), ...$bank->serversIn('buffer'), ...$bank->serversIn('strobe')]));
        }

        return array_values(array_unique($chips));
    }

    /**
     * The memory that a broken or held trace reaches no more, and how that shows there.
     *
     * @return array{list<string>|null, list<int>|null, list<int>|null, array<string, float>} banks, data lines, address lines, kind of evidence => chance
     */
    private function memoryBehind(Net $net, string $mode): array
    {
        $from = SignalEvidence::cutOff($this->board, $net, $mode);
        $other = $this->board->netlist->nets[SignalEvidence::trace("{$net->name}/{$mode}")['other'] ?? ''] ?? null;
        if ($other !== null && $other->kind === $net->kind) {
            // What two carry that touch is lost in either.
            $from = [...$from, ...SignalEvidence::cutOff($this->board, $other, SignalEvidence::HELD)];
        }
        $banks = $lines = $addresses = [];
        $data = false;
        foreach ($from as $pin) {
            $ref = Netlist::chipOf($pin);
            foreach (($this->board->chips[$ref] ?? null)?->kind() === 'dram' ? $this->board->banks : [] as $bank) {
                foreach ($bank->linesOf($ref) as $line) {
                    $banks[$bank->name] = $bank->name;
                    $lines[$line] = $line;
                    $data = $data || in_array(Netlist::numberOf($pin), $this->board->chips[$ref]->dataPins, true);
                }
                // An address pin carries a row bit, then a column bit.
                $carries = preg_match('/^A(\d+)$/', $this->board->netlist->pin($pin)->name ?? '', $match) === 1 ? (int) $match[1] : null;
                foreach ($carries === null || $bank->multiplex === null ? [] : [$bank->multiplex->row, $bank->multiplex->column] as $bits) {
                    if (isset($bits[$carries])) {
                        $addresses[$bits[$carries]] = $bits[$carries];
                    }
                }
            }
        }
        if ($lines === []) {
            return $this->servedBehind($net, $from);
        }
        if ($net->kind === 'data') {
            // What is written comes by it, and what is read goes through a buffer: that may serve further banks.
            [$served, $itsLines, , $shows] = $this->servedBehind($net, $from);
            if (array_diff($served ?? [], $banks) !== []) {
                return [array_values(array_unique([...array_values($banks), ...$served ?? []])), array_values(array_unique([...array_values($lines), ...$itsLines ?? []])), null, $shows];
            }
        }

        return [array_values($banks), array_values($lines), $addresses === [] || $data ? null : array_values($addresses), match (true) {
            $data => ['high' => 0.8, 'low' => 0.2],
            // Of two that touch the low one wins: addresses are the same only where the other is low, which looks as if more were lost.
            $addresses !== [] && $other !== null => ['places' => 0.5, 'alias' => 0.5, 'bank-alias' => self::TOUCHING, 'bank-multiplexer' => 0.3, 'bank-places' => 0.4],
            // Where few chips lose it, the bank as a whole does not.
            $addresses !== [] && ! $this->areMost($banks, $lines) => ['places' => 0.85, 'alias' => 0.9, 'high' => 0.2],
            $addresses !== [] => ['places' => 0.85, 'alias' => 0.8, 'high' => 0.2, 'bank-alias' => 0.8, 'bank-places' => 0.5],
            // A strobe or a write line: nothing of it is read or written any more.
            default => ['high' => 0.7, 'low' => 0.15, 'places' => 0.3, 'bank-places' => 0.3, 'bank-unstable' => 0.4, 'unstable' => 0.3],
        }];
    }

    /**
     * Whether these are most data lines of one of some banks.
     *
     * @param  array<string, string>  $banks
     * @param  array<int, int>  $lines
     */
    private function areMost(array $banks, array $lines): bool
    {
        foreach ($banks as $bank) {
            $all = $this->board->banks[$bank]->lines();
            if (2 * count(array_intersect($all, $lines)) > count($all)) {
                return true;
            }
        }

        return false;
    }

    /**
     * The banks that are served by what loses a net: as when the server itself had failed, for a data or an address line in
     * that line alone.
     *
     * @param  list<string>  $lost  pins
     * @return array{list<string>|null, list<int>|null, list<int>|null, array<string, float>}
     */
    private function servedBehind(Net $net, array $lost): array
    {
        $chips = array_flip(array_map(Netlist::chipOf(...), [...$lost, ...$this->passedOn($net, $lost)]));
        $goes = in_array($net->kind, ['data', 'address'], true) ? [] : $this->goesOn($lost);
        $chips += array_flip(array_merge(...array_values($goes)));
        $number = self::numberOf($net) ?? ($net->kind === 'data' ? $this->lineOf($net) : $this->gatedAddress($net));
        $banks = $shows = $switched = [];
        $leads = false;
        foreach ($this->board->banks as $bank) {
            foreach ($bank->servers as $server) {
                $serves = match ($net->kind) {
                    'data' => $server->role === 'buffer' && $number !== null && $server->carries("D{$number}"),
                    // An address line leads to the memory through its multiplexer, and selects it.
                    'address' => $server->role === 'multiplexer' ? $number !== null && $server->carries("A{$number}") : in_array($server->role, ['select', 'strobe'], true),
                    // What a picture generator gives a multiplexer is one of its channels: the processor goes by another.
                    default => $server->role !== 'supply' && ($server->role !== 'multiplexer' || ! $this->isChannel($server->chip, $lost, in_array($net->kind, ['control', 'clock'], true))),
                };
                // A part whose outputs that go by this lead elsewhere serves the bank by others.
                $serves = $serves && (! isset($goes[$server->chip]) || array_intersect($goes[$server->chip], [...$bank->chips(), ...array_map(static fn (Server $each): string => $each->chip, $bank->servers)]) !== []);
                if ($serves && isset($chips[$server->chip])) {
                    $banks[$bank->name] = $bank->name;
                    $leads = $leads || $server->role === 'multiplexer' || $net->kind === 'data';
                    if ($server->role === 'multiplexer' && $net->kind === 'control') {
                        $switched[$bank->name][$server->chip] = $server->addressLines();
                    }
                    foreach (match ($server->role === 'multiplexer' || $net->kind === 'data' ? $net->kind : '') {
                        'data' => ['high' => 0.8, 'low' => 0.2],
                        'address' => ['bank-alias' => 0.9, 'alias' => 0.8, 'bank-places' => 0.4],
                        'control' => self::SWITCHED,
                        default => self::BEHIND[$server->role] ?? [],
                    } as $kind => $strength) {
                        $shows[$kind] = max($shows[$kind] ?? 0.0, $strength);
                    }
                }
            }
        }

        foreach ($goes === [] ? [] : $this->board->banks as $bank) {
            // A strobe that goes by this to the memory itself.
            if (! isset($banks[$bank->name]) && array_intersect($bank->chips(), array_merge(...array_values($goes))) !== []) {
                $banks[$bank->name] = $bank->name;
                foreach (self::BEHIND['strobe'] as $kind => $strength) {
                    $shows[$kind] = max($shows[$kind] ?? 0.0, $strength);
                }
            }
        }

        foreach ($banks === [] && ! in_array($net->kind, ['data', 'address'], true) ? $this->board->banks : [] as $bank) {
            // Further up: what selects the bank, or strobes it, goes by what goes by this.
            if (array_intersect_key($chips, $this->leadingToServers($bank)) !== []) {
                $banks[$bank->name] = $bank->name;
                $shows = self::FURTHER;
            }
        }

        if ($this->parts($net, $lost)) {
            $banks = array_map(static fn (Bank $bank): string => $bank->name, $this->board->banks);
            foreach (self::STANDING as $kind => $strength) {
                $shows[$kind] = max($shows[$kind] ?? 0.0, $strength);
            }
        }

        // Multiplexers that are all switched by it do not lose the lines of one of them.
        $switchedAlone = $switched !== [] && max(array_map(count(...), $switched)) === 1;
        if ($switched !== [] && ! $switchedAlone) {
            $shows['bank-multiplexer'] = self::OF_SEVERAL * ($shows['bank-multiplexer'] ?? 0.0);
        }
        $lane = $net->kind === 'control' ? $this->toMemory->laneOf(array_map(strval(...), array_keys($chips))) : [];
        $lines = $lane === [] ? null : $lane;

        return $banks === [] ? [null, null, null, []] : [array_values($banks), $net->kind === 'data' ? [(int) $number] : $lines, match (true) {
            $net->kind === 'address' && $leads => [(int) $number],
            $switchedAlone && array_diff_key($shows, self::SWITCHED) === [] => array_values(array_unique(array_merge(...array_map(static fn (array $of): array => array_merge(...array_values($of)), array_values($switched))))),
            default => null,
        }, $shows];
    }

    /**
     * Whether all that is lost at a part comes to one of its outputs each, and switches none.
     *
     * @param  list<string>  $lost  pins
     * @param  bool  $further  whether what comes to it by way of another part may switch it
     */
    private function isChannel(string $ref, array $lost, bool $further): bool
    {
        $at = array_values(array_filter($lost, static fn (string $pin): bool => Netlist::chipOf($pin) === $ref));
        foreach ($at as $pin) {
            $reached = 0;
            foreach ($this->structure->unitsOf($ref) as $unit) {
                foreach ($unit->outputs as $output) {
                    $reached += (int) in_array($pin, $this->structure->inputsOf("{$ref}.{$output->pin}"), true);
                }
            }
            if ($reached !== 1) {
                return false;
            }
        }

        return $at !== [] || ! $further;
    }

    /**
     * What a buffer passes an address line on to, when it loses it.
     *
     * @param  list<string>  $lost  pins
     * @return list<string> pins
     */
    private function passedOn(Net $net, array $lost): array
    {
        if ($this->passesOn === null) {
            $this->passesOn = [];
            foreach ($this->board->netlist->nets as $other) {
                foreach ($other->kind === 'address' ? $this->structure->driversOf($other) : [] as $driver) {
                    foreach ($this->structure->inputsOf($driver) as $input) {
                        $this->passesOn[$input] = [...$this->passesOn[$input] ?? [], ...$this->board->netlist->loads($other)];
                    }
                }
            }
        }

        return $net->kind === 'address' ? array_merge(...array_values(array_intersect_key($this->passesOn, array_flip($lost)))) : [];
    }

    /**
     * Where the outputs lead that go by some inputs, of parts whose function is known.
     *
     * @param  list<string>  $lost  pins
     * @return array<string, list<string>> part => those that hang on these outputs of it
     */
    private function goesOn(array $lost): array
    {
        $on = $followed = [];
        while ($lost !== []) {
            $pin = array_pop($lost);
            $ref = Netlist::chipOf($pin);
            if (isset($followed[$pin])) {
                continue; // Gates that hold each other lead back.
            }
            $followed[$pin] = true;
            foreach ($this->structure->unitOf($pin) !== null ? [] : $this->structure->unitsOf($ref) as $unit) {
                $on[$ref] ??= [];
                foreach ($unit->outputs as $output) {
                    $name = "{$ref}.{$output->pin}";
                    foreach (in_array($pin, $this->structure->inputsOf($name), true) ? $this->comesTo($this->board->netlist->netOf($name)) : [] as $next) {
                        if (Netlist::chipOf($next) !== $ref) {
                            $on[$ref][] = Netlist::chipOf($next);
                        } elseif ($next !== $name) {
                            $lost[] = $next; // To another gate of the same part.
                        }
                    }
                }
            }
        }

        return $on;
    }

    /**
     * @return list<string> pins of a net, and of those that a link joins to it as the maker sets it
     */
    private function comesTo(?Net $net): array
    {
        return array_merge($net->pins ?? [], ...array_map(static fn (Net $joined): array => $joined->pins, $net === null ? [] : $this->structure->joined($net, [])));
    }

    /** The number of a line of the bus, by its name. */
    private static function numberOf(Net $net): ?int
    {
        return preg_match('/^(?:B?A|D)(\d+)$/', $net->name, $match) === 1 ? (int) $match[1] : null;
    }

    /** The address line that a gate passes on, alone of its inputs; null where there is none. */
    private function gatedAddress(Net $net): ?int
    {
        $numbers = [];
        foreach ($net->kind === 'address' ? $this->structure->driversOf($net) : [] as $driver) {
            foreach ($this->structure->inputsOf($driver) as $input) {
                $from = $this->board->netlist->netOf($input);
                $numbers[] = $from?->kind === 'address' ? self::numberOf($from) : null;
            }
        }
        $numbers = array_values(array_unique(array_filter($numbers, is_int(...))));

        return count($numbers) === 1 ? $numbers[0] : null;
    }

    /** The data line that the memory on a trace gives it; null where there is none. */
    private function lineOf(Net $net): ?int
    {
        foreach ($this->board->banks as $bank) {
            foreach ($bank->lines() as $line) {
                if ($this->board->netlist->netOf($this->board->dataPin($bank, $line) ?? '') === $net) {
                    return $line;
                }
            }
        }

        return null;
    }

    /**
     * What an intervention can have brought about.
     *
     * @return list<SuspectedFault>
     */
    public function born(Hazard $hazard): array
    {
        $seat = $hazard->seat;
        $model = array_values($this->ofSeat[$seat] ?? [])[0][0] ?? null;
        if ($model === null) {
            return [];
        }
        $faults = [];
        foreach ($this->modes->of($hazard->cause) as $mode) {
            $onPart = ! $mode->ofPlace;
            $kind = $mode->cause === 'born-trace' ? SiteKind::Net : $model->kind;
            $site = match (true) {
                $onPart => (string) $hazard->part,
                $mode->cause === 'born-trace' => SignalEvidence::tracesAt($seat),
                default => $seat,
            };
            // Which of several lines it is cannot be known; it shows in each that the part carries.
            $faults[] = new SuspectedFault("{$site}/{$mode->name}/since {$hazard->moment}", $site, $kind, $mode, $model->banks, count($this->ofSeat[$seat][$model->mode->name]) > 1 ? null : $model->lines, null, $onPart ? $hazard->part : null, $seat, $model->assembly, $hazard->moment, $mode->prior);
        }

        return $faults;
    }

    /**
     * The fault as it acts in another position: a stuck output is a stuck output wherever the chip sits, but of the
     * line that is there. Null when a part of another kind sits there.
     */
    public function at(SuspectedFault $fault, string $seat): ?SuspectedFault
    {
        if ($seat === $fault->seat) {
            return $fault;
        }
        $here = $this->ofSeat[$fault->seat][$fault->mode->name] ?? [];
        $there = $this->ofSeat[$seat][$fault->mode->name] ?? [];
        if ($here === [] && $there === []) {
            // Born on the bench: it shows on whatever line its part carries now.
            $model = array_values($this->ofSeat[$seat] ?? [])[0][0] ?? null;

            return $model === null ? null : new SuspectedFault($fault->id, $fault->site, $fault->kind, $fault->mode, $model->banks, $model->lines, null, $fault->part, $fault->seat, $fault->assembly, $fault->onset, $fault->prior);
        }
        foreach ($here as $number => $same) {
            if ($same->lines === $fault->lines && $same->addressLines === $fault->addressLines && $same->banks === $fault->banks) {
                return $there[$number] ?? null;
            }
        }

        return $there[0] ?? null;
    }

    /**
     * @param  list<string>|null  $banks
     * @param  list<int>|null  $lines
     * @param  list<int>|null  $addresses
     * @param  list<string>  $outputs
     */
    private function add(string $site, SiteKind $kind, FailureMode $mode, ?array $banks, ?array $lines, ?array $addresses, string $detail = '', ?string $seat = null, float $share = 1.0, array $outputs = []): void
    {
        $id = "{$site}/{$mode->name}".($detail === '' ? '' : "/{$detail}");
        $seat ??= $site;
        $held = $this->held();
        if ($held !== null) {
            foreach ($outputs as $output) {
                $net = $this->board->netlist->netOf($output);
                if ($net !== null && count($this->structure->driversOf($net)) === 1) {
                    // An output that alone drives its line leads as far astray as the line does when it is held.
                    $mode = $mode->crashing(max($mode->crash, $this->crash($net, $held->name, $held->crash)));
                }
            }
        }
        $chip = $this->board->chips[$seat] ?? null;
        $part = ! $mode->ofPlace && ($chip !== null ? $kind !== SiteKind::Net && $kind !== SiteKind::Pin : $kind === SiteKind::Assembly) ? $seat : null;
        // A contact that can be disturbed is one in a socket; a soldered leg rarely loses touch.
        $prior = $mode->name === 'bad contact' && $chip !== null && ! $chip->socketed && $kind !== SiteKind::Chip ? $mode->prior * 0.25 : $mode->prior * $share;
        $fault = new SuspectedFault($id, $site, $kind, $mode, $banks, $lines, $addresses, $part, $seat, $kind === SiteKind::Assembly ? $seat : $this->board->chips[strtok($seat, '.')]->assembly ?? '', 0, $prior, $outputs);
        if (! isset($this->byId[$id]) && $part !== null) {
            $this->ofSeat[$seat][$mode->name][] = $fault;
        }
        $this->byId[$id] = $fault;
    }

    private function chips(Bank $bank): void
    {
        foreach ($bank->chips() as $chip) {
            $lines = $bank->linesOf($chip);
            foreach ($this->modes->of('chip') as $mode) {
                if (count($lines) > 1 && str_starts_with($mode->name, 'output stuck')) {
                    foreach ($lines as $line) {
                        // One chip is no likelier to be bad for having several outputs.
                        $this->add($chip, SiteKind::Chip, $mode, [$bank->name], [$line], null, "D{$line}", share: 1.0 / count($lines));
                    }
                } else {
                    $this->add($chip, SiteKind::Chip, $mode, [$bank->name], $lines, null);
                }
            }
            $this->onLine($bank, $chip, $lines);
            foreach ($this->board->netlist->netOf("{$chip}.1") === null ? [] : $this->modes->of('chip-traces') as $mode) {
                $this->add(SignalEvidence::linesAt($chip), SiteKind::Net, $mode, [$bank->name], $lines, null, seat: $chip);
            }
            $pins = $this->board->chips[$chip]->dataPins ?? [];
            foreach ($this->modes->of('pin') as $mode) {
                foreach ($lines as $number => $line) {
                    // Where the pinout is not known the line at that chip is named instead.
                    $site = isset($pins[$number]) ? "{$chip}.{$pins[$number]}" : "D{$line} at {$chip}";
                    $this->add($site, SiteKind::Pin, $mode, [$bank->name], [$line], null);
                }
            }
        }
    }

    /**
     * A chip that goes on driving when another bank is read.
     *
     * @param  list<int>  $lines
     */
    private function onLine(Bank $bank, string $chip, array $lines): void
    {
        $others = array_filter($this->board->banks, static fn (Bank $other): bool => $other !== $bank && array_intersect($lines, $other->lines()) !== []);
        $banks = array_values(array_unique([$bank->name, ...array_map(static fn (Bank $other): string => $other->name, array_values($others))]));
        foreach ($others === [] ? [] : $this->modes->of('chip-on-line') as $mode) {
            foreach ($lines as $line) {
                $this->add($chip, SiteKind::Chip, $mode, $banks, [$line], null, count($lines) > 1 ? "D{$line}" : '', share: 1.0 / count($lines));
            }
        }
    }

    private function nets(Bank $bank): void
    {
        foreach ($this->modes->of('net') as $mode) {
            foreach ($bank->lines() as $line) {
                if ($mode->name === 'short to its neighbour') {
                    // Any two lines of a lane: neighbours on the board need not be neighbours by number.
                    for ($other = $line + 1; $other <= ($line | 7) && isset($bank->chipOfLine[$other]); $other++) {
                        if ($this->pairsOf($line, $other) !== []) {
                            continue; // Their traces are known, and thought of once the bits follow each other.
                        }
                        $this->add("D{$line}+D{$other}", SiteKind::Net, $mode, null, [$line, $other], null);
                    }
                } else {
                    $this->add("D{$line}", SiteKind::Net, $mode, null, [$line], null);
                }
            }
        }
        foreach ($this->modes->of('address') as $mode) {
            foreach ([...$bank->multiplex->row ?? [], ...$bank->multiplex->column ?? []] as $line) {
                $this->add("A{$line}", SiteKind::Net, $mode, null, null, [$line]);
            }
        }
    }

    private function servers(): void
    {
        $services = [];
        foreach ($this->board->banks as $bank) {
            foreach (['select', 'strobe', 'multiplexer', 'buffer', 'refresh', 'supply'] as $role) {
                $servers = $bank->serversIn($role);
                foreach ($servers === [] ? [new Server("{$role} of bank {$bank->name}", $role, [])] : $servers as $server) {
                    $services["{$role} {$server->chip}"] ??= ['role' => $role, 'site' => $server->chip, 'banks' => [], 'lines' => []];
                    $services["{$role} {$server->chip}"]['banks'][] = $bank->name;
                    array_push($services["{$role} {$server->chip}"]['lines'], ...$server->lines);
                }
            }
        }
        foreach ($services as ['role' => $role, 'site' => $site, 'banks' => $banks, 'lines' => $carried]) {
            $kind = SiteKind::from($role);
            $carrying = new Server($site, $role, array_values(array_unique($carried)));
            [$data, $addresses] = [$carrying->dataLines(), $carrying->addressLines()];
            $all = array_values(array_unique([...$banks, ...array_column($this->enabling()[$site] ?? [], 'bank')]));
            foreach ($this->modes->of($role) as $mode) {
                if ($role === 'buffer' && $mode->name !== 'dead or the wrong way') {
                    foreach ($data === [] ? range(0, $this->board->bus->dataWidth - 1) : $data as $line) {
                        $this->add($site, $kind, $mode, $banks, [$line], null, "D{$line}", outputs: $this->carrying($site, "D{$line}"));
                    }
                } elseif ($mode->name === 'output stuck') {
                    foreach ($this->inTurn($site, $addresses) as $output => $lines) {
                        $this->add($site, $kind, $mode, $banks, null, $lines, (string) $output, outputs: [(string) $output]);
                    }
                } elseif ($mode->name === 'channel dead' && $addresses !== []) {
                    $known = array_merge(...array_values($this->inTurn($site, $addresses)));
                    foreach ($addresses as $line) {
                        // Where its output is a fault of its own, its input is left.
                        $this->add($site, $kind, $mode, $banks, null, [$line], "A{$line}", share: in_array($line, $known, true) ? self::AN_INPUT : 1.0, outputs: $this->carrying($site, "A{$line}"));
                    }
                } elseif ($role === 'select' || $role === 'strobe') {
                    // One part may serve several banks by different gates: each bank is a fault of its own.
                    $share = count($all) > count($banks) || $this->servesTogether($site, $banks) ? 0.5 : 1.0;
                    foreach ($banks as $bank) {
                        $this->add($site, $kind, $mode, [$bank], $data === [] ? null : $data, null, count($all) > 1 ? "bank {$bank}" : '', share: $share);
                    }
                    if ($share < 1.0) {
                        $this->add($site, $kind, $mode, $all, $data === [] ? null : $data, null, 'all its banks', share: $share);
                    }
                } else {
                    $this->add($site, $kind, $mode, $banks, $data === [] ? null : $data, $role === 'multiplexer' && $addresses !== [] ? $addresses : null);
                }
            }
        }
    }

    /**
     * Outputs of what selects or strobes a bank that lead to another bank too, as a write line of two does: stuck, they are lost
     * to both, and the part is well otherwise.
     */
    private function beyondTheirBanks(): void
    {
        foreach ($this->ofSeat as $ref => $modes) {
            $dead = $modes['dead'] ?? [];
            $banks = array_merge([], ...array_map(static fn (SuspectedFault $fault): array => $fault->banks ?? [], $dead));
            if ($banks === [] || ! in_array($dead[0]->kind, [SiteKind::Select, SiteKind::Strobe], true) || ! isset($this->board->chips[$ref])) {
                continue;
            }
            foreach ($this->aloneToMemory($this->board->chips[$ref], $dead[0]->mode, []) as $output => $alone) {
                if (array_diff($alone['banks'] ?? [], $banks) !== []) {
                    $this->add((string) $ref, $dead[0]->kind, $alone['mode'], $alone['banks'], $alone['lines'], $alone['addresses'], (string) Netlist::numberOf($output), share: $alone['share'], outputs: [$output]);
                }
            }
        }
    }

    /**
     * What serves a bank, by the parts that enable or strobe it.
     *
     * @return array<string, list<array{bank: string, role: string}>> by chip
     */
    private function enabling(): array
    {
        if ($this->enabling === null) {
            $this->enabling = [];
            foreach ($this->board->banks as $bank) {
                foreach ($bank->servers as $server) {
                    foreach (array_keys($this->enablesOf([$server->chip])) as $ref) {
                        $this->enabling[$ref][] = ['bank' => $bank->name, 'role' => $server->role];
                    }
                }
            }
        }

        return $this->enabling;
    }

    /**
     * The address lines that outputs of a part carry; of a multiplexer several, in turn.
     *
     * @param  list<int>  $lines
     * @return array<string, list<int>> output => numbers of lines, each once
     */
    private function byOutput(string $ref, array $lines): array
    {
        $byOutput = [];
        foreach (array_unique($lines) as $line) {
            $outputs = $this->carrying($ref, "A{$line}");
            if (count($outputs) === 1) {
                $byOutput[$outputs[0]][] = $line;
            }
        }

        return $byOutput;
    }

    /**
     * @param  list<int>  $lines
     * @return array<string, list<int>> output of a multiplexer => numbers of the lines that it carries in turn
     */
    private function inTurn(string $ref, array $lines): array
    {
        return array_filter($this->byOutput($ref, $lines), static fn (array $carried): bool => count($carried) > 1);
    }

    /**
     * The address lines of dynamic memory that a part passes on, each by an output of its own: it buffers them.
     *
     * @return array<string, int> output => number of the line
     */
    private function buffered(Chip $chip): array
    {
        $multiplexed = array_merge(...array_map(static fn (Bank $bank): array => [...$bank->multiplex->row ?? [], ...$bank->multiplex->column ?? []], array_values($this->board->banks)));
        $buffered = [];
        foreach ($chip->kind() === 'logic' ? $this->byOutput($chip->ref, $multiplexed) : [] as $output => $lines) {
            $net = $this->board->netlist->netOf($output);
            if (count($lines) === 1 && $net?->kind === 'address' && count($this->structure->driversOf($net)) === 1) {
                $buffered[$output] = $lines[0];
            }
        }

        return $buffered;
    }

    /**
     * @return list<string> outputs of a part that carry a line of the processor's
     */
    private function carrying(string $ref, string $line): array
    {
        $net = (new LineFaults($this->structure))->netOf($this->board->processor->chip ?? '', $line)[1] ?? null;

        return $net === null ? [] : $this->structure->carrying($ref, $net);
    }

    /**
     * Whether one output of a part goes to memory of several banks.
     *
     * @param  list<string>  $banks
     */
    private function servesTogether(string $ref, array $banks): bool
    {
        foreach (count($banks) > 1 ? $this->board->netlist->nets : [] as $net) {
            if (array_filter($this->structure->driversOf($net), static fn (string $pin): bool => Netlist::chipOf($pin) === $ref) === []) {
                continue;
            }
            $chips = array_map(Netlist::chipOf(...), $net->pins);
            if (count(array_filter($banks, fn (string $bank): bool => array_intersect($this->board->banks[$bank]->chips(), $chips) !== [])) > 1) {
                return true;
            }
        }

        return false;
    }

    private function links(): void
    {
        foreach ($this->board->links() as $link) {
            $banks = $parts = [];
            foreach ($this->board->map->ranges as $range) {
                if ($range->bank !== null && isset($range->when[$link->ref])) {
                    $parts[$range->bank] = $range->bank;
                }
                // Only a link that can take a bank away altogether reads like a dead bank.
                if ($range->bank !== null && isset($range->when[$link->ref]) && $this->canSilence($link->ref, $range->bank)) {
                    $banks[$range->bank] = $range->bank;
                }
            }
            foreach ($this->modes->of('link') as $mode) {
                foreach ($banks as $bank) {
                    $this->add($link->ref, SiteKind::Link, $mode, [$bank], null, null, "bank {$bank}");
                }
            }
            foreach ($banks === [] && ($parts !== [] || $link->joins !== []) ? $this->modes->of('link-part') : [] as $mode) {
                $this->add($link->ref, SiteKind::Link, $mode, $parts === [] ? null : array_values($parts), null, null);
            }
        }
    }

    /** What comes out whole can sit badly in its connector, or pull down the bus of everything else. */
    private function assemblies(): void
    {
        foreach ($this->board->assemblies as $assembly) {
            $banks = [];
            foreach ($this->board->banks as $bank) {
                if (array_filter($bank->chips(), fn (string $chip): bool => ($this->board->chips[$chip]->assembly ?? '') === $assembly->id) !== []) {
                    $banks[] = $bank->name;
                }
            }
            foreach ($assembly->removable ? $this->modes->of('assembly') : [] as $mode) {
                if (! $mode->ofPlace || $banks !== []) {
                    $this->add($assembly->id, SiteKind::Assembly, $mode, $mode->ofPlace ? $banks : null, null, null);
                }
            }
        }
    }

    /** Every other part of the board: it does not touch the memory, and can be what the machine is sick of all the same. */
    private function others(): void
    {
        $known = array_flip(array_map(static fn (SuspectedFault $fault): string => $fault->seat, $this->byId));
        $mapped = array_flip(array_filter(array_map(static fn (MapRange $range): string => $range->chip ?? '', $this->board->map->ranges)));
        $behind = $this->behindServers();
        $selects = $this->enablingPins($this->board->programmes());
        $selecting = array_fill_keys(array_map(Netlist::chipOf(...), $selects), self::UNSELECTED);
        $further = $this->enablingPins(array_map(strval(...), array_keys($selecting)));
        $selecting += array_fill_keys(array_map(Netlist::chipOf(...), $further), self::FURTHER_UNSELECTED);
        $byOutput = array_fill_keys($selects, self::OUTPUT_UNSELECTED) + array_fill_keys($further, self::FURTHER_OUTPUT_UNSELECTED);
        $running = $this->running();
        foreach ($running as $ref => $share) {
            $selecting[$ref] ??= self::CRASH * $share;
        }
        // A diagnostic that shows what it found at a port shows nothing when the port is dead.
        $reports = [];
        foreach ($this->board->firmware as $firmware) {
            foreach ($this->board->map->ranges as $range) {
                if ($range->kind === RangeKind::Io && $range->chip !== null && $firmware->signal >= $range->from && $firmware->signal <= $range->to) {
                    $reports[$range->chip][] = $firmware->runs;
                }
            }
        }
        foreach ($this->board->chips as $chip) {
            foreach (isset($known[$chip->ref]) ? [] : $this->buffered($chip) as $output => $line) {
                foreach ($this->modes->of('address-buffer') as $mode) {
                    // It is as when its line is held.
                    $crash = $this->crash($this->board->netlist->netOf($output) ?? throw new \LogicException("{$output} is on no net."), SignalEvidence::HELD, $mode->crash);
                    $this->add($chip->ref, SiteKind::Part, $mode->crashing(max($crash, $selecting[$chip->ref] ?? 0.0)), null, null, [$line], "A{$line}", outputs: [$output]);
                }
            }
            // A ROM that the processor does not read, such as a character generator, does not make it crash.
            $beside = in_array($chip->kind(), ['rom', 'eprom'], true) && $mapped !== [] && ! isset($mapped[$chip->ref]) && $this->board->bus->dataWidth === 8;
            foreach (isset($known[$chip->ref]) ? [] : $this->modes->of("kind:{$chip->kind()}") as $mode) {
                if ($mode->name !== 'bad contact' || $chip->socketed) {
                    $serves = in_array($chip->kind(), ['logic', 'programmed', 'oscillator', 'discrete', 'processor'], true) ? $behind[$chip->ref] ?? null : null;
                    $shown = match (true) {
                        $beside => $mode->crashing(0.0),
                        isset($reports[$chip->ref]) => $mode->hiding($reports[$chip->ref], self::UNSEEN),
                        isset($selecting[$chip->ref]) => $mode->crashing(max($mode->crash, $selecting[$chip->ref])),
                        default => $mode,
                    };
                    // What leads to the memory by one output alone is left whole by the others.
                    $alone = $serves !== null && $mode->name === 'dead' ? $this->aloneToMemory($chip, $mode, $byOutput) : [];
                    foreach ($alone as $output => ['mode' => $stuck, 'banks' => $banks, 'lines' => $lines, 'addresses' => $addresses, 'share' => $share]) {
                        $this->add($chip->ref, SiteKind::Part, $stuck, $banks, $lines, $addresses, (string) Netlist::numberOf($output), share: $share, outputs: [$output]);
                    }
                    if ($alone !== [] && (($selecting[$chip->ref] ?? 0.0) === self::UNSELECTED || isset($running[$chip->ref]))) {
                        $shown = $shown->crashing(self::CRASH); // As a whole it selects no ROM, and lets no processor run.
                    }
                    $this->add($chip->ref, SiteKind::Part, $shown->showing($serves['shows'] ?? []), $serves['banks'] ?? null, null, null, share: 1.0 - array_sum(array_column($alone, 'share')));
                }
            }
        }
    }

    /**
     * Outputs of a part that fail alone and are missed by memory, or by what selects a ROM; not those that are the subject of a
     * fault already.
     *
     * @param  array<string, float>  $selecting  output that selects a ROM => how often a programme goes nowhere without it
     * @return array<string, array{mode: FailureMode, banks: list<string>|null, lines: list<int>|null, addresses: list<int>|null, share: float}> by output
     */
    private function aloneToMemory(Chip $chip, FailureMode $dead, array $selecting): array
    {
        $outputs = [];
        foreach ($chip->type?->pinList() ?? [] as $pin) {
            $output = "{$chip->ref}.{$pin->number}";
            if (in_array($output, $this->structure->driversOf($this->board->netlist->netOf($output)), true) && ! $this->isOwn($output)) {
                $outputs[] = $output;
            }
        }

        $missed = [];
        foreach ($this->failingAlone($chip, $dead, $outputs) as $output => $alone) {
            if ($alone['banks'] !== null || isset($selecting[$output])) {
                $missed[$output] = ['mode' => $alone['mode']->crashing(max($alone['mode']->crash, $selecting[$output] ?? 0.0))] + $alone;
            }
        }

        return $missed;
    }

    /**
     * Parts that drive a strobe, an enable or a direction of what serves a bank: when one fails, the bank fails with it.
     *
     * @return array<string, array{banks: list<string>, shows: array<string, float>}> by chip
     */
    private function behindServers(): array
    {
        $behind = $several = [];
        foreach ($this->enabling() as $ref => $served) {
            $multiplexers = []; // How many of each bank
            foreach ($served as ['bank' => $bank, 'role' => $role]) {
                $behind[$ref]['banks'][] = $bank;
                $behind[$ref]['shows'] = [...$behind[$ref]['shows'] ?? [], ...self::BEHIND[$role] ?? []];
                $multiplexers[$bank] = ($multiplexers[$bank] ?? 0) + (int) ($role === 'multiplexer');
                if ($multiplexers[$bank] > 1) {
                    $several[$ref] = true;
                }
            }
        }
        foreach ($this->board->banks as $bank) {
            foreach ($this->besideMultiplexers($bank) as $ref) {
                $behind[$ref]['banks'][] = $bank->name;
                $behind[$ref]['shows'] = [...self::BESIDE, ...$behind[$ref]['shows'] ?? []];
            }
        }
        $lets = [];
        foreach ($this->against() as $output => $share) {
            $ref = Netlist::chipOf($output);
            $lets[$ref] = max($lets[$ref] ?? 0.0, $share);
        }
        foreach ($lets as $ref => $share) {
            $behind[$ref]['banks'] = array_map(static fn (Bank $bank): string => $bank->name, array_values($this->board->banks));
            $shows = $behind[$ref]['shows'] ?? [];
            foreach (self::AGAINST as $kind => $strength) {
                $shows[$kind] = max($shows[$kind] ?? 0.0, $share * $strength);
            }
            $behind[$ref]['shows'] = $shows;
        }
        $standing = array_fill_keys(array_keys($this->clock()), self::FURTHER) + array_fill_keys(array_keys($this->resets()), self::STANDING);
        foreach ($this->board->banks as $bank) {
            foreach ($standing + array_fill_keys(array_keys($this->leadingToServers($bank)), self::FURTHER) as $ref => $shows) {
                $behind[$ref]['banks'][] = $bank->name;
                foreach ($shows as $kind => $strength) {
                    $behind[$ref]['shows'][$kind] = max($behind[$ref]['shows'][$kind] ?? 0.0, $strength);
                }
            }
        }

        $parts = [];
        foreach ($behind as $ref => $part) {
            if (isset($several[$ref], $part['shows']['bank-multiplexer'])) {
                // What enables several multiplexers does not lose the lines of one of them.
                $part['shows']['bank-multiplexer'] *= self::OF_SEVERAL;
            }
            $parts[$ref] = ['banks' => array_values(array_unique($part['banks'])), 'shows' => $part['shows']];
        }

        return $parts;
    }

    /**
     * Parts whose signals come, by however many others, to an input of what selects a bank or strobes it that is neither data
     * nor address.
     *
     * @return array<string, true> by chip
     */
    private function leadingToServers(Bank $bank): array
    {
        if (! isset($this->leading[$bank->name])) {
            $this->leading[$bank->name] = [];
            foreach ([...$bank->serversIn('select'), ...$bank->serversIn('strobe')] as $server) {
                foreach ($this->structure->controlsOf($server->chip) as $net) {
                    $this->leading[$bank->name] += array_fill_keys(array_map(strval(...), array_keys($this->structure->upstreamOf($net->name))), true);
                }
                $this->leading[$bank->name] += [$server->chip => true];
            }
        }

        return $this->leading[$bank->name];
    }

    /**
     * Parts that drive the address lines of a bank beside its multiplexers: a counter for refresh, a picture generator.
     *
     * @return list<string>
     */
    private function besideMultiplexers(Bank $bank): array
    {
        $multiplexers = array_map(static fn (Server $server): string => $server->chip, $bank->serversIn('multiplexer'));
        $beside = [];
        foreach ($multiplexers === [] ? [] : $this->board->netlist->nets as $net) {
            $drivers = array_map(Netlist::chipOf(...), $this->structure->driversOf($net));
            if (count($drivers) > 1 && array_intersect($drivers, $multiplexers) !== []) {
                $beside += array_flip(array_diff($drivers, $multiplexers));
            }
        }

        return array_map(strval(...), array_keys($beside));
    }

    /**
     * Outputs that let something drive the data lines of the processor, and what those go by: another part answers in the place
     * of the memory.
     *
     * @return array<string, float> pin => how surely
     */
    private function against(): array
    {
        if ($this->against === null) {
            $lets = $this->lettingDrive();
            $this->against = array_fill_keys($lets, 1.0) + array_fill_keys($this->enablingPins(array_values(array_unique(array_map(Netlist::chipOf(...), $lets)))), self::BY_ANOTHER);
        }

        return $this->against;
    }

    /**
     * Outputs that let something drive the data lines of the processor.
     *
     * @return list<string> pins
     */
    private function lettingDrive(): array
    {
        $processor = $this->board->processor->chip ?? '';
        foreach ($this->board->banks === [] ? [] : $this->board->netlist->nets as $net) {
            if ($net->kind !== 'data' || array_filter($net->pins, static fn (string $pin): bool => Netlist::chipOf($pin) === $processor) === []) {
                continue;
            }
            $drivers = array_map(Netlist::chipOf(...), $this->structure->driversOf($net));

            return $this->enablingPins(array_values(array_diff($drivers, [$processor])));
        }

        return [];
    }

    /**
     * Parts that give the processor its clock, one after the other.
     *
     * @return array<string, true> by chip
     */
    private function clock(): array
    {
        $parts = [];
        foreach ($this->structure->runsBy($this->board->processor->chip ?? '', true) as $pin) {
            $parts += $this->structure->upstreamOf($this->board->netlist->netOf($pin)->name ?? '');
        }

        return array_fill_keys(array_map(strval(...), array_keys($parts)), true);
    }

    /**
     * Parts that pass the reset on to the processor.
     *
     * @return array<string, true> by chip
     */
    private function resets(): array
    {
        $parts = [];
        foreach ($this->board->netlist->nets as $net) {
            foreach ($this->structure->isResetLine($net) ? $this->structure->driversOf($net) : [] as $driver) {
                $parts[Netlist::chipOf($driver)] = true;
            }
        }

        return $parts;
    }

    /**
     * Whether what drives a net is on one side of what was lost, and a pin that stops the processor on the other.
     *
     * @param  list<string>  $lost  pins
     */
    private function parts(Net $net, array $lost): bool
    {
        $stops = array_filter($net->pins, fn (string $pin): bool => isset($this->stopping()[$pin]));
        if (count($lost) === count($net->pins)) {
            return $stops !== [];
        }
        $drivers = $this->structure->driversOf($net);
        $cut = array_intersect($drivers, $lost) !== [];

        return array_filter($stops, static fn (string $pin): bool => in_array($pin, $lost, true) !== $cut) !== [];
    }

    /**
     * Pins that stop the processor where they lose their net: its own clock and reset, and what passes those on.
     *
     * @return array<string, true>
     */
    private function stopping(): array
    {
        if ($this->stopping === null) {
            $processor = $this->board->processor->chip ?? '';
            $this->stopping = array_fill_keys($this->structure->runsBy($processor, true), true);
            $reset = (new LineFaults($this->structure))->netOf($processor, ($this->board->chips[$processor] ?? null)->type->bus->reset ?? '')[0] ?? null;
            $this->stopping += $reset === null ? [] : [$reset => true];
            foreach (array_keys($this->stopping) as $pin) {
                $net = $this->board->netlist->netOf((string) $pin);
                $this->stopping += array_fill_keys(array_keys($net === null ? [] : $this->structure->inputsBehind($net, self::FAR)), true);
            }
        }

        return $this->stopping;
    }

    /**
     * Parts that pass the reset on, or drive what the processor runs by: its clock and its waits.
     *
     * @return array<string, float> chip => the share of its outputs that do
     */
    private function running(): array
    {
        $processor = $this->structure->runsBy($this->board->processor->chip ?? '');
        $leading = $outputs = [];
        foreach ($this->board->netlist->nets as $net) {
            $leads = $this->structure->isResetLine($net) || array_intersect($net->pins, $processor) !== [];
            foreach (array_map(Netlist::chipOf(...), $this->structure->driversOf($net)) as $ref) {
                $outputs[$ref] = ($outputs[$ref] ?? 0) + 1;
                $leading[$ref] = ($leading[$ref] ?? 0) + (int) $leads;
            }
        }

        $shares = [];
        foreach (array_filter($leading) as $ref => $lead) {
            $shares[(string) $ref] = $lead / $outputs[$ref];
        }

        return $shares;
    }

    /**
     * Parts that drive an input of some chips which is neither data nor address.
     *
     * @param  list<string>  $refs
     * @return array<string, true> by chip, without the processor
     */
    private function enablesOf(array $refs): array
    {
        return array_fill_keys(array_map(Netlist::chipOf(...), $this->enablingPins($refs)), true);
    }

    /**
     * @param  list<string>  $refs
     * @return list<string> outputs that drive an input of some chips which is neither data nor address, but for the processor's
     */
    private function enablingPins(array $refs): array
    {
        $found = [];
        foreach ($refs as $ref) {
            foreach ($this->structure->controlsOf($ref) as $net) {
                // A reset enables nothing.
                array_push($found, ...($this->structure->isResetLine($net) ? [] : $this->structure->driversOf($net)));
            }
        }

        return array_values(array_filter(array_unique($found), fn (string $pin): bool => Netlist::chipOf($pin) !== $this->board->processor?->chip));
    }

    private function canSilence(string $link, string $bank): bool
    {
        $answering = [];
        foreach ($this->board->map->ranges as $range) {
            if ($range->bank === $bank) {
                foreach ($range->when[$link] ?? array_keys($this->board->settings[$link]->positions) as $position) {
                    $answering[(string) $position] = true;
                }
            }
        }

        return count($answering) < count($this->board->settings[$link]->positions);
    }
}
