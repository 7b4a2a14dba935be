<?php

declare(strict_types=1);

namespace Tests\Core\Reasoning;

use PHPUnit\Framework\TestCase;
use Tests\Support\Bench;

/**
 * Faults born on the bench, parts weakened before they came, and faults that come and go. Common practice.
 */
final class HazardTest extends TestCase
{
    private const STUCK = "6C00 00 20\n6C01 0F 2F\n7000 00 20\n7001 FF FF";

    public function test_a_soldered_chip_that_was_replaced_leaves_its_traces_suspect(): void
    {
        $bench = Bench::with('larkspur-64')->read(self::STUCK)->note('replace u14 different')->read(self::STUCK);

        self::assertGreaterThan(0.03, $bench->share('traces at U14'));
        self::assertSame(0.0, Bench::with('larkspur-64')->read(self::STUCK)->share('traces at U14'), 'Nothing was soldered yet.');
    }

    public function test_worse_after_an_intervention_speaks_for_a_break_born_there(): void
    {
        $same = Bench::with('larkspur-64')->read(self::STUCK)->note('replace u14 same')->read(self::STUCK);
        $worse = Bench::with('larkspur-64')->read(self::STUCK)->note('replace u14 worse')->read(self::STUCK);

        self::assertGreaterThan(1.5 * $same->share('traces at U14'), $worse->share('traces at U14'));
    }

    public function test_what_got_worse_at_one_place_was_not_born_at_another(): void
    {
        $bench = Bench::with('larkspur-64')->note('replace u9 same', 'replace u14 worse');
        $born = $bench->assess()->conclusion->posterior->faults;

        self::assertGreaterThan(1.5 * $born['traces at U9/trace or pad opened/since 1'], $born['traces at U14/trace or pad opened/since 2']);
    }

    public function test_a_chip_in_a_socket_has_no_pads_to_lift(): void
    {
        $bench = Bench::with('tamarisk-two')->read("8000 00 04\n8001 FF FF")->note('exchange u33 worse')->read("8000 00 04\n8001 FF FF");

        self::assertSame(0.0, $bench->share('traces at U33'));
        self::assertArrayHasKey('U33/contact disturbed/since 2', $bench->assess()->conclusion->posterior->faults);
    }

    public function test_a_pass_before_the_break_does_not_acquit_it(): void
    {
        $passed = Bench::with('larkspur-64')->note('count pass x3', 'replace u14 worse')->read(self::STUCK);
        $after = Bench::with('larkspur-64')->note('replace u14 worse')->read(self::STUCK);

        self::assertGreaterThan($after->share('traces at U14'), $passed->share('traces at U14'), 'It was well before, and is not now.');
        self::assertSame('traces at U14', $passed->leading());
    }

    public function test_a_wire_cures_a_trace_born_open(): void
    {
        $bench = Bench::with('larkspur-64')->note('count pass x3', 'replace u14 worse')->read(self::STUCK)->note('wire u14 cured')->read("6C00 00 00\n7000 00 00\n7001 FF FF");

        self::assertGreaterThan(0.5, $bench->cured('traces at U14'));
        self::assertGreaterThan(0.5, $bench->nothingLeft());
    }

    public function test_after_an_over_voltage_a_chip_that_passed_yesterday_can_fail_today(): void
    {
        $well = ['count pass x2', 'count pass x2'];
        $fails = ['count 6 x2', '6c00 00>20', '6c01 ff>ff'];
        $before = Bench::with('larkspur-64')->note(...$well, ...['reseat u26', ...$fails]);
        $after = Bench::with('larkspur-64')->note('over-voltage', ...$well, ...['reseat u26', ...$fails]);
        $born = static fn (Bench $bench): float => array_sum(array_filter($bench->assess()->conclusion->posterior->faults, static fn (string $id): bool => str_starts_with($id, 'U14/failed since'), ARRAY_FILTER_USE_KEY));

        self::assertSame(0.0, $born($before));
        self::assertGreaterThan(0.25, $born($after));
        self::assertSame('U14', $after->leading());
    }

    public function test_weak_evidence_of_the_past_raises_suspicion_and_never_decides(): void
    {
        $reading = "8000 00 FF\n8001 55 FF\n8002 AA FF\n4000 00 00\n4001 55 55";
        $before = Bench::with('tamarisk-two')->read($reading);
        $after = Bench::with('tamarisk-two')->note('leak u11')->read($reading);

        self::assertGreaterThan(1.5 * $before->share('U11'), $after->share('U11'));
        self::assertLessThan(0.95, $after->share('U11'));
        self::assertSame('U26', Bench::with('tamarisk-two')->note('leak u21')->read("4000 00 20\n4001 FF FF\n4100 00 20")->leading(), 'What an earlier repairer did is no verdict.');
    }

    public function test_a_link_that_came_in_another_position_than_the_maker_sets_is_more_suspect(): void
    {
        $default = Bench::with('halyard-16')->note('lk1 off cured');
        $moved = Bench::with('halyard-16')->note('lk1 was off', 'lk1 080000 cured');

        self::assertGreaterThan(0.5, $moved->cured('LK1'));
        self::assertGreaterThan(3 * $default->cured('LK1'), $moved->cured('LK1'));
    }

    public function test_runs_that_come_and_go_speak_for_a_part_that_comes_and_goes(): void
    {
        $steady = Bench::with('larkspur-64')->note('count 3 x4');
        $coming = Bench::with('larkspur-64')->note('count 3', 'count pass', 'count 3', 'count pass');
        $share = static fn (Bench $bench, string $mode): float => $bench->assess()->conclusion->posterior->faults["U11/{$mode}"];

        self::assertGreaterThan(5 * $share($steady, 'intermittent'), $share($coming, 'intermittent'));
        self::assertGreaterThan($share($coming, 'output stuck high'), $share($coming, 'intermittent'));
    }

    public function test_one_failing_run_in_many_speaks_for_a_rare_mode(): void
    {
        $often = Bench::with('larkspur-64')->note('count 3', 'count pass', 'count 3', 'count pass');
        $rarely = Bench::with('larkspur-64')->note('count 3', 'count pass x12');
        $ratio = static function (Bench $bench): float {
            $faults = $bench->assess()->conclusion->posterior->faults;

            return $faults['U11/rarely'] / max(1e-12, $faults['U11/intermittent']);
        };

        self::assertGreaterThan(10 * $ratio($often), $ratio($rarely));
    }

    public function test_cooling_that_cures_speaks_for_a_weak_part(): void
    {
        $readings = "1000 00 04\n1000 00 00\n1000 00 04\n1000 00 00\n1001 FF FF";
        $before = Bench::with('larkspur-64')->read($readings);
        $cured = $before->note('cool u11 cured');
        $weak = static fn (Bench $bench): float => $bench->assess()->conclusion->posterior->faults['U11/weak'];

        self::assertGreaterThan($weak($before) - 1e-9, $weak($cured));
    }

    public function test_no_result_at_all_speaks_for_what_stops_the_machine(): void
    {
        $nothing = Bench::with('larkspur-64')->note('count nothing x2');

        self::assertContains($nothing->leading(), ['elsewhere', 'U1', 'U2', 'U28'], 'A crash comes from the processor, its ROM, its clock, or from anywhere; memory chips seldom stop a test ROM.');
        self::assertLessThan(0.2, $nothing->share('U11'));
    }
}
