<?php

declare(strict_types=1);

namespace Tests\Core\Reasoning;

use PHPUnit\Framework\TestCase;
use Tests\Support\Bench;
use Tests\Support\Boards;
use Tests\Support\SickBench;
use ZapTrace\Bench\Apprentice;
use ZapTrace\Bench\FaultKind;
use ZapTrace\Bench\InjectedFault;
use ZapTrace\Reasoning\Evidence;
use ZapTrace\Reasoning\SuspectedFault;
use ZapTrace\Signals\Situation;
use ZapTrace\Signals\Structure;

/**
 * Of a part with several outputs one fails: it shows at that output, and at the chips that hang on it. The boards are the
 * simulated ones; the rules are common practice.
 */
final class OneChannelTest extends TestCase
{
    public function test_the_output_that_carries_a_line_is_read_from_the_netlist(): void
    {
        $structure = Structure::of(Boards::shipped('larkspur-64'));
        $carrying = static fn (string $ref, string $line): array => $structure->carrying($ref, $structure->board->netlist->nets[$line]);

        self::assertSame(['U34.7'], $carrying('U34', 'A13'));
        self::assertSame(['U6.7'], $carrying('U6', 'A13'), 'By way of U34.');
        self::assertSame(['U4.7', 'U4.13'], $carrying('U4', 'D5'), 'A buffer drives both ways.');
        self::assertSame([], $carrying('U34', 'A2'), 'It does not carry that line.');
        self::assertSame([], $carrying('U5', 'A0'), 'A0 also selects: no output stands out.');
    }

    public function test_a_channel_that_stands_still_is_laid_to_its_part_and_not_to_its_trace(): void
    {
        $sick = SickBench::with('tamarisk-two', new InjectedFault(FaultKind::OutputHigh, 'U42.7'));
        $walk = (new Apprentice($sick))->walked('U42', Situation::Running)['payload'];
        self::assertSame(['U42.7'], array_column($walk['wrong'], 'pin'));
        $bench = Bench::with('tamarisk-two')->note('sign clean-banner')->read(SickBench::swept($sick, 'screen'))->record('pin-walk', $walk);

        self::assertSame('U42', $bench->leading());
        self::assertGreaterThan(5.0 * $bench->share('SA5'), $bench->share('U42'));
        self::assertNotContains('fix SA5', array_slice($bench->proposed(), 0, 2));
    }

    public function test_an_output_that_alone_fails_leaves_what_the_others_of_its_part_serve(): void
    {
        // Half of a flip-flop strobes the memory of the riser, the other half switches the multiplexers of the board's own.
        $sick = SickBench::with('halyard-16', new InjectedFault(FaultKind::OutputLow, 'U69.6'));
        $bench = Bench::with('halyard-16')->note('sign blank', 'u87.1 low')
            ->record('setting', ['ref' => 'LK1', 'position' => 'off', 'since' => 'now', 'result' => 'cured'])
            ->record('pin-walk', (new Apprentice($sick))->walked('U69', Situation::Running)['payload'])
            ->record('continuity', ['from' => 'U69.6', 'to' => 'U87.1', 'result' => 'closed']);

        self::assertSame('U69', $bench->leading());
        $faults = $bench->assess()->conclusion->posterior->faults;
        self::assertGreaterThan($faults['/RASQ/held or shorted'], $faults['U69/output stuck/6'], 'Nothing but the riser hangs on that output.');
        self::assertGreaterThan(4.0 * $faults['U69/dead'], $faults['U69/output stuck/6']);
        self::assertSame(['U69.6'], array_values(array_filter($bench->assess()->conclusion->suspected, static fn (SuspectedFault $fault): bool => $fault->id === 'U69/output stuck/6'))[0]->outputs);
        self::assertLessThan(0.02 * $faults['U69/output stuck/6'], $faults['U69/output stuck/5'] ?? 0.0, 'That one is right.');
    }

    public function test_a_diagnostic_that_gets_through_again_says_no_more_than_that_it_did(): void
    {
        // The ROM of the system: with four dead ones in five no test gets through, and it did each time.
        $bench = Bench::with('larkspur-64')->note('sign blank', 'count 2');
        $more = $bench->note('reseat u26 same', 'count 2', 'reseat u25 same', 'count 2');
        $odds = static fn (Bench $bench): float => self::throughs($bench, 'U2/dead');

        self::assertEqualsWithDelta($odds($bench), $odds($more), 0.02);
        self::assertEqualsWithDelta(0.2, $odds($more), 0.02, 'From the table of failure modes.');
    }

    /** What the runs of all diagnostics make of the chance of a fault that shows in none of their results. */
    private static function throughs(Bench $bench, string $fault): float
    {
        $conclusion = $bench->assess()->conclusion;
        $chance = 1.0;
        foreach ($conclusion->evidence as $number => $seen) {
            if ($seen->kind === Evidence::RUNS) {
                $report = $conclusion->network->findings[$number];
                $chance *= $report->chance([$fault, 'U10/dead']) / $report->chance(['U10/dead']);
            }
        }

        return $chance;
    }

    public function test_a_bank_that_reads_the_same_everywhere_has_not_lost_an_address_line(): void
    {
        $bench = Bench::with('larkspur-64')->note('sign blank');
        $times = static fn (Bench $read, string $fault): float => ($read->assess()->conclusion->posterior->faults[$fault] ?? 0.0) / $bench->assess()->conclusion->posterior->faults[$fault];
        $all = $bench->read(SickBench::swept(SickBench::with('larkspur-64', new InjectedFault(FaultKind::Dead, 'U4')), '0'));
        self::assertGreaterThan(4.0 * $times($all, 'U5/output stuck/U5.7'), $times($all, 'U4/dead or the wrong way'), 'Other cells do not all hold FF.');

        // In a few readings they may.
        $few = $bench->note('0100 00>ff', '0140 00>ff', '1200 00>ff');
        self::assertGreaterThan(2.0 * $times($all, 'U5/output stuck/U5.7'), $times($few, 'U5/output stuck/U5.7'));
    }

    public function test_an_address_line_that_a_buffer_loses_is_laid_to_it_and_not_to_its_trace(): void
    {
        $sick = SickBench::with('tamarisk-two', new InjectedFault(FaultKind::OutputLow, 'U6.16'));
        $bench = Bench::with('tamarisk-two')->note('sign blank', 'closed u6.16 j2.10')->read(SickBench::swept($sick, '0'))->read(SickBench::swept($sick, '1'))
            ->record('pin-walk', (new Apprentice($sick))->walked('U6', Situation::FreeRun)['payload']);

        self::assertSame('U6', $bench->leading());
        self::assertGreaterThan(1.5 * $bench->share('BA9'), $bench->share('U6'));
        $passing = array_filter(array_keys($bench->assess()->conclusion->posterior->faults), static fn (string $id): bool => str_contains($id, '/output stuck/A'));
        self::assertEqualsCanonicalizing(['U5', 'U6'], array_values(array_unique(array_map(static fn (string $id): string => (string) strtok($id, '/'), $passing))), 'What selects by an address line does not pass it on.');
    }

    public function test_right_outputs_say_nothing_of_the_one_beside_them(): void
    {
        $faults = Bench::with('tamarisk-two')->note('sign clean-banner')->record('probe', ['pin' => 'U42.4', 'situation' => 'running', 'state' => 'pulsing', 'expected' => 'pulsing'])->assess()->conclusion;
        $shares = $faults->posterior->faults;

        self::assertLessThan(0.5 * $shares['U42/channel dead/A5'], $shares['U42/channel dead/A4'], 'That one moves.');
    }

    public function test_a_diagnostic_that_names_the_memory_behind_an_output_may_mean_the_output(): void
    {
        $bench = Bench::with('tamarisk-two')->note('sign clean-banner');
        $named = $bench->record('diagnostic-run', ['diagnostic' => 'step-program', 'result' => '0160']);
        $times = static fn (string $fault): float => ($named->assess()->conclusion->posterior->faults[$fault] ?? 0.0) / $bench->assess()->conclusion->posterior->faults[$fault];

        self::assertGreaterThan(3.0 * $times('U12/channel dead/A3'), $times('U42/channel dead/A5'), 'U12 leads to other memory.');
    }

    public function test_bits_that_are_right_clear_their_buffer_although_an_address_line_is_lost(): void
    {
        // Bits 8 to 15 of main memory are lost by a select; A12 does not reach the riser, whose bits are right otherwise.
        $sick = SickBench::with('halyard-16', new InjectedFault(FaultKind::OutputHigh, 'U60.6'), new InjectedFault(FaultKind::OpenTrace, 'A12', 'U75.14'));
        $bench = Bench::with('halyard-16')->note('sign blank')->read(SickBench::swept($sick, 'main'))->read(SickBench::swept($sick, 'riser'));
        $seen = $bench->assess()->conclusion->evidence;

        self::assertNotSame([], array_filter($seen, static fn (Evidence $each): bool => $each->abnormal && $each->kind === 'bank-alias' && $each->banks === ['riser']));
        $right = array_values(array_filter($seen, static fn (Evidence $each): bool => ! $each->abnormal && $each->kind === 'high' && $each->banks === ['riser'] && $each->lines === [8]));
        self::assertSame([['bank-alias']], array_map(static fn (Evidence $each): array => $each->but, $right));
        self::assertLessThan(0.2, $bench->share('U66'), 'It carries the riser as well.');
        self::assertSame('U60', array_values(array_filter($bench->assess()->conclusion->suspects(), static fn ($suspect): bool => in_array($suspect->site, ['U60', 'U66'], true)))[0]->site);
    }

    public function test_bits_that_are_hardly_ever_right_say_nothing_of_a_constant_line(): void
    {
        // Most of what is read is wrong: of each bit half the readings, now 0, now 1.
        $text = '';
        for ($at = 0; $at < 48; $at++) {
            $written = $at * 37 & 255;
            $text .= sprintf("%04X %02X %02X\n", 0x4000 + $at * 5, $written, $written ^ (($at * 73 + 41) & 255));
        }
        $seen = Bench::with('tamarisk-two')->read($text)->assess()->conclusion->evidence;

        self::assertNotSame([], array_filter($seen, static fn (Evidence $each): bool => $each->abnormal));
        self::assertSame([], array_filter($seen, static fn (Evidence $each): bool => ! $each->abnormal && $each->but !== []));
    }

    public function test_no_pair_of_addresses_is_asked_about_where_nothing_changes(): void
    {
        // A select that stands still, and an address line that was found open: every bit reads 1.
        $bench = Bench::with('larkspur-64')->note('sign blank')->record('continuity', ['from' => 'U31.4', 'to' => 'U6.2', 'result' => 'open']);
        $text = '';
        for ($at = 0; $at < 40; $at++) {
            $text .= sprintf("%04X %02X FF\n", 0x0100 + $at * 7, $at * 37 & 255);
        }

        self::assertContains('read A4', $bench->proposed());
        self::assertNotContains('read A4', $bench->read($text)->proposed());
    }

    public function test_two_address_lines_that_touch_are_told_from_their_multiplexer(): void
    {
        $sick = SickBench::with('halyard-16', new InjectedFault(FaultKind::Short, 'XA6', 'XA5'));
        $apprentice = new Apprentice($sick);
        $bench = Bench::with('halyard-16')->note('sign clean-banner')->read(SickBench::swept($sick, 'riser'))->read(SickBench::swept($sick, 'main'))->record('pin-walk', $apprentice->walked('U85', Situation::FreeRun)['payload']);
        foreach (['XA5', 'XA6'] as $net) {
            $drop = $apprentice->dropped($net);
            self::assertSame('', $drop['payload']['pin'], 'No pin stands out.');
            $bench = $bench->record($drop['kind'], $drop['payload']);
        }

        self::assertSame('XA5', $bench->leading());
        self::assertLessThan(0.2, $bench->share('U85'));
        self::assertNotContains('replace U85', array_slice($bench->proposed(), 0, 2));
    }
}
