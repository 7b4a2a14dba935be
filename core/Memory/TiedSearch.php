<?php

declare(strict_types=1);

namespace ZapTrace\Memory;

/**
 * Looks for bits that follow each other: a short between two data lines. Where both were to be the same they are
 * right; where they were to differ they read the same.
 */
final class TiedSearch
{
    private const SUPPORT = 2;

    /**
     * @param  array<int, mixed>  $lines  data lines that fail, but not everywhere, as keys
     * @return list<array{int, int, int, int}> two lines, readings in which they were to differ, and readings in which they were to be the same
     */
    public function search(Tally $tally, array $lines): array
    {
        $found = [];
        foreach ($this->lanes($tally) as $firstLine => $slices) {
            for ($a = 0; $a < 8; $a++) {
                for ($b = $a + 1; $b < 8; $b++) {
                    if (! isset($tally->bits[$firstLine + $a], $tally->bits[$firstLine + $b])
                        || ! (isset($lines[$firstLine + $a]) || isset($lines[$firstLine + $b]))) {
                        continue;
                    }
                    $counts = $this->follow($slices, $a, $b);
                    if ($counts !== null) {
                        $found[] = [$firstLine + $a, $firstLine + $b, $counts[0], $counts[1]];
                    }
                }
            }
        }

        return $found;
    }

    /**
     * @return array<int, list<Slice>>
     */
    private function lanes(Tally $tally): array
    {
        $lanes = [];
        foreach ($tally->slices as $slice) {
            $lanes[$slice->firstLine][] = $slice;
        }

        return $lanes;
    }

    /**
     * @param  list<Slice>  $slices
     * @return array{int, int}|null
     */
    private function follow(array $slices, int $a, int $b): ?array
    {
        $either = chr(1 << $a | 1 << $b);
        $from = implode('', array_map(chr(...), range(0, 255)));
        $to = implode('', array_map(static fn (int $byte): string => ((($byte >> $a) ^ ($byte >> $b)) & 1) === 1 ? "\xFF" : "\x00", range(0, 255)));
        $able = 0;
        $same = 0;
        foreach ($slices as $slice) {
            $expected = $slice->masked($slice->block->expected);
            $read = $slice->masked($slice->block->read);
            $toDiffer = strtr($expected, $from, $to);
            $doDiffer = strtr($read, $from, $to);
            if (str_contains($doDiffer, "\xFF")) {
                return null;
            }
            $wrong = ($expected ^ $read) & str_repeat($either, strlen($read)) & ~$toDiffer;
            if (strspn($wrong, "\0") < strlen($wrong)) {
                return null;
            }
            $count = substr_count($toDiffer, "\xFF");
            $able += $count;
            $same += $slice->count() - $count;
        }

        return $able >= self::SUPPORT && $same >= self::SUPPORT ? [$able, $same] : null;
    }
}
