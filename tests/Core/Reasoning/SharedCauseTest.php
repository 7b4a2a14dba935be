<?php

declare(strict_types=1);

namespace Tests\Core\Reasoning;

use Eris\Generators;
use Eris\TestTrait;
use PHPUnit\Framework\TestCase;
use Tests\Support\Bench;
use Tests\Support\Boards;
use Tests\Support\Map;
use Tests\Support\SickBench;
use ZapTrace\Bench\FaultKind;
use ZapTrace\Bench\InjectedFault;
use ZapTrace\Memory\Pattern;
use ZapTrace\Reasoning\Evidence;
use ZapTrace\Reasoning\Finding;
use ZapTrace\Reasoning\Report;

/**
 * Many bits wrong at one time have a cause in common.
 */
final class SharedCauseTest extends TestCase
{
    use TestTrait;

    public function test_bits_that_are_each_wrong_in_places_of_their_own_are_told_once(): void
    {
        $lines = [];
        for ($place = 0; $place < 48; $place++) {
            $wrote = ord(md5("wrote {$place}", true));
            // Something else drives at the same time: the low level wins.
            $lines[] = sprintf('%04X %02X %02X', 0x1000 + $place * 331, $wrote, $wrote & ord(md5("other {$place}", true)));
        }
        $evidence = Bench::with('larkspur-64')->note('sign blank')->read(implode("\n", $lines))->assess()->conclusion->evidence;
        $wrong = array_values(array_filter($evidence, static fn (Evidence $seen): bool => $seen->abnormal && ! in_array($seen->kind, [Evidence::COMPLAINT, Evidence::SIGN], true)));

        self::assertSame([Evidence::CONTENTION], array_map(static fn (Evidence $seen): string => $seen->kind, $wrong));
        self::assertStringContainsString('lose ones in places and win none', $wrong[0]->words);
        self::assertGreaterThan(5 * ($wrong[0]->strengths['U9'] ?? 0.0), $wrong[0]->strengths['U4'] ?? 0.0, 'What drives all of the lines, before what drives one.');

        // Ones and zeros lost alike: not two that drive at once.
        $noise = array_map(static fn (int $place): string => sprintf('%04X %02X %02X', 0x1000 + $place * 331, ord(md5("wrote {$place}", true)), ord(md5("other {$place}", true))), range(0, 47));
        $evidence = Bench::with('larkspur-64')->note('sign blank')->read(implode("\n", $noise))->assess()->conclusion->evidence;
        self::assertSame([], array_filter($evidence, static fn (Evidence $seen): bool => $seen->kind === Evidence::CONTENTION));
    }

    public function test_one_chip_with_bad_cells_is_still_that_chip(): void
    {
        $bench = Bench::with('larkspur-64')->note('sign blank')->read("1000 00 20\n1100 00 00\n1200 00 20\n1300 00 00\n1400 00 00\n1500 00 20");

        self::assertSame('U14', $bench->leading());
    }

    /** Law: where an address line is lost to all of a bank, few pairs of addresses are enough to name it, for every bit alike. */
    public function test_a_lost_address_line_is_named_for_all_bits_from_a_few_places(): void
    {
        $board = Boards::shipped('larkspur-64');
        $this->limitTo(12)->forAll(Generators::choose(0, 13), Generators::choose(1, 250))->disableShrinking()->then(static function (int $line, int $seed) use ($board): void {
            $written = [];
            for ($number = 0; $number < 16; $number++) {
                $base = 0x4000 | hexdec(substr(md5("{$seed} {$number}"), 0, 4)) & 0x3FFF;
                for ($bit = -1; $bit < 14; $bit++) {
                    $place = $bit < 0 ? $base : $base ^ 1 << $bit;
                    $written[$place] = ord(md5("{$place} {$seed}", true));
                }
            }
            ksort($written); // As a programme fills a bank.
            $cells = [];
            foreach ($written as $address => $byte) {
                $cells[$address & ~(1 << $line)] = $byte;
            }
            $text = implode("\n", array_map(static fn (int $address, int $byte): string => sprintf('%04X %02X %02X', $address, $byte, $cells[$address & ~(1 << $line)]), array_keys($written), $written));
            $mapping = Map::text($board, $text);

            foreach ($mapping->patterns['0'] as $bit => $pattern) {
                self::assertSame(Pattern::Alias, $pattern, "bit {$bit}, A{$line}");
            }
            self::assertSame([[$line]], array_values(array_unique(array_map(static fn ($finding): array => $finding->addressLines, array_filter($mapping->findings, static fn ($finding): bool => $finding->pattern === Pattern::Alias)), SORT_REGULAR)));
        });
    }

    public function test_a_broken_address_line_shows_as_its_row_and_column_bit_and_a_strobe_as_nothing_at_all(): void
    {
        $alias = "1440 5A A5\n1460 A5 A5\n10B3 5A A5\n1093 A5 A5\n121A 5A A5\n123A A5 A5\n1375 5A A5\n1355 A5 A5\n2000 11 11\n2777 22 22";
        $suspected = Bench::with('larkspur-64')->note('sign blank')->read($alias)->assess()->conclusion->suspected;
        $ofLine = array_values(array_filter($suspected, static fn ($fault): bool => $fault->id === 'MA5/open before U12.10'));

        self::assertCount(1, $ofLine, 'Breaks in the address lines are thought of once addresses are wrong.');
        self::assertEqualsCanonicalizing([5, 13], $ofLine[0]->addressLines);
        self::assertArrayHasKey('bank-alias', $ofLine[0]->mode->shows);

        $quiet = Bench::with('larkspur-64')->note('sign blank')->read("1000 00 20\n1001 DF FF\n2000 00 20")->assess()->conclusion->suspected;
        self::assertSame([], array_filter($quiet, static fn ($fault): bool => $fault->id === 'MA5/open before U12.10'), 'And not for a bad bit.');

        $strobe = Bench::with('larkspur-64')->note('sign blank')->record('continuity', ['from' => 'U18.5', 'to' => 'U16.15', 'result' => 'closed'])->assess()->conclusion->suspected;
        foreach (array_filter($strobe, static fn ($fault): bool => str_starts_with($fault->id, '/CAS/')) as $fault) {
            self::assertArrayNotHasKey('bank-alias', $fault->mode->shows, $fault->id);
        }
    }

    public function test_two_bits_of_different_bytes_that_lose_ones_may_touch_and_are_measured_before_two_chips_come_out(): void
    {
        // Read byte by byte nothing tells that they follow each other.
        $sick = SickBench::with('halyard-16', new InjectedFault(FaultKind::Short, 'MD14', 'MD2'));
        $bench = Bench::with('halyard-16')->note('+5 u96 5.0', 'sign blank', 'run start-up u42 u54', 'run start-colour green')->read(SickBench::swept($sick, 'main'));

        self::assertContains($bench->leading(), ['U42', 'U54']);
        self::assertGreaterThan(0.05, $bench->share('MD2') + $bench->share('MD14'), 'One in the place of two.');
        $proposed = $bench->proposed();
        self::assertLessThan(min(array_keys(preg_grep('/^replace /', $proposed) ?: [99 => ''])), min(array_keys(array_intersect($proposed, ['continuity MD2', 'walk U42', 'walk U54']) ?: [99 => ''])), implode(', ', $proposed));
        // In one byte it would have been read.
        $suspected = Bench::with('larkspur-64')->note('sign blank')->read(SickBench::swept(SickBench::with('larkspur-64', new InjectedFault(FaultKind::AddressInput, 'U10.5'), new InjectedFault(FaultKind::AddressInput, 'U14.7')), '0'))->assess()->conclusion->suspected;
        self::assertSame([], array_filter($suspected, static fn ($fault): bool => str_starts_with($fault->mode->name, 'shorted to')));
    }

    public function test_bits_that_are_right_beside_one_that_is_wrong_clear_what_serves_them_all_once(): void
    {
        $lines = array_map(static fn (int $place): string => sprintf('%04X %02X %02X', 0x1000 + $place * 331, ord(md5("wrote {$place}", true)), ord(md5("wrote {$place}", true)) | 0x20), range(0, 47));
        $bench = Bench::with('larkspur-64')->note('sign blank')->read(implode("\n", $lines));
        self::assertGreaterThan(0.75, $bench->share('U14'), 'What serves all bits does not make one wrong.');

        // And it may be wrong as well: seven right bits are one thing that was seen, not seven.
        $silent = $bench->record('probe', ['pin' => 'U17.4', 'situation' => 'free-run', 'state' => 'silent']);
        self::assertGreaterThan(0.1, $silent->share('ROMSEL'), 'A line that nothing drives was seen.');
        self::assertContains('continuity ROMSEL', array_slice($silent->proposed(), 0, 4));
        self::assertGreaterThan(0.75, $silent->share('U14'));
    }

    public function test_a_bit_that_is_wrong_in_each_of_many_readings_is_not_laid_to_what_comes_and_goes(): void
    {
        $text = static fn (int $wrong): string => implode("\n", array_map(static fn (int $place): string => sprintf('%04X %02X %02X', 0x1000 + $place * 331, ord(md5("wrote {$place}", true)), ord(md5("wrote {$place}", true)) & ($place < $wrong ? 0x7F : 0xFF)), range(0, 99)));
        $strength = static fn (string $readings, string $fault): float => (static function () use ($readings, $fault): float {
            $network = Bench::with('larkspur-64')->note('sign blank')->read($readings)->assess()->conclusion->network;
            $low = array_values(array_filter($network->findings, static fn ($finding): bool => $finding instanceof Finding && $finding->abnormal && str_ends_with($finding->id, '/low')));

            return $low[0]->explains[$fault] ?? 0.0;
        })();

        self::assertGreaterThan(0.9, $strength($text(100), 'U16/output stuck low'));
        self::assertLessThan(0.002, $strength($text(100), 'U18/marginal timing'));
    }

    public function test_both_chips_of_a_bank_wrong_in_places_are_one_thing_that_was_seen(): void
    {
        // Two chips of four bits each hold the screen of this board.
        $text = static fn (int $mask): string => implode("\n", array_map(static fn (int $place): string => sprintf('%04X %02X %02X', 0x3C00 + $place * 13, ord(md5("wrote {$place}", true)), ord(md5("wrote {$place}", true)) ^ ord(md5("other {$place}", true)) & $mask & ($place % 3 === 0 ? 0 : 0xFF)), range(0, 59)));
        $both = Bench::with('tamarisk-two')->note('sign blank')->read($text(0xFF));
        $kinds = static fn (Bench $bench): array => array_values(array_unique(array_map(static fn (Evidence $seen): string => $seen->kind, array_filter($bench->assess()->conclusion->evidence, static fn (Evidence $seen): bool => $seen->abnormal && $seen->banks === ['screen']))));

        self::assertSame(['bank-places'], $kinds($both));
        self::assertLessThan(0.2, max($both->share('U43'), $both->share('U44')));
        $one = Bench::with('tamarisk-two')->note('sign blank')->read($text(0x0F));
        self::assertNotContains('bank-places', $kinds($one));
        self::assertSame('U43', $one->leading(), 'One chip of several bits is that chip.');
    }

    public function test_a_bank_that_reads_ones_everywhere_is_read_through_nothing_rather_than_at_another_address(): void
    {
        $sick = SickBench::with('larkspur-64', new InjectedFault(FaultKind::Dead, 'U4'));
        $bench = Bench::with('larkspur-64')->note('sign blank', 'count nothing')->read(SickBench::swept($sick, '0'));
        // That it reads one where one was written speaks against a buffer that now and then reads zero, once and not eight times.
        $low = array_values(array_filter($bench->assess()->conclusion->network->findings, static fn (Report $finding): bool => $finding instanceof Finding && str_ends_with($finding->id, '/0/0/low')))[0];
        self::assertInstanceOf(Finding::class, $low);
        self::assertEqualsWithDelta(0.1, 1.0 - (1.0 - $low->strength('U4/dead or the wrong way')) ** 8, 1e-6);
        // Led to another address it would read what was written there: hardly ones in every reading.
        self::assertGreaterThan(2 * ($bench->share('U5') + $bench->share('U6')), $bench->share('U4'));
    }
}
