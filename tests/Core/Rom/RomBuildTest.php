<?php

declare(strict_types=1);

namespace Tests\Core\Rom;

use Eris\Generators;
use Eris\TestTrait;
use LogicException;
use PHPUnit\Framework\TestCase;
use Tests\Support\Boards;
use ZapTrace\Parts\Part;
use ZapTrace\Problems\InputRejected;
use ZapTrace\Rom\Adapter;
use ZapTrace\Rom\AdapterPin;
use ZapTrace\Rom\ChecksumKind;
use ZapTrace\Rom\FirmwareChecksum;
use ZapTrace\Rom\RomBuild;
use ZapTrace\Rom\RomImage;

final class RomBuildTest extends TestCase
{
    use TestTrait;

    public function test_what_is_split_and_interleaved_is_as_before(): void
    {
        $this->forAll(Generators::seq(Generators::byte()))->disableShrinking()->then(function (array $bytes): void {
            $content = implode('', array_map(static fn (mixed $byte): string => chr(is_int($byte) ? $byte : 0), $bytes));
            if ($content === '') {
                return;
            }
            $image = RomImage::of($content.$content, 'x');
            [$even, $odd] = RomBuild::split($image);

            $this->assertSame($image->bytes, RomBuild::interleave($even, $odd)->bytes);
            $this->assertSame($image->bytes, RomBuild::swap(RomBuild::swap($image))->bytes);
        });
    }

    public function test_even_and_odd_bytes_go_to_their_chips(): void
    {
        [$even, $odd] = RomBuild::split(RomImage::of('AaBbCc', 'x'));

        $this->assertSame(['ABC', 'abc'], [$even->bytes, $odd->bytes]);
        $this->assertSame('aAbBcC', RomBuild::swap(RomImage::of('AaBbCc', 'x'))->bytes);
    }

    public function test_cut_pad_and_concatenate(): void
    {
        $image = RomImage::of('0123456789', 'x');

        $this->assertSame('345', RomBuild::cut($image, 3, 3)->bytes);
        $this->assertSame("0123456789\xFF\xFF", RomBuild::pad($image, 12)->bytes);
        $this->assertSame("0123456789\0\0", RomBuild::pad($image, 12, 0)->bytes);
        $this->assertSame('0123456789AB', RomBuild::concatenate([$image, RomImage::of('AB', 'y')])->bytes);
    }

    public function test_one_byte_makes_the_sum_right(): void
    {
        $image = RomImage::of("\x10\x20\x30\x40", 'x');

        $this->assertSame(0x55, ChecksumKind::Sum8->of(RomBuild::correct($image, 2, 0x55)->bytes));
        $this->assertSame(0x00, ChecksumKind::Xor8->of(RomBuild::correct($image, 0, 0x00, ChecksumKind::Xor8)->bytes));
    }

    public function test_what_cannot_be_built_is_refused_with_a_reason(): void
    {
        $image = RomImage::of('012', 'x');
        foreach ([
            'cut it first' => static fn () => RomBuild::repeat($image, 2),
            'whole number of times' => static fn () => RomBuild::repeat($image, 4),
            'odd number' => static fn () => RomBuild::split($image),
            'one size' => static fn () => RomBuild::interleave($image, RomImage::of('01', 'y')),
            'not within' => static fn () => RomBuild::cut($image, 2, 2),
            'no byte' => static fn () => RomBuild::correct($image, 3, 0),
        ] as $words => $build) {
            try {
                $build();
                $this->fail("nothing said: {$words}");
            } catch (InputRejected $rejected) {
                $this->assertStringContainsString($words, $rejected->getMessage());
            }
        }
    }

    public function test_sums_against_the_check_values(): void
    {
        // CRC-16/XMODEM and CRC-16/IBM-3740 of "123456789", Rocksoft model check values.
        $this->assertSame(0x31C3, ChecksumKind::Crc16->of('123456789'));
        $this->assertSame(0x29B1, ChecksumKind::crc('123456789', 0xFFFF));
        $this->assertSame(0xDD, ChecksumKind::Sum8->of('123456789'));
        $this->assertSame(0x1DD, ChecksumKind::Sum16->of('123456789'));
        $this->assertSame(0x31, ChecksumKind::Xor8->of('123456789'));
    }

    public function test_the_firmware_leaves_out_the_byte_that_holds_the_sum(): void
    {
        $checksum = new FirmwareChecksum(ChecksumKind::Sum8, 0, 3, 3, null);

        $this->assertTrue($checksum->check(RomImage::of("\x01\x02\x03\x06", 'x')));
        $this->assertFalse($checksum->check(RomImage::of("\x01\x02\x04\x06", 'x')));
        $this->assertNull($checksum->check(RomImage::of("\x01", 'x')));
        $this->assertStringContainsString('it should be 06', $checksum->sentence(RomImage::of("\x01\x02\x04\x06", 'x')));
    }

    public function test_a_2732_for_a_2332_crosses_two_pins_and_a_2764_for_a_2364_hangs_over(): void
    {
        // Pinouts of the makers' sheets, from memory: 2732 /CE 18, /OE 20, A11 21; 2332 A11 18, CS1 20, CS2 21.
        $pins = self::adapter('2732', '2332');
        $this->assertSame(18, $pins['A11']->to);
        $this->assertFalse($pins['A11']->straight);
        $this->assertSame(20, $pins['/OE']->to);
        $this->assertTrue($pins['/OE']->straight);
        $this->assertSame(21, $pins['/CE']->to);
        $this->assertTrue($pins['A0']->straight);

        $pins = self::adapter('2764', '2364');
        $this->assertSame(21, $pins['A12']->to);
        $this->assertNull($pins['A12']->under);
        $this->assertSame(18, $pins['A11']->to);
        $this->assertSame(24, $pins['VCC']->to);
        $this->assertSame(24, $pins['VPP']->to);
        $this->assertSame('high', $pins['/PGM']->how);
        $this->assertSame([3, 1], [$pins['A7']->pin, $pins['A7']->under]);

        $spare = self::adapter('2764', '2332')['A12'];
        $this->assertSame(['low', false], [$spare->how, $spare->straight]);
        $inverted = Adapter::of(self::part('2732'), self::part('2332'), ['CS1' => 'high']);
        $this->assertStringContainsString('inverter', implode(' ', $inverted->notes));
    }

    /**
     * @return array<string, AdapterPin>
     */
    private static function adapter(string $chip, string $socket): array
    {
        $pins = [];
        foreach (Adapter::of(self::part($chip), self::part($socket))->pins as $pin) {
            $pins[$pin->name] = $pin;
        }

        return $pins;
    }

    private static function part(string $name): Part
    {
        return Boards::parts()->find($name) ?? throw new LogicException($name);
    }
}
