<?php

declare(strict_types=1);

namespace ZapTrace\Reasoning;

use ZapTrace\Board\Netlist;
use ZapTrace\Diagnostics\DiagnosticResult;
use ZapTrace\Signals\SignalEvidence;
use ZapTrace\Signals\Structure;

/**
 * The traces that lead to the memory, and to the ROMs that the processor runs by. They are suspected by what was seen of the
 * memory, and of a programme that goes nowhere, before anybody has touched them.
 */
final class LinesToMemory
{
    /** What is seen of memory by which its address lines are suspected. */
    private const BY_ADDRESS = ['alias', 'bank-alias', 'bank-multiplexer', 'bank-strobe', 'bank-places'];

    /** What is seen of single bits. */
    private const BY_BIT = ['high', 'low', 'named', 'unstable'];

    /** @var list<string>|null */
    private ?array $addresses = null;

    public function __construct(private readonly Structure $structure)
    {
    }

    /**
     * @param  list<Evidence>  $evidence
     * @return list<string> faults of traces, as evidence names them
     */
    public function suspected(array $evidence): array
    {
        $byAddress = $byBit = false;
        $wrong = $strobed = [];
        foreach ($evidence as $seen) {
            $strobed += $seen->abnormal && $seen->kind === 'bank-strobe' ? array_fill_keys($seen->banks, true) : [];
            $byAddress = $byAddress || $seen->abnormal && in_array($seen->kind, self::BY_ADDRESS, true);
            if ($seen->abnormal && in_array($seen->kind, self::BY_BIT, true)) {
                $byBit = true;
                foreach ($seen->banks as $bank) {
                    $wrong[$bank] = ($wrong[$bank] ?? []) + array_fill_keys($seen->lines, true);
                }
            }
        }
        // Most bits of a bank at once are hardly its chips.
        $whole = array_filter($wrong, fn (array $lines): bool => 2 * count($lines) > $this->structure->board->bus->dataWidth);

        $goesNowhere = array_filter($evidence, static fn (Evidence $seen): bool => $seen->runs !== null && in_array(DiagnosticResult::NOTHING, $seen->runs->results, true)) !== [];

        return [...($goesNowhere ? $this->toProgrammes() : []), ...($byAddress ? $this->addresses() : []), ...($byBit ? $this->lanes() : []), ...$this->controls(array_map(strval(...), array_keys($whole + $strobed)))];
    }

    /**
     * Breaks before the pins of the ROMs that the processor reads its programme from.
     *
     * @return list<string>
     */
    private function toProgrammes(): array
    {
        $ids = [];
        $board = $this->structure->board;
        foreach ($board->programmes() as $rom) {
            foreach ($board->chips[$rom]->type?->pinList() ?? [] as $pin) {
                $net = $board->netlist->netOf("{$rom}.{$pin->number}");
                if ($net !== null && ! $net->isPower() && array_search("{$rom}.{$pin->number}", $net->pins, true) > 0) {
                    $ids[] = SignalEvidence::open($net->name, "{$rom}.{$pin->number}");
                }
            }
        }

        return $ids;
    }

    /**
     * The data lines that the strobes among some chips serve, where they are not all of them: one byte of a word.
     *
     * @param  list<string>  $chips
     * @return list<int>
     */
    public function laneOf(array $chips): array
    {
        $lines = [];
        foreach ($this->structure->board->banks as $bank) {
            foreach ($bank->serversIn('strobe') as $server) {
                $lines += in_array($server->chip, $chips, true) ? array_combine($server->dataLines(), $server->dataLines()) : [];
            }
        }

        return count($lines) < $this->structure->board->bus->dataWidth ? array_values($lines) : [];
    }

    /**
     * Breaks in the address lines of the memory: before each of its chips, or of its multiplexers, that hangs on one.
     *
     * @return list<string>
     */
    private function addresses(): array
    {
        if ($this->addresses === null) {
            $this->addresses = [];
            $board = $this->structure->board;
            $multiplexers = [];
            foreach ($board->banks as $bank) {
                foreach ($bank->serversIn('multiplexer') as $server) {
                    $multiplexers[$server->chip] = true;
                }
            }
            foreach ($board->netlist->nets as $net) {
                foreach ($net->isPower() ? [] : array_slice($net->pins, 1) as $pin) {
                    $ofChip = ($board->chips[Netlist::chipOf($pin)] ?? null)?->kind() === 'dram' && preg_match('/^A\d+$/', $board->netlist->pin($pin)->name ?? '') === 1;
                    if ($ofChip || $net->kind !== 'data' && isset($multiplexers[Netlist::chipOf($pin)]) && $board->netlist->pin($pin)?->direction === 'in') {
                        $this->addresses[] = SignalEvidence::open($net->name, $pin);
                    }
                }
            }
        }

        return $this->addresses;
    }

    /**
     * The traces by which the processor strobes some of its data lines alone.
     *
     * @return list<string>
     */
    private function lanes(): array
    {
        $ids = [];
        $processor = $this->structure->board->processor->chip ?? '';
        foreach ($this->structure->board->netlist->nets as $net) {
            $chips = array_map(Netlist::chipOf(...), $net->pins);
            $at = array_search($processor, $chips, true);
            if ($at === false || $net->kind !== 'control' || $this->laneOf($chips) === []) {
                continue;
            }
            array_push($ids, SignalEvidence::lifted($net->name, $net->pins[$at]), SignalEvidence::held($net->name));
            foreach (array_slice($net->pins, 1) as $pin) {
                $ids[] = SignalEvidence::open($net->name, $pin);
            }
        }

        return $ids;
    }

    /**
     * Breaks before the controls of what serves some banks, and of what gives those.
     *
     * @param  list<string>  $banks
     * @return list<string>
     */
    private function controls(array $banks): array
    {
        $chips = [];
        foreach ($banks as $bank) {
            foreach ($this->structure->board->banks[$bank]->servers ?? [] as $server) {
                $chips += $server->role === 'supply' ? [] : [$server->chip => true];
            }
        }
        foreach (array_keys($chips) as $chip) {
            foreach ($this->structure->controlsOf((string) $chip) as $net) {
                $chips += array_fill_keys(array_map(Netlist::chipOf(...), $this->structure->driversOf($net)), true);
            }
        }
        $ids = [];
        foreach (array_map(strval(...), array_keys($chips)) as $chip) {
            foreach ($this->structure->controlsOf($chip) as $net) {
                foreach (array_slice($net->pins, 1) as $pin) {
                    if (Netlist::chipOf($pin) === $chip) {
                        $ids[] = SignalEvidence::open($net->name, $pin);
                    }
                }
            }
        }

        return $ids;
    }
}
