<?php

declare(strict_types=1);

namespace ZapTrace\Rom;

/**
 * Holds the reads of a chip against each other and against a known-good image.
 */
final readonly class RomComparer
{
    /** Stretches of the map of the image. */
    private const CELLS = 256;

    /** Stretches that differ are listed up to so many. */
    private const RUNS = 4096;

    /** Fewer bytes than these show nothing about tied bits or repeats by their contents. */
    private const TELLING = 32;

    /**
     * @param  non-empty-list<RomImage>  $reads  of one chip
     */
    public function compare(array $reads, ?RomImage $good = null): RomComparison
    {
        $last = $reads[count($reads) - 1];
        foreach ($reads as $read) {
            if ($read->size() !== $last->size()) {
                return new RomComparison(RomVerdict::Unstable, differences: abs($read->size() - $last->size()), because: ["{$read->name} has {$read->size()} bytes and {$last->name} {$last->size()}: they are not reads of one chip with one setting of the reader."]);
            }
        }
        if (count($reads) > 1) {
            $unstable = $this->unstable($reads);
            if ($unstable !== null) {
                return $unstable;
            }
        }
        $again = count($reads) > 1 ? [count($reads).' reads agree byte for byte.'] : [];

        return $this->one($last, $good)->because(...$again);
    }

    private function one(RomImage $read, ?RomImage $good): RomComparison
    {
        if ($good !== null && $read->size() > $good->size() && $read->size() % $good->size() === 0 && $read->bytes === str_repeat($good->bytes, intdiv($read->size(), $good->size()))) {
            $times = intdiv($read->size(), $good->size());

            return new RomComparison(RomVerdict::Match, because: ["It holds {$good->name} {$times} times, as an image that was repeated to fill a larger chip does."]);
        }
        if ($good !== null && $read->bytes === $good->bytes) {
            return new RomComparison(RomVerdict::Match, because: ["Every byte is as in {$good->name}; CRC-32 {$read->crc32()}."]);
        }
        $plain = $this->byItself($read, $good);
        if ($plain !== null) {
            return $good === null ? $plain : $this->against($read, $good, $plain);
        }
        if ($good === null && $read->size() < 2) {
            return new RomComparison(RomVerdict::Unknown, because: ['One byte tells nothing. Read all of the chip.']);
        }
        if ($good === null) {
            return new RomComparison(RomVerdict::Unknown, because: ["Nothing odd about it by itself: no data bit is constant or tied, nothing repeats. CRC-32 {$read->crc32()}. A known-good image would tell more."]);
        }
        if ($read->size() !== $good->size()) {
            return $this->against($read, $good, new RomComparison(RomVerdict::Differs, because: [sprintf('%s has %d bytes, %s %d.', $read->name, $read->size(), $good->name, $good->size())]));
        }
        $moved = (new AddressLines($read->bytes, $good->bytes))->explain();
        if ($moved !== null) {
            return $this->against($read, $good, new RomComparison($moved['mirrored'] ? RomVerdict::Mirrored : RomVerdict::AddressLines, addressLines: $moved['lines'], because: [$moved['sentence']]));
        }

        return $this->against($read, $good, new RomComparison(RomVerdict::Differs));
    }

    /** What its contents show without anything to compare with. */
    private function byItself(RomImage $read, ?RomImage $good): ?RomComparison
    {
        if ($read->size() < 2) {
            return null;
        }
        $histogram = count_chars($read->bytes, 1);
        if (count($histogram) === 1) {
            $value = (int) array_key_first($histogram);

            return match ($value) {
                0xFF => new RomComparison(RomVerdict::Blank, because: ['Every byte is FF. An erased chip reads so; so does a dead one, and one whose select or output enable never comes.']),
                0x00 => new RomComparison(RomVerdict::Zeros, because: ['Every byte is 00. A chip without supply or ground, held outputs or a reader set to another type give this; an erased EPROM does not.']),
                default => new RomComparison(RomVerdict::ConstantBits, self::constant($value, 255 ^ $value), because: [sprintf('Every byte is %02X: no data bit moves. It is not selected, or not addressed at all.', $value)]),
            };
        }
        $always = 0xFF;
        $never = 0xFF;
        foreach (array_keys($histogram) as $byte) {
            $always &= $byte;
            $never &= ~$byte & 0xFF;
        }
        $inGood = [0, 0];
        if ($good !== null) {
            $inGood = [0xFF, 0xFF];
            foreach (array_keys(count_chars($good->bytes, 1)) as $byte) {
                $inGood = [$inGood[0] & $byte, $inGood[1] & ~$byte & 0xFF];
            }
        }
        $always &= ~$inGood[0];
        $never &= ~$inGood[1];
        if ($always !== 0 || $never !== 0) {
            $bits = self::constant($always, $never);

            return new RomComparison(RomVerdict::ConstantBits, $bits, because: array_map(static fn (array $bit): string => "D{$bit['bit']} reads {$bit['value']} at every address: its output, or its data line between here and the reader.", $bits));
        }
        $tied = $read->size() < self::TELLING ? [] : self::tied($histogram, $good === null ? [] : count_chars($good->bytes, 1));
        if ($tied !== []) {
            return new RomComparison(RomVerdict::TiedBits, tied: $tied, because: array_map(static fn (array $pair): string => "D{$pair['bits'][0]} and D{$pair['bits'][1]} are ".($pair['inverted'] ? 'opposite' : 'alike').' at every address'.($pair['inverted'] ? '.' : ': two data lines that touch.'), $tied));
        }
        $repeats = $read->size() < self::TELLING ? [] : AddressLines::withoutEffect($read->bytes);
        $repeats = $good !== null && $good->size() === $read->size() ? array_values(array_diff($repeats, AddressLines::withoutEffect($good->bytes))) : $repeats;
        if ($repeats === []) {
            return null;
        }
        $top = RomImage::bitsFor($read->size()) - 1;
        $smaller = range($top - count($repeats) + 1, $top) === $repeats;
        $lines = self::lines($repeats);

        return new RomComparison(RomVerdict::Mirrored, addressLines: $repeats, because: [
            count($repeats) === 1 ? "The contents are the same whether {$lines} is low or high." : "The contents are the same whatever {$lines} are.",
            $smaller
                ? sprintf('The uppermost lines: it may be an image of %d bytes repeated to fill the chip; otherwise %s does not get through.', $read->size() >> count($repeats), $lines)
                : "That is no smaller image: {$lines} does not get through to the chip, by its pin, its socket or its line.",
        ]);
    }

    /**
     * @param  non-empty-list<RomImage>  $reads
     */
    private function unstable(array $reads): ?RomComparison
    {
        $changes = str_repeat("\0", $reads[0]->size());
        for ($number = 1; $number < count($reads); $number++) {
            $changes |= $reads[0]->bytes ^ $reads[$number]->bytes;
        }
        if (strspn($changes, "\0") === strlen($changes)) {
            return null;
        }
        $differ = strlen($changes) - substr_count($changes, "\0");
        $ones = str_repeat("\xFF", $reads[0]->size());
        $or = str_repeat("\0", $reads[0]->size());
        foreach ($reads as $read) {
            $ones &= $read->bytes;
            $or |= $read->bytes;
        }
        $byBit = array_map(static fn (array $bit): array => ['bit' => $bit['bit'], 'toOnes' => $bit['toOnes'], 'toZeros' => $bit['toOnes']], self::byBit($ones, $or));
        $names = implode(', ', array_map(static fn (array $bit): string => "D{$bit['bit']}", $byBit));

        return new RomComparison(
            RomVerdict::Unstable, differences: $differ, byBit: $byBit, map: self::map($changes), first: strspn($changes, "\0"),
            because: [
                sprintf('%d of %d bytes change from one read to the next, the first at %X; in %s.', $differ, strlen($changes), strspn($changes, "\0"), $names),
                count($byBit) === 1 ? 'One data bit alone: a weak output, or a contact of that pin.' : 'A contact, the supply, a chip that is slower than its reader, or cells about to lose their charge.',
            ],
            runs: self::runs($changes),
        );
    }

    /** The same comparison with what differs from the good image. */
    private function against(RomImage $read, RomImage $good, RomComparison $found): RomComparison
    {
        $length = min($read->size(), $good->size());
        $a = substr($read->bytes, 0, $length);
        $b = substr($good->bytes, 0, $length);
        $changes = $a ^ $b;
        $differ = $length - substr_count($changes, "\0") + abs($read->size() - $good->size());
        $byBit = self::byBit($b, $a);
        $because = $found->because;
        if ($found->verdict === RomVerdict::Differs && $byBit !== []) {
            $because[] = sprintf('%d of %d bytes are not as in %s, the first at %X.', $differ, $read->size(), $good->name, strspn($changes, "\0"));
            $ones = array_sum(array_column($byBit, 'toOnes'));
            $zeros = array_sum(array_column($byBit, 'toZeros'));
            $names = implode(', ', array_map(static fn (array $bit): string => "D{$bit['bit']}", $byBit));
            $because[] = match (true) {
                $zeros === 0 => "All of them read 1 where 0 was written ({$names}): cells that lost their charge.",
                $ones === 0 => "All of them read 0 where 1 was written ({$names}): cells that never were erased, or something that pulls the line down.",
                count($byBit) === 1 => "Only {$names} is wrong, both ways: its line, or another device on it.",
                default => sprintf('%d bits read 1 for 0 and %d read 0 for 1: another version of the contents, or another chip answering as well.', $ones, $zeros),
            };
        }
        if ($found->verdict === RomVerdict::ConstantBits && count($found->bits) < 8) {
            $bad = array_column($found->bits, 'bit');
            $others = array_filter($byBit, static fn (array $bit): bool => ! in_array($bit['bit'], $bad, true));
            $because[] = $others === [] ? 'All other bits are as in the good image: it is this bit alone, and the addresses are right.' : 'Other bits differ from the good image as well.';
        }

        return new RomComparison($found->verdict, $found->bits, $found->tied, $found->addressLines, $differ, $byBit, self::map($changes), strspn($changes, "\0") < $length ? strspn($changes, "\0") : $length, $because, self::runs($changes));
    }

    /**
     * Which bits differ, and which way: a bit that should be 0 and reads 1 has gone to ones.
     *
     * @return list<array{bit: int, toOnes: int, toZeros: int}>
     */
    private static function byBit(string $should, string $is): array
    {
        $counts = array_fill(0, 8, ['toOnes' => 0, 'toZeros' => 0]);
        foreach (['toOnes' => count_chars($is & ~$should, 1), 'toZeros' => count_chars($should & ~$is, 1)] as $way => $histogram) {
            foreach ($histogram as $byte => $times) {
                for ($bit = 0; $bit < 8; $bit++) {
                    $counts[$bit][$way] += ($byte >> $bit & 1) * $times;
                }
            }
        }
        $byBit = [];
        foreach ($counts as $bit => $count) {
            if ($count['toOnes'] + $count['toZeros'] > 0) {
                $byBit[] = ['bit' => $bit, 'toOnes' => $count['toOnes'], 'toZeros' => $count['toZeros']];
            }
        }

        return $byBit;
    }

    /**
     * @return list<array{at: int, length: int}>
     */
    private static function runs(string $changes): array
    {
        $runs = [];
        $at = strspn($changes, "\0");
        while ($at < strlen($changes) && count($runs) < self::RUNS) {
            $length = strcspn($changes, "\0", $at);
            $runs[] = ['at' => $at, 'length' => $length];
            $at += $length + strspn($changes, "\0", $at + $length);
        }

        return $runs;
    }

    /**
     * @return list<float>
     */
    private static function map(string $changes): array
    {
        $length = max(1, intdiv(strlen($changes) + self::CELLS - 1, self::CELLS));
        $map = [];
        foreach (str_split($changes, $length) as $stretch) {
            $map[] = round(1.0 - substr_count($stretch, "\0") / strlen($stretch), 4);
        }

        return $map;
    }

    /**
     * @return list<array{bit: int, value: int}>
     */
    private static function constant(int $ones, int $zeros): array
    {
        $bits = [];
        for ($bit = 0; $bit < 8; $bit++) {
            if (($ones >> $bit & 1) === 1) {
                $bits[] = ['bit' => $bit, 'value' => 1];
            } elseif (($zeros >> $bit & 1) === 1) {
                $bits[] = ['bit' => $bit, 'value' => 0];
            }
        }

        return $bits;
    }

    /**
     * @param  array<int, int>  $histogram  byte => times
     * @param  array<int, int>  $good  the same of the good image; what is tied there is no fault
     * @return list<array{bits: array{int, int}, inverted: bool}>
     */
    private static function tied(array $histogram, array $good): array
    {
        $pairs = static function (array $bytes): array {
            $found = [];
            for ($a = 0; $a < 7; $a++) {
                for ($b = $a + 1; $b < 8; $b++) {
                    $kinds = [];
                    foreach (array_keys($bytes) as $byte) {
                        $kinds[((int) $byte >> $a ^ (int) $byte >> $b) & 1] = true;
                    }
                    if (count($kinds) === 1) {
                        $found["{$a} {$b}"] = ['bits' => [$a, $b], 'inverted' => isset($kinds[1])];
                    }
                }
            }

            return $found;
        };

        return array_values(array_diff_key($pairs($histogram), $good === [] ? [] : $pairs($good)));
    }

    /**
     * @param  non-empty-list<int>  $lines
     */
    private static function lines(array $lines): string
    {
        return implode(', ', array_map(static fn (int $line): string => "A{$line}", $lines));
    }
}
