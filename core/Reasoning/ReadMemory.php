<?php

declare(strict_types=1);

namespace ZapTrace\Reasoning;

use ZapTrace\Board\MapRange;
use ZapTrace\Board\RangeKind;
use ZapTrace\Numbers\Notation;

/**
 * Readings of memory that separate the live hypotheses: the failing bits in a bank that has not been asked yet, and
 * once more where a single reading is all there is.
 */
final readonly class ReadMemory implements Proposer
{
    public function __construct(private FailureModes $modes)
    {
    }

    public function propose(Conclusion $conclusion, StepCosts $costs): array
    {
        $proposals = [];
        $asked = [];
        foreach ($conclusion->evidence as $seen) {
            if ($seen->banks !== []) {
                $asked["{$seen->kind}/{$seen->banks[0]}/".implode(',', $seen->lines)] = true;
            }
        }
        foreach ($conclusion->evidence as $seen) {
            if (! $seen->abnormal || ! in_array($seen->kind, ['high', 'low'], true)) {
                continue;
            }
            $line = $seen->lines[0];
            $write = $seen->kind === 'high' ? '0' : '1';
            if ($seen->falseAlarm >= $this->modes->rate('readOnce')) {
                $proposals["again {$seen->kind} {$line}"] = $this->proposal($conclusion, $seen->banks[0], $line, $seen->kind, "Read bank {$seen->banks[0]} again, at a few other addresses with bit {$line} written {$write}.", 'tells a misreading from a fault', 0.003);
            }
            foreach ($conclusion->board->banks as $bank) {
                $name = (string) $bank->name;
                if (isset($bank->chipOfLine[$line]) && ! isset($asked["{$seen->kind}/{$name}/{$line}"]) && $this->addressOf($conclusion, $name) !== null) {
                    $proposals["{$seen->kind} {$name} {$line}"] = $this->proposal($conclusion, $name, $line, $seen->kind, "Write {$write} to bit {$line} of bank {$name}, at {$this->addressOf($conclusion, $name)} for one, and read it back.", "tells the chips of bank {$seen->banks[0]} from the line D{$line} and its buffer", $this->modes->rate('readOften'));
                }
            }
        }

        return array_values($proposals);
    }

    private function proposal(Conclusion $conclusion, string $bank, int $line, string $kind, string $sentence, string $tells, float $falseAlarm): Proposal
    {
        return new Proposal('read', $conclusion->board->banks[$bank]->chipOfLine[$line], $sentence, $tells, 2.0, 'none', 0.0, '', new Evidence(
            "read {$kind} {$bank} {$line}", $kind, true, $falseAlarm, $this->modes->rate('miss'), [$bank], [$line], [], 1.0, $conclusion->now, '',
        ), ['wrong', 'right'], ["bit {$line} wrong", "bit {$line} right"]);
    }

    private function addressOf(Conclusion $conclusion, string $bank): ?string
    {
        $board = $conclusion->board;
        $ranges = array_filter($board->map->reachedBy('read', $conclusion->now->settings), static fn (MapRange $range): bool => $range->kind === RangeKind::Ram && $range->bank === $bank);
        $first = array_values($ranges)[0] ?? null;

        return $first === null ? null : Notation::format($first->from + 0x100, $board->radix, $board->bus->addressWidth);
    }
}
