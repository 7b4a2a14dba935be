<?php

declare(strict_types=1);

namespace Tests\Support;

use Symfony\Component\Process\Process;
use ZapTrace\Memory\Listings\Language;
use ZapTrace\Memory\Listings\Lister;
use ZapTrace\Memory\Listings\Listing;
use ZapTrace\Memory\Listings\ListingRequest;
use ZapTrace\Memory\Tests\MemoryTest;

/**
 * Listings for tests, and a processor to run them on.
 */
final class Listings
{
    public static function of(string $test, string $language, int $from, int $to, ?int $at = null, float $pause = 0.0): Listing
    {
        return self::lister()->list(ListingRequest::of(MemoryTest::named($test), Language::from($language), $from, $to, $at, $pause));
    }

    public static function lister(): Lister
    {
        $templates = [];
        foreach (['6502', 'z80', '6809', '8088', '68000'] as $name) {
            $templates[$name] = Boards::file("listings/{$name}.txt");
        }

        return new Lister($templates);
    }

    /**
     * Runs machine code on a processor core from the npm registry: 6502.ts or z80-emulator.
     *
     * @param  list<array{kind: string, address: int, bit?: int, value?: int, other?: int}>  $faults
     * @return array{bytes: list<int>, cycles: int}
     */
    public static function run(Listing $listing, array $faults): array
    {
        assert($listing->bytes !== null && $listing->results !== null);
        $emulator = new Process(['node', __DIR__.'/emulate.mjs'], input: json_encode([
            'processor' => $listing->request->language->value, 'program' => array_values(unpack('C*', $listing->bytes) ?: []), 'at' => $listing->request->at,
            'faults' => array_map(static fn (array $fault): array => [...['bit' => 0, 'value' => 0, 'other' => 0], ...$fault], $faults),
            'read' => ['from' => $listing->results, 'count' => 1 + 4 * Lister::KEPT],
        ], JSON_THROW_ON_ERROR), timeout: null);

        return json_decode($emulator->mustRun()->getOutput(), true, 8, JSON_THROW_ON_ERROR);
    }
}
