<?php

declare(strict_types=1);

namespace ZapTrace\Reasoning;

use ZapTrace\Board\Bank;
use ZapTrace\Board\MapRange;
use ZapTrace\Board\RangeKind;
use ZapTrace\Numbers\Notation;

/**
 * Readings of memory that separate the live hypotheses: the failing bits in a bank that has not been asked yet, once
 * more where a single reading is all there is, elsewhere in the chip, and pairs of addresses that a lost address line
 * would make the same.
 */
final readonly class ReadMemory implements Proposer
{
    /** How many address lines are asked about. */
    private const LINES = 4;

    /** From this share of its chips together on a whole bank is read, unless one of them has more than the other. */
    private const WORTH_SWEEPING = 0.08;

    private const KNOWN = 0.6;

    /** From this share on a soldered chip that a diagnostic named needs no reading. */
    private const NAMED_SURELY = 0.85;

    /** What is seen when a bank is read that is not right. */
    private const OF_BANK = ['places', 'bank-places', 'alias', 'bank-alias', 'bank-strobe', 'bank-multiplexer', 'tied', 'unstable', 'bank-unstable', 'high', 'low', Evidence::CONTENTION, Evidence::OVERLAY];

    /** What is seen of its bits in a few readings. */
    private const OF_BITS = ['high', 'low', 'places', 'unstable'];

    /** What is seen of a bank as a whole. */
    private const BANK_WIDE = ['bank-places', 'bank-unstable', 'bank-multiplexer', 'bank-strobe', 'bank-alias'];

    /** What is seen of bits that are neither right nor always one level. */
    private const CHANGING = ['places', 'bank-places', 'unstable', 'bank-unstable'];

    /** Readings of a bank from which on all of it was looked at, if not every cell. */
    private const ALL_OVER = 32;

    /** Bits that are wrong in fewer readings than these. */
    private const FEW = 12;

    private const MANY = 3;

    /** The part of a bank's places that such a look reaches, and its minutes. */
    private const SWEPT = 0.7;

    private const SWEEP_MINUTES = 5.0;

    public function propose(Conclusion $conclusion, StepCosts $costs, FailureModes $modes): array
    {
        $proposals = [];
        $asked = [];
        foreach ($conclusion->evidence as $seen) {
            if ($seen->banks !== []) {
                $asked["{$seen->kind}/{$seen->banks[0]}/".implode(',', $seen->lines)] = true;
            }
            // Where a bit is now this, now that, one more reading of it tells nothing.
            foreach ($seen->abnormal && in_array($seen->kind, self::CHANGING, true) && $seen->state->sameParts($conclusion->now) ? $seen->banks : [] as $bank) {
                foreach ($seen->lines === [] ? $conclusion->board->banks[$bank]->lines() : $seen->lines as $line) {
                    $asked["high/{$bank}/{$line}"] = $asked["low/{$bank}/{$line}"] = true;
                }
            }
        }
        $wrong = [];
        foreach ($conclusion->evidence as $seen) {
            if (! $seen->abnormal || ! in_array($seen->kind, ['high', 'low'], true) || ! $seen->state->sameParts($conclusion->now)) {
                continue;
            }
            $line = $seen->lines[0];
            $wrong["{$seen->banks[0]}/{$line}"] = true;
            if ($seen->falseAlarm >= $modes->rate('readOnce')) {
                $proposals["again {$seen->kind} {$line}"] = $this->ofBit($conclusion, $modes, $seen->banks[0], $line, $seen->kind, 0x2A5, 'tells a misreading from a fault, and one cell from the whole output', 0.003);
            }
            foreach ($conclusion->board->banks as $bank) {
                if (isset($bank->chipOfLine[$line]) && ! isset($asked["{$seen->kind}/{$bank->name}/{$line}"])) {
                    $proposals["{$seen->kind} {$bank->name} {$line}"] = $this->ofBit($conclusion, $modes, $bank->name, $line, $seen->kind, 0x100, "tells the chips of bank {$seen->banks[0]} from the line D{$line} and its buffer", $modes->rate('readOften'));
                }
            }
        }
        foreach ($conclusion->evidence as $seen) {
            // A diagnostic has named a bit that nobody has read yet.
            foreach ($seen->abnormal && $seen->runs !== null && $seen->state->sameParts($conclusion->now) ? $seen->runs->results : [] as $result) {
                $bit = ($seen->runs->diagnostic->codes[$result] ?? null)?->bit;
                $way = $bit === null ? null : $this->notRead($bit, $asked, $wrong);
                if ($bit !== null && $way !== null) {
                    $proposals["named {$bit['line']}"] = $this->ofBit($conclusion, $modes, $bit['bank'], $bit['line'], $way, 0x100, 'tells the bit that was named from a miscount and from a wrong table', $modes->rate('readOnce'));
                }
            }
        }

        return [...array_values(array_filter($proposals)), ...$this->sweeps($conclusion, $modes), ...$this->pairs($conclusion, $modes)];
    }

    /**
     * Which way a bit that was named has not been read yet: zeros first, and ones where zeros come back right.
     *
     * @param  array{bank: string, line: int}  $bit
     * @param  array<string, true>  $asked
     * @param  array<string, true>  $wrong  bits that were seen to be wrong
     */
    private function notRead(array $bit, array $asked, array $wrong): ?string
    {
        foreach (isset($wrong["{$bit['bank']}/{$bit['line']}"]) ? [] : ['high', 'low'] as $way) {
            if (! isset($asked["{$way}/{$bit['bank']}/{$bit['line']}"])) {
                return $way;
            }
        }

        return null;
    }

    /**
     * All of a bank, where its chips are suspected and it is not known which.
     *
     * @return list<Proposal>
     */
    private function sweeps(Conclusion $conclusion, FailureModes $modes): array
    {
        $swept = [];
        $bits = $wrong = [];
        foreach ($conclusion->evidence as $seen) {
            foreach ($seen->abnormal && in_array($seen->kind, self::OF_BITS, true) && $seen->state->sameButTried($conclusion->now) ? $seen->lines : [] as $line) {
                $wrong[$seen->banks[0]][$line] = true;
                if (in_array($seen->kind, ['high', 'low'], true)) {
                    $bits[$seen->banks[0]][$line] = true;
                }
            }
        }
        foreach ($conclusion->evidence as $seen) {
            // A few readings in which many bits are wrong are no look all over it.
            if ($seen->abnormal && in_array($seen->kind, self::OF_BITS, true) && count($wrong[$seen->banks[0]] ?? []) >= self::MANY && $seen->times < self::FEW) {
                continue;
            }
            if ($conclusion->now->isFailing() && ! $seen->state->isFailing()) {
                continue; // What comes and goes may have been gone then.
            }
            // Once it was right all over, it tells no more; what was wrong may be another bit when parts were changed.
            if ($seen->abnormal ? in_array($seen->kind, self::OF_BANK, true) && $seen->state->sameButTried($conclusion->now) : $seen->kind === 'places' && $seen->reach * $conclusion->board->cellsOf($seen->banks[0]) >= self::ALL_OVER) {
                $swept += array_fill_keys($seen->banks, true);
            }
        }
        $shares = [];
        foreach ($conclusion->suspects() as $suspect) {
            $shares[(string) $suspect->seat] = ($shares[(string) $suspect->seat] ?? 0.0) + $suspect->share;
        }
        $wide = $this->bankWide($conclusion, $bits);
        $proposals = [];
        foreach ($conclusion->board->banks as $bank) {
            $chips = array_intersect_key($shares, array_flip($bank->chips()));
            $worth = $chips !== [] && array_sum($chips) >= self::WORTH_SWEEPING && ! $this->isKnown($conclusion, $bank, $chips) || count($wrong[$bank->name] ?? []) >= self::MANY;
            // How another bank is wrong as a whole, where nothing else asks for this one.
            $elsewhere = $worth ? null : array_values(array_diff_key($wide, [$bank->name => '']))[0] ?? null;
            // While it fails every bank is looked at once.
            if (isset($swept[$bank->name]) || ! $worth && $elsewhere === null && ! $conclusion->now->isFailing() || $this->addressIn($conclusion, $bank->name) === null) {
                continue;
            }
            $seen = static fn (string $kind, int $line, bool $abnormal): Evidence => new Evidence("sweep {$bank->name} {$kind} {$line} ".($abnormal ? 'wrong' : 'right'), $kind, $abnormal, $modes->rate('readOften'), $modes->rate('miss'), [$bank->name], [$line], [], $abnormal ? 1.0 : self::SWEPT, $conclusion->now, '');
            $outcomes = $right = [];
            foreach ($bank->lines() as $line) {
                foreach (['places' => "bit {$line} wrong in places", 'high' => "bit {$line} always 1", 'low' => "bit {$line} always 0"] as $kind => $words) {
                    $outcomes[] = new ProposedOutcome($words, [$seen($kind, $line, true)], null);
                    $right[] = $seen($kind, $line, false);
                }
            }
            if ($elsewhere !== null) {
                // What serves several banks is wrong in all of them.
                $lines = in_array($elsewhere, ['high', 'low'], true) ? array_map(static fn (int $line): array => [$line], $bank->lines()) : [$bank->lines()];
                $outcomes = [new ProposedOutcome('as wrong as the other', array_map(fn (array $each): Evidence => new Evidence("sweep {$bank->name} {$elsewhere} ".implode(',', $each).' wrong', $elsewhere, true, $modes->rate('readOften'), $modes->rate('miss'), [$bank->name], $each, [], 1.0, $conclusion->now, ''), $lines), null)];
            }
            $outcomes[] = new ProposedOutcome('all of it is right', $right, null);
            $proposals[] = new Proposal(
                'read', "bank {$bank->name}", ($conclusion->now->isFailing() ? 'Leave it on while it fails. ' : '')."Fill bank {$bank->name} from its lowest address up with bytes that differ from address to address, then read them back: which bits are wrong, and where?",
                $elsewhere !== null ? 'tells what serves one bank from what serves several' : 'names the bit where only the bank is known', 'read', $outcomes, minutes: self::SWEEP_MINUTES,
            );
        }

        return $proposals;
    }

    /**
     * The banks that are wrong as a whole, and how.
     *
     * @param  array<string, array<int, true>>  $bits  bank => bits that are always one level
     * @return array<string, string> bank => kind of evidence
     */
    private function bankWide(Conclusion $conclusion, array $bits): array
    {
        $wide = [];
        foreach ($conclusion->evidence as $seen) {
            if ($seen->abnormal && in_array($seen->kind, self::BANK_WIDE, true) && $seen->state->sameParts($conclusion->now)) {
                $wide += array_fill_keys($seen->banks, $seen->kind);
            }
        }
        foreach ($bits as $bank => $lines) {
            if (2 * count($lines) > count($conclusion->board->banks[$bank]->lines())) {
                $wide[$bank] ??= 'high';
            }
        }

        return $wide;
    }

    /**
     * Whether it is known which chip of a bank it is: one has most of it, and comes out of a socket, or a reading has shown
     * its bit; what only a diagnostic has named has to be surer. Not where its bit came back right both ways: then it is
     * wrong at other places, and so may be others.
     *
     * @param  non-empty-array<string, float>  $chips  by share
     */
    private function isKnown(Conclusion $conclusion, Bank $bank, array $chips): bool
    {
        arsort($chips);
        $first = (string) array_key_first($chips);
        if ($chips[$first] <= self::KNOWN && count($chips) > 1) {
            return false;
        }
        $lines = $bank->linesOf($first);
        foreach ($conclusion->evidence as $seen) {
            if ($seen->abnormal && in_array($bank->name, $seen->banks, true) && array_intersect($seen->lines, $lines) !== [] && $seen->state->sameButTried($conclusion->now) && (in_array($seen->kind, self::OF_BANK, true) || $chips[$first] >= self::NAMED_SURELY)) {
                return true;
            }
        }
        $right = [];
        foreach ($conclusion->evidence as $seen) {
            if (! $seen->abnormal && in_array($seen->kind, ['high', 'low'], true) && in_array($bank->name, $seen->banks, true) && array_intersect($seen->lines, $lines) !== [] && $seen->state->sameButTried($conclusion->now)) {
                $right[$seen->kind] = true;
            }
        }

        return count($right) < 2 && $conclusion->board->chips[$first]->socketed;
    }

    private function ofBit(Conclusion $conclusion, FailureModes $modes, string $bank, int $line, string $kind, int $offset, string $tells, float $falseAlarm): ?Proposal
    {
        $address = $this->addressIn($conclusion, $bank);
        if ($address === null) {
            return null;
        }
        $board = $conclusion->board;
        $width = min(8, $board->bus->dataWidth);
        // One byte of the lane that the line is on.
        $lane = intdiv($line, 8);
        $address += $offset - $offset % $board->bus->lanes() + ($board->bus->bigEndian ? $board->bus->lanes() - 1 - $lane : $lane);
        $bit = 1 << ($line % 8);
        $written = $kind === 'high' ? 0 : (1 << $width) - 1;
        $at = Notation::format($address, $board->radix, $board->bus->addressWidth);
        $show = static fn (int $value): string => Notation::format($value, $board->radix, $width);
        $evidence = fn (bool $abnormal): Evidence => new Evidence("read {$kind} {$bank} {$line} ".($abnormal ? 'wrong' : 'right'), $kind, $abnormal, $falseAlarm, $modes->rate('miss'), [$bank], [$line], [], 1.0, $conclusion->now, '');
        $record = static fn (int $read): array => ['kind' => 'memory-readings', 'payload' => ['text' => "{$at} {$show($written)} {$show($read)}", 'radix' => $board->radix->value]];

        return new Proposal(
            'read', $board->banks[$bank]->chipOfLine[$line], "Write {$show($written)} at {$at} and read it back: bit {$line} of bank {$bank}.", $tells, 'read',
            [
                new ProposedOutcome("bit {$line} wrong, it reads {$show($written ^ $bit)}", [$evidence(true)], $record($written ^ $bit)),
                new ProposedOutcome("right, it reads {$show($written)}", [$evidence(false)], $record($written)),
            ],
        );
    }

    /**
     * Pairs of addresses that one lost address line would make the same.
     *
     * @return list<Proposal>
     */
    private function pairs(Conclusion $conclusion, FailureModes $modes): array
    {
        $shares = [];
        foreach ($conclusion->suspected as $fault) {
            foreach (($fault->mode->shows['bank-alias'] ?? 0.0) > 0.5 && $fault->addressLines !== null && count($fault->addressLines) === 1 ? $fault->addressLines : [] as $line) {
                $shares[$line] = ($shares[$line] ?? 0.0) + ($conclusion->posterior->faults[$fault->id] ?? 0.0);
            }
        }
        arsort($shares);
        $proposals = [];
        $board = $conclusion->board;
        foreach (array_slice($shares, 0, self::LINES, true) as $line => $share) {
            $bank = $share < 0.05 ? null : $this->bankWith($conclusion, $line);
            $from = $bank === null ? null : $this->addressIn($conclusion, $bank);
            if ($bank === null || $from === null || $this->known($conclusion, $line) || $this->isRubbish($conclusion, $bank)) {
                continue;
            }
            $at = static fn (int $address): string => Notation::format($address, $board->radix, $board->bus->addressWidth);
            $first = ($from + 0x100) & ~(1 << $line);
            $evidence = fn (bool $abnormal): Evidence => new Evidence("pair A{$line} ".($abnormal ? 'same' : 'apart'), 'bank-alias', $abnormal, $modes->rate('readOften'), $modes->rate('miss'), [$bank], [], [$line], 1.0, $conclusion->now, '');
            $proposals[] = new Proposal(
                'read', "A{$line}",
                "Write 55 at {$at($first)}, then AA at {$at($first | 1 << $line)}, and read both; do the same at a few other pairs that differ in A{$line} only.",
                "tells whether A{$line} reaches the memory", 'read',
                [new ProposedOutcome('both read AA', [$evidence(true)], null), new ProposedOutcome('each reads its own', [$evidence(false)], null)],
            );
        }

        return $proposals;
    }

    private function known(Conclusion $conclusion, int $line): bool
    {
        foreach ($conclusion->evidence as $seen) {
            if ($seen->kind === 'bank-alias' && in_array($line, $seen->addressLines, true)) {
                return true;
            }
        }

        return false;
    }

    /** Where most bits are wrong all over, or never change, no pair of addresses can be told from another. */
    private function isRubbish(Conclusion $conclusion, string $bank): bool
    {
        $constant = [];
        foreach ($conclusion->evidence as $seen) {
            if (! $seen->abnormal || ! in_array($bank, $seen->banks, true) || ! $seen->state->sameParts($conclusion->now)) {
                continue;
            }
            if ($seen->kind === 'bank-places' && count($seen->lines) > self::MANY) {
                return true;
            }
            if (in_array($seen->kind, ['high', 'low'], true)) {
                $constant[$seen->lines[0]] = true;
            }
        }

        return 2 * count($constant) > count($conclusion->board->banks[$bank]->lines());
    }

    private function bankWith(Conclusion $conclusion, int $line): ?string
    {
        foreach ($conclusion->board->banks as $bank) {
            if ($bank->multiplex !== null && in_array($line, [...$bank->multiplex->row, ...$bank->multiplex->column], true)) {
                return $bank->name;
            }
        }

        return null;
    }

    private function addressIn(Conclusion $conclusion, string $bank): ?int
    {
        $ranges = array_filter($conclusion->board->map->reachedBy('read', $conclusion->now->settings), static fn (MapRange $range): bool => $range->kind === RangeKind::Ram && $range->bank === $bank);

        return (array_values($ranges)[0] ?? null)?->from;
    }
}
