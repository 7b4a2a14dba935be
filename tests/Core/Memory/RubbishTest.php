<?php

declare(strict_types=1);

namespace Tests\Core\Memory;

use PHPUnit\Framework\TestCase;
use Tests\Support\Bench;
use Tests\Support\Boards;
use Tests\Support\Map;
use Tests\Support\SickBench;
use ZapTrace\Bench\FaultKind;
use ZapTrace\Bench\InjectedFault;
use ZapTrace\Reasoning\Evidence;
use ZapTrace\Reasoning\Finding;

/**
 * Readings in which many bits are wrong: what can be told of single bits then, and what cannot.
 */
final class RubbishTest extends TestCase
{
    /**
     * @return list<string> kind and bits of what was wrong
     */
    private static function wrong(Bench $bench): array
    {
        $wrong = array_filter($bench->assess()->conclusion->evidence, static fn (Evidence $seen): bool => $seen->abnormal && ! in_array($seen->kind, [Evidence::COMPLAINT, Evidence::SIGN], true));

        return array_values(array_map(static fn (Evidence $seen): string => "{$seen->kind} ".implode(',', $seen->lines), $wrong));
    }

    public function test_a_bit_that_is_always_wrong_is_of_the_alias_that_explains_it(): void
    {
        // A7 is lost: what was written last comes back at both of a pair. Bits 3 and 7 were 0 at each lower one.
        $bench = Bench::with('tamarisk-two')->read("4100 55 AA\n4180 AA AA\n4111 44 BB\n4191 BB BB\n4123 76 89\n41A3 89 89\n4145 10 EF\n41C5 EF EF");

        self::assertSame(['bank-alias 0,1,2,3,4,5,6,7'], self::wrong($bench));
        self::assertLessThan(0.05, $bench->share('U24') + $bench->share('U28'));
    }

    public function test_bits_that_seldom_show_an_alias_are_of_it_when_many_others_are(): void
    {
        $read = Bench::with('halyard-16')->note('run start-colour yellow')->read(SickBench::swept(SickBench::with('halyard-16', new InjectedFault(FaultKind::OutputLow, 'U85.7')), 'riser'));

        self::assertNotContains('places', array_map(static fn (string $wrong): string => (string) strtok($wrong, ' '), self::wrong($read)));
        self::assertSame('U85', $read->leading());
        self::assertLessThan(0.5, $read->share('U82'));
    }

    public function test_an_alias_that_one_bit_shows_is_of_all_when_none_is_right(): void
    {
        // The multiplexer is stuck at A4 and A12, and bit 5 is lost beside it: few of the addresses looked at are partners.
        $sick = SickBench::with('larkspur-64', new InjectedFault(FaultKind::OutputLow, 'U6.4'), new InjectedFault(FaultKind::OutputLow, 'U4.7'));
        $read = Bench::with('larkspur-64')->note('sign blank')->read(SickBench::swept($sick, '0'));

        self::assertSame(['low 5', 'bank-alias 2', 'bank-places 0,1,3,4,6,7'], self::wrong($read));
        self::assertGreaterThan(0.2, $read->share('U6'));
        self::assertLessThan(0.05, $read->share('U11'), 'Not the chip in which it was met.');
    }

    public function test_in_a_few_readings_with_every_bit_wrong_no_bit_is_told_from_another(): void
    {
        $bench = Bench::with('larkspur-64')->read("0100 55 0A\n0110 AA 2A\n0101 AA 04\n0111 55 05\n0123 5A 20\n0133 A5 21\n0145 A5 12\n0155 5A 52");

        self::assertSame(['bank-places 0,1,2,3,4,5,6,7'], self::wrong($bench));
        self::assertLessThan(0.1, $bench->share('U16'), 'Bit 7 was low four times by chance.');
        self::assertLessThan(0.1, $bench->share('A4'));
    }

    public function test_a_bank_that_reads_noise_is_one_thing_that_was_seen(): void
    {
        $noise = Bench::with('tamarisk-two')->note('sign blank')->read(SickBench::swept(SickBench::with('tamarisk-two', new InjectedFault(FaultKind::OpenTrace, '/SCR', 'U41.1')), 'screen'));

        self::assertSame(['bank-places 0,1,2,3,4,5,6,7'], self::wrong($noise));
        self::assertSame([], array_filter($noise->assess()->conclusion->evidence, static fn (Evidence $seen): bool => in_array($seen->kind, ['high', 'low'], true)), 'That no bit is constant is no news then.');
    }

    public function test_after_a_few_readings_with_many_bits_wrong_all_of_the_bank_is_read(): void
    {
        $bench = Bench::with('larkspur-64')->note('sign blank', 'count 2')->read("0100 00 78\n02A5 00 7B");

        self::assertContains('read bank 0', $bench->proposed());
    }

    public function test_where_no_cell_is_reached_as_it_should_no_single_address_line_is_lost(): void
    {
        $board = Boards::shipped('larkspur-64');
        $swept = static fn (string $output): string => SickBench::swept(SickBench::with('larkspur-64', new InjectedFault(FaultKind::OutputLow, $output)), '0');
        // Where a line that shares its pin with another is stuck, a quarter of the cells are reached as they should be. Outside value.
        self::assertSame(['0' => true], Map::text($board, $swept('U3.7'))->everywhere, 'A ROM answers in its place.');
        self::assertSame([], Map::text($board, $swept('U5.7'))->everywhere);

        $bench = Bench::with('larkspur-64')->note('sign blank');
        $odds = static function (Bench $bench): float {
            $faults = $bench->assess()->conclusion->posterior->faults;

            return $faults['U17/output stuck/12'] / $faults['U5/output stuck/U5.7'];
        };
        self::assertGreaterThan(10.0 * $odds($bench), $odds($bench->read($swept('U3.7'))));
    }

    public function test_in_a_few_readings_what_serves_the_bank_shows_in_some_bits_and_not_in_others(): void
    {
        $conclusion = Bench::with('larkspur-64')->note('sign blank', 'count 2')->read("0100 00 78\n02A5 00 7B")->assess()->conclusion;
        $chances = [];
        foreach ($conclusion->evidence as $number => $seen) {
            if ($seen->kind === 'places' && $seen->abnormal) {
                $chances[] = $conclusion->network->findings[$number]->chance(['U17/dead']);
            }
        }
        self::assertCount(2, $chances, 'Bits 0 and 1 were wrong in one of the two.');
        self::assertGreaterThan(0.25, $chances[0] * $chances[1], 'One common cause, once.');
        // Most bits are right here: it is theirs.
        $few = Bench::with('larkspur-64')->note('sign blank')->read("0100 00 01\n02A5 00 02")->assess()->conclusion;
        foreach ($few->evidence as $number => $seen) {
            if ($seen->kind === 'places' && $seen->abnormal) {
                self::assertLessThan(0.1, $few->network->findings[$number]->chance(['U17/dead']));
            }
        }
    }

    public function test_one_reading_that_is_wrong_throughout_is_one_thing_and_may_be_another_cell(): void
    {
        // A13 and A4 touch: one place of the riser was read, and holds what was written elsewhere.
        $bench = Bench::with('halyard-16')->note('sign blank')->read('080101 00 FF')->record('probe', ['pin' => 'U84.13', 'situation' => 'free-run', 'state' => 'between', 'expected' => 'pulsing']);
        $conclusion = $bench->assess()->conclusion;
        $chance = 1.0;
        foreach ($conclusion->evidence as $number => $seen) {
            if ($seen->kind === 'high' && $seen->abnormal) {
                $chance *= $conclusion->network->findings[$number]->chance(['A13/held or shorted']);
            }
        }
        self::assertGreaterThan(0.01, $chance, 'Not eight misreadings.');
        self::assertLessThan(0.9, $bench->share('U65'));
        self::assertContains('read U80', $bench->proposed(), 'Another reading tells.');
    }

    public function test_what_was_written_nowhere_comes_of_no_other_cell(): void
    {
        // U3.7 selects the ROM all the time: it answers in the place of the memory.
        $board = Boards::shipped('larkspur-64');
        $few = static fn (string $read): string => implode("\n", array_map(static fn (int $at): string => sprintf('%04X %02X %s', 0x100 + 0x11 * $at, [0x55, 0xAA, 0x5A, 0xA5][$at % 4], $read === '' ? sprintf('%02X', [0x55, 0x5A][$at % 2]) : substr(md5("{$read} {$at}"), 0, 2)), range(0, 9)));
        self::assertSame(['0' => true], Map::text($board, $few('rom'))->foreign);
        self::assertSame([], Map::text($board, $few(''))->foreign, 'Each of these was written somewhere.');
        $many = implode("\n", array_map(static fn (int $at): string => sprintf('%04X %02X %02X', 0x100 + 7 * $at, $at * 37 & 255, $at * 91 + 5 & 255), range(0, 99)));
        self::assertSame([], Map::text($board, $many)->foreign, 'Of many different bytes one is met by chance.');

        // In a large dump any byte is read where many different ones were written; one that makes up most of what is wrong is not by chance.
        [$written, $read] = ['', ''];
        for ($block = 0; $block < 512; $block++) {
            $written .= hash('sha256', "written {$block}", true);
            $read .= hash('sha256', "read {$block}", true);
        }
        self::assertSame([], Map::dump($board, 0x1000, $written, $read)->foreign);
        self::assertSame(['0' => true], Map::dump($board, 0x1000, $written, substr($written, 0, 8192).str_repeat("\xFF", 8192))->foreign);

        $bench = Bench::with('larkspur-64')->note('sign blank', 'run test-rom 2')->read($few('rom'));
        $places = array_values(array_filter($bench->assess()->conclusion->network->findings, static fn ($finding): bool => $finding instanceof Finding && $finding->abnormal && str_contains($finding->id, '/many') || $finding instanceof Finding && $finding->abnormal && preg_match('~/\d+$~', $finding->id) === 1))[0];
        self::assertLessThan(0.02, $places->explains['U6/output stuck/U6.4'] ?? 0.0);
        self::assertGreaterThan(0.2, $places->explains['U3/dead'] ?? 0.0, 'By what selects another part.');
        self::assertGreaterThan(0.4, $places->explains['U17/dead'] ?? 0.0);
    }
}
