<?php

declare(strict_types=1);

namespace Tests\Core\Memory\Listings;

use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;
use Tests\Support\Listings;
use ZapTrace\Memory\Listings\Language;
use ZapTrace\Memory\Listings\Lister;
use ZapTrace\Memory\Listings\PrintedResults;
use ZapTrace\Memory\Tests\FaultyArray;
use ZapTrace\Memory\Tests\MemoryTest;
use ZapTrace\Memory\Tests\TestFailure;
use ZapTrace\Memory\Tests\TestRunner;

/**
 * The generated machine code on processor cores of general use, from the npm registry: 6502.ts for the 6502,
 * z80-emulator for the Z80. What the program leaves in memory is what the test finds by the book.
 */
final class EmulatedListingTest extends TestCase
{
    private const FROM = 0x2000;

    private const TO = 0x207F;

    /**
     * @return iterable<string, array{string, string}>
     */
    public static function listings(): iterable
    {
        foreach (['6502', 'z80'] as $processor) {
            foreach (array_keys(MemoryTest::all()) as $test) {
                yield "{$test} on the {$processor}" => [$processor, $test];
            }
        }
    }

    #[DataProvider('listings')]
    public function test_the_program_finds_what_the_test_finds(string $processor, string $test): void
    {
        foreach ([
            'a good memory' => [],
            'a stuck bit' => [['kind' => 'stuck', 'address' => 0x2034, 'bit' => 5, 'value' => 1]],
            'a bit that cannot rise' => [['kind' => 'transition', 'address' => 0x2041, 'bit' => 2]],
            'an address that reaches another cell' => [['kind' => 'another cell', 'address' => 0x2050, 'other' => 0x2010]],
        ] as $name => $faults) {
            $listing = Listings::of($test, $processor, self::FROM, self::TO);
            $answer = Listings::run($listing, $faults);
            $text = implode(' ', array_map(static fn (int $byte): string => sprintf('%02X', $byte), $answer['bytes']));
            $found = PrintedResults::parse($text, Language::from($processor), self::FROM, self::TO);

            self::assertEquals($this->byTheBook($test, $faults[0] ?? null), $found->failures, "{$test} with {$name}");
        }
    }

    /**
     * @param  array{kind: string, address: int, bit?: int, value?: int, other?: int}|null  $fault
     * @return list<TestFailure>
     */
    private function byTheBook(string $test, ?array $fault): array
    {
        $size = self::TO + 1;
        $array = match ($fault['kind'] ?? '') {
            'stuck' => FaultyArray::stuck($size, $fault['address'] ?? 0, $fault['bit'] ?? 0, 1),
            'transition' => FaultyArray::transition($size, $fault['address'] ?? 0, $fault['bit'] ?? 0, true),
            'another cell' => FaultyArray::decoder($size, $fault['address'] ?? 0, 'another cell', $fault['other'] ?? 0),
            default => new FaultyArray($size),
        };
        $run = MemoryTest::named($test);

        return (new TestRunner($run, $run->backgrounds()))->run($array, self::FROM, self::TO, Lister::KEPT);
    }

    #[DataProvider('processors')]
    public function test_the_running_time_is_what_the_processor_takes(string $processor, int $clock): void
    {
        foreach (['march-c-', 'march-b'] as $test) {
            $listing = Listings::of($test, $processor, self::FROM, self::TO);

            self::assertEqualsWithDelta(1.0, Listings::run($listing, [])['cycles'] / $clock / $listing->seconds, 0.05, "{$test} on the {$processor}");
        }
    }

    /**
     * @return iterable<string, array{string, int}>
     */
    public static function processors(): iterable
    {
        yield '6502' => ['6502', 1_000_000];
        yield 'Z80' => ['z80', 2_500_000];
    }

    #[DataProvider('processors')]
    public function test_the_pause_variant_waits_and_finds_the_same(string $processor, int $clock): void
    {
        $listing = Listings::of('mats+', $processor, self::FROM, self::FROM + 3, null, 0.4);
        $answer = Listings::run($listing, [['kind' => 'stuck', 'address' => self::FROM + 1, 'bit' => 0, 'value' => 1]]);

        // Two pauses for each of four backgrounds.
        self::assertGreaterThan(8 * 0.25 * $clock, $answer['cycles']);
        self::assertLessThan(8 * 0.8 * $clock, $answer['cycles']);
        self::assertGreaterThan(0, $answer['bytes'][0]);
    }
}
