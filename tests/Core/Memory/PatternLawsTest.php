<?php

declare(strict_types=1);

namespace Tests\Core\Memory;

use Eris\Generators;
use Eris\TestTrait;
use PHPUnit\Framework\TestCase;
use Tests\Support\Boards;
use Tests\Support\Map;
use ZapTrace\Board\BoardProfile;
use ZapTrace\Board\Settings;
use ZapTrace\Memory\Pattern;
use ZapTrace\Memory\Reading;
use ZapTrace\Memory\ReadingSet;
use ZapTrace\Reasoning\BoardFaults;
use ZapTrace\Reasoning\MachineState;
use ZapTrace\Reasoning\MemoryEvidence;
use ZapTrace\Reasoning\Reasoner;
use ZapTrace\Reasoning\Suspect;

/**
 * Laws that hold whatever the readings are.
 */
final class PatternLawsTest extends TestCase
{
    use TestTrait;

    public function test_a_healthy_dump_gives_no_suspect(): void
    {
        $this->limitTo(40)->forAll(Generators::choose(0, 0x3000), Generators::choose(1, 3000), Generators::choose(1, 1000000))->disableShrinking()
            ->then(function (int $from, int $bytes, int $seed): void {
                foreach (['larkspur-64', 'halyard-16'] as $slug) {
                    $board = Boards::shipped($slug);
                    $data = Map::noise($bytes, $seed);
                    self::assertSame([], Map::suspects($board, Map::dump($board, $from, $data, $data)));
                }
            });
    }

    public function test_permuting_the_bits_permutes_the_chips(): void
    {
        $board = Boards::build(Boards::plain());
        $this->limitTo(60)->forAll(Generators::choose(0, 7), Generators::choose(0, 7), Generators::choose(1, 1000000), Generators::choose(1, 12))->disableShrinking()
            ->then(function (int $a, int $b, int $seed, int $count) use ($board): void {
                $readings = $this->stuckReadings($a, $seed, $count);
                $swap = static fn (int $value): int => ($value & ~(1 << $a | 1 << $b)) | (($value >> $a) & 1) << $b | (($value >> $b) & 1) << $a;
                $swapped = array_map(static fn (array $reading): array => [$reading[0], $swap($reading[1]), $swap($reading[2])], $readings);

                $one = Map::shares($board, $this->map($board, $readings));
                $other = Map::shares($board, $this->map($board, $swapped));
                $rename = ['U'.($a + 1) => 'U'.($b + 1), 'U'.($b + 1) => 'U'.($a + 1), "D{$a}" => "D{$b}", "D{$b}" => "D{$a}", 'U'.($a + 1).'.14' => 'U'.($b + 1).'.14', 'U'.($b + 1).'.14' => 'U'.($a + 1).'.14'];
                $renamed = [];
                foreach ($one as $site => $share) {
                    $renamed[$rename[$site] ?? $site] = $share;
                }
                self::assertEqualsWithDelta($this->sorted($renamed), $this->sorted($other), 1e-12);
            });
    }

    public function test_a_reading_that_could_not_show_a_fault_changes_no_share_of_it(): void
    {
        $board = Boards::build(Boards::plain());
        $this->limitTo(60)->forAll(Generators::choose(0, 7), Generators::choose(1, 1000000), Generators::choose(1, 10), Generators::choose(0, 0xFF), Generators::choose(0, 0xFFFF))->disableShrinking()
            ->then(function (int $bit, int $seed, int $count, int $value, int $address) use ($board): void {
                $readings = $this->stuckReadings($bit, $seed, $count);
                $blind = [$address, $value | 1 << $bit, $value | 1 << $bit]; // 1 was written: a stuck 1 cannot show.

                // Two readings that every other bit passed both ways: no rival is left that the blind reading could have shown.
                $settled = [...$readings, [0x10, 0x00, 1 << $bit], [0x11, 0xFF, 0xFF]];
                self::assertEqualsWithDelta(
                    Map::shares($board, $this->map($board, $settled))['U'.($bit + 1)] ?? 0.0,
                    Map::shares($board, $this->map($board, [...$settled, $blind]))['U'.($bit + 1)] ?? 0.0,
                    0.0005,
                );
                self::assertEqualsWithDelta(
                    $this->oddsOf('U'.($bit + 1).'/output stuck high', $board, $readings),
                    $this->oddsOf('U'.($bit + 1).'/output stuck high', $board, [...$readings, $blind]),
                    1e-9,
                );
            });
    }

    public function test_the_order_of_the_readings_does_not_matter(): void
    {
        $board = Boards::shipped('tamarisk-two');
        $this->limitTo(60)->forAll(Generators::choose(1, 1000000), Generators::choose(2, 30))->disableShrinking()
            ->then(function (int $seed, int $count) use ($board): void {
                mt_srand($seed);
                $readings = [];
                for ($i = 0; $i < $count; $i++) {
                    $readings[] = [0x4000 + mt_rand(0, 0x40), mt_rand(0, 1) * 0xFF, mt_rand(0, 3) === 0 ? mt_rand(0, 0xFF) : 0];
                }
                $shuffled = $readings;
                shuffle($shuffled);
                self::assertEquals($this->map($board, $readings), $this->map($board, $shuffled));
            });
    }

    public function test_single_readings_and_a_dump_of_the_same_bytes_give_the_same_answer(): void
    {
        $board = Boards::shipped('halyard-16');
        $this->limitTo(30)->forAll(Generators::choose(1, 1000000), Generators::choose(0, 15), Generators::choose(2, 300))->disableShrinking()
            ->then(function (int $seed, int $bit, int $words) use ($board): void {
                $expected = Map::noise($words * 2, $seed);
                $read = $expected | str_repeat(pack('n', 1 << $bit), $words);
                $set = new ReadingSet($board->bus);
                for ($i = 0; $i < $words; $i++) {
                    $set->add(new Reading(0x1000 + 2 * $i, (ord($expected[2 * $i]) << 8) | ord($expected[2 * $i + 1]), (ord($read[2 * $i]) << 8) | ord($read[2 * $i + 1]), 16));
                }
                $dump = Map::dump($board, 0x1000, $expected, $read);
                $single = Map::set($board, $set);
                self::assertEquals([$dump->bits, $dump->patterns, $dump->findings], [$single->bits, $single->patterns, $single->findings]);
                self::assertSame([$words, 2 * $words], [$single->readings, $dump->readings], 'A word typed is one reading, a dump counts bytes.');
                self::assertSame($dump->failed, $single->failed);
            });
    }

    public function test_a_stuck_bit_is_found_as_every_address(): void
    {
        $board = Boards::build(Boards::plain());
        $this->limitTo(40)->forAll(Generators::choose(0, 7), Generators::bool(), Generators::choose(1, 1000000))->disableShrinking()
            ->then(function (int $bit, bool $high, int $seed) use ($board): void {
                $expected = Map::noise(0x4000, $seed);
                $mask = str_repeat(chr(1 << $bit), 0x4000);
                $mapping = Map::dump($board, 0x2000, $expected, $high ? $expected | $mask : $expected & ~$mask);

                self::assertSame(Pattern::EveryAddress, $mapping->patterns['0'][$bit]);
                self::assertSame($high ? 'high' : 'low', $mapping->bits['0'][$bit]->stuck()->value);
                self::assertSame('U'.($bit + 1), Map::leading($board, $mapping));
            });
    }

    public function test_a_dead_row_or_column_is_found_as_such(): void
    {
        $board = Boards::build(Boards::plain());
        $this->limitTo(30)->forAll(Generators::choose(0, 7), Generators::choose(0, 255), Generators::bool(), Generators::choose(1, 1000000))->disableShrinking()
            ->then(function (int $bit, int $place, bool $row, int $seed) use ($board): void {
                $expected = Map::noise(0x10000, $seed);
                $read = $expected;
                for ($i = 0; $i < 256; $i++) {
                    $address = $row ? $i << 8 | $place : $place << 8 | $i;
                    $read[$address] = chr(ord($read[$address]) & ~(1 << $bit));
                }
                $mapping = Map::dump($board, 0, $expected, $read);

                self::assertSame($row ? Pattern::Row : Pattern::Column, $mapping->patterns['0'][$bit]);
                self::assertStringContainsString(sprintf('%s %02X', $row ? 'row' : 'column', $place), $mapping->findings[0]->sentence);
                self::assertSame('U'.($bit + 1), Map::leading($board, $mapping));
            });
    }

    public function test_a_lost_address_line_is_found_as_an_alias_of_that_line(): void
    {
        $board = Boards::build(Boards::plain());
        $this->limitTo(30)->forAll(Generators::choose(0, 15), Generators::bool(), Generators::choose(1, 1000000))->disableShrinking()
            ->then(function (int $line, bool $lastWins, int $seed) use ($board): void {
                $expected = Map::noise(0x10000, $seed);
                $mapping = Map::dump($board, 0, $expected, $this->aliased($expected, 1 << $line, $lastWins ? 1 << $line : 0));

                self::assertSame(Pattern::Alias, $mapping->findings[0]->pattern);
                self::assertSame([$line], $mapping->findings[0]->addressLines);
                self::assertCount(1, $mapping->findings);
                self::assertContains("A{$line}", array_map(static fn (Suspect $suspect): string => $suspect->site, array_slice(Map::suspects($board, $mapping), 0, 2)));
            });
    }

    public function test_a_multiplexed_line_lost_at_the_memory_takes_its_row_and_column_bit_along(): void
    {
        $board = Boards::build(Boards::plain());
        $this->limitTo(20)->forAll(Generators::choose(0, 7), Generators::elements([0, 1, 2, 3]), Generators::choose(1, 1000000))->disableShrinking()
            ->then(function (int $line, int $which, int $seed) use ($board): void {
                $mask = 1 << $line | 1 << ($line + 8);
                $value = ($which & 1) << $line | ($which >> 1) << ($line + 8);
                $expected = Map::noise(0x10000, $seed);
                $mapping = Map::dump($board, 0, $expected, $this->aliased($expected, $mask, $value));

                self::assertSame([$line, $line + 8], $mapping->findings[0]->addressLines);
            });
    }

    public function test_two_shorted_address_lines_are_found_as_both(): void
    {
        $board = Boards::build(Boards::plain());
        $this->limitTo(20)->forAll(Generators::choose(0, 7), Generators::choose(8, 15), Generators::bool(), Generators::choose(1, 1000000))->disableShrinking()
            ->then(function (int $a, int $b, bool $high, int $seed) use ($board): void {
                $mask = 1 << $a | 1 << $b;
                $expected = Map::noise(0x10000, $seed);
                $read = '';
                for ($address = 0; $address < 0x10000; $address++) {
                    $differ = ($address & $mask) !== 0 && ($address & $mask) !== $mask;
                    $read .= $expected[$differ ? ($high ? $address | $mask : $address & ~$mask) : $address];
                }
                $mapping = Map::dump($board, 0, $expected, $read);

                self::assertSame([$a, $b], $mapping->findings[0]->addressLines);
                self::assertStringContainsString('shorted', $mapping->findings[0]->sentence);
            });
    }

    public function test_one_chip_with_a_dead_address_input_is_an_alias_of_that_chip(): void
    {
        $board = Boards::build(Boards::plain());
        $this->limitTo(20)->forAll(Generators::choose(0, 15), Generators::choose(0, 7), Generators::choose(1, 1000000))->disableShrinking()
            ->then(function (int $line, int $bit, int $seed) use ($board): void {
                $expected = Map::noise(0x10000, $seed);
                $aliased = $this->aliased($expected, 1 << $line, 1 << $line);
                $mask = str_repeat(chr(1 << $bit), 0x10000);
                $mapping = Map::dump($board, 0, $expected, ($expected & ~$mask) | ($aliased & $mask));

                self::assertSame(Pattern::Alias, $mapping->patterns['0'][$bit]);
                self::assertSame('U'.($bit + 1), Map::leading($board, $mapping));
            });
    }

    public function test_a_dead_enable_is_found_as_a_bank_that_nothing_drives(): void
    {
        $board = Boards::shipped('tamarisk-two');
        $this->limitTo(30)->forAll(Generators::choose(1, 1000000), Generators::choose(4, 4096))->disableShrinking()
            ->then(function (int $seed, int $bytes) use ($board): void {
                $mapping = Map::dump($board, 0x8000, Map::noise($bytes, $seed), str_repeat("\xFF", $bytes));

                self::assertSame(Pattern::NothingDrives, $mapping->findings[0]->pattern);
                self::assertSame('U10', Map::leading($board, $mapping));
            });
    }

    /**
     * Logarithm of the odds of this fault alone against nothing at all.
     *
     * @param  list<array{int, int, int}>  $readings
     */
    private function oddsOf(string $fault, BoardProfile $board, array $readings): float
    {
        $state = new MachineState(Settings::of($board));
        $evidence = (new MemoryEvidence($board, Boards::modes()))->of($this->map($board, $readings), $state);
        $odds = 0.0;
        foreach ($evidence as $seen) {
            $finding = (new Reasoner($board, Boards::modes()))->finding($seen, BoardFaults::of($board, Boards::modes())->all(), $state->settings);
            $odds += log($finding->chance([$fault]) / $finding->chance([]));
        }

        return $odds;
    }

    /**
     * Readings of a memory whose one bit always reads 1.
     *
     * @return list<array{int, int, int}>
     */
    private function stuckReadings(int $bit, int $seed, int $count): array
    {
        mt_srand($seed);
        $readings = [];
        for ($i = 0; $i < $count; $i++) {
            $value = mt_rand(0, 0xFF);
            $readings[] = [mt_rand(0, 0xFFFF), $value, $value | 1 << $bit];
        }

        return $readings;
    }

    /** What is read back when the masked address bits always have this value at the memory. */
    private function aliased(string $expected, int $mask, int $value): string
    {
        $read = '';
        for ($address = 0; $address < strlen($expected); $address++) {
            $read .= $expected[($address & ~$mask) | $value];
        }

        return $read;
    }

    /**
     * @param  list<array{int, int, int}>  $readings
     */
    private function map(BoardProfile $board, array $readings): \ZapTrace\Memory\MemoryMapping
    {
        $set = new ReadingSet($board->bus);
        foreach ($readings as [$address, $expected, $read]) {
            $set->add(new Reading($address, $expected, $read, 8));
        }

        return Map::set($board, $set);
    }

    /**
     * @param  array<string, float>  $shares
     * @return array<string, float>
     */
    private function sorted(array $shares): array
    {
        ksort($shares);

        return $shares;
    }
}
