<?php

declare(strict_types=1);

namespace Tests\Core\Rom;

use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;
use ZapTrace\Problems\InputRejected;
use ZapTrace\Rom\RomBuild;
use ZapTrace\Rom\RomComparer;
use ZapTrace\Rom\RomComparison;
use ZapTrace\Rom\RomImage;
use ZapTrace\Rom\RomVerdict;

/**
 * What common practice says of ROM reads: all ones is blank, dead or unselected; one constant bit is a data line;
 * repeated halves an address line or a smaller image.
 */
final class RomComparerTest extends TestCase
{
    public function test_equal_bytes_match(): void
    {
        $this->assertSame(RomVerdict::Match, $this->compare(self::good(), self::good())->verdict);
    }

    public function test_an_image_repeated_to_fill_a_larger_chip_matches(): void
    {
        $found = $this->compare(self::good().self::good().self::good().self::good(), self::good());

        $this->assertSame(RomVerdict::Match, $found->verdict);
        $this->assertStringContainsString('4 times', $found->because[0]);
    }

    public function test_all_ones_is_blank_and_may_be_dead_or_never_selected(): void
    {
        $found = $this->compare(str_repeat("\xFF", 2048));

        $this->assertSame(RomVerdict::Blank, $found->verdict);
        $this->assertStringContainsString('select', $found->because[0]);
        $this->assertSame(RomVerdict::Zeros, $this->compare(str_repeat("\0", 2048))->verdict);
    }

    #[DataProvider('constantBits')]
    public function test_a_data_bit_that_never_changes_is_named_with_its_level(int $bit, int $value): void
    {
        $read = $value === 1 ? self::good() | str_repeat(chr(1 << $bit), 2048) : self::good() & str_repeat(chr(0xFF ^ 1 << $bit), 2048);
        foreach ([null, self::good()] as $good) {
            $found = $this->compare($read, $good);

            $this->assertSame(RomVerdict::ConstantBits, $found->verdict);
            $this->assertSame([['bit' => $bit, 'value' => $value]], $found->bits);
        }
        $this->assertStringContainsString('this bit alone', implode(' ', $this->compare($read, self::good())->because));
    }

    /**
     * @return iterable<string, array{int, int}>
     */
    public static function constantBits(): iterable
    {
        for ($bit = 0; $bit < 8; $bit++) {
            yield "D{$bit} low" => [$bit, 0];
            yield "D{$bit} high" => [$bit, 1];
        }
    }

    public function test_a_bit_that_is_constant_in_the_good_image_too_is_no_fault(): void
    {
        $text = str_repeat('Zeros in the seventh bit. All of it is text 0123456789!', 40);

        $this->assertSame(RomVerdict::Match, $this->compare($text, $text)->verdict);
        $changed = $text;
        $changed[7] = 'x';
        $this->assertSame(RomVerdict::Differs, $this->compare($changed, $text)->verdict);
    }

    public function test_two_data_lines_that_touch_are_always_alike(): void
    {
        $read = '';
        foreach (str_split(self::good()) as $byte) {
            $both = (ord($byte) & 0x24) === 0x24;
            $read .= chr(ord($byte) & ~0x24 & 0xFF | ($both ? 0x24 : 0));
        }
        $found = $this->compare($read);

        $this->assertSame(RomVerdict::TiedBits, $found->verdict);
        $this->assertSame([['bits' => [2, 5], 'inverted' => false]], $found->tied);
    }

    #[DataProvider('lines')]
    public function test_an_address_line_without_effect_is_named(int $line): void
    {
        foreach (['low' => static fn (int $at): int => $at & ~(1 << $line), 'high' => static fn (int $at): int => $at | 1 << $line] as $level => $place) {
            $read = self::through($place);
            $alone = $this->compare($read);
            $this->assertSame(RomVerdict::Mirrored, $alone->verdict);
            $this->assertSame([$line], $alone->addressLines);
            $beside = $this->compare($read, self::good());
            $this->assertSame([$line], $beside->addressLines);
            $this->assertSame(RomVerdict::Mirrored, $beside->verdict);
        }
    }

    /**
     * @return iterable<string, array{int}>
     */
    public static function lines(): iterable
    {
        for ($line = 0; $line < 11; $line++) {
            yield "A{$line}" => [$line];
        }
    }

    public function test_the_uppermost_line_may_as_well_be_a_smaller_image(): void
    {
        $this->assertStringContainsString('1024 bytes repeated', implode(' ', $this->compare(substr(self::good(), 0, 1024).substr(self::good(), 0, 1024))->because));
        $this->assertStringContainsString('no smaller image', implode(' ', $this->compare(self::through(static fn (int $at): int => $at & ~8))->because));
    }

    public function test_swapped_inverted_and_touching_address_lines_are_told_apart(): void
    {
        $swapped = $this->compare(self::through(static fn (int $at): int => $at & ~0x84 | ($at >> 5 & 4) | ($at & 4) << 5), self::good());
        $this->assertSame(RomVerdict::AddressLines, $swapped->verdict);
        $this->assertSame([2, 7], $swapped->addressLines);

        $inverted = $this->compare(self::through(static fn (int $at): int => $at ^ 0x10), self::good());
        $this->assertSame([4], $inverted->addressLines);
        $this->assertStringContainsString('inverted', $inverted->because[0]);

        $touching = $this->compare(self::through(static fn (int $at): int => ($at & 0x30) === 0x30 ? $at : $at & ~0x30), self::good());
        $this->assertSame([4, 5], $touching->addressLines);
        $this->assertStringContainsString('touched', $touching->because[0]);
    }

    public function test_contents_that_sit_lower_than_they_should_are_an_offset(): void
    {
        $found = $this->compare(substr(self::good(), 0x140).substr(self::good(), 0, 0x140), self::good());

        $this->assertSame(RomVerdict::AddressLines, $found->verdict);
        $this->assertStringContainsString('140 lower', $found->because[0]);
    }

    public function test_lost_charge_reads_towards_ones(): void
    {
        $read = self::good();
        $lost = 0;
        for ($at = 100; $at < 2048; $at += 97) {
            $lost += (ord($read[$at]) & 8) === 0 ? 1 : 0;
            $read[$at] = chr(ord($read[$at]) | 8);
        }
        $found = $this->compare($read, self::good());

        $this->assertSame(RomVerdict::Differs, $found->verdict);
        $this->assertSame([['bit' => 3, 'toOnes' => $lost, 'toZeros' => 0]], $found->byBit);
        $this->assertSame($lost, $found->differences);
        $this->assertStringContainsString('lost their charge', implode(' ', $found->because));
        $this->assertCount(256, $found->map);
        $this->assertGreaterThan(0.0, max($found->map));
    }

    public function test_reads_that_disagree_are_unstable_wherever_they_do(): void
    {
        $other = self::good();
        $other[0x33] = chr(ord($other[0x33]) ^ 0x40);
        $found = (new RomComparer)->compare([RomImage::of(self::good(), 'first'), RomImage::of($other, 'second')], RomImage::of(self::good(), 'good'));

        $this->assertSame(RomVerdict::Unstable, $found->verdict);
        $this->assertSame(0x33, $found->first);
        $this->assertSame(1, $found->differences);
        $this->assertStringContainsString('weak output', $found->because[1]);
        $shorter = (new RomComparer)->compare([RomImage::of(self::good(), 'first'), RomImage::of(substr(self::good(), 1), 'second')]);
        $this->assertStringContainsString('first has 2048 bytes and second 2047', $shorter->because[0]);
        $this->assertSame(RomVerdict::Unstable, $shorter->verdict);
    }

    public function test_a_read_with_nothing_odd_and_nothing_to_compare_with_is_not_called_good(): void
    {
        $this->assertSame(RomVerdict::Unknown, $this->compare(self::good())->verdict);
        $this->assertNull(RomVerdict::Unknown->isAbnormal());
    }

    public function test_no_bytes_and_one_byte(): void
    {
        $this->assertSame(RomVerdict::Differs, $this->compare('A', 'B')->verdict);
        $this->assertSame(RomVerdict::Match, $this->compare('A', 'A')->verdict);
        $this->assertSame(RomVerdict::Unknown, $this->compare('A')->verdict);
        $this->expectException(InputRejected::class);
        $this->expectExceptionMessage('0 bytes');
        RomImage::of('', 'empty.bin');
    }

    public function test_sums_of_the_check_string(): void
    {
        // CRC-32 of ITU-T V.42 over "123456789"; SHA-1("abc") of FIPS 180.
        $this->assertSame('CBF43926', RomImage::of('123456789', 'x')->crc32());
        $this->assertSame('a9993e364706816aba3e25717850c26c9cd0d89d', RomImage::of('abc', 'x')->sha1());
        $this->assertSame(477, RomImage::of('123456789', 'x')->sum16());
    }

    public function test_records_leave_erased_bytes_between_them(): void
    {
        // Intel HEX, as in the specification of 1988; the second record lies 300 on.
        $image = RomImage::fromFile(":0300300002337A1E\n:0100400055".'6A'."\n:00000001FF\n", 'x.hex');

        $this->assertSame("\x02\x33\x7A".str_repeat("\xFF", 13)."\x55", $image->bytes);
        $this->assertSame($image->bytes, RomImage::fromFile($image->asIntelHex(), 'y.hex')->bytes);
        $this->assertSame($image->bytes, RomImage::fromFile($image->asSRecords(0x8000), 'y.s19')->bytes);
    }

    public function test_a_repeated_image_reads_the_same_whatever_the_spare_lines_do(): void
    {
        $filled = RomBuild::repeat(RomImage::of(self::good(), 'x'), 8192)->bytes;
        foreach ([0, 0x800, 0x1000, 0x1800] as $spare) {
            $this->assertSame(self::good(), substr($filled, $spare, 2048));
        }
    }

    private function compare(string $read, ?string $good = null): RomComparison
    {
        return (new RomComparer)->compare([RomImage::of($read, 'read')], $good === null ? null : RomImage::of($good, 'good'));
    }

    /** Contents without any pattern, 2 KiB of them. */
    private static function good(): string
    {
        $bytes = '';
        for ($block = 0; $block < 64; $block++) {
            $bytes .= hash('sha256', "contents {$block}", true);
        }

        return $bytes;
    }

    /**
     * @param  callable(int): int  $place
     */
    private static function through(callable $place): string
    {
        $read = '';
        for ($at = 0; $at < 2048; $at++) {
            $read .= self::good()[$place($at)];
        }

        return $read;
    }
}
