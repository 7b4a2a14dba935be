<?php

declare(strict_types=1);

namespace ZapTrace\Bus;

use ZapTrace\Parts\ProcessorBus;
use ZapTrace\Processors\Cpu6502;
use ZapTrace\Rom\RomImage;

/**
 * Lays a capture beside a good one, or beside what the processor does with what its ROM holds, and finds the first
 * place at which they part. Loops that are gone round more or fewer times, and reads of memory that nothing has been
 * written to yet, are no difference.
 */
final class LadderBuilder
{
    /** Cycles in the longest loop that is taken for waiting. */
    private const LOOP = 64;

    /** Cycles shown before the place and after it. */
    private const BEFORE = 24;

    private const AFTER = 10;

    /** Reads after the first wrong one that are looked at to say what kind it is. */
    private const LOOKED_AT = 24;

    /** A processor that stood still so many times its usual pace has stopped. */
    private const STANDSTILL = 64;

    /** Cycles of waiting in one and the same loop at the end of a capture, where the good one went on. */
    private const HANGS = 96;

    private int $skipped = 0;

    /** @var array<int, int> what a good machine read of its ROMs, by address */
    private array $known = [];

    /** @var list<array{sick: int|null, expected: Cycle|null}> */
    private array $rungs = [];

    public function __construct(private readonly ProcessorBus $bus, private readonly MemoryPlan $plan)
    {
    }

    public function against(CycleList $sick, CycleList $good): Ladder
    {
        $this->skipped = 0;
        $this->rungs = [];
        $addressMask = $sick->addressMask & $good->addressMask;
        $dataMask = $sick->dataMask & $good->dataMask;
        $start = $this->neverStarts($sick, $good->count() > 0 ? $good->at(0)->address & $addressMask : null);
        if ($start !== null) {
            return $this->ladder($sick, 0, $start);
        }
        $this->known = $this->readOf($good);
        $memory = new SharedMemory($this->plan, $dataMask);
        $i = $this->begin($sick, $addressMask);
        $j = $this->begin($good, $addressMask);
        $first = $i;
        for (; $i < $sick->count() && $j < $good->count(); $i++, $j++) {
            $is = $sick->at($i);
            $should = $good->at($j);
            if (! $is->kind->goesLike($should->kind) || (($is->address ^ $should->address) & $addressMask) !== 0) {
                $around = $this->around($sick, $i, $good, $j, $addressMask);
                if ($around !== null) {
                    [$i, $j] = $around;
                    $i--;
                    $j--;

                    continue;
                }

                return $this->ladder($sick, $i - $first, $this->elsewhere($sick, $i, $should, $addressMask), $good, $j);
            }
            $this->rungs[] = ['sick' => $i, 'expected' => $should];
            // With only some address lines probed, the good one knows the place better.
            $address = $good->addressMask > $sick->addressMask ? $should->address : $is->address;
            if (! $memory->takes($is->kind, $address, $is->data, $should->data)) {
                return $this->ladder($sick, $i - $first, $this->wrongData($sick, $i, $should->data, $dataMask, fn (int $number): ?int => $this->goodData($good, $j, $sick, $i, $number)), $good, $j);
            }
            if (count($this->rungs) > 4 * self::BEFORE) {
                $this->rungs = array_slice($this->rungs, -self::BEFORE);
            }
        }

        return $this->ladder($sick, $i - $first, $this->end($sick, $i, $good->count() - $j));
    }

    /** Beside what the processor makes of its ROM, of the ports and of the memory as they answered. */
    public function againstRom(CycleList $sick): Ladder
    {
        $this->skipped = 0;
        $this->rungs = $this->known = [];
        $mask = $sick->addressMask;
        $start = $this->neverStarts($sick, $this->bus->start['at'] & $mask);
        if ($start !== null) {
            return $this->ladder($sick, 0, $start);
        }
        $i = $first = $this->begin($sick, $mask);
        $follows = $this->follows($sick);
        $written = [];
        $feed = null;
        for (; $i < $sick->count(); $i++) {
            $is = $sick->at($i);
            $expected = null;
            $address = $is->address;
            if ($follows !== null) {
                [$address, $writes] = $follows->next($feed);
                $kind = $writes !== null ? CycleKind::Write : ($follows->isFetching() ? CycleKind::Fetch : CycleKind::Read);
                $expected = new Cycle($is->time, $kind, $address, $writes ?? $this->held($is, $address, $written) ?? $is->data);
                if (! $is->kind->goesLike($kind) || (($is->address ^ $address) & $mask) !== 0) {
                    return $this->ladder($sick, $i - $first, $this->elsewhere($sick, $i, $expected, $mask), expected: $expected);
                }
                $feed = $writes !== null ? null : $expected->data;
            } elseif ($is->kind->isRead() && ! $is->kind->isIo()) {
                $held = $this->held($is, $address, $written);
                $expected = $held === null ? null : new Cycle($is->time, $is->kind, $address, $held);
            }
            $this->rungs[] = ['sick' => $i, 'expected' => $expected];
            if (! $is->kind->isRead() && ! $is->kind->isIo() && ! $this->plan->isPort($address)) {
                $written[$address] = $expected->data ?? $is->data;
            }
            // A port answers as it likes; memory that nothing was written to holds anything.
            if ($expected !== null && ! $this->plan->isPort($address) && (($is->data ^ $expected->data) & $sick->dataMask) !== 0) {
                $found = $this->wrongData($sick, $i, $expected->data, $sick->dataMask, fn (int $number): ?int => $this->plan->romByte($sick->at($number)->address));

                return $this->ladder($sick, $i - $first, $found);
            }
            if (count($this->rungs) > 4 * self::BEFORE) {
                $this->rungs = array_slice($this->rungs, -self::BEFORE);
            }
        }

        return $this->ladder($sick, $i - $first, $this->end($sick, $i, PHP_INT_MAX));
    }

    /**
     * What is to be read at an address: the ROM, or what was written there, for memory may lie over a ROM.
     *
     * @param  array<int, int>  $written
     */
    private function held(Cycle $is, int $address, array $written): ?int
    {
        $rom = $this->plan->romByte($address);
        $last = $written[$address] ?? null;

        return $rom === null || $last === $is->data ? $last : $rom;
    }

    /** A model of the processor that executes, from its start on; null when there is none, or the capture shows too little. */
    private function follows(CycleList $sick): ?Cpu6502
    {
        if ($this->bus->start['at'] !== 0xFFFC || $this->plan->romByte(0xFFFC) === null || $sick->addressMask !== 0xFFFF || $sick->dataMask !== 0xFF) {
            return null;
        }
        $cpu = new Cpu6502;
        $cpu->reset();
        // Its first accesses say nothing; the capture is taken up at the vector.
        for ($access = 0; $access < 5; $access++) {
            $cpu->next(0xFF);
        }

        return $cpu;
    }

    /** The first cycle that means something: the vector, or the first address. */
    private function begin(CycleList $cycles, int $mask): int
    {
        for ($number = 0; $number < min(64, $cycles->count()); $number++) {
            if (($cycles->at($number)->address & $mask) === ($this->bus->start['at'] & $mask) && $cycles->at($number)->kind->isRead()) {
                return $number;
            }
        }

        return 0;
    }

    private function neverStarts(CycleList $sick, ?int $first): ?Divergence
    {
        if ($sick->count() === 0) {
            return new Divergence(0, Divergence::NEVER_STARTS, $this->bus->start['at'], null, null, [], 'There is not one cycle: reset is held, the clock is missing, or the strobe is on another channel.');
        }
        $mask = $sick->addressMask;
        for ($number = 0; $number < min(64, $sick->count()); $number++) {
            if (($sick->at($number)->address & $mask) === ($this->bus->start['at'] & $mask)) {
                return null;
            }
        }
        if ($first !== null && ($sick->at(0)->address & $mask) === $first) {
            return null;
        }
        // A start at an address that is like it but for one line is a wrong line, not a machine that does not start.
        for ($number = 0; $number < min(12, $sick->count()); $number++) {
            $bits = self::bitsOf(($sick->at($number)->address ^ $this->bus->start['at']) & $mask);
            if (count($bits) === 1 && $sick->at($number)->kind->isRead() && ($this->bus->start['how'] === 'address' || (($sick->at(min($number + 1, $sick->count() - 1))->address ^ $this->bus->start['at'] + 1) & $mask) === 1 << $bits[0])) {
                return new Divergence($number, Divergence::ADDRESS_BITS, $this->bus->start['at'], $this->bus->start['at'], $sick->at($number)->address, $bits, sprintf('It starts at %04X instead of %04X: A%d is wrong.', $sick->at($number)->address, $this->bus->start['at'], $bits[0]));
            }
        }

        return new Divergence(0, Divergence::NEVER_STARTS, $this->bus->start['at'], null, $sick->at(0)->address, [], sprintf('It never comes to %04X, where this processor begins: the recording begins too late, or reset is not what it should be.', $this->bus->start['at']));
    }

    /**
     * Past a loop that one of them goes round more often than the other.
     *
     * @return array{int, int}|null
     */
    private function around(CycleList $sick, int $i, CycleList $good, int $j, int $mask): ?array
    {
        foreach ([[$sick, $i, $good, $j, true], [$good, $j, $sick, $i, false]] as [$loops, $at, $left, $other, $isSick]) {
            for ($period = 1; $period <= min(self::LOOP, $at); $period++) {
                $place = $at;
                while ($this->repeats($loops, $place, $period, $mask)) {
                    $place += $period;
                    if ($place >= $loops->count()) {
                        break;
                    }
                    if ($this->together($loops, $place, $left, $other, $mask)) {
                        $this->skipped += $isSick ? $place - $at : 0;

                        return $isSick ? [$place, $other] : [$other, $place];
                    }
                }
            }
        }

        return null;
    }

    private function repeats(CycleList $cycles, int $at, int $period, int $mask): bool
    {
        if ($at + $period > $cycles->count()) {
            return false;
        }
        for ($step = 0; $step < $period; $step++) {
            if ((($cycles->at($at + $step)->address ^ $cycles->at($at + $step - $period)->address) & $mask) !== 0) {
                return false;
            }
        }

        return true;
    }

    private function together(CycleList $one, int $i, CycleList $other, int $j, int $mask): bool
    {
        for ($step = 0; $step < 4; $step++) {
            if ($i + $step >= $one->count() || $j + $step >= $other->count()) {
                return $step > 0;
            }
            if ((($one->at($i + $step)->address ^ $other->at($j + $step)->address) & $mask) !== 0) {
                return false;
            }
        }

        return true;
    }

    /** What the good one has where the sick one is; the same number of cycles on. */
    private function goodData(CycleList $good, int $j, CycleList $sick, int $i, int $number): ?int
    {
        $place = $j + $number - $i;

        return $place < $good->count() && (($good->at($place)->address ^ $sick->at($number)->address) & $good->addressMask) === 0 ? $good->at($place)->data : $this->plan->romByte($sick->at($number)->address);
    }

    /**
     * @param  callable(int): ?int  $should  what a cycle should carry, by its number; null where that is not known
     */
    private function wrongData(CycleList $sick, int $at, int $expected, int $mask, callable $should): Divergence
    {
        $is = $sick->at($at);
        $address = sprintf('%04X', $is->address);
        $wrong = 0;
        $ones = $looked = $wrongReads = 0;
        $kept = $lost = true;
        $range = $this->plan->at($is->address);
        $moved = $not = [];
        for ($number = $at; $number < min($sick->count(), $at + self::LOOKED_AT); $number++) {
            $cycle = $sick->at($number);
            $value = $number === $at ? $expected : $should($number);
            if ($value === null || ! $cycle->kind->isRead() && $number !== $at || $range !== null && ($cycle->address < $range['from'] || $cycle->address > $range['to'])) {
                continue;
            }
            $looked++;
            $difference = ($cycle->data ^ $value) & $mask;
            if ($difference === 0) {
                continue;
            }
            $wrong |= $difference;
            $lost = $lost && ($cycle->data & $difference) === 0;
            $wrongReads++;
            $ones += ($cycle->data & $mask) === $mask ? 1 : 0;
            $kept = $kept && $number > 0 && (($cycle->data ^ $sick->at($number - 1)->data) & $mask) === 0;
            foreach ($this->sources($cycle, $mask) as $from => $fits) {
                if ($fits) {
                    $moved[$from][$cycle->address] = true;
                } else {
                    $not[$from] = true;
                }
            }
        }
        $bits = self::bitsOf($wrong);
        if (! $is->kind->isRead()) {
            return new Divergence($at, Divergence::DATA_BITS, $is->address, $expected, $is->data, $bits, sprintf('It writes %02X to %s, where %02X belongs.', $is->data & $mask, $address, $expected & $mask), true);
        }
        $whole = $wrong === $mask || count($bits) > 3;
        // What fits at several addresses, and is wrong at none.
        $moved = array_map(count(...), array_diff_key($moved, $not));
        arsort($moved);
        $from = array_key_first($moved);
        if ($ones === $wrongReads && ($whole || $wrongReads === $looked && count($bits) > 2)) {
            return new Divergence($at, Divergence::NOTHING_SELECTED, $is->address, $expected, $is->data, $bits, sprintf('All ones are read at %s, where %02X belongs: nothing is selected there.', $address, $expected & $mask));
        }
        $isMoved = $from !== null && $moved[$from] > 2 && count($bits) > 1;
        // Of places that follow each other the last one is also what A0 alone would bring; then every second is right.
        if ($kept && $whole && $wrongReads > 1 && ! ($isMoved && $wrongReads < $looked)) {
            return new Divergence($at, Divergence::NOTHING_SELECTED, $is->address, $expected, $is->data, $bits, sprintf('What was last on the bus is read at %s, where %02X belongs: nothing is selected there.', $address, $expected & $mask));
        }
        if ($isMoved) {
            if (str_starts_with((string) $from, 'line ')) {
                $line = (int) substr((string) $from, 5);

                return new Divergence($at, Divergence::ADDRESS_BITS, $is->address, $expected, $is->data, [$line], sprintf('At %s comes what belongs where A%d is the other way round: A%d does not get through to the ROM.', $address, $line, $line), behind: true);
            }

            return new Divergence($at, Divergence::WRONG_TARGET, $is->address, $expected, $is->data, $bits, sprintf('At %s comes what %s holds: the wrong chip answers.', $address, (string) $from));
        }
        if ($lost && count($bits) > 2 && $wrongReads > 2) {
            return new Divergence($at, Divergence::CONTENTION, $is->address, $expected, $is->data, $bits, sprintf('At %s %02X is read, where %02X belongs; here and after it nothing but ones are lost, now of this bit, now of that: bus contention, two outputs drive at once and the low one wins.', $address, $is->data & $mask, $expected & $mask));
        }
        if (count($bits) <= 2) {
            $names = implode(' and ', array_map(static fn (int $bit): string => "D{$bit}", $bits));

            return new Divergence($at, Divergence::DATA_BITS, $is->address, $expected, $is->data, $bits, sprintf('At %s %02X is read, where %02X belongs: %s is wrong.', $address, $is->data & $mask, $expected & $mask, $names));
        }

        return new Divergence($at, $range !== null && $range['kind'] === 'rom' && $whole && $wrongReads > 1 ? Divergence::WRONG_TARGET : Divergence::DATA_BITS, $is->address, $expected, $is->data, $bits, sprintf('At %s %02X is read, where %02X belongs.', $address, $is->data & $mask, $expected & $mask));
    }

    /**
     * Where else the data of a read could belong: the same ROM with one address line turned over, or another ROM.
     *
     * @return array<string, bool> whether it is what is there; what is not known there is left out
     */
    private function sources(Cycle $cycle, int $mask): array
    {
        $sources = [];
        $range = $this->plan->at($cycle->address);
        if ($range === null || $range['kind'] !== 'rom') {
            return [];
        }
        $offset = $cycle->address - $range['from'];
        for ($line = 0; 1 << $line <= $range['to'] - $range['from']; $line++) {
            $there = $range['image'] instanceof RomImage ? ord($range['image']->bytes[($offset ^ 1 << $line) % $range['image']->size()]) : $this->known[$range['from'] + ($offset ^ 1 << $line)] ?? null;
            if ($there !== null) {
                $sources["line {$line}"] = (($there ^ $cycle->data) & $mask) === 0;
            }
        }
        foreach ($this->plan->ranges as $other) {
            $there = $other['kind'] !== 'rom' || $other['chip'] === $range['chip'] ? null : ($other['image'] instanceof RomImage ? ord($other['image']->bytes[$offset % $other['image']->size()]) : $this->known[$other['from'] + $offset] ?? null);
            if ($there !== null) {
                $sources[$other['chip']] = (($there ^ $cycle->data) & $mask) === 0;
            }
        }

        return $sources;
    }

    /**
     * @return array<int, int> byte by address, of what a recording read of ROMs
     */
    private function readOf(CycleList $cycles): array
    {
        $known = [];
        for ($number = 0; $number < $cycles->count(); $number++) {
            $cycle = $cycles->at($number);
            if ($cycle->kind->isRead() && ! $cycle->kind->isIo() && ($this->plan->at($cycle->address)['kind'] ?? '') === 'rom') {
                $known[$cycle->address] = $cycle->data;
            }
        }

        return $known;
    }

    private function elsewhere(CycleList $sick, int $at, Cycle $should, int $mask): Divergence
    {
        $is = $sick->at($at);
        $bits = self::bitsOf(($is->address ^ $should->address) & $mask);
        if (($is->address & $mask) === ($this->bus->start['at'] & $mask) && $at > 8) {
            return new Divergence($at, Divergence::REPEATS, $should->address, $should->address, $is->address, [], sprintf('After %d cycles it starts again at %04X: it is reset, or it was led back there.', $at, $is->address));
        }
        if ($this->loops($sick, $at, $mask)) {
            return new Divergence($at, Divergence::REPEATS, $should->address, $should->address, $is->address, [], sprintf('It goes round and round at %04X, where it should go on to %04X: it waits for something that does not come.', $is->address, $should->address));
        }
        if (count($bits) <= 2 && $is->kind->goesLike($should->kind)) {
            $names = implode(' and ', array_map(static fn (int $bit): string => "A{$bit}", $bits));

            return new Divergence($at, Divergence::ADDRESS_BITS, $should->address, $should->address, $is->address, $bits, sprintf('It goes to %04X instead of %04X: %s is wrong.', $is->address, $should->address, $names), ! $is->kind->isRead());
        }

        return new Divergence($at, Divergence::WRONG_TARGET, $should->address, $should->address, $is->address, $bits, sprintf('It goes to %04X instead of %04X.', $is->address, $should->address), ! $is->kind->isRead());
    }

    private function loops(CycleList $sick, int $at, int $mask): bool
    {
        for ($period = 1; $period <= min(self::LOOP, $at); $period++) {
            $place = $at;
            while ($this->repeats($sick, $place, $period, $mask)) {
                $place += $period;
                if ($place - $at >= self::HANGS || $place + $period > $sick->count() && $place > $at + 2 * $period) {
                    return true;
                }
            }
        }

        return false;
    }

    /** What the end of a capture says when all of it was as it should be. */
    private function end(CycleList $sick, int $at, int $left): ?Divergence
    {
        if ($at < 2 || $at < $sick->count()) {
            return null;
        }
        $last = $sick->at($at - 1);
        $pace = max(1.0, ($last->time - $sick->at(0)->time) / max(1, $at - 1));

        return $left > 1 && $sick->end - $last->time > self::STANDSTILL * $pace
            ? new Divergence($at - 1, Divergence::STOPS, $last->address, null, $last->data, [], sprintf('After %d cycles, at %04X, it stands still: no clock, a wait that does not end, or a processor that has stopped.', $at, $last->address))
            : null;
    }

    private function ladder(CycleList $sick, int $distance, ?Divergence $found, ?CycleList $good = null, int $j = 0, ?Cycle $expected = null): Ladder
    {
        $rungs = array_slice($this->rungs, -self::BEFORE);
        if ($found !== null) {
            $at = $found->cycle;
            $last = $rungs === [] ? -1 : $rungs[count($rungs) - 1]['sick'];
            if ($last !== $at && $at < $sick->count()) {
                $rungs[] = ['sick' => $at, 'expected' => $expected ?? ($good !== null && $j < $good->count() ? $good->at($j) : null)];
            }
            for ($step = 1; $step <= self::AFTER; $step++) {
                $hasGood = $good !== null && $j + $step < $good->count();
                if ($at + $step < $sick->count() || $hasGood) {
                    $rungs[] = ['sick' => $at + $step < $sick->count() ? $at + $step : null, 'expected' => $hasGood ? $good->at($j + $step) : null];
                }
            }
        }

        return new Ladder($sick->count(), $distance, $found, $rungs, $this->skipped);
    }

    /**
     * @return list<int>
     */
    private static function bitsOf(int $word): array
    {
        $bits = [];
        for ($bit = 0; $word >> $bit > 0; $bit++) {
            if (($word >> $bit & 1) === 1) {
                $bits[] = $bit;
            }
        }

        return $bits;
    }
}
