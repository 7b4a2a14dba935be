<?php

declare(strict_types=1);

namespace Tests\Core\Memory;

use Eris\Generators;
use Eris\TestTrait;
use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;
use Tests\Support\Bench;
use Tests\Support\Boards;
use Tests\Support\Map;
use Tests\Support\SickBench;
use ZapTrace\Bench\FaultKind;
use ZapTrace\Bench\InjectedFault;
use ZapTrace\Board\Settings;
use ZapTrace\Memory\MemoryMapping;
use ZapTrace\Memory\Pattern;
use ZapTrace\Memory\PatternFinding;
use ZapTrace\Reasoning\Evidence;
use ZapTrace\Reasoning\MachineState;
use ZapTrace\Reasoning\MemoryEvidence;

/**
 * Address lines that are lost together, and float: what is read was written somewhere that differs in no other line.
 */
final class LostTogetherTest extends TestCase
{
    use TestTrait;

    /** All of bank 0 of a board with one fault, read as the advice asks for it. */
    private static function swept(InjectedFault $fault): MemoryMapping
    {
        return Map::text(Boards::shipped('larkspur-64'), SickBench::swept(SickBench::with('larkspur-64', $fault), '0'));
    }

    /**
     * @return list<int> address lines of the alias that is found
     */
    private static function lost(MemoryMapping $mapping): array
    {
        return array_values(array_filter($mapping->findings, static fn (PatternFinding $finding): bool => $finding->pattern === Pattern::Alias))[0]->addressLines ?? [];
    }

    /**
     * @return iterable<string, array{InjectedFault, list<int>}>
     */
    public static function dead(): iterable
    {
        yield 'the multiplexer of rows and columns, lower lines' => [new InjectedFault(FaultKind::Dead, 'U5'), [0, 1, 2, 3, 8, 9, 10, 11]];
        yield 'the other one' => [new InjectedFault(FaultKind::Dead, 'U6'), [4, 5, 6, 7, 12, 13, 14, 15]];
        yield 'the one before them, rows only' => [new InjectedFault(FaultKind::Dead, 'U31'), [4, 5, 6, 7]];
        yield 'columns only' => [new InjectedFault(FaultKind::Dead, 'U34'), [12, 13, 14, 15]];
    }

    /**
     * @param  list<int>  $lines
     */
    #[DataProvider('dead')]
    public function test_a_dead_multiplexer_is_told_from_its_neighbour_by_what_is_read_where(InjectedFault $fault, array $lines): void
    {
        $mapping = self::swept($fault);

        self::assertSame($lines, self::lost($mapping));
        self::assertSame($fault->at, Map::leading(Boards::shipped('larkspur-64'), $mapping));
    }

    public function test_it_is_evidence_of_its_own_kind_beside_a_lost_strobe(): void
    {
        $board = Boards::shipped('larkspur-64');
        $kinds = static fn (MemoryMapping $mapping): array => array_map(static fn (Evidence $seen): string => $seen->kind, array_filter((new MemoryEvidence($board, Boards::modes()))->of($mapping, new MachineState(Settings::of($board))), static fn (Evidence $seen): bool => $seen->addressLines !== []));

        self::assertContains('bank-multiplexer', $kinds(self::swept(new InjectedFault(FaultKind::Dead, 'U6'))));
        self::assertContains('bank-strobe', $kinds(self::swept(new InjectedFault(FaultKind::OutputHigh, 'U18.5'))));
    }

    public function test_one_line_that_floats_is_one_line(): void
    {
        $this->limitTo(40)->forAll(Generators::choose(0, 15), Generators::choose(1, 1000000))->disableShrinking()
            ->then(function (int $line, int $seed): void {
                $lost = self::lost(self::floating($line, $seed));

                self::assertContains($line, $lost);
                self::assertLessThanOrEqual(2, count($lost));
            });
    }

    public function test_what_one_bit_shows_a_few_times_is_no_lost_strobe(): void
    {
        self::assertSame([10], self::lost(self::floating(10, 5399)));
        self::assertSame([7], self::lost(self::floating(7, 35283)));
    }

    /** Readings of a memory that one address line does not reach. */
    private static function floating(int $line, int $seed): MemoryMapping
    {
        mt_srand($seed);
        $text = '';
        $written = [];
        for ($pair = 0; $pair < 32; $pair++) {
            do {
                $low = mt_rand(0, 0xFFFF) & ~(1 << $line);
            } while (($low | 1 << $line) >= 0xE000); // The ROM lies there.
            $written[$low] ??= mt_rand(0, 255);
            $written[$low | 1 << $line] ??= $pair < 6 ? $written[$low] : mt_rand(0, 255);
        }
        foreach ($written as $address => $byte) {
            // Whichever of the two the line floats to at the time.
            $at = ($address & ~(1 << $line)) | (mt_rand(0, 1) << $line);
            $text .= sprintf("%04X %02X %02X\n", $address, $byte, $written[$at]);
        }

        return Map::text(Boards::shipped('larkspur-64'), $text);
    }

    public function test_a_few_addresses_are_enough_where_all_wrong_bits_agree_at_each(): void
    {
        // A14 stays high: each bit shows it once or twice, all of them together at five addresses.
        $text = "0100 11 13\n4100 13 13\n0222 40 44\n4222 44 44\n0305 81 91\n4305 91 91\n0410 07 27\n4410 27 27\n0511 60 E8\n4511 E8 E8\n0612 00 00\n0713 5A 5A";
        $mapping = Map::text(Boards::shipped('larkspur-64'), $text);

        self::assertSame([14], self::lost($mapping));
        self::assertSame([1, 2, 3, 4, 5, 7], array_values(array_filter($mapping->findings, static fn (PatternFinding $finding): bool => $finding->pattern === Pattern::Alias))[0]->lines);
    }

    public function test_noise_is_no_alias(): void
    {
        $board = Boards::shipped('larkspur-64');
        $this->limitTo(60)->forAll(Generators::choose(1, 1000000), Generators::choose(8, 256))->disableShrinking()
            ->then(function (int $seed, int $places) use ($board): void {
                mt_srand($seed);
                $text = '';
                for ($place = 0; $place < $places; $place++) {
                    $text .= sprintf("%04X %02X %02X\n", mt_rand(0, 0xFFFF), mt_rand(0, 255), mt_rand(0, 255));
                }

                self::assertSame([], self::lost(Map::text($board, $text)));
            });
    }

    public function test_what_another_test_wrote_to_the_same_addresses_is_not_taken_for_a_partner(): void
    {
        // Three tests of pairs of addresses, one after another: of A0 and of A3, which are right, and of A9, which is not.
        $tests = [
            "0100 55 55\n0101 AA AA\n0110 AA AA\n0111 55 55\n0122 5A 5A\n0123 A5 A5\n0144 A5 A5\n0145 5A 5A",
            "0100 55 55\n0108 AA AA\n0111 AA AA\n0119 55 55\n0123 5A 5A\n012B A5 A5\n0145 A5 A5\n014D 5A 5A",
            "0100 55 AA\n0300 AA AA\n0111 AA 55\n0311 55 55\n0123 5A A5\n0323 A5 A5\n0145 A5 5A\n0345 5A 5A",
        ];
        foreach ([$tests, array_reverse($tests), [$tests[2], $tests[0], $tests[1]]] as $order) {
            $bench = Bench::with('larkspur-64');
            foreach ($order as $text) {
                $bench = $bench->read($text);
            }
            $words = array_map(static fn (Evidence $seen): string => $seen->words, array_filter($bench->assess()->conclusion->evidence, static fn (Evidence $seen): bool => $seen->kind === 'bank-alias'));

            self::assertStringContainsString('that differ in A9 hold the same', implode("\n", $words));
            self::assertStringContainsString('that differ in A0, A3 and A4 hold their own', implode("\n", $words), 'That A9 is right was not seen.');
        }
    }

    public function test_a_row_that_never_comes_is_found_in_both_lanes_beside_a_bad_bit(): void
    {
        // What selects the memory is stuck: the multiplexers stay at the column.
        $sick = SickBench::with('halyard-16', new InjectedFault(FaultKind::OutputLow, 'U6.17'), new InjectedFault(FaultKind::ReadsLow, 'U52'));
        $mapping = Map::text(Boards::shipped('halyard-16'), SickBench::swept($sick, 'main'));
        $aliases = array_values(array_filter($mapping->findings, static fn (PatternFinding $finding): bool => $finding->pattern === Pattern::Alias));

        self::assertSame([1, 2, 3, 4, 5, 6, 7, 8, 9], self::lost($mapping));
        self::assertCount(1, $aliases, 'One thing that is wrong is told once.');
        self::assertSame([0, 1, 2, 3, 4, 5, 6, 7, 8, 9, 10, 11, 13, 14, 15], array_values(array_diff($aliases[0]->lines, [12])));
    }

    public function test_of_a_lane_that_reads_the_same_everywhere_nothing_speaks_against_a_multiplexer(): void
    {
        // The buffer of the upper byte is dead as well: what the lower one shows is of the bank.
        $sick = SickBench::with('halyard-16', new InjectedFault(FaultKind::Dead, 'U85'), new InjectedFault(FaultKind::Dead, 'U66'));
        $readings = SickBench::swept($sick, 'riser');
        $aliases = array_values(array_filter(Map::text(Boards::shipped('halyard-16'), $readings)->findings, static fn (PatternFinding $finding): bool => $finding->pattern === Pattern::Alias));
        self::assertSame([[5, 6, 7, 8, 14, 15, 16, 17]], array_map(static fn (PatternFinding $finding): array => $finding->addressLines, $aliases));
        self::assertSame(range(0, 7), $aliases[0]->lines);

        $bench = Bench::with('halyard-16')->note('sign blank')->read($readings);
        self::assertGreaterThan(0.5, $bench->share('U85'));
        self::assertLessThan(0.1, $bench->share('REFR'), 'What enables all multiplexers would lose the lines of all.');
        self::assertGreaterThan(0.4, $bench->share('U66'));
    }
}
