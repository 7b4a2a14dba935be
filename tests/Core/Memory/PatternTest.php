<?php

declare(strict_types=1);

namespace Tests\Core\Memory;

use PHPUnit\Framework\TestCase;
use Tests\Support\Bench;
use Tests\Support\Boards;
use Tests\Support\Map;
use ZapTrace\Board\Settings;
use ZapTrace\Memory\MemoryMapper;
use ZapTrace\Memory\Pattern;
use ZapTrace\Memory\ReadingSet;
use ZapTrace\Memory\ReadingsText;
use ZapTrace\Memory\Stuck;
use ZapTrace\Numbers\Radix;

/**
 * The patterns of memory failure, each as a technician would name it. Common practice of the trade unless a source
 * is given.
 */
final class PatternTest extends TestCase
{
    /** Arithmetic: a bit mask of 32 (20 hexadecimal) is data bit 5. */
    public function test_32_is_data_bit_5(): void
    {
        $board = Boards::shipped('larkspur-64');
        $mapping = Map::text($board, '6C00 00 #32');

        self::assertSame(Stuck::High, $mapping->bits['0'][5]->stuck());
        self::assertSame('U14', Map::leading($board, $mapping));
        self::assertSame([1, 1, 1], [$mapping->readings, $mapping->failed, $mapping->bits['0'][5]->failed()]);
    }

    public function test_only_readings_that_could_show_a_stuck_1_are_counted_as_able(): void
    {
        $bit = Map::text(Boards::shipped('larkspur-64'), "6C00 00 20\n6C01 0F 2F\n6E40 33 33\n7100 FF FF")->bits['0'][5];

        self::assertSame([4, 2, 2], [$bit->tested(), $bit->able(), $bit->failed()]);
    }

    public function test_fewer_readings_give_less_certainty(): void
    {
        $board = Boards::shipped('larkspur-64');
        $shares = [];
        foreach ([1, 2, 10, 100] as $count) {
            $text = implode("\n", array_map(static fn (int $i): string => dechex(0x6000 + $i * 7).' 00 20', range(1, $count)));
            $shares[] = round(Map::shares($board, Map::text($board, $text))['U14'], 6);
        }
        $sorted = $shares;
        sort($sorted);
        self::assertSame($sorted, $shares);
        self::assertLessThan(0.6, $shares[0]);
        self::assertGreaterThan(0.78, $shares[3]);
    }

    public function test_two_bad_chips_are_two_suspects(): void
    {
        $board = Boards::shipped('larkspur-64');
        $shares = Map::shares($board, Map::text($board, "1000 00 24\n2000 FF FF\n3000 5A 7E\n4000 00 24"));

        self::assertSame(['U11', 'U14'], array_slice(array_keys($shares), 0, 2));
    }

    public function test_the_same_bit_wrong_in_every_bank_points_at_the_line_not_the_chips(): void
    {
        $board = Boards::shipped('tamarisk-two');
        $mapping = Map::text($board, "4000 00 20\n4001 0F 2F\n8000 00 20\n9000 00 20");

        self::assertSame(Pattern::SameBitEveryBank, $mapping->patterns['0'][5]);
        self::assertSame(Pattern::SameBitEveryBank, $mapping->patterns['1'][5]);
        $shares = Map::shares($board, $mapping);
        self::assertSame(['U14', 'D5'], array_slice(array_keys($shares), 0, 2));
        self::assertLessThan($shares['D5'] / 1.5, $shares['U26']);
    }

    public function test_a_bank_where_the_bit_reads_well_clears_the_line(): void
    {
        $board = Boards::shipped('tamarisk-two');
        $shares = Map::shares($board, Map::text($board, "4000 00 20\n4001 0F 2F\n8000 00 00\n9000 00 00"));

        self::assertSame('U26', array_key_first($shares));
        self::assertLessThan(0.01, $shares['U14'] ?? 0.0);
    }

    public function test_a_bank_that_could_not_show_it_clears_nothing(): void
    {
        $board = Boards::shipped('tamarisk-two');
        $without = Map::shares($board, Map::text($board, "4000 00 20\n4001 0F 2F"));
        $with = Map::shares($board, Map::text($board, "4000 00 20\n4001 0F 2F\n8000 FF FF\n9000 20 20"));

        foreach (['U26', 'U14', 'D5'] as $site) {
            self::assertEqualsWithDelta($without[$site], $with[$site], 0.05, $site);
        }
    }

    public function test_a_whole_bank_wrong_is_its_select_not_eight_chips(): void
    {
        $board = Boards::shipped('tamarisk-two');
        $mapping = Map::text($board, "8000 00 FF\n8001 55 FF\n8002 AA FF\n4000 00 00\n4001 55 55");

        self::assertSame(Pattern::NothingDrives, $mapping->patterns['1'][0]);
        self::assertSame(Pattern::None, $mapping->patterns['0'][0]);
        $shares = Map::shares($board, $mapping);
        self::assertSame('U10', array_key_first($shares));
        self::assertArrayHasKey('LK1', $shares);
        foreach (range(31, 38) as $chip) {
            self::assertLessThan(0.05, $shares["U{$chip}"] ?? 0.0, 'A second fault that hides keeps no more than its prior.');
        }
    }

    public function test_one_reading_of_all_ones_is_an_undriven_bus_before_eight_chips(): void
    {
        self::assertSame(Pattern::NothingDrives, Map::text(Boards::shipped('larkspur-64'), '6C00 00 FF')->findings[0]->pattern);
        self::assertSame(Pattern::NothingDrives, Map::text(Boards::shipped('larkspur-64'), '6C00 5A FF')->findings[0]->pattern);
    }

    public function test_a_bus_that_holds_the_upper_half_of_the_address_is_driven_by_nobody(): void
    {
        $text = implode("\n", array_map(static fn (int $page): string => sprintf('%04X %02X %02X', $page << 8 | 0x10, $page ^ 0xA5, $page), range(0x40, 0x50)));

        self::assertSame(Pattern::NothingDrives, Map::text(Boards::shipped('larkspur-64'), $text)->findings[0]->pattern);
    }

    public function test_all_zeros_is_a_bank_held_low(): void
    {
        self::assertSame(Pattern::AllBits, Map::text(Boards::shipped('larkspur-64'), "6C00 FF 00\n6C01 5A 00")->findings[0]->pattern);
    }

    public function test_three_bad_bits_beside_good_ones_are_three_chips(): void
    {
        $board = Boards::shipped('larkspur-64');
        $mapping = Map::text($board, "6C00 00 07\n6C01 55 57\n7000 00 07\n7001 FF FF");

        self::assertEqualsCanonicalizing(['U9', 'U10', 'U11'], array_slice(array_keys(Map::shares($board, $mapping)), 0, 3));
    }

    public function test_a_dead_lane_is_its_strobe_or_buffer_not_eight_chips(): void
    {
        $board = Boards::shipped('halyard-16');
        $mapping = Map::text($board, "1000 0000 FF00\n1002 1234 FF34\n1004 5555 FF55\n2000 AAAA FFAA");

        self::assertSame([8, 9, 10, 11, 12, 13, 14, 15], $mapping->findings[0]->lines);
        $shares = Map::shares($board, $mapping);
        self::assertArrayHasKey('U60', $shares, 'the strobes of the upper lane');
        self::assertArrayNotHasKey('U61', $shares, 'the strobes of the lower lane');
        self::assertLessThan(0.05, $shares['U48'] ?? 0.0);
    }

    public function test_a_chip_four_bits_wide_is_one_suspect_for_its_four_bits(): void
    {
        $board = Boards::shipped('halyard-16');
        $mapping = Map::text($board, "80000 0000 00F0\n80002 FFFF FFFF\n90000 0505 05F5");

        self::assertSame('U81', Map::leading($board, $mapping));
        self::assertCount(1, $mapping->findings);
    }

    public function test_a_link_move_takes_the_fault_with_the_chip(): void
    {
        $board = Boards::shipped('tamarisk-two');
        $read = static fn (string $text): ReadingSet => (new ReadingsText($board, Radix::Hexadecimal))->read($text);
        $mapping = (new MemoryMapper($board))->map([
            [Settings::of($board), $read("4000 00 20\n8000 00 00")],
            [Settings::of($board, ['LK1' => 'swapped']), $read("4000 00 00\n8000 00 20")],
        ]);

        self::assertSame([2, 2], [$mapping->bits['0'][5]->failed(), $mapping->bits['0'][5]->able()]);
        self::assertSame(0, $mapping->bits['1'][5]->failed());
        self::assertSame('U26', Map::leading($board, $mapping));
    }

    public function test_the_same_readings_under_another_link_name_another_chip(): void
    {
        $board = Boards::shipped('tamarisk-two');

        self::assertSame('U26', Map::leading($board, Map::text($board, '4000 00 20')));
        self::assertSame('U36', Map::leading($board, Map::text($board, '4000 00 20', ['LK1' => 'swapped'])));
        self::assertSame(1, Map::text($board, '8000 00 20', ['LK1' => '16K'])->outside);
    }

    public function test_two_answers_to_one_question_are_an_unstable_cell(): void
    {
        $board = Boards::shipped('larkspur-64');
        $mapping = Map::text($board, "6C00 00 20\n6C00 00 00\n6C01 00 00");

        self::assertSame(Pattern::Unstable, $mapping->patterns['0'][5]);
        self::assertSame(1, $mapping->bits['0'][5]->unstable);
        self::assertSame('U14', Map::leading($board, $mapping));
    }

    public function test_a_cell_that_differs_in_many_reads_is_one_cell(): void
    {
        $board = Boards::shipped('larkspur-64');
        $set = new ReadingSet($board->bus);
        foreach ([0x20, 0x00, 0x20, 0x00, 0x00] as $read) {
            $set->addDump(0x6C00, str_repeat("\0", 8), str_repeat("\0", 3).chr($read).str_repeat("\0", 4));
        }
        $dumps = Map::set($board, $set);
        $typed = Map::text($board, "6C03 00 20\n6C03 00 00\n6C03 00 20\n6C04 00 20\n6C04 00 00\n6C05 00 00");

        self::assertSame(1, $dumps->bits['0'][5]->unstable);
        self::assertSame(2, $typed->bits['0'][5]->unstable);
        self::assertStringContainsString('at 2 addresses', $typed->findings[0]->sentence);
    }

    public function test_two_dumps_that_differ_are_unstable_too(): void
    {
        $board = Boards::shipped('larkspur-64');
        $set = new ReadingSet($board->bus);
        $expected = Map::noise(4096);
        $set->addDump(0x1000, $expected, $expected);
        $set->addDump(0x1000, $expected, substr_replace($expected, chr(ord($expected[9]) ^ 0x20), 9, 1));
        $mapping = Map::set($board, $set);

        self::assertSame([1, Pattern::Unstable], [$mapping->bits['0'][5]->unstable, $mapping->patterns['0'][5]]);
    }

    public function test_contents_that_are_right_at_once_and_wrong_after_a_pause_fade(): void
    {
        $board = Boards::shipped('larkspur-64');
        $set = (new ReadingsText($board, Radix::Hexadecimal))->read("6C00 FF FF\n6C01 FF FF\n6C02 FF FF");
        $set->addAll((new ReadingsText($board, Radix::Hexadecimal))->read("6C00 FF 00\n6C01 FF 10\n6C02 FF 00", 30.0));
        $mapping = Map::set($board, $set);

        self::assertSame([Pattern::Fades], array_unique(array_map(static fn ($finding): Pattern => $finding->pattern, $mapping->findings), SORT_REGULAR));
        self::assertSame('U7', Map::leading($board, $mapping), 'the refresh counter');
    }

    public function test_one_chip_that_fades_alone_leaks(): void
    {
        $board = Boards::shipped('larkspur-64');
        $set = (new ReadingsText($board, Radix::Hexadecimal))->read("6C00 FF FF\n6C01 FF FF");
        $set->addAll((new ReadingsText($board, Radix::Hexadecimal))->read("6C00 FF DF\n6C01 FF FF", 30.0));

        self::assertSame('U14', Map::leading($board, Map::set($board, $set)));
    }

    public function test_a_short_between_two_lines_is_found_by_the_bits_that_follow_each_other(): void
    {
        $board = Boards::shipped('larkspur-64');
        $mapping = Map::text($board, "6C00 00 00\n6C01 06 06\n6C02 02 00\n6C03 04 00\n6C04 FF FF\n6C05 FB F9\n6C06 FD F9");

        self::assertSame(Pattern::TiedBits, $mapping->findings[0]->pattern);
        self::assertSame([1, 2], $mapping->findings[0]->lines);
        self::assertSame('D1', Map::leading($board, $mapping));
        $conclusion = Bench::with('larkspur-64')->read("6C00 00 00\n6C01 06 06\n6C02 02 00\n6C03 04 00\n6C04 FF FF\n6C05 FB F9\n6C06 FD F9")->assess()->conclusion;
        self::assertSame('D1/shorted to D2', array_keys($conclusion->posterior->faults, max($conclusion->posterior->faults), true)[0]);
    }

    public function test_a_single_bad_cell_is_that_chip(): void
    {
        $board = Boards::shipped('larkspur-64');
        $expected = Map::noise(4096);
        $read = $expected;
        $read[77] = chr(ord($read[77]) ^ 0x08);
        $mapping = Map::dump($board, 0x1000, $expected, $read);

        self::assertSame(Pattern::Cells, $mapping->patterns['0'][3]);
        self::assertSame('U12', Map::leading($board, $mapping));
    }

    public function test_a_block_wrong_in_every_chip_is_decoded_wrong(): void
    {
        $board = Boards::shipped('larkspur-64');
        $expected = Map::noise(0x4000);
        $read = substr_replace($expected, Map::noise(0x1000, 7), 0x1000, 0x1000);
        $mapping = Map::dump($board, 0x4000, $expected, $read);

        self::assertContains('bank', array_map(static fn ($finding): string => $finding->scope->value, $mapping->findings));
        self::assertNotSame('chip', Map::suspects($board, $mapping)[0]->kind->value);
    }

    public function test_interleaved_banks_are_told_apart(): void
    {
        $bank = Boards::plain()['banks'][0];
        $board = Boards::build(Boards::plain([
            'chips' => array_map(static fn (int $n): array => ['ref' => "U{$n}", 'part' => '4164'], range(1, 16)),
            'banks' => [$bank, [...$bank, 'name' => '1', 'chips' => array_map(static fn (int $bit): array => ['chip' => 'U'.($bit + 9), 'lines' => ["D{$bit}"]], range(0, 7))]],
            'map' => [
                ['from' => '0x0000', 'to' => '0xFFFF', 'kind' => 'ram', 'bank' => '0', 'where' => ['mask' => '0x1', 'value' => '0x0']],
                ['from' => '0x0000', 'to' => '0xFFFF', 'kind' => 'ram', 'bank' => '1', 'where' => ['mask' => '0x1', 'value' => '0x1']],
            ],
        ]));

        self::assertSame('U6', Map::leading($board, Map::text($board, "1000 00 20\n1001 00 00")));
        self::assertSame('U14', Map::leading($board, Map::text($board, "1000 00 00\n1001 00 20")));
        self::assertSame('U14', Map::leading($board, Map::dump($board, 0x1000, str_repeat("\0", 64), str_repeat("\x00\x20", 32))));
    }

    public function test_a_32_bit_bus_has_four_lanes(): void
    {
        $board = Boards::build(Boards::plain([
            'bus' => ['dataWidth' => 32, 'addressWidth' => 20, 'byteOrder' => 'big'],
            'chips' => array_map(static fn (int $n): array => ['ref' => "U{$n}", 'part' => '4464'], range(0, 7)),
            'banks' => [['name' => '0', 'width' => 32, 'chips' => array_map(static fn (int $n): array => ['chip' => "U{$n}", 'lines' => array_map(static fn (int $bit): string => 'D'.(4 * $n + $bit), range(0, 3))], range(0, 7))]],
            'map' => [['from' => '0x00000', 'to' => '0x3FFFF', 'kind' => 'ram', 'bank' => '0']],
        ]));

        self::assertSame('U7', Map::leading($board, Map::text($board, '1000 00000000 80000000')));
        self::assertSame('U7', Map::leading($board, Map::text($board, '1000 00 80')));
        self::assertSame('U0', Map::leading($board, Map::text($board, '1003 00 01')));
        self::assertSame('U3', Map::leading($board, Map::text($board, '1002.w 0000 8000')));
    }

    public function test_a_colour_memory_of_four_bits_has_no_chip_for_the_other_four(): void
    {
        $board = Boards::build(Boards::plain([
            'chips' => [['ref' => 'U1', 'part' => '2114']],
            'banks' => [['name' => 'colour', 'width' => 4, 'chips' => [['chip' => 'U1', 'lines' => ['D0', 'D1', 'D2', 'D3']]]]],
            'map' => [['from' => '0xD800', 'to' => '0xDBFF', 'kind' => 'ram', 'bank' => 'colour']],
        ]));
        $mapping = Map::text($board, "D800 00 F0\nD801 05 F5\nD802 0A F8");

        self::assertSame(1, $mapping->failed, 'The upper half is not memory: what it reads means nothing.');
        self::assertSame('U1', Map::leading($board, $mapping));
    }

    /** Common practice: a strobe that stands still leaves one of the two halves of the address out. */
    public function test_all_lines_of_a_strobe_lost_at_once_are_found_together(): void
    {
        $board = Boards::shipped('tamarisk-two');
        $lines = $last = [];
        $addresses = array_unique(array_map(static fn (int $place): int => 0x4000 + crc32("place {$place}") % 0x4000, range(0, 150)));
        sort($addresses);
        foreach ($addresses as $address) {
            $last[$address & ~0x7F] = crc32("byte {$address}") & 0xFF;
        }
        foreach ($addresses as $address) {
            $lines[] = sprintf('%04X %02X %02X', $address, crc32("byte {$address}") & 0xFF, $last[$address & ~0x7F]);
        }
        $mapping = Map::text($board, implode("\n", $lines));

        self::assertSame([0, 1, 2, 3, 4, 5, 6], $mapping->findings[0]->addressLines);
        self::assertSame(range(0, 7), $mapping->findings[0]->lines);
        $shares = Map::shares($board, $mapping);
        self::assertGreaterThan($shares['A0'] ?? 0.0, $shares['U11'], 'The strobes before any one line.');
    }
}
