<?php

declare(strict_types=1);

namespace Tests\Core\Memory\Tests;

use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;
use ZapTrace\Memory\Tests\FaultyArray;
use ZapTrace\Memory\Tests\MemoryTest;
use ZapTrace\Memory\Tests\TestRunner;
use ZapTrace\Problems\InputRejected;

/**
 * Lengths and coverage as published: A. J. van de Goor, "Using March Tests to Test SRAMs", IEEE Design & Test of
 * Computers, March 1993. Measured on a simulated array of one-bit words, every fault of each kind put in once.
 */
final class MarchTest extends TestCase
{
    private const SIZE = 6;

    /**
     * @return iterable<string, array{string, int}>
     */
    public static function lengths(): iterable
    {
        yield 'MATS+' => ['mats+', 5];
        yield 'March X' => ['march-x', 6];
        yield 'March Y' => ['march-y', 8];
        yield 'March C-' => ['march-c-', 10];
        yield 'March B' => ['march-b', 17];
    }

    #[DataProvider('lengths')]
    public function test_a_march_test_has_its_published_number_of_operations(string $test, int $operations): void
    {
        self::assertSame($operations, MemoryTest::named($test)->length());
    }

    /**
     * @return iterable<string, array{string, string}>
     */
    public static function elements(): iterable
    {
        yield 'MATS+' => ['mats+', 'either way(w0); up(r0, w1); down(r1, w0)'];
        yield 'March X' => ['march-x', 'either way(w0); up(r0, w1); down(r1, w0); either way(r0)'];
        yield 'March Y' => ['march-y', 'either way(w0); up(r0, w1, r1); down(r1, w0, r0); either way(r0)'];
        yield 'March C-' => ['march-c-', 'either way(w0); up(r0, w1); up(r1, w0); down(r0, w1); down(r1, w0); either way(r0)'];
        yield 'March B' => ['march-b', 'either way(w0); up(r0, w1, r1, w0, r0, w1); up(r1, w0, w1); down(r1, w0, w1, w0); down(r0, w1, w0)'];
    }

    #[DataProvider('elements')]
    public function test_a_march_test_is_as_published(string $test, string $elements): void
    {
        self::assertSame($elements, MemoryTest::named($test)->words());
    }

    /**
     * @return iterable<string, array{string, string, bool}>
     */
    public static function coverage(): iterable
    {
        foreach (['mats+', 'march-x', 'march-y', 'march-c-', 'march-b'] as $test) {
            yield "{$test}: stuck" => [$test, 'stuck', true];
            yield "{$test}: decoder" => [$test, 'decoder', true];
        }
        foreach (['march-x', 'march-y', 'march-c-', 'march-b'] as $test) {
            yield "{$test}: transition" => [$test, 'transition', true];
            yield "{$test}: inversion" => [$test, 'inversion', true];
        }
        yield 'March C-: idempotent' => ['march-c-', 'idempotent', true];
        yield 'March C-: state' => ['march-c-', 'state', true];
        yield 'MATS+ misses transitions' => ['mats+', 'transition', false];
        yield 'MATS+ misses coupling' => ['mats+', 'inversion', false];
        yield 'March X misses idempotent coupling' => ['march-x', 'idempotent', false];
        yield 'March X misses state coupling' => ['march-x', 'state', false];
    }

    #[DataProvider('coverage')]
    public function test_a_march_test_finds_what_is_published(string $test, string $kind, bool $all): void
    {
        $runner = new TestRunner(MemoryTest::named($test), [0x00]);
        $missed = [];
        $faults = 0;
        foreach (self::faults($kind) as $name => $array) {
            $faults++;
            if ($runner->run($array, 0, self::SIZE - 1) === []) {
                $missed[] = $name;
            }
        }

        self::assertGreaterThan(5, $faults);
        if ($all) {
            self::assertSame([], $missed);
        } else {
            self::assertNotSame([], $missed);
        }
    }

    /**
     * @return iterable<string, FaultyArray>
     */
    private static function faults(string $kind): iterable
    {
        $size = self::SIZE;
        foreach (range(0, $size - 1) as $cell) {
            foreach ([0, 1] as $value) {
                if ($kind === 'stuck') {
                    yield "{$cell} at {$value}" => FaultyArray::stuck($size, $cell, 0, $value);
                }
                if ($kind === 'transition') {
                    yield "{$cell} to {$value}" => FaultyArray::transition($size, $cell, 0, $value === 1);
                }
            }
            if ($kind === 'decoder') {
                yield "{$cell} none" => FaultyArray::decoder($size, $cell, 'no cell');
            }
            foreach (array_diff(range(0, $size - 1), [$cell]) as $other) {
                if ($kind === 'decoder') {
                    yield "{$cell} reaches {$other}" => FaultyArray::decoder($size, $cell, 'another cell', $other);
                    yield "{$cell} and {$other}" => FaultyArray::decoder($size, $cell, 'both cells', $other);
                }
                foreach ([true, false] as $rising) {
                    if ($kind === 'inversion') {
                        yield "{$other} turns {$cell} ".(int) $rising => FaultyArray::inversionCoupling($size, $other, 0, $rising, $cell, 0);
                    }
                    foreach ([0, 1] as $value) {
                        if ($kind === 'idempotent') {
                            yield "{$other} forces {$cell} {$value} ".(int) $rising => FaultyArray::idempotentCoupling($size, $other, 0, $rising, $cell, 0, $value);
                        }
                        if ($kind === 'state') {
                            yield "{$other} holds {$cell} {$value} ".(int) $rising => FaultyArray::stateCoupling($size, $other, 0, $rising, $cell, 0, $value);
                        }
                    }
                }
            }
        }
    }

    public function test_a_good_memory_passes_every_test(): void
    {
        foreach (MemoryTest::all() as $test) {
            self::assertSame([], (new TestRunner($test, $test->backgrounds(), 1.0))->run(new FaultyArray(64), 0, 63), $test->name);
        }
    }

    public function test_a_cell_that_fades_is_found_only_by_the_pause_variant(): void
    {
        $test = MemoryTest::named('march-c-');
        $fading = static fn (int $value): FaultyArray => FaultyArray::retention(16, 5, 3, $value, 2.0);

        foreach ([0, 1] as $value) {
            self::assertSame([], (new TestRunner($test, $test->backgrounds()))->run($fading($value), 0, 15));
            self::assertNotSame([], (new TestRunner($test, $test->backgrounds(), 3.0))->run($fading($value), 0, 15), "It falls to {$value}.");
        }
    }

    public function test_the_data_backgrounds_tell_any_two_bits_of_a_word_apart(): void
    {
        $backgrounds = MemoryTest::named('march-c-')->backgrounds();
        foreach (range(0, 7) as $one) {
            foreach (range($one + 1, 8) as $other) {
                if ($other > 7) {
                    continue;
                }
                $apart = array_filter($backgrounds, static fn (int $data): bool => (($data >> $one) & 1) !== (($data >> $other) & 1));
                self::assertNotSame([], $apart, "Bits {$one} and {$other}.");
            }
        }
    }

    public function test_each_pass_of_addresses_as_data_finds_its_half_of_the_address_lines(): void
    {
        // A12 lost: 1000 and 0000 are one cell.
        $memory = static fn (int $address, int $other): FaultyArray => FaultyArray::decoder(0x2000, $address, 'another cell', $other);
        $found = static fn (string $test, FaultyArray $array): bool => (new TestRunner(MemoryTest::named($test), [0]))->run($array, 0, 0x1FFF) !== [];

        self::assertTrue($found('address-high', $memory(0x1000, 0x0000)));
        self::assertFalse($found('address-low', $memory(0x1000, 0x0000)), 'Both hold the same low byte.');
        self::assertTrue($found('address-low', $memory(0x0010, 0x0000)));
        self::assertFalse($found('address-high', $memory(0x0010, 0x0000)));
    }

    public function test_both_passes_of_addresses_as_data_find_every_address_line(): void
    {
        $test = MemoryTest::named('address-in-address');
        $run = static fn (array $passes, int $line): bool => (new TestRunner($test, $passes))->run(FaultyArray::decoder(0x2000, 1 << $line, 'another cell', 0), 0, 0x1FFF) !== [];
        foreach (range(0, 12) as $line) {
            self::assertTrue($run($test->backgrounds(), $line), "A{$line}");
            self::assertSame($line < 8, $run([0], $line), "A{$line} in the pass of the low byte");
            self::assertSame($line >= 8, $run([1], $line), "A{$line} in the pass of the high byte");
        }
    }

    public function test_walking_ones_find_two_data_lines_tied_together(): void
    {
        $tied = new class implements \ZapTrace\Memory\Tests\MemoryUnderTest
        {
            /** @var array<int, int> */
            private array $cells = [];

            public function write(int $address, int $value): void
            {
                $this->cells[$address] = $value;
            }

            public function read(int $address): int
            {
                $value = $this->cells[$address] ?? 0;
                $both = ($value & 0x06) === 0x06 ? 0x06 : 0; // Lines 1 and 2: the lower wins.

                return ($value & ~0x06) | $both;
            }

            public function wait(float $seconds): void
            {
            }
        };
        $failures = (new TestRunner(MemoryTest::named('walking-ones'), MemoryTest::named('walking-ones')->backgrounds()))->run($tied, 0, 0);

        self::assertSame([[2, 0], [4, 0]], array_map(static fn ($failure): array => [$failure->expected, $failure->read], $failures));
    }

    public function test_a_test_that_there_is_not_is_refused_with_those_that_there_are(): void
    {
        $this->expectException(InputRejected::class);
        $this->expectExceptionMessageMatches('/mats\+, march-x/');

        MemoryTest::named('march-z');
    }
}
