<?php

declare(strict_types=1);

namespace Tests\Core\Signals;

use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;
use Tests\Support\Bench;
use Tests\Support\Boards;
use ZapTrace\Problems\InputRejected;
use ZapTrace\Signals\RailCheck;

/**
 * Rails against what the parts say of themselves.
 */
final class SupplyTest extends TestCase
{
    /**
     * Limits at the pins: TI SN74LS00 data sheet, 4.75 to 5.25 V; dynamic memory by its makers' data sheets (memory):
     * 4116 with +12, +5 and -5 V, 10 % each; a small linear regulator lightly loaded 4.8 to 5.2 V (TI data sheets, memory).
     *
     * @return iterable<string, array{string, string, string, float, float}>
     */
    public static function limits(): iterable
    {
        yield '74LS138' => ['larkspur-64', '+5', 'U3.16', 4.75, 5.25];
        yield '4164' => ['larkspur-64', '+5', 'U9.8', 4.5, 5.5];
        yield '7805' => ['larkspur-64', '+5', 'VR1', 4.8, 5.2];
        yield '4116, +12 V' => ['tamarisk-two', '+12', 'U21.8', 10.8, 13.2];
        yield '4116, -5 V' => ['tamarisk-two', '-5', 'U21.1', -5.5, -4.5];
        yield '4116, +5 V' => ['tamarisk-two', '+5', 'U21.9', 4.5, 5.5];
        yield '68000, both pins' => ['halyard-16', '+5', 'U1.49', 4.75, 5.25];
    }

    #[DataProvider('limits')]
    public function test_each_supply_pin_has_the_limits_of_its_part(string $board, string $rail, string $point, float $min, float $max): void
    {
        $points = [];
        foreach (self::rail(Bench::with($board), $rail)->points as $each) {
            $points[$each->name()] = [$each->min, $each->max];
        }

        self::assertSame([$min, $max], $points[$point]);
    }

    public function test_a_chip_below_its_limit_is_out_although_the_regulator_is_not(): void
    {
        $rail = self::rail(Bench::with('larkspur-64')->note('+5 vr1 4.95', '+5 u3 4.71'), '+5');

        self::assertTrue($rail->isOut());
        self::assertSame(['+5 V at U3.16 measures 4.71 V; it needs 4.75 to 5.25 V there.'], $rail->problems);
        self::assertEqualsWithDelta(240.0, $rail->drop, 0.01, 'Millivolts between regulator and chip.');
    }

    public function test_a_little_lost_on_the_way_is_watched_and_not_condemned(): void
    {
        $rail = self::rail(Bench::with('larkspur-64')->note('+5 vr1 5.05', '+5 u3 4.90'), '+5');

        self::assertFalse($rail->isOut());
        self::assertSame(['150 mV are lost along the board: watch it.'], $rail->notices);
    }

    public function test_ripple_counts_as_well_as_the_mean(): void
    {
        $rail = self::rail(Bench::with('larkspur-64')->note('+5 vr1 5.01', '+5 ripple 310'), '+5');

        self::assertTrue($rail->isOut());
        self::assertStringContainsString('310 mV of ripple', $rail->problems[0]);
    }

    public function test_a_regulator_near_its_low_limit_is_replaced_on_principle_by_many(): void
    {
        self::assertStringContainsString('on principle', implode(' ', self::rail(Bench::with('larkspur-64')->note('+5 vr1 4.82 unloaded'), '+5')->notices));
        self::assertSame([], self::rail(Bench::with('larkspur-64')->note('+5 vr1 5.00 unloaded'), '+5')->notices);
    }

    public function test_the_current_is_held_against_what_the_fitted_parts_draw(): void
    {
        $rail = self::rail(Bench::with('larkspur-64'), '+5');
        $parts = 0.0;
        foreach (Boards::shipped('larkspur-64')->chips as $chip) {
            foreach ($chip->type->supply ?? [] as $supply) {
                $parts += $supply->milliamps;
            }
        }

        self::assertEqualsWithDelta($parts, $rail->budget, 0.1);
        self::assertStringContainsString('something is loading the rail', implode(' ', self::rail(Bench::with('larkspur-64')->note('+5 amps 2.4'), '+5')->notices));
        self::assertStringContainsString('gets nothing', implode(' ', self::rail(Bench::with('larkspur-64')->note('+5 amps 0.2'), '+5')->notices));
    }

    public function test_parts_that_are_out_are_not_expected_to_draw(): void
    {
        $whole = self::rail(Bench::with('larkspur-64'), '+5')->budget;
        $processor = Boards::shipped('larkspur-64')->chips['U1']->type->supply[0]->milliamps ?? 0.0;
        self::assertGreaterThan(0.0, $processor);
        $out = Bench::with('larkspur-64')->note('remove u1');

        self::assertEqualsWithDelta($whole - $processor, self::rail($out, '+5')->budget, 0.1);
        self::assertEqualsWithDelta($whole, self::rail($out->note('refit u1'), '+5')->budget, 0.1);
        self::assertEqualsWithDelta($whole - $processor, self::rail($out->note('+5 amps 0.8', 'refit u1'), '+5')->budget, 0.1, 'The current was measured without it.');
    }

    public function test_the_strictest_part_sets_the_limits_of_the_rail(): void
    {
        self::assertSame([4.75, 5.25], self::rail(Bench::with('larkspur-64'), '+5')->limits());
        self::assertSame([-5.5, -4.5], self::rail(Bench::with('tamarisk-two'), '-5')->limits());
    }

    public function test_ripple_and_a_supply_that_sags_are_put_right_at_the_capacitor_first(): void
    {
        $sags = Bench::with('larkspur-64')->note('+5 vr1 5.02', '+5 ripple 310', 'now low-mains', '+5 u1 4.60');
        $outlook = $sags->assess()->outlook(Boards::shipped('larkspur-64'), 0.95);

        self::assertSame('C1', $outlook->fixFirst);
        self::assertStringContainsString('nothing measured later means much', $outlook->held());
        self::assertSame('', Bench::with('larkspur-64')->note('+5 vr1 5.00')->assess()->outlook(Boards::shipped('larkspur-64'), 0.95)->held());
    }

    public function test_what_a_rail_says_of_a_suspect_is_no_sentence_of_its_own(): void
    {
        foreach (Bench::with('larkspur-64')->note('+5 u3 4.71')->assess()->conclusion->evidence as $seen) {
            self::assertStringEndsNotWith('.', $seen->words);
        }
    }

    public function test_what_a_linear_regulator_burns_is_what_it_drops_times_the_current(): void
    {
        // (9.5 - 5.0) V x 0.9 A; arithmetic.
        self::assertEqualsWithDelta(4.05, self::rail(Bench::with('larkspur-64')->note('+5 vr1 5.00', '+5 in 9.5', '+5 amps 0.9'), '+5')->watts, 0.001);
    }

    public function test_too_little_before_the_regulator_speaks_for_tired_capacitors(): void
    {
        self::assertStringContainsString('Tired reservoir capacitors', implode(' ', self::rail(Bench::with('larkspur-64')->note('+5 in 6.4'), '+5')->notices));
        self::assertSame([], self::rail(Bench::with('larkspur-64')->note('+5 in 9.4'), '+5')->notices);
    }

    public function test_a_supply_that_depends_on_mains_or_warmth_has_tired_capacitors(): void
    {
        $sags = Bench::with('larkspur-64')->note('+5 vr1 5.02', 'now low-mains', '+5 vr1 4.83');

        self::assertStringContainsString('least when low mains', implode(' ', self::rail($sags, '+5')->notices));
        self::assertSame([], array_filter(self::rail(Bench::with('larkspur-64')->note('+5 vr1 5.02', 'now low-mains', '+5 vr1 5.00'), '+5')->notices, static fn (string $notice): bool => str_contains($notice, 'mains')));
    }

    public function test_the_negative_rail_of_three_rail_memory_comes_first_and_goes_last(): void
    {
        $order = implode(' ', Bench::with('tamarisk-two')->assess()->supply->order());

        self::assertStringContainsString('come in the order -5 V, +5 V, +12 V and go in the order +12 V, +5 V, -5 V', $order);
        self::assertStringContainsString('stay until +12 V is gone', $order);
        self::assertStringContainsString('U1', $order, 'What cannot be bought again comes out before a doubtful supply is tried.');
    }

    public function test_a_measurement_holds_until_the_supply_itself_is_changed(): void
    {
        $measured = Bench::with('larkspur-64')->note('+5 vr1 4.52');

        self::assertTrue(self::rail($measured->note('fit u14 new same'), '+5')->isOut());
        self::assertFalse(self::rail($measured->note('fit vr1 new same'), '+5')->isMeasured());
    }

    public function test_a_rail_or_pin_that_there_is_not_is_refused_in_words(): void
    {
        foreach (['+12 u9 12' => '/has no rail \+12. It has \+5/', '+5 u9.3 5' => '/at pin 8, not at pin 3/', '+5 u99 5' => '/no chip "U99"/i'] as $line => $sentence) {
            try {
                Bench::with('larkspur-64')->note($line);
                self::fail("{$line} was taken.");
            } catch (InputRejected $rejected) {
                self::assertMatchesRegularExpression($sentence, $rejected->getMessage());
            }
        }
    }

    private static function rail(Bench $bench, string $name): RailCheck
    {
        foreach ($bench->assess()->supply->rails as $rail) {
            if ($rail->rail->name === $name) {
                return $rail;
            }
        }
        self::fail("There is no rail {$name}.");
    }
}
