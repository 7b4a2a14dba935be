<?php

declare(strict_types=1);

namespace ZapTrace\Memory;

use WeakMap;
use ZapTrace\Board\BoardProfile;

/**
 * Looks for two addresses that always hold the same: an address line that is stuck or open somewhere, or two that
 * are shorted.
 *
 * When line k is lost, every address is answered by the cell at that address with line k at one fixed value, and
 * that cell holds what was written to it last. So with line k at the value c: read(a) = expected(a with k = c), at
 * every address. A multiplexed line that is lost at the memory takes two address bits with it, its row bit and its
 * column bit. Two shorted lines act as one: where they should differ, both are low (or both high).
 */
final class AliasSearch
{
    private const FAILING = 2048;

    private const PASSING = 512;

    /** Readings in which all lines of a strobe are looked for together. */
    private const SCATTERED = 65536;

    /** How many agreeing addresses with different contents are wanted before an alias is believed. */
    private const SUPPORT = 4;

    /** Many lines at once fit more by chance: so many are wanted where one bit shows it. */
    private const SUPPORT_OF_STROBE = 10;

    /** So many bits of one alias carry what others may show. */
    private const CARRIED = 4;

    /** In more readings than these too much fits by chance. */
    private const FEW = 8192;

    /** Readings at which a line is seen to reach the memory before that is believed. */
    private const APART = 3;

    /** Stands for an address that was written more than once, and not alike. */
    private const DIFFERENTLY = -1;

    /** What fits by chance as often as this shows nothing. */
    private const BY_CHANCE = 0.2;

    /** @var list<Block> */
    private array $blocks = [];

    /** @var list<array{int, int, list<int>, bool}> those that explained something: mask, value, address lines, shorted */
    private array $candidates = [];

    /** @var array<string, array<int, array{addressLines: list<int>, shorted: bool, checked: int, shown: int}>> answers given already */
    private array $known = [];

    /** @var WeakMap<Block|self, array<int, int>|false> what was written at each address of a block, or of all; false where it is too large to be kept so */
    private WeakMap $written;

    /** Whether only what was written with a reading counts as its partner. */
    private bool $inOneGo = false;

    public function __construct(private readonly BoardProfile $board, ReadingSet $readings)
    {
        $this->written = new WeakMap;
        foreach ($readings->blocks() as ['block' => $block]) {
            $this->blocks[] = $block;
        }
    }

    /**
     * @param  array<int, mixed>  $lines  data lines that fail, but not everywhere, as keys
     * @return array<int, array{addressLines: list<int>, shorted: bool, checked: int, shown: int}> by data line: the address lines lost, addresses checked, and how many of them showed it
     */
    public function search(Tally $tally, array $lines): array
    {
        return $this->known[implode(',', array_keys($lines))] ??= $this->find($tally, $lines);
    }

    /**
     * @param  int  $bits  those of its byte that are looked at
     */
    private static function isRight(Slice $slice, int $offset, int $bits): bool
    {
        return $slice->owns($offset) && ((ord($slice->block->expected[$offset]) ^ ord($slice->block->read[$offset])) & $bits) === 0;
    }

    /** The bits of a slice that were never wrong: one that is bad hides nothing of the others. */
    private static function rightBits(Tally $tally, Slice $slice): int
    {
        $bits = 0;
        for ($bit = 0; $bit < 8; $bit++) {
            $seen = $tally->bits[$slice->firstLine + $bit] ?? null;
            $bits |= $seen !== null && $seen->failed() === 0 ? 1 << $bit : 0;
        }

        return $bits;
    }

    /**
     * Address lines that reach the memory: addresses that differ in one of them alone were written differently in bits that
     * are never wrong.
     *
     * @return list<int> lowest first
     */
    public function apart(Tally $tally): array
    {
        $pairs = [];
        foreach ($tally->slices as $slice) {
            $block = $slice->block;
            $bits = self::rightBits($tally, $slice);
            $lines = $this->lines($slice);
            $step = max(1, intdiv($block->count(), self::PASSING));
            for ($offset = 0; $offset < $block->count(); $offset += $step) {
                // All of a byte, where it is right; else those of its bits that are never wrong.
                $looked = self::isRight($slice, $offset, 0xFF) ? 0xFF : $bits;
                foreach ($looked !== 0 && self::isRight($slice, $offset, $looked) ? $lines : [] as $line) {
                    foreach ($tally->slices as $beside) {
                        // What was written at another time says nothing of what is apart.
                        $together = $beside->whole === $slice->whole || $beside->block->addresses === null && $block->addresses === null;
                        $other = $together && $beside->firstLine === $slice->firstLine ? $beside->block->offsetOf($block->addressAt($offset) ^ 1 << $line) : null;
                        $both = $other !== null && self::isRight($beside, $other, $looked) ? $looked : $bits;
                        if ($other !== null && self::isRight($beside, $other, $both) && ((ord($block->expected[$offset]) ^ ord($beside->block->expected[$other])) & $both) !== 0) {
                            $pairs[$line] = ($pairs[$line] ?? 0) + 1;
                            break;
                        }
                    }
                }
            }
        }
        $apart = array_keys(array_filter($pairs, static fn (int $times): bool => $times >= self::APART));
        sort($apart);

        return $apart;
    }

    /**
     * @param  array<int, mixed>  $lines
     * @return array<int, array{addressLines: list<int>, shorted: bool, checked: int, shown: int}>
     */
    private function find(Tally $tally, array $lines): array
    {
        $found = [];
        if (! $this->hasVariedData($tally)) {
            return $found; // A constant fill can show no alias.
        }
        $unexplained = [];
        foreach ($tally->slices as $slice) {
            $wanted = 0;
            for ($bit = 0; $bit < 8; $bit++) {
                $line = $slice->firstLine + $bit;
                $wanted |= isset($lines[$line]) && ! isset($found[$line]) ? 1 << $bit : 0;
            }
            if ($wanted === 0) {
                continue;
            }
            $sample = $this->sample($slice, $wanted);
            // What was written in the same go speaks first: other readings were written before, or after.
            $this->inOneGo = true;
            $here = $this->fixed($slice, $sample, $this->likely($slice), $wanted, true);
            $this->inOneGo = false;
            $found += $here === [] ? $this->fixed($slice, $sample, $this->likely($slice), $wanted, true) : $here;
            // Two lines are only looked at together where no single one explains anything.
            $found += $found === [] ? $this->fixed($slice, $sample, $this->pairs($slice), $wanted, true) : [];
            // A strobe is lost in all lanes of the bank.
            $found += array_filter($found, static fn (array $alias): bool => count($alias['addressLines']) <= 2) === [] ? $this->strobeLost($slice, $wanted) : [];
            $unexplained[] = [$slice, $sample, $wanted];
        }
        $found += $found === [] ? $this->lostTogether($tally, $lines) : [];
        // Where not every address has its partner among the readings, most of them have to do.
        foreach ($found === [] ? $unexplained : [] as [$slice, $sample, $wanted]) {
            $found += $this->fixed($slice, $sample, $this->likely($slice), $wanted, false) ?: $this->fixed($slice, $sample, $this->pairs($slice), $wanted, false);
        }
        $found += $this->alsoExplained($tally, $lines, $found);
        ksort($found);

        return $found;
    }

    /**
     * Bits that the same lost lines explain where they have partners among the readings, once many bits have shown them.
     *
     * @param  array<int, mixed>  $lines  data lines that fail, as keys
     * @param  array<int, array{addressLines: list<int>, shorted: bool, checked: int, shown: int}>  $found
     * @return array<int, array{addressLines: list<int>, shorted: bool, checked: int, shown: int}> by data line
     */
    private function alsoExplained(Tally $tally, array $lines, array $found): array
    {
        $all = [];
        foreach ($this->candidates as [$mask, $value, $addressLines, $shorted]) {
            $same = array_filter($found, static fn (array $alias): bool => $alias['addressLines'] === $addressLines && $alias['shorted'] === $shorted);
            $also = [];
            foreach (count($same) > 1 ? $tally->slices : [] as $slice) {
                $wanted = 0;
                for ($bit = 0; $bit < 8; $bit++) {
                    $line = $slice->firstLine + $bit;
                    $wanted |= isset($lines[$line]) && ! isset($found[$line]) ? 1 << $bit : 0;
                }
                if ($wanted !== 0) {
                    $sample = $this->sample($slice, $wanted);
                    foreach ($this->agreeing($sample, $slice->whole, $mask, $value, $shorted, $wanted, false, true) as $bit => $shown) {
                        if (($wanted >> $bit & 1) === 1) {
                            $also[$slice->firstLine + $bit] ??= ['addressLines' => $addressLines, 'shorted' => $shorted, 'checked' => count($sample), 'shown' => $shown];
                        }
                    }
                }
            }
            // All together they have to be many, and most of those that are wrong.
            $together = count($same) + count($also);
            $all += $together >= self::CARRIED && 2 * $together >= count($lines) ? $also : [];
        }

        return $all;
    }

    /**
     * Lines that stay at one value, of these candidates.
     *
     * @param  list<array{int, int, int}>  $sample
     * @param  list<array{int, int, list<int>, bool}>  $candidates
     * @param  bool  $all  only what explains all that is wrong
     * @return array<int, array{addressLines: list<int>, shorted: bool, checked: int, shown: int}> by data line
     */
    private function fixed(Slice $slice, array $sample, array $candidates, int $wanted, bool $all): array
    {
        $agreeing = [];
        foreach ($candidates as [$mask, $value, $addressLines, $shorted]) {
            $bits = $this->agreeing($sample, $slice->whole, $mask, $value, $shorted, $wanted, $all);
            if ($bits !== []) {
                $agreeing[] = ['addressLines' => $addressLines, 'shorted' => $shorted, 'bits' => $bits];
                $this->candidates[] = [$mask, $value, $addressLines, $shorted];
            }
        }
        // Where few addresses were read several lines may fit; one that explains all bits goes before one that explains some.
        usort($agreeing, static fn (array $a, array $b): int => count($b['bits']) <=> count($a['bits']));
        $found = [];
        foreach ($agreeing as ['addressLines' => $addressLines, 'shorted' => $shorted, 'bits' => $bits]) {
            foreach ($bits as $bit => $shown) {
                $found[$slice->firstLine + $bit] ??= ['addressLines' => $addressLines, 'shorted' => $shorted, 'checked' => count($sample), 'shown' => $shown];
            }
        }

        return $found;
    }

    /**
     * All row lines, or all column lines, lost at once: a strobe that stands still, a multiplexer that does not switch. Then
     * all addresses that differ in nothing else are one cell, which holds what was written last.
     *
     * @return array<int, array{addressLines: list<int>, shorted: bool, checked: int, shown: int}> by data line
     */
    private function strobeLost(Slice $slice, int $wanted): array
    {
        $multiplex = $slice->bank->multiplex;
        $count = $slice->block->count();
        foreach ($multiplex === null || $count > self::SCATTERED ? [] : [$multiplex->row, $multiplex->column] as $lines) {
            $mask = array_sum(array_map(static fn (int $line): int => 1 << $line, $lines));
            $last = [];
            for ($offset = 0; $offset < $count; $offset++) {
                if ($slice->owns($offset)) {
                    $last[$slice->block->addressAt($offset) & ~$mask] = ord($slice->block->expected[$offset]);
                }
            }
            $agrees = $wanted;
            $shown = [];
            $checked = 0;
            for ($offset = 0; $offset < $count && $agrees !== 0; $offset++) {
                if (! $slice->owns($offset)) {
                    continue;
                }
                $act = $last[$slice->block->addressAt($offset) & ~$mask];
                $agrees &= ~(ord($slice->block->read[$offset]) ^ $act);
                $differs = ord($slice->block->expected[$offset]) ^ $act;
                $checked++;
                for ($bit = 0; $differs >> $bit !== 0; $bit++) {
                    $shown[$bit] = ($shown[$bit] ?? 0) + ($differs >> $bit & 1);
                }
            }
            $found = [];
            foreach ($shown as $bit => $times) {
                if (($agrees >> $bit & 1) === 1 && $times >= self::SUPPORT) {
                    $found[$slice->firstLine + $bit] = ['addressLines' => $lines, 'shorted' => false, 'checked' => $checked, 'shown' => $times];
                }
            }
            if (count($found) >= self::CARRIED || max([0, ...array_column($found, 'shown')]) >= self::SUPPORT_OF_STROBE) {
                return $found;
            }
        }

        return [];
    }

    /**
     * A line, the two that share a pin, or all of one multiplexer, lost by whatever they float to at the time: what is read
     * was written to an address that differs in no other line.
     *
     * @param  array<int, mixed>  $lines  data lines that fail, as keys
     * @return array<int, array{addressLines: list<int>, shorted: bool, checked: int, shown: int}> by data line
     */
    private function lostTogether(Tally $tally, array $lines): array
    {
        $count = array_sum(array_map(static fn (Slice $slice): int => $slice->block->count(), $tally->slices));
        foreach ($tally->slices === [] || $count > self::FEW ? [] : $this->together($tally->slices) as $lost) {
            $mask = array_sum(array_map(static fn (int $line): int => 1 << $line, $lost));
            $written = [];
            foreach ($this->blocks as $block) {
                for ($offset = 0; $offset < min(self::FEW, $block->count()); $offset++) {
                    $written[$block->addressAt($offset) & ~$mask][] = ord($block->expected[$offset]);
                }
            }
            $wrong = 0;
            $byChance = 0.0;
            $shown = [];
            foreach ($tally->slices as $slice) {
                $wanted = array_sum(array_map(static fn (int $bit): int => isset($lines[$slice->firstLine + $bit]) ? 1 << $bit : 0, range(0, 7)));
                for ($offset = 0; $offset < $slice->block->count(); $offset++) {
                    $read = ord($slice->block->read[$offset]) & $wanted;
                    $differs = (ord($slice->block->expected[$offset]) & $wanted) ^ $read;
                    if ($differs === 0 || ! $slice->owns($offset)) {
                        continue;
                    }
                    $there = array_unique(array_map(static fn (int $byte): int => $byte & $wanted, $written[$slice->block->addressAt($offset) & ~$mask] ?? []));
                    if (! in_array($read, $there, true)) {
                        continue 3;
                    }
                    $wrong++;
                    $byChance += count($there) / (1 << substr_count(decbin($wanted), '1'));
                    for ($bit = 0; $differs >> $bit !== 0; $bit++) {
                        $shown[$slice->firstLine + $bit] = ($shown[$slice->firstLine + $bit] ?? 0) + ($differs >> $bit & 1);
                    }
                }
            }
            if ($wrong >= self::SUPPORT && $byChance < self::BY_CHANCE * $wrong) {
                return array_map(static fn (): array => ['addressLines' => $lost, 'shorted' => false, 'checked' => $count, 'shown' => $wrong], array_filter($shown));
            }
        }

        return [];
    }

    /**
     * @param  non-empty-list<Slice>  $slices
     * @return list<list<int>> address lines that can be lost together, the fewer first
     */
    private function together(array $slices): array
    {
        $singles = array_values(array_unique(array_merge(...array_map($this->lines(...), $slices))));
        sort($singles);
        $sets = array_map(static fn (int $line): array => [$line], $singles);
        $slice = $slices[0];
        $multiplex = $slice->bank->multiplex;
        foreach ($multiplex->row ?? [] as $place => $row) {
            if (isset($multiplex->column[$place])) {
                $sets[] = [$row, $multiplex->column[$place]];
            }
        }
        foreach ($slice->bank->serversIn('multiplexer') as $server) {
            $lines = $server->addressLines();
            if (count($lines) > 2 && ! in_array($lines, $sets, true)) {
                $sets[] = $lines;
            }
        }
        usort($sets, static fn (array $a, array $b): int => count($a) <=> count($b));

        return $sets;
    }

    private function hasVariedData(Tally $tally): bool
    {
        foreach ($tally->slices as $slice) {
            if (strlen(count_chars($slice->block->expected, 3)) > 1) {
                return true;
            }
        }

        return count($tally->slices) > 1;
    }

    /**
     * @return list<array{int, int, int}> address, expected and read byte: failing ones first, evenly spread
     */
    private function sample(Slice $slice, int $wanted): array
    {
        $block = $slice->block;
        $differs = $slice->masked($block->expected ^ $block->read) & str_repeat(chr($wanted), $block->count());
        $sample = [];
        $length = strlen($differs);
        // One failing byte, the first, from each of as many equal windows as the sample is to have.
        $window = max(1, intdiv($length, self::FAILING));
        for ($start = 0; $start < $length; $start += $window) {
            $offset = $start + strspn($differs, "\0", $start, $window);
            if ($offset < min($length, $start + $window)) {
                $sample[] = [$block->addressAt($offset), ord($block->expected[$offset]), ord($block->read[$offset])];
            }
        }
        $step = max(1, intdiv($block->count(), self::PASSING)) | 1;
        for ($offset = 0, $count = $block->count(); $offset < $count; $offset += $step) {
            if ($differs[$offset] === "\0" && $slice->owns($offset)) {
                $sample[] = [$block->addressAt($offset), ord($block->expected[$offset]), ord($block->read[$offset])];
            }
        }

        return $sample;
    }

    /**
     * Single lines, and the row and column bit behind one multiplexed line.
     *
     * @return list<array{int, int, list<int>, bool}> address bits lost as a mask, their fixed value, the address lines, false
     */
    private function likely(Slice $slice): array
    {
        $candidates = [];
        foreach ($this->lines($slice) as $line) {
            $candidates[] = [1 << $line, 1 << $line, [$line], false];
            $candidates[] = [1 << $line, 0, [$line], false];
        }
        $multiplex = $slice->bank->multiplex;
        foreach ($multiplex->row ?? [] as $place => $row) {
            if (isset($multiplex->column[$place])) {
                array_push($candidates, ...$this->lost($row, $multiplex->column[$place]));
            }
        }

        return $candidates;
    }

    /**
     * Any two lines, lost together or shorted.
     *
     * @return list<array{int, int, list<int>, bool}> as above; for a short the value is what both become where they should differ
     */
    private function pairs(Slice $slice): array
    {
        $candidates = [];
        $lines = $this->lines($slice);
        foreach ($lines as $place => $a) {
            foreach (array_slice($lines, $place + 1) as $b) {
                $mask = 1 << $a | 1 << $b;
                array_push($candidates, [$mask, 0, [$a, $b], true], [$mask, $mask, [$a, $b], true], ...$this->lost($a, $b));
            }
        }

        return $candidates;
    }

    /**
     * @return list<array{int, int, list<int>, bool}>
     */
    private function lost(int $a, int $b): array
    {
        $mask = 1 << $a | 1 << $b;

        return array_map(static fn (int $value): array => [$mask, $value, [$a, $b], false], [$mask, 0, 1 << $a, 1 << $b]);
    }

    /**
     * @return list<int> the address lines that differ among the addresses that were read
     */
    private function lines(Slice $slice): array
    {
        $count = $slice->whole->count();
        $differ = $slice->whole->addressAt(0) ^ $slice->whole->addressAt($count - 1);
        $highest = strlen(decbin($differ));

        return range((int) log($this->board->bus->lanes(), 2), max($highest, 1 + (int) log($this->board->bus->lanes(), 2)) - 1);
    }

    /**
     * @param  list<array{int, int, int}>  $sample
     * @param  bool  $carried  the alias is known already: what agrees is of it
     * @return array<int, int> bit of the byte that agrees everywhere => addresses that showed it
     */
    private function agreeing(array $sample, Block $whole, int $mask, int $value, bool $shorted, int $wanted, bool $all, bool $carried = false): array
    {
        $shown = [];
        $unexplained = [];
        $candidates = $wanted;
        $addresses = 0;
        foreach ($sample as [$address, $expected, $read]) {
            $act = $shorted && (($address & $mask) === 0 || ($address & $mask) === $mask) ? $address : ($address & ~$mask) | $value;
            $other = $act === $address ? $expected : $this->expectedAt($act, $whole);
            if ($other === null) {
                for ($bit = 0, $differs = $expected ^ $read; $differs >> $bit !== 0; $bit++) {
                    if (($differs >> $bit & 1) === 1) {
                        $unexplained[$bit] = ($unexplained[$bit] ?? 0) + 1;
                    }
                }

                continue;
            }
            $candidates &= ~($read ^ $other);
            if ($candidates === 0) {
                return [];
            }
            $differs = $expected ^ $other;
            $addresses += ($differs & $wanted) !== 0 ? 1 : 0;
            for ($bit = 0; $differs !== 0 && $bit < 8; $bit++) {
                if (($differs >> $bit) & 1) {
                    $shown[$bit] = ($shown[$bit] ?? 0) + 1;
                }
            }
        }

        $agreeing = array_filter($shown, static fn (int $bit): bool => (($candidates >> $bit) & 1) === 1, ARRAY_FILTER_USE_KEY);
        if ($carried) {
            return $agreeing;
        }
        if ($candidates === $wanted && $unexplained === [] && $addresses >= self::SUPPORT) {
            return $agreeing; // All bits that are wrong agree, at every address: each of them may have shown it but once.
        }
        // What has no partner among the readings must not carry the verdict: count only what showed it.
        $carrying = array_filter($agreeing, static fn (int $count, int $bit): bool => $count >= self::SUPPORT && ($all ? ! isset($unexplained[$bit]) : $count > ($unexplained[$bit] ?? 0)), ARRAY_FILTER_USE_BOTH);

        // Once several bits carry it, the others that agree everywhere are of the same alias, however rarely they differed.
        return count($carrying) * 2 >= count($agreeing) && count($carrying) > 1 ? $agreeing : $carrying;
    }

    /** What was expected there: by the same readings where they hold the address, else by any other. */
    private function expectedAt(int $address, Block $whole): ?int
    {
        $here = $this->writtenIn($whole, [$whole], $address);
        if ($here !== false || $this->inOneGo) {
            return $here === false ? null : $here;
        }
        $elsewhere = $this->writtenIn($this, $this->blocks, $address);

        return $elsewhere === false ? null : $elsewhere;
    }

    /**
     * What was written at an address by the first of some blocks that holds it. It is asked for many times: where they are
     * not large it is kept by address.
     *
     * @param  Block|self  $key  what it is kept for
     * @param  list<Block>  $blocks
     * @return int|false|null null where it was written differently in one block, false where no block holds it
     */
    private function writtenIn(Block|self $key, array $blocks, int $address): int|false|null
    {
        $bytes = $this->written[$key] ?? null;
        if ($bytes === null) {
            $bytes = [];
            $small = array_sum(array_map(static fn (Block $block): int => $block->count(), $blocks)) <= self::SCATTERED;
            foreach ($small ? $blocks : [] as $block) {
                $seen = [];
                for ($offset = 0, $count = $block->count(); $offset < $count; $offset++) {
                    $at = $block->addressAt($offset);
                    $seen[$at] = isset($seen[$at]) && $seen[$at] !== ord($block->expected[$offset]) ? self::DIFFERENTLY : ord($block->expected[$offset]);
                }
                $bytes += $seen;
            }
            $this->written[$key] = $bytes = $small ? $bytes : false;
        }
        if ($bytes !== false) {
            $byte = $bytes[$address] ?? false;

            return $byte === self::DIFFERENTLY ? null : $byte;
        }
        foreach ($blocks as $block) {
            if ($block->offsetOf($address) !== null) {
                return $block->expectedAt($address);
            }
        }

        return false;
    }
}
