<?php

declare(strict_types=1);

namespace Tests\Core\Rom;

use PHPUnit\Framework\TestCase;
use Tests\Support\Captures;
use ZapTrace\Rom\RomImage;
use ZapTrace\Rom\StartUp;

/**
 * Where processors begin, by their manuals: 6502 FFFC, 6809 FFFE (high byte first), Z80 and 8085 at 0000, 8088 at
 * FFFF0, 68000 stack pointer at 0 and program counter at 4.
 */
final class StartUpTest extends TestCase
{
    public function test_each_processor_begins_where_its_manual_says(): void
    {
        foreach (['6502' => ['vector', 0xFFFC, 'little'], '65C02' => ['vector', 0xFFFC, 'little'], '6809' => ['vector', 0xFFFE, 'big'], 'Z80' => ['address', 0, 'little'], '8085' => ['address', 0, 'little'], '8088' => ['address', 0xFFFF0, 'little'], '68000' => ['vector', 4, 'big']] as $processor => [$how, $at, $order]) {
            $start = Captures::bus((string) $processor)->start;
            self::assertSame([$how, $at, $order], [$start['how'], $start['at'], $start['order']], (string) $processor);
        }
    }

    public function test_a_vector_into_a_rom_is_nothing_odd_and_one_into_nothing_is(): void
    {
        $good = $this->image(0x2000, [0x1FFC => "\x00\xF0"]);
        $bad = $this->image(0x2000, [0x1FFC => "\x00\x40"]);

        self::assertSame([], $this->problems('6502', $good, 0xE000, [[0xE000, 0xFFFF]]));
        self::assertStringContainsString('FFFC leads to 4000', $this->problems('6502', $bad, 0xE000, [[0xE000, 0xFFFF]])[0]);
    }

    public function test_the_other_rom_of_the_machine_is_a_good_place_to_start_in(): void
    {
        $image = $this->image(0x1000, [0xFFC => "\x34\xC2"]);

        self::assertSame([], $this->problems('6502', $image, 0xF000, [[0xC000, 0xCFFF], [0xF000, 0xFFFF]]));
        self::assertCount(1, $this->problems('6502', $image, 0xF000, [[0xF000, 0xFFFF]]));
    }

    public function test_a_6809_has_its_high_byte_first(): void
    {
        $image = $this->image(0x2000, [0x1FFE => "\xE1\x00"]);

        self::assertSame([], $this->problems('6809', $image, 0xE000, [[0xE000, 0xFFFF]]));
        self::assertStringContainsString('leads to 00E1', $this->problems('6809', $this->image(0x2000, [0x1FFE => "\x00\xE1"]), 0xE000, [[0xE000, 0xFFFF]])[0]);
    }

    public function test_a_68000_stops_at_an_odd_address(): void
    {
        $roms = [[0, 0xFFFF]];

        self::assertSame([], $this->problems('68000', $this->image(0x400, [4 => "\x00\x00\x01\x00"]), 0, $roms));
        self::assertStringContainsString('an odd address', implode(' ', $this->problems('68000', $this->image(0x400, [4 => "\x00\x00\x01\x01"]), 0, $roms)));
        self::assertStringContainsString('no ROM', implode(' ', $this->problems('68000', $this->image(0x400, [4 => "\x00\x80\x00\x00"]), 0, $roms)));
    }

    public function test_no_program_begins_with_an_erased_or_an_empty_byte(): void
    {
        self::assertSame([], $this->problems('Z80', $this->image(0x800, [0 => "\xF3"]), 0, [[0, 0x7FF]]));
        self::assertStringContainsString('there is FF', $this->problems('Z80', $this->image(0x800, [0 => "\xFF"]), 0, [[0, 0x7FF]])[0]);
        self::assertStringContainsString('there is 00', $this->problems('8085', $this->image(0x800, [0 => "\x00"]), 0, [[0, 0x7FF]])[0]);
        self::assertStringContainsString('FFFF0', $this->problems('8088', $this->image(0x2000, [0x1FF0 => "\xFF"]), 0xFE000, [[0xFE000, 0xFFFFF]])[0]);
    }

    public function test_an_image_that_does_not_hold_the_start_says_nothing(): void
    {
        foreach (['6502' => 0x8000, 'Z80' => 0x2000, '8088' => 0xE0000, '68000' => 0x10000] as $processor => $from) {
            self::assertSame([], $this->problems((string) $processor, $this->image(0x800, []), $from, [[$from, $from + 0x7FF]]), (string) $processor);
        }
    }

    /**
     * @param  list<array{int, int}>  $roms
     * @return list<string>
     */
    private function problems(string $processor, RomImage $image, int $from, array $roms): array
    {
        return (new StartUp(Captures::bus($processor), $roms))->problems($image, $from);
    }

    /**
     * @param  array<int, string>  $at
     */
    private function image(int $size, array $at): RomImage
    {
        $bytes = str_repeat("\xEA", $size);
        foreach ($at as $offset => $part) {
            $bytes = substr_replace($bytes, $part, $offset, strlen($part));
        }

        return RomImage::of($bytes, 'image');
    }
}
