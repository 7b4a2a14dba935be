<?php

declare(strict_types=1);

namespace Tests\Core\Memory;

use Eris\Generators;
use Eris\TestTrait;
use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;
use Tests\Support\Boards;
use ZapTrace\Board\Settings;
use ZapTrace\Memory\ReadingSet;
use ZapTrace\Memory\ReadingsText;
use ZapTrace\Numbers\Notation;
use ZapTrace\Numbers\Radix;
use ZapTrace\Problems\InputRejected;

final class ReadingsTextTest extends TestCase
{
    use TestTrait;

    /**
     * @return iterable<string, array{string}>
     */
    public static function forms(): iterable
    {
        foreach (['6C00 00 20', '6c00,00,20', '6C00, 00, 20', "6C00\t00\t20", '6C00 00>20', '6c00 00 > 20', '$6C00 0x00 20h', '#27648 %0 0o40', '"6C00","00","20"',
            "address,expected,read\n6C00,00,20", "read;\n6C00 00 20", "; comment\n\n6C00 00 20 ; seen twice", "\xEF\xBB\xBFAddress Wrote Got\r\n6C00 00 20\r\r\n",
            "read,address,expected\n20,6C00,00"] as $text) {
            yield $text => [$text];
        }
    }

    #[DataProvider('forms')]
    public function test_readings_are_taken_in_every_usual_form(string $text): void
    {
        if (str_starts_with($text, 'read;')) {
            $text = substr($text, 6);
        }
        $block = $this->read($text)->blocks()[0]['block'];

        self::assertSame([0x6C00, "\x00", "\x20"], [$block->from, $block->expected, $block->read]);
    }

    public function test_a_bare_number_is_in_the_given_base(): void
    {
        $board = Boards::shipped('larkspur-64');
        $block = (new ReadingsText($board, Radix::Octal))->read('66000 000 252')->blocks()[0]['block'];

        self::assertSame([0x6C00, "\xAA"], [$block->from, $block->read]);
    }

    /**
     * @return iterable<string, array{string, string}>
     */
    public static function bad(): iterable
    {
        yield 'no number' => ['6C00 00 zz', 'Value read: "zz" is not a hexadecimal number'];
        yield 'a field missing' => ['6C00 00', 'found 2 fields'];
        yield 'a field too many' => ['6C00 00 20 30', 'found 4 fields'];
        yield 'an address beyond the bus' => ['1C000 00 20', 'the last address is FFFF'];
        yield 'a value wider than the bus' => ['6C00 00 120', '120 is wider than the 8 bits of the bus'];
        yield 'a ROM address' => ['E000 00 20', 'a read there reaches ROM (U2); with ROMSEL at out it is memory'];
        yield 'an I/O address' => ['D000 00 20', 'a read there reaches I/O (U26)'];
        yield 'nothing at all' => ['; only a comment', 'no reading here'];
        yield 'empty' => ['', 'no reading here'];
        yield 'a word on an 8-bit bus' => ['6C00.w 0000 0020', '16 bits is wider than the bus'];
    }

    #[DataProvider('bad')]
    public function test_a_bad_line_is_told_with_what_was_expected(string $text, string $says): void
    {
        $board = Boards::shipped('larkspur-64');
        $this->expectException(InputRejected::class);
        $this->expectExceptionMessage($says);
        (new ReadingsText($board, Radix::Hexadecimal, Settings::of($board)))->read($text);
    }

    public function test_all_bad_lines_are_told_at_once_and_by_number(): void
    {
        try {
            $this->read("6C00 00 20\n6C0x 00 20\r6C02 00\r\n6C03 00 20\n1FFFF 1FF 2FF");
            self::fail('They were taken');
        } catch (InputRejected $rejected) {
            self::assertSame(['line 2', 'line 3', 'line 5', 'line 5', 'line 5'], array_map(static fn ($problem): string => $problem->place, $rejected->problems));
        }
    }

    public function test_a_file_of_many_bad_lines_does_not_tell_each(): void
    {
        try {
            $this->read(str_repeat("x\n", 5000));
            self::fail('They were taken');
        } catch (InputRejected $rejected) {
            self::assertCount(201, $rejected->problems);
            self::assertStringContainsString('4800 more', $rejected->problems[200]->sentence);
        }
    }

    public function test_on_a_wide_bus_the_digits_or_a_suffix_tell_the_width(): void
    {
        $board = Boards::shipped('halyard-16');
        $read = static fn (string $text): array => array_map(
            static fn (array $entry): array => [$entry['block']->from, bin2hex($entry['block']->expected), bin2hex($entry['block']->read)],
            (new ReadingsText($board, Radix::Hexadecimal))->read($text)->blocks(),
        );

        self::assertSame([[0x1000, '1234', '1235']], $read('1000 1234 1235'));
        self::assertSame([[0x1000, '0000', '0020']], $read('1000 0000 0020'));
        self::assertSame([[0x1000, '00', '20']], $read('1000 00 20'));
        self::assertSame([[0x1001, '00', '20']], $read('1001 00 20'));
        self::assertSame([[0x1000, '0000', '0020']], $read('1000.w 0 20'));
    }

    public function test_a_word_cannot_start_at_an_odd_address(): void
    {
        $this->expectExceptionMessage('cannot start at 1001');
        (new ReadingsText(Boards::shipped('halyard-16'), Radix::Hexadecimal))->read('1001 0000 0020');
    }

    public function test_an_address_may_carry_a_page(): void
    {
        self::assertSame(2, $this->read('2:C000 00 20')->blocks()[0]['page']);
    }

    public function test_contradictory_readings_of_one_address_are_both_kept(): void
    {
        self::assertSame(2, $this->read("6C00 00 20\n6C00 00 00")->count());
    }

    public function test_readings_written_in_any_notation_are_read_back(): void
    {
        $board = Boards::shipped('larkspur-64');
        $this->limitTo(100)->forAll(Generators::choose(0, 0xFFFF), Generators::choose(0, 0xFF), Generators::choose(0, 0xFF), Generators::elements(Radix::cases()), Generators::elements([' ', ',', ', ', "\t"]))->disableShrinking()
            ->then(function (int $address, int $expected, int $read, Radix $radix, string $between) use ($board): void {
                foreach ([Notation::marked(...), Notation::format(...)] as $write) {
                    $line = $write($address, $radix, 16).$between.$write($expected, $radix, 8).$between.$write($read, $radix, 8);
                    $block = (new ReadingsText($board, $radix))->read($line)->blocks()[0]['block'];
                    self::assertSame([$address, chr($expected), chr($read)], [$block->from, $block->expected, $block->read], $line);
                }
            });
    }

    private function read(string $text): ReadingSet
    {
        return (new ReadingsText(Boards::shipped('larkspur-64'), Radix::Hexadecimal))->read($text);
    }
}
