<?php

declare(strict_types=1);

namespace Tests\Core\Numbers;

use Eris\Generators;
use Eris\TestTrait;
use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;
use ZapTrace\Numbers\Notation;
use ZapTrace\Numbers\Radix;
use ZapTrace\Numbers\UnreadableNumber;

final class NotationTest extends TestCase
{
    use TestTrait;

    /**
     * @return iterable<string, array{string, int}>
     */
    public static function marked(): iterable
    {
        foreach (['0x2A', '$2A', '2Ah', '&2A', '0o52', '52q', '%101010', '0b101010', '#42', '0X2a', '2aH'] as $text) {
            yield $text => [$text, 42];
        }
    }

    #[DataProvider('marked')]
    public function test_an_explicit_mark_wins_over_every_base(string $text, int $value): void
    {
        foreach (Radix::cases() as $radix) {
            self::assertSame($value, Notation::parse($text, $radix));
        }
    }

    public function test_a_bare_number_is_in_the_base_of_the_job(): void
    {
        self::assertSame(0x42, Notation::parse('42', Radix::Hexadecimal));
        self::assertSame(34, Notation::parse('42', Radix::Octal));
        self::assertSame(42, Notation::parse('42', Radix::Decimal));
    }

    /** Arithmetic. */
    public function test_octal_252_is_AA(): void
    {
        self::assertSame(0xAA, Notation::parse('252', Radix::Octal));
        self::assertSame('252', Notation::format(0xAA, Radix::Octal, 8));
        self::assertSame('AA', Notation::format(0xAA, Radix::Hexadecimal, 8));
    }

    public function test_a_binary_mark_needs_binary_digits_or_it_is_hexadecimal(): void
    {
        self::assertSame(0x0B2, Notation::parse('0b2', Radix::Hexadecimal));
        self::assertSame(3, Notation::parse('0b11', Radix::Hexadecimal));
    }

    /**
     * @return iterable<string, array{string, Radix}>
     */
    public static function unreadable(): iterable
    {
        yield 'a word' => ['hello', Radix::Hexadecimal];
        yield 'nothing' => ['', Radix::Hexadecimal];
        yield 'a mark alone' => ['$', Radix::Hexadecimal];
        yield 'an 8 in octal' => ['780', Radix::Octal];
        yield 'a letter in decimal' => ['4F', Radix::Decimal];
        yield 'a sign' => ['-1', Radix::Decimal];
        yield 'too many bits' => ['100000000', Radix::Hexadecimal];
        yield 'far too many digits' => [str_repeat('F', 400), Radix::Hexadecimal];
    }

    #[DataProvider('unreadable')]
    public function test_what_is_no_number_is_refused_with_a_sentence(string $text, Radix $radix): void
    {
        $this->expectException(UnreadableNumber::class);
        Notation::parse($text, $radix);
    }

    public function test_what_is_written_is_read_back(): void
    {
        $this->limitTo(200)->forAll(Generators::choose(0, 0xFFFFFFFF), Generators::elements(Radix::cases()), Generators::elements(Radix::cases()))->disableShrinking()
            ->then(function (int $value, Radix $radix, Radix $other): void {
                self::assertSame($value, Notation::parse(Notation::format($value, $radix, 32), $radix));
                self::assertSame($value, Notation::parse(Notation::marked($value, $radix, 16), $other));
            });
    }
}
