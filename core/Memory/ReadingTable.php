<?php

declare(strict_types=1);

namespace ZapTrace\Memory;

use ZapTrace\Board\Bus;

/**
 * Readings to be shown as a table: failing ones first, each as wide as it can be on the bus.
 */
final readonly class ReadingTable
{
    /**
     * @param  list<Reading>  $rows
     * @param  int  $more  readings (in bytes) that are not among the rows
     */
    private function __construct(public array $rows, public int $more)
    {
    }

    public static function of(Bus $bus, ReadingSet $set, int $limit): self
    {
        $failing = [];
        $passing = [];
        $shown = 0;
        foreach ($set->blocks() as ['page' => $page, 'block' => $block]) {
            $differs = $block->expected ^ $block->read;
            for ($offset = 0, $count = $block->count(); $offset < $count; $offset += $bytes) {
                $bytes = self::width($bus, $block, $offset);
                $fails = strspn($differs, "\0", $offset, $bytes) < $bytes;
                if (! $fails && count($passing) >= $limit) {
                    // Leap to the next failing byte, but not into the middle of a word.
                    $leap = $offset + strspn($differs, "\0", $offset);
                    $bytes = max($bytes, ($leap - $offset) & ~($bus->lanes() - 1));

                    continue;
                }
                if ($fails && count($failing) >= $limit) {
                    break;
                }
                $reading = self::reading($bus, $block, $offset, $bytes, $page);
                $fails ? $failing[] = $reading : $passing[] = $reading;
            }
        }
        $rows = array_slice([...$failing, ...$passing], 0, $limit);
        foreach ($rows as $row) {
            $shown += intdiv($row->bits, 8);
        }

        return new self($rows, $set->count() - $shown);
    }

    private static function width(Bus $bus, Block $block, int $offset): int
    {
        $lanes = $bus->lanes();
        $address = $block->addressAt($offset);
        if ($lanes === 1 || $address % $lanes !== 0 || $offset + $lanes > $block->count() || $block->addressAt($offset + $lanes - 1) !== $address + $lanes - 1) {
            return 1;
        }

        return $lanes;
    }

    private static function reading(Bus $bus, Block $block, int $offset, int $bytes, ?int $page): Reading
    {
        $value = static fn (string $text): int => (int) hexdec(bin2hex($bus->bigEndian ? substr($text, $offset, $bytes) : strrev(substr($text, $offset, $bytes))));

        return new Reading($block->addressAt($offset), $value($block->expected), $value($block->read), $bytes === 1 ? 8 : ($bytes === 2 ? 16 : 32), $page);
    }
}
