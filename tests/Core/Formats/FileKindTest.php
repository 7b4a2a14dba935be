<?php

declare(strict_types=1);

namespace Tests\Core\Formats;

use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;
use ZapTrace\Formats\FileKind;

final class FileKindTest extends TestCase
{
    /**
     * @return iterable<string, array{string, FileKind}>
     */
    public static function contents(): iterable
    {
        yield 'Intel HEX' => [":0300300002337A1E\n:00000001FF\n", FileKind::IntelHex];
        yield 'Intel HEX after a byte-order mark' => ["\xEF\xBB\xBF:00000001FF", FileKind::IntelHex];
        yield 'S-records' => ["S00F000068656C6C6F202020202000003C\nS9030000FC", FileKind::SRecord];
        yield 'hex text' => ['6C00: 00 20 00 00 00 00 00 00', FileKind::HexText];
        yield 'hex text without a colon' => ['6C00 00 01 02 03 04 05 06 07', FileKind::HexText];
        yield 'readings' => ["6C00 00 20\n6C01 00 20", FileKind::Readings];
        yield 'readings with an arrow' => ['6C00 00>20', FileKind::Readings];
        yield 'CSV with a heading' => ["address,expected,read\n6C00,00,20", FileKind::Readings];
        yield 'readings after a comment' => ["; from the bench\n6C00 00 20", FileKind::Readings];
        yield 'bytes with zeros' => ["\x00\x01\x02", FileKind::Binary];
        yield 'all ones' => [str_repeat("\xFF", 1000), FileKind::Binary];
        yield 'a fill that happens to be printable' => [str_repeat('U', 16384), FileKind::Binary];
        yield 'a short fill with 20' => [str_repeat(' ', 64), FileKind::Binary];
        yield 'a short fill with 55' => [str_repeat('U', 64), FileKind::Binary];
        yield 'an alternating fill' => [str_repeat("\x55\xAA", 500), FileKind::Binary];
    }

    #[DataProvider('contents')]
    public function test_the_kind_is_told_from_the_content(string $content, FileKind $kind): void
    {
        self::assertSame($kind, FileKind::of($content));
    }

    public function test_a_binary_file_called_hex_is_noticed(): void
    {
        self::assertStringContainsString('named like Intel HEX, but holds a binary dump', (string) FileKind::Binary->noteFor('dump.hex'));
        self::assertNull(FileKind::IntelHex->noteFor('dump.hex'));
    }
}
