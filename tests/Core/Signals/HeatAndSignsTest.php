<?php

declare(strict_types=1);

namespace Tests\Core\Signals;

use PHPUnit\Framework\TestCase;
use Tests\Support\Bench;
use Tests\Support\Boards;
use ZapTrace\Signals\HeatPicture;
use ZapTrace\Signals\SignLog;

/**
 * Warmth and signs: common practice of the trade.
 */
final class HeatAndSignsTest extends TestCase
{
    public function test_one_memory_chip_far_above_its_neighbours_is_told_and_a_processor_as_warm_is_not(): void
    {
        $parts = self::picture(Bench::with('larkspur-64')->note('room 20', 'u9 24c', 'u10 25c', 'u11 52c', 'u12 24c', 'u1 52c'));

        self::assertSame('hot', $parts['U11']->verdict);
        self::assertEqualsWithDelta(28.0, (float) $parts['U11']->overLike, 0.01, 'Over the middle of its like.');
        self::assertSame('', $parts['U1']->verdict, 'Processors run warm when well.');
        self::assertSame('', $parts['U9']->verdict);
    }

    public function test_the_rise_over_the_room_is_judged_and_not_the_figure(): void
    {
        $warmRoom = self::picture(Bench::with('larkspur-64')->note('room 36', 'u14 44c'));
        $coolRoom = self::picture(Bench::with('larkspur-64')->note('room 8', 'u14 44c'));

        self::assertSame('', $warmRoom['U14']->verdict);
        self::assertSame('hot', $coolRoom['U14']->verdict);
    }

    public function test_one_stone_cold_among_warm_ones_may_be_dead(): void
    {
        $parts = self::picture(Bench::with('halyard-16')->note('room 20', 'u70 30c', 'u71 20c', 'u1 50c'));

        self::assertSame('cold', $parts['U71']->verdict);
        self::assertSame('', $parts['U70']->verdict);
    }

    public function test_a_finger_will_do(): void
    {
        $parts = self::picture(Bench::with('larkspur-64')->note('u13 hot', 'u12 cool', 'u14 cool'));

        self::assertTrue($parts['U13']->felt);
        self::assertSame('hot', $parts['U13']->verdict);
    }

    public function test_warmth_raises_suspicion_and_less_so_when_it_comes_only_with_the_fault(): void
    {
        $base = Bench::with('larkspur-64')->note('count 5', 'room 20', 'u12 24c', 'u14 24c');
        $hot = $base->note('u13 60c');
        $withFault = $base->note('u13 60 c with fault');

        self::assertGreaterThan($base->share('U13') + 0.02, $hot->share('U13'));
        self::assertLessThan($hot->share('U13') - 0.005, $withFault->share('U13'));
    }

    public function test_signs_are_told_stable_or_not(): void
    {
        self::assertSame('The same at 2 of 2 power-ons.', self::signs('sign blank at 1', 'sign blank at 2')->words);
        self::assertStringStartsWith('Unstable: 2 different ways', self::signs('sign blank at 1', 'sign garbage at 2')->words);
        self::assertSame([true, false, false], array_map(static fn (SignLog $log): bool => $log->stable, [self::signs('sign blank at 1', 'sign blank at 2'), self::signs('sign blank at 1', 'sign garbage at 2'), self::signs('sign clean-banner at 1', 'sign crashes at 1 after 5')]));
        self::assertSame('', self::signs('sign blank')->words, 'One power-on compares with nothing.');
        self::assertStringContainsString('after some minutes', self::signs('sign clean-banner at 1', 'sign half-wrong at 1 after 6', 'sign clean-banner at 2')->words);
        self::assertSame([1, 2, 2], array_column(self::signs('sign blank', 'sign blank', 'sign crashes after 3')->rows, 'powerOn'), 'Without numbers each is a new one, and minutes belong to the last.');
    }

    public function test_a_sign_points_at_the_parts_that_show_so(): void
    {
        $bars = Bench::with('larkspur-64')->note('sign black-bars');

        self::assertSame('U23', $bars->leading(), 'The socketed character generator comes first ...');
        self::assertGreaterThan(5 * $bars->share('U24'), $bars->share('U22'), '... and the pixel shift register is suspected, by the board profile.');
        $wrong = Bench::with('larkspur-64')->note('sign half-wrong at 1', 'sign half-wrong at 2');
        self::assertGreaterThan(2 * $wrong->share('U21'), $wrong->note('room 20', 'u21 66c')->share('U21'), 'Sign and warmth agree on the screen data latch.');
    }

    public function test_a_small_program_that_runs_clears_what_it_uses_and_nothing_more(): void
    {
        $sick = Bench::with('larkspur-64')->note('sign blank');
        $runs = $sick->note('sign program-runs');
        $share = static fn (Bench $bench, string $site): float => $bench->assess()->conclusion->posterior->sites[$site];

        self::assertLessThan($share($sick, 'U1') / 2, $share($runs, 'U1'), 'The processor.');
        self::assertGreaterThan($share($sick, 'U25'), $share($runs, 'U25'), 'The sync mixer was not asked.');
    }

    public function test_the_same_sign_again_in_the_same_state_says_nothing_new(): void
    {
        $once = Bench::with('larkspur-64')->note('sign silent');
        $often = $once->note('sign silent at 2', 'sign silent at 3', 'sign silent at 4');

        self::assertEqualsWithDelta($once->share('U2'), $often->share('U2'), 1e-9);
    }

    public function test_the_generic_signs_point_at_kinds_that_there_are(): void
    {
        $kinds = array_map(static fn ($part): string => $part->kind, Boards::parts()->all());
        foreach (Boards::shipped('halyard-16')->signs as $sign) {
            self::assertSame([], array_diff(array_keys($sign->kinds), $kinds), $sign->id);
        }
    }

    /**
     * @return array<string, \ZapTrace\Signals\WarmPart>
     */
    private static function picture(Bench $bench): array
    {
        $assessment = $bench->assess();

        return HeatPicture::of($bench->board(), $assessment->samples)->parts;
    }

    private static function signs(string ...$lines): SignLog
    {
        return SignLog::of(Bench::with('larkspur-64')->note(...$lines)->assess()->samples);
    }
}
