<?php

declare(strict_types=1);

namespace Tests\Core\Formats;

use Eris\Generators;
use Eris\TestTrait;
use PHPUnit\Framework\TestCase;
use ZapTrace\Formats\IntelHex;
use ZapTrace\Formats\MemoryImage;
use ZapTrace\Problems\InputRejected;

/**
 * Source: Intel, Hexadecimal Object File Format Specification, revision A, 1988 (record layout and checksum; the
 * lines are from memory, their checksums recomputed).
 */
final class IntelHexTest extends TestCase
{
    use TestTrait;

    private const DATA = ':10010000214601360121470136007EFE09D2190140';

    private const SHORT = ':0300300002337A1E';

    private const END = ':00000001FF';

    public function test_published_records_are_read(): void
    {
        $image = IntelHex::read(implode("\r\n", [self::SHORT, self::DATA, self::END]));

        self::assertSame([0x30 => "\x02\x33\x7A", 0x100 => hex2bin('214601360121470136007EFE09D21901')], $image->segments);
    }

    public function test_an_extended_segment_address_is_shifted_by_four(): void
    {
        // :020000021200EA sets the segment base 1200, which is 12000.
        self::assertSame(0x12030, IntelHex::read(":020000021200EA\n".self::SHORT."\n".self::END)->firstAddress());
    }

    public function test_an_extended_linear_address_is_the_upper_half(): void
    {
        self::assertSame(0xFFFF0030, IntelHex::read(":02000004FFFFFC\n".self::SHORT."\n".self::END)->firstAddress());
    }

    public function test_changing_any_digit_makes_a_record_invalid(): void
    {
        foreach ([self::DATA, self::SHORT, ':020000021200EA', ':02000004FFFFFC'] as $record) {
            for ($place = 1; $place < strlen($record); $place++) {
                $changed = $record;
                $changed[$place] = dechex((hexdec($record[$place]) + 1) % 16);
                try {
                    IntelHex::read("{$changed}\n".self::SHORT."\n".self::END);
                    self::fail("{$changed} was taken");
                } catch (InputRejected $rejected) {
                    self::assertSame('line 1', $rejected->problems[0]->place);
                }
            }
        }
    }

    public function test_every_broken_line_is_told_at_once(): void
    {
        try {
            IntelHex::read(implode("\n", [self::SHORT, 'rubbish', ':0300300002337A1F', self::DATA, ':03', self::END]));
            self::fail('It was taken');
        } catch (InputRejected $rejected) {
            self::assertSame(['line 2', 'line 3', 'line 5'], array_map(static fn ($problem): string => $problem->place, $rejected->problems));
            self::assertStringContainsString('adds up to 1E', $rejected->problems[1]->sentence);
        }
    }

    public function test_a_file_that_was_cut_off_is_noticed(): void
    {
        $this->expectExceptionMessage('end record');
        IntelHex::read(self::DATA);
    }

    public function test_mixed_line_ends_and_a_byte_order_mark_do_no_harm(): void
    {
        self::assertSame(3, IntelHex::read("\xEF\xBB\xBF".self::SHORT."\r\n\n\r".self::END)->size());
    }

    public function test_what_is_written_is_read_back(): void
    {
        $this->limitTo(60)->forAll(Generators::choose(0, 0x20000), Generators::string(), Generators::choose(1, 255))->disableShrinking()
            ->then(function (int $from, string $bytes, int $perRecord): void {
                $image = MemoryImage::contiguous($from, $bytes.'x');
                self::assertEquals($image, IntelHex::read(IntelHex::write($image, $perRecord)));
            });
    }
}
