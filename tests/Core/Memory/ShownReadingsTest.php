<?php

declare(strict_types=1);

namespace Tests\Core\Memory;

use PHPUnit\Framework\TestCase;
use Tests\Support\Boards;
use ZapTrace\Board\BoardProfile;
use ZapTrace\Board\Settings;
use ZapTrace\Memory\AddressRuler;
use ZapTrace\Memory\Reading;
use ZapTrace\Memory\ReadingSet;
use ZapTrace\Memory\ReadingsText;
use ZapTrace\Memory\ReadingTable;
use ZapTrace\Numbers\Radix;

/**
 * Readings as they are drawn: on the address ruler, and as a table.
 */
final class ShownReadingsTest extends TestCase
{
    public function test_the_ruler_shows_where_it_failed_and_what_was_read(): void
    {
        $board = Boards::shipped('larkspur-64');
        $set = new ReadingSet($board->bus);
        $set->addDump(0x2000, str_repeat("\0", 0x1000), str_repeat("\0", 0x800).str_repeat("\x20", 0x800));
        $ruler = AddressRuler::of($board, Settings::of($board), [[Settings::of($board), $set]]);

        self::assertSame([[0x2000, 0x2FFF]], $ruler->tested);
        self::assertSame(0x2800, $ruler->failing[0]);
        self::assertLessThanOrEqual(0x2FFF, max($ruler->failing));
        self::assertLessThanOrEqual(128, count($ruler->failing));
    }

    public function test_readings_under_other_links_are_not_drawn_where_they_were_not(): void
    {
        $board = Boards::shipped('tamarisk-two');
        $swapped = Settings::of($board, ['LK1' => 'swapped']);
        $ruler = AddressRuler::of($board, Settings::of($board), [[$swapped, $this->readings($board, '4000 00 20')]]);

        self::assertSame([[], []], [$ruler->failing, $ruler->tested]);
        self::assertSame([[0x4000, 0x4000]], AddressRuler::of($board, $swapped, [[$swapped, $this->readings($board, '4000 00 20')]])->tested);
    }

    public function test_the_ruler_draws_what_a_read_reaches(): void
    {
        $board = Boards::shipped('larkspur-64');
        $kinds = static fn (array $links): array => array_map(static fn ($range): string => $range->kind->value, AddressRuler::of($board, Settings::of($board, $links), [])->ranges);

        self::assertSame(['ram', 'ram', 'io', 'ram', 'rom'], $kinds([]));
        self::assertSame(['ram', 'ram', 'io', 'ram', 'ram'], $kinds(['ROMSEL' => 'out']));
        self::assertSame(['ram', 'open', 'io', 'ram', 'rom'], $kinds(['LK2' => '32K']));
    }

    public function test_the_table_has_failing_readings_first_and_counts_the_rest(): void
    {
        $board = Boards::shipped('larkspur-64');
        $set = new ReadingSet($board->bus);
        $read = str_repeat("\0", 5000);
        $read[4321] = "\x20";
        $set->addDump(0x2000, str_repeat("\0", 5000), $read);
        $table = ReadingTable::of($board->bus, $set, 10);

        self::assertSame([0x2000 + 4321, 0x20], [$table->rows[0]->address, $table->rows[0]->read]);
        self::assertCount(10, $table->rows);
        self::assertSame(4990, $table->more);
    }

    public function test_on_a_wide_bus_the_table_shows_whole_words_where_it_can(): void
    {
        $board = Boards::shipped('halyard-16');
        $shown = static fn (string $text): array => array_map(
            static fn (Reading $row): array => [$row->address, $row->expected, $row->read, $row->bits],
            ReadingTable::of($board->bus, (new ReadingsText($board, Radix::Hexadecimal))->read($text), 10)->rows,
        );

        self::assertSame([[0x1000, 0x1234, 0x1235, 16]], $shown('1000 1234 1235'));
        self::assertSame([[0x1001, 0x34, 0x35, 8]], $shown('1001 34 35'));
    }

    private function readings(BoardProfile $board, string $text): ReadingSet
    {
        return (new ReadingsText($board, Radix::Hexadecimal))->read($text);
    }
}
