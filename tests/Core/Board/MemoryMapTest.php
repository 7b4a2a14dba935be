<?php

declare(strict_types=1);

namespace Tests\Core\Board;

use PHPUnit\Framework\TestCase;
use Tests\Support\Boards;
use ZapTrace\Board\RangeKind;
use ZapTrace\Board\Settings;

final class MemoryMapTest extends TestCase
{
    public function test_memory_beneath_the_ROM_is_reached_by_writing_and_by_its_latch(): void
    {
        $board = Boards::shipped('larkspur-64');
        $in = Settings::of($board);
        $out = Settings::of($board, ['ROMSEL' => 'out']);

        self::assertSame(RangeKind::Rom, $board->map->find(0xE123, 'read', $in)?->kind);
        self::assertSame(RangeKind::Ram, $board->map->find(0xE123, 'write', $in)?->kind);
        self::assertSame(RangeKind::Ram, $board->map->find(0xE123, 'read', $out)?->kind);
        self::assertSame(RangeKind::Io, $board->map->find(0xD012, 'read', $out)?->kind);
    }

    public function test_a_crossed_link_moves_the_low_half_to_the_top(): void
    {
        $board = Boards::shipped('larkspur-64');
        $crossed = Settings::of($board, ['LK1' => 'crossed']);

        foreach ([0x0000, 0x7FFF, 0x8000, 0xCFFF, 0xD100, 0xDFFF] as $address) {
            self::assertSame($address ^ 0x8000, $board->map->find($address, 'read', $crossed)?->bankAddressOf($address));
            self::assertSame($address, $board->map->find($address, 'read', Settings::of($board))?->bankAddressOf($address));
        }
    }

    public function test_an_address_of_a_page_is_reached_on_that_page_only(): void
    {
        $board = Boards::build(Boards::plain(['map' => [
            ['from' => '0xC000', 'to' => '0xCFFF', 'kind' => 'ram', 'bank' => '0', 'page' => 2, 'bankAddress' => '0x2000'],
        ]]));

        self::assertSame(0x2010, $board->map->find(0xC010, 'read', Settings::of($board), 2)?->bankAddressOf(0xC010));
        self::assertNull($board->map->find(0xC010, 'read', Settings::of($board), 1));
        self::assertNull($board->map->find(0xC010, 'read', Settings::of($board)));
        self::assertSame([2], $board->map->pages());
    }

    public function test_on_a_big_endian_bus_the_even_byte_uses_the_upper_lines(): void
    {
        $bus = Boards::shipped('halyard-16')->bus;

        self::assertSame(8, $bus->firstLineOf(0x1000));
        self::assertSame(0, $bus->firstLineOf(0x1001));
        self::assertSame(0, $bus->placeOfLane(8));
        self::assertSame(1, $bus->placeOfLane(0));
    }
}
