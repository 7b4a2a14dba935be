<?php

declare(strict_types=1);

namespace ZapTrace\Reasoning;

use ZapTrace\Board\BoardProfile;
use ZapTrace\Board\Server;
use ZapTrace\Memory\BitTally;
use ZapTrace\Memory\MemoryMapping;
use ZapTrace\Memory\Pattern;
use ZapTrace\Memory\PatternFinding;
use ZapTrace\Memory\Scope;
use ZapTrace\Memory\Wording;
use ZapTrace\Signals\LineFaults;
use ZapTrace\Signals\Structure;

/**
 * Turns what readings of one state of the machine show into evidence: for each bit whether it reads 1 wherever 0 was
 * expected and the other way round, and every other pattern once.
 */
final readonly class MemoryEvidence
{
    /** Patterns that are told bit by bit. */
    private const BY_BIT = [Pattern::EveryAddress, Pattern::SameBitEveryBank, Pattern::AllBits, Pattern::NothingDrives];

    /** From so many bits on. */
    private const MANY = 4;

    /** From so many lost ones on, and none that is won, two drive at once. */
    private const LOST = 16;

    private const CONTENDS = 0.85;

    /** So many times as often as it was wrong a bit has to be right to be no constant one. */
    private const CONSTANT = 4;

    private const HARDLY = 0.05;

    /** What selects a bank may select something else where it should. */
    private const SELECTS = 0.3;

    /** In so many readings an address that does not arrive spoils each bit at least once. */
    private const RIGHT = 32;

    public function __construct(private BoardProfile $board, private FailureModes $modes)
    {
    }

    /**
     * @param  string|null  $observation  one that the readings were made in
     * @return list<Evidence>
     */
    public function of(MemoryMapping $mapping, MachineState $state, ?string $observation = null): array
    {
        $evidence = [];
        $prefix = sha1($state->key());
        foreach ($mapping->bits as $bank => $bits) {
            foreach ($bits as $bit) {
                if ($bit->tested() > 0) {
                    array_push($evidence, ...$this->ofBit((string) $bank, $bit, self::isNoise($mapping, (string) $bank, $bit->line) ? Pattern::None : $mapping->patterns[$bank][$bit->line], $state, $prefix));
                }
            }
        }
        foreach ($mapping->findings as $number => $finding) {
            if ($finding->latch !== null) {
                $evidence[] = $this->overlay($finding, $finding->latch, $state, $prefix);
            } elseif (! in_array($finding->pattern, self::BY_BIT, true) || self::isNoise($mapping, (string) $finding->banks[0], $finding->lines[0])) {
                $evidence[] = $this->ofPattern($finding, "{$prefix}/{$number}", $state, array_intersect_key($mapping->foreign, array_flip($finding->banks)) !== [], array_intersect_key($mapping->everywhere, array_flip($finding->banks)) !== []);
            }
        }

        foreach ($mapping->apart as $bank => $lines) {
            array_push($evidence, ...$this->apart((string) $bank, array_keys(array_filter($mapping->bits[$bank], static fn (BitTally $bit): bool => $bit->failed() === 0)), $lines, $state, $prefix));
        }

        return self::rightBeside(self::notConstant(Evidence::sharing($this->together($evidence, $mapping, $prefix), $observation), $mapping), $mapping);
    }

    /**
     * Bits of the bank that were right in all of many readings, beside those that are wrong together: an address that does not
     * arrive at the bank is lost to them as well.
     *
     * @param  list<Evidence>  $evidence
     * @return list<Evidence>
     */
    private static function rightBeside(array $evidence, MemoryMapping $mapping): array
    {
        return array_map(static function (Evidence $seen) use ($mapping): Evidence {
            $together = $seen->abnormal && str_starts_with($seen->kind, 'bank-') && count($seen->banks) === 1 && count($seen->lines) > 1;
            $right = $together ? array_filter($mapping->bits[$seen->banks[0]] ?? [], static fn (BitTally $bit): bool => $bit->failed() === 0 && $bit->tested() >= self::RIGHT) : [];
            $beside = array_values(array_diff(array_keys($right), $seen->lines));

            return $beside === [] ? $seen : $seen->beside($beside);
        }, $evidence);
    }

    /** Every bit of the bank is wrong, now high, now low: no line is constant, something that serves them all does it. */
    private static function isNoise(MemoryMapping $mapping, string $bank, int $line): bool
    {
        $bit = $mapping->bits[$bank][$line] ?? null;

        return $bit !== null && $mapping->patterns[$bank][$line] === Pattern::AllBits && $bit->failedHigh > 0 && $bit->failedLow > 0;
    }

    /**
     * That none of the bits is constant that are wrong together in some other way says nothing of what may show in that way:
     * what serves them all shows in the one or in the other. Where they were hardly ever right it says nothing at all.
     *
     * @param  list<Evidence>  $evidence
     * @return list<Evidence>
     */
    private static function notConstant(array $evidence, MemoryMapping $mapping): array
    {
        $together = [];
        $contended = [];
        foreach ($evidence as $seen) {
            if ($seen->abnormal && $seen->kind === Evidence::CONTENTION) {
                $contended[$seen->banks[0]] = $seen->strengths;
            }
            foreach ($seen->abnormal && str_starts_with($seen->kind, 'bank-') && count($seen->banks) === 1 ? $seen->lines : [] as $line) {
                if (($mapping->bits[$seen->banks[0]][$line] ?? null)?->failed() > 0) {
                    $together[$seen->banks[0]][$line][] = $seen->kind;
                }
            }
        }
        $kept = [];
        foreach ($evidence as $seen) {
            $kinds = $seen->abnormal || ! in_array($seen->kind, ['high', 'low'], true) ? [] : $together[$seen->banks[0]][$seen->lines[0]] ?? [];
            $bit = $mapping->bits[$seen->banks[0] ?? ''][$seen->lines[0] ?? -1] ?? null;
            $instead = $seen->abnormal || ! in_array($seen->kind, ['high', 'low'], true) ? [] : $contended[$seen->banks[0]] ?? [];
            if ($kinds === []) {
                $kept[] = $instead === [] ? $seen : $seen->but([], $instead);
            } elseif ($bit !== null && ($seen->kind === 'high' ? $bit->ableHigh - $bit->failedHigh : $bit->ableLow - $bit->failedLow) >= self::CONSTANT * $bit->failed()) {
                $kept[] = $seen->but($kinds, $instead);
            }
        }

        return $kept;
    }

    /**
     * Bits that are right, at addresses that differ in these lines, clear what would have joined them.
     *
     * @param  list<int>  $bits  those that were never wrong
     * @param  list<int>  $lines
     * @return list<Evidence>
     */
    private function apart(string $bank, array $bits, array $lines, MachineState $state, string $prefix): array
    {
        if ($lines === []) {
            return [];
        }
        $words = "addresses of bank {$bank} that differ in ".Wording::list(array_map(static fn (int $line): string => "A{$line}", $lines)).' hold their own';
        $evidence = [$this->right('bank-alias', $bank, [], $lines, $state, $words, $prefix)];
        foreach ($bits as $bit) {
            $evidence[] = $this->right('alias', $bank, [$bit], $lines, $state, $words, $prefix);
        }
        $multiplex = $this->board->banks[$bank]->multiplex;
        foreach ($multiplex === null ? [] : [$multiplex->row, $multiplex->column] as $strobed) {
            if (array_diff($strobed, $lines) === []) {
                $evidence[] = $this->right('bank-strobe', $bank, [], $strobed, $state, $words, $prefix);
            }
        }
        foreach ($this->board->banks[$bank]->serversIn('multiplexer') as $server) {
            $carried = $server->addressLines();
            if ($carried !== [] && array_diff($carried, $lines) === []) {
                $evidence[] = $this->right('bank-multiplexer', $bank, [], $carried, $state, $words, $prefix);
            }
        }

        return $evidence;
    }

    /**
     * @param  list<int>  $bits
     * @param  list<int>  $lines
     */
    private function right(string $kind, string $bank, array $bits, array $lines, MachineState $state, string $words, string $prefix): Evidence
    {
        return new Evidence("{$prefix}/{$bank}/apart {$kind} ".implode(',', $bits).' '.implode(',', $lines), $kind, false, $this->modes->rate('readOften'), $this->modes->rate('miss'), [$bank], $bits, $lines, 1.0, $state, $words);
    }

    /**
     * Half of a bank's bits or more, each wrong in places of its own, are one thing that was seen: what serves them all.
     * Where no bit is right, an alias that was met in a few of them is theirs as well: none speaks against it.
     *
     * @param  list<Evidence>  $evidence
     * @return list<Evidence>
     */
    private function together(array $evidence, MemoryMapping $mapping, string $prefix): array
    {
        $places = [];
        foreach ($evidence as $number => $seen) {
            if ($seen->abnormal && $seen->kind === 'places' && $seen->lines !== []) {
                $places[$seen->banks[0]][$number] = $seen->lines;
            }
        }
        foreach ($places as $bank => $found) {
            $lines = array_values(array_unique(array_merge(...array_values($found))));
            // One chip of several bits is that chip.
            $chips = array_unique(array_map(fn (int $line): string => $this->board->banks[$bank]->chipOfLine[$line], $lines));
            if (count($lines) < self::MANY || count($chips) < 2 || 2 * count($lines) < count($this->board->banks[$bank]->lines())) {
                continue;
            }
            $first = $evidence[array_key_first($found)];
            $surest = min(array_map(static fn (int $number): float => $evidence[$number]->falseAlarm, array_keys($found)));
            $evidence = array_diff_key($evidence, $found);
            $bits = array_filter($mapping->bits[$bank], static fn (BitTally $bit): bool => $bit->failed() > 0);
            if (count($bits) === count($this->board->banks[$bank]->lines())) {
                $evidence = array_map(static fn (Evidence $seen): Evidence => $seen->abnormal && $seen->kind === 'alias' && $seen->banks === [(string) $bank] ? $seen->ofBank() : $seen, $evidence);
            }
            if (array_sum(array_map(static fn (BitTally $bit): int => $bit->failedHigh, $bits)) === 0 && array_sum(array_map(static fn (BitTally $bit): int => $bit->failedLow, $bits)) >= self::LOST) {
                $evidence[] = $this->contention((string) $bank, $lines, $first->state, $surest, $prefix);

                continue;
            }
            $evidence[] = new Evidence("{$prefix}/{$bank}/many", 'bank-places', true, $surest, $this->modes->rate('miss'), [(string) $bank], $lines, [], 1.0, $first->state, 'Bits '.Wording::list(array_map(strval(...), $lines))." of bank {$bank} are wrong in places", foreign: $mapping->foreign[$bank] ?? false, everywhere: $mapping->everywhere[$bank] ?? false);
        }

        return array_values($evidence);
    }

    /**
     * Ones are lost, now of this bit, now of that, and none is won: something else drives the data lines as well, and the
     * low one wins.
     *
     * @param  non-empty-list<int>  $lines
     */
    private function contention(string $bank, array $lines, MachineState $state, float $falseAlarm, string $prefix): Evidence
    {
        $netlist = $this->board->netlist;
        $traces = array_map(fn (int $line): array => array_values(array_filter([$netlist->nets["D{$line}"] ?? null, $netlist->netOf($this->board->dataPin($this->board->banks[$bank], $line) ?? '')])), $lines);
        $servers = array_fill_keys(array_map(static fn (Server $server): string => $server->chip, $this->board->banks[$bank]->servers), self::HARDLY);
        $strengths = LineFaults::together($servers, (new LineFaults(Structure::of($this->board)))->contendingOn($traces, $this->board->processor->chip ?? '', self::CONTENDS));

        return new Evidence(
            "{$prefix}/{$bank}/contention", Evidence::CONTENTION, true, $falseAlarm, $this->modes->rate('miss'), [$bank], [], [], 1.0, $state,
            'Bits '.Wording::list(array_map(strval(...), $lines))." of bank {$bank} lose ones in places and win none: two outputs drive at once", strengths: $strengths,
        );
    }

    /** What lays something else over memory: the latch, what sets it, and the trace by which it does. */
    private function overlay(PatternFinding $finding, string $latch, MachineState $state, string $prefix): Evidence
    {
        $structure = Structure::of($this->board);
        $lines = new LineFaults($structure);
        $strengths = array_fill_keys(array_map(static fn (Server $server): string => $server->chip, $this->board->banks[$finding->banks[0]]->serversIn('select')), self::SELECTS);
        $net = $this->board->netlist->nets[$latch] ?? null;
        if ($net !== null) {
            $strengths = LineFaults::together($strengths, $lines->standing($net, self::CONTENDS));
            unset($strengths[$this->board->processor->chip ?? '']); // It runs what wrote and read.
        }

        return new Evidence("{$prefix}/{$finding->banks[0]}/overlay {$latch}", Evidence::OVERLAY, true, $this->falseAlarm($finding->failed), $this->modes->rate('miss'), [$finding->banks[0]], [], [], 1.0, $state, rtrim($finding->sentence, '.'), strengths: $strengths);
    }

    /**
     * @return list<Evidence>
     */
    private function ofBit(string $bank, BitTally $bit, Pattern $pattern, MachineState $state, string $prefix): array
    {
        $byBit = in_array($pattern, self::BY_BIT, true);
        $evidence = [];
        foreach (['high' => [$bit->ableHigh, $bit->failedHigh, 1, 0], 'low' => [$bit->ableLow, $bit->failedLow, 0, 1]] as $way => [$able, $failed, $read, $expected]) {
            if ($able === 0) {
                continue; // Nothing that was read could have shown it.
            }
            $abnormal = $byBit && $failed > 0;
            if (! $abnormal && $failed > 0 && $failed === $able) {
                continue; // Explained by another pattern; it says nothing of a constant line.
            }
            $evidence[] = new Evidence(
                "{$prefix}/{$bank}/{$bit->line}/{$way}", $way, $abnormal,
                $this->falseAlarm($failed), $this->modes->rate('miss'), [$bank], [$bit->line], [], 1.0, $state,
                $abnormal
                    ? "bit {$bit->line} of bank {$bank} reads {$read} in ".match (true) {
                        $able === 1 => 'the one reading',
                        $failed === $able => "all {$able} readings",
                        default => "{$failed} of {$able} readings",
                    }." where {$expected} was expected"
                    : "bit {$bit->line} of bank {$bank} reads {$expected} where {$expected} was expected (".Wording::count($able - $failed, 'reading', 'readings').')',
                times: $able, failed: $failed, constant: ! $abnormal && $bit->failed() > 0 && $bit->failed() === ($way === 'high' ? $bit->ableLow : $bit->ableHigh),
            );
        }
        if ($bit->failed() === 0 && ($cells = $this->board->cellsOf($bank)) > 0) {
            $evidence[] = new Evidence(
                "{$prefix}/{$bank}/{$bit->line}/places", 'places', false, $this->modes->rate('readOften'), $this->modes->rate('miss'),
                [$bank], [$bit->line], [], min(1.0, $bit->tested() / $cells), $state,
                "no cell of bit {$bit->line} of bank {$bank} was wrong (".Wording::count($bit->tested(), 'reading', 'readings').')',
            );
        }

        return $evidence;
    }

    private function ofPattern(PatternFinding $finding, string $id, MachineState $state, bool $foreign, bool $everywhere): Evidence
    {
        $shared = $finding->scope !== Scope::Chip;
        $kind = match ($finding->pattern) {
            Pattern::Alias => match (true) {
                ! $shared => 'alias',
                // A line is lost by itself, or with the other that shares its pin; more go with their strobe, or with their multiplexer.
                count($finding->addressLines) > 2 => $this->isOfStrobe($finding) ? 'bank-strobe' : 'bank-multiplexer',
                default => 'bank-alias',
            },
            Pattern::TiedBits => 'tied',
            Pattern::Fades => $shared ? 'bank-fades' : 'fades',
            Pattern::Unstable => $shared ? 'bank-unstable' : 'unstable',
            default => $shared ? 'bank-places' : 'places',
        };

        return new Evidence(
            $id, $kind, true, $this->falseAlarm($finding->failed), $this->modes->rate('miss'),
            $finding->banks, $finding->lines, $finding->addressLines, 1.0, $state, rtrim($finding->sentence, '.'), times: max(1, $finding->able), foreign: $foreign && $kind === 'bank-places', everywhere: $everywhere && $kind === 'bank-places',
        );
    }

    /** Whether the lines that are lost are all of the row's, or all of the column's. */
    private function isOfStrobe(PatternFinding $finding): bool
    {
        $multiplex = $this->board->banks[$finding->banks[0]]->multiplex;

        return $multiplex !== null && in_array($finding->addressLines, [$multiplex->row, $multiplex->column], true);
    }

    /** One failing reading may be a misreading; several rarely are. */
    private function falseAlarm(int $failed): float
    {
        // What errs every time in the same way (a clip on the wrong pin, a wrong table) sets the floor.
        return max($this->modes->rate('readOften'), $this->modes->rate('readOnce') * 0.3 ** max(0, $failed - 1));
    }
}
