<?php

declare(strict_types=1);

namespace Tests\Core\Memory;

use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;
use Tests\Support\Boards;
use Tests\Support\Map;
use ZapTrace\Board\Settings;
use ZapTrace\Formats\FileKind;
use ZapTrace\Formats\HexText;
use ZapTrace\Formats\IntelHex;
use ZapTrace\Formats\MemoryImage;
use ZapTrace\Formats\SRecord;
use ZapTrace\Memory\Expectation;
use ZapTrace\Memory\ReadingsFile;
use ZapTrace\Numbers\Radix;
use ZapTrace\Problems\InputRejected;

final class ReadingsFileTest extends TestCase
{
    public function test_one_dump_gives_the_same_answer_in_every_format(): void
    {
        $image = MemoryImage::contiguous(0x2000, str_repeat("\x20", 256));
        foreach (['dump.hex' => IntelHex::write($image), 'dump.s19' => SRecord::write($image), 'dump.txt' => HexText::write($image), 'dump.bin' => str_repeat("\x20", 256)] as $name => $content) {
            $file = $this->read($content, $name, Expectation::parse('fill:00'), 0x2000);
            $block = $file->readings->blocks()[0]['block'];
            self::assertSame([0x2000, 256, "\x20"], [$block->from, $block->count(), $block->read[0]], $name);
            self::assertSame('U14', Map::leading(Boards::shipped('larkspur-64'), Map::set(Boards::shipped('larkspur-64'), $file->readings)), $name);
        }
    }

    /**
     * @return iterable<string, array{string, int, string, string}>
     */
    public static function expectations(): iterable
    {
        yield 'fill' => ['fill:A5', 0x1000, 'A5A5A5A5', 'larkspur-64'];
        yield 'alternating from an even address' => ['alternate:55AA', 0x1000, '55AA55AA', 'larkspur-64'];
        yield 'alternating from an odd address' => ['alternate:55AA', 0x1001, 'AA55AA55', 'larkspur-64'];
        yield 'address, low byte' => ['address', 0x12FE, 'FEFF0001', 'larkspur-64'];
        yield 'address, high byte' => ['address:high', 0x12FE, '12121313', 'larkspur-64'];
        yield 'address on a 16-bit bus' => ['address', 0x12FE, '12FE1300', 'halyard-16'];
        yield 'upper address on a 16-bit bus' => ['address:high', 0x12FE, '00120013', 'halyard-16'];
    }

    #[DataProvider('expectations')]
    public function test_a_pattern_is_laid_by_address(string $expect, int $from, string $hex, string $slug): void
    {
        $stretches = Expectation::parse($expect)->against(MemoryImage::contiguous($from, "\0\0\0\0"), Boards::shipped($slug)->bus);

        self::assertSame($hex, strtoupper(bin2hex($stretches[0][1])));
    }

    public function test_a_second_file_is_compared_where_both_have_bytes(): void
    {
        $second = MemoryImage::contiguous(0x2080, str_repeat("\x11", 256));
        $file = $this->read(str_repeat("\x11", 256), 'a.bin', Expectation::image($second, 'b.bin'), 0x2000);

        self::assertSame(128, $file->readings->count());
        self::assertStringContainsString('128 of 256 bytes', $file->notes[0]);
    }

    public function test_files_without_a_common_address_are_refused(): void
    {
        $this->expectExceptionMessage('share no address');
        $this->read('abcd', 'a.bin', Expectation::image(MemoryImage::contiguous(0x8000, 'abcd'), 'b.bin'), 0x2000, FileKind::Binary);
    }

    /**
     * @return iterable<string, array{string, string|null, int|null, string}>
     */
    public static function bad(): iterable
    {
        yield 'an empty file' => ['', 'fill:00', null, 'empty'];
        yield 'a dump without a comparison' => ["\0\1", null, null, 'say what it should have held'];
        yield 'a dump beyond the last address' => [str_repeat("\0", 256), 'fill:00', 0xFF80, 'outside memory'];
        yield 'a dump of nothing but ROM' => [str_repeat("\0", 256), 'fill:00', 0xE000, 'Nothing of this dump'];
        yield 'a checksum' => [":0300300002337A1F\n:00000001FF", 'fill:00', null, 'checksum is 1F'];
    }

    #[DataProvider('bad')]
    public function test_a_bad_file_is_refused_with_a_sentence(string $content, ?string $expect, ?int $base, string $says): void
    {
        $this->expectException(InputRejected::class);
        $this->expectExceptionMessage($says);
        $this->read($content, 'file', $expect === null ? null : Expectation::parse($expect), $base);
    }

    public function test_a_file_beyond_the_limit_is_refused_with_the_limit(): void
    {
        $this->expectExceptionMessage('100.0 MiB; at most 32 MiB');
        ReadingsFile::refuseSize(100 * 1024 * 1024, 'big.bin');
    }

    public function test_the_part_of_a_dump_that_no_bank_answers_is_left_aside_and_said(): void
    {
        $file = $this->read(str_repeat("\0", 65536), 'all.bin', Expectation::parse('fill:00'), 0);

        self::assertStringContainsString('8448 of 65536 bytes', $file->notes[0]); // I/O 256, ROM 8192
    }

    /**
     * @return iterable<string, array{string}>
     */
    public static function notExpectations(): iterable
    {
        foreach (['', 'fill', 'fill:', 'fill:123', 'fill:GG', 'alternate:55', 'ramp'] as $text) {
            yield $text === '' ? 'empty' : $text => [$text];
        }
    }

    #[DataProvider('notExpectations')]
    public function test_an_unknown_comparison_is_refused_with_the_known_ones(string $text): void
    {
        $this->expectException(InputRejected::class);
        Expectation::parse($text);
    }

    private function read(string $content, string $name, ?Expectation $expectation, ?int $base, ?FileKind $kind = null): ReadingsFile
    {
        $board = Boards::shipped('larkspur-64');

        return ReadingsFile::read($content, $name, $board, Radix::Hexadecimal, $expectation, $base, kind: $kind, settings: Settings::of($board));
    }
}
