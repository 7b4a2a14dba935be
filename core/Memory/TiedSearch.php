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

    /** So many where other bits are wrong at the same places. */
    private const SURE = 12;

    /**
     * @param  array<int, mixed>  $lines  data lines that fail, but not everywhere, as keys
     * @return list<array{int, int, int, int, bool}> two lines, readings in which they were to differ, readings in which they were to be the same, and whether all of these were right
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
                        $found[] = [$firstLine + $a, $firstLine + $b, ...$counts];
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
     * @return array{int, int, bool}|null
     */
    private function follow(array $slices, int $a, int $b): ?array
    {
        $either = chr(1 << $a | 1 << $b);
        $from = implode('', array_map(chr(...), range(0, 255)));
        $to = implode('', array_map(static fn (int $byte): string => ((($byte >> $a) ^ ($byte >> $b)) & 1) === 1 ? "\xFF" : "\x00", range(0, 255)));
        $able = 0;
        $same = 0;
        $otherwise = false;
        $values = '';
        foreach ($slices as $slice) {
            $expected = $slice->masked($slice->block->expected);
            $read = $slice->masked($slice->block->read);
            $toDiffer = strtr($expected, $from, $to);
            $doDiffer = strtr($read, $from, $to);
            if (str_contains($doDiffer, "\xFF")) {
                return null;
            }
            $wrong = ($expected ^ $read) & str_repeat($either, strlen($read)) & ~$toDiffer;
            // Both wrong alike: another address was read as well.
            $otherwise = $otherwise || strspn($wrong, "\0") < strlen($wrong);
            $values .= count_chars($read & str_repeat($either, strlen($read)), 3);
            $count = substr_count($toDiffer, "\xFF");
            $able += $count;
            $same += $slice->count() - $count;
        }

        $enough = $otherwise ? self::SURE : self::SUPPORT;

        return $able >= $enough && $same >= $enough && (! $otherwise || strlen(count_chars($values, 3)) > 1) ? [$able, $same, ! $otherwise] : null;
    }
}
