<?php

declare(strict_types=1);

namespace Tests\Core\Numbers;

use PHPUnit\Framework\TestCase;
use ZapTrace\Diagnostics\RunComparison;
use ZapTrace\Numbers\WilsonInterval;

final class WilsonIntervalTest extends TestCase
{
    public function test_one_of_five_lies_between_0_036_and_0_62(): void
    {
        // Wilson, JASA 22 (1927).
        $interval = WilsonInterval::of(1, 5);

        self::assertEqualsWithDelta(0.036, $interval->lower, 0.0005);
        self::assertEqualsWithDelta(0.62, $interval->upper, 0.005);
    }

    public function test_none_of_many_is_bounded_by_about_three_over_n(): void
    {
        // Hanley and Lippman-Hand, JAMA 249 (1983): one-sided 3/n; two-sided Wilson is a little wider.
        $interval = WilsonInterval::of(0, 100);

        self::assertSame(0.0, $interval->lower);
        self::assertEqualsWithDelta(0.037, $interval->upper, 0.001);
    }

    public function test_all_of_n_mirrors_none_of_n(): void
    {
        self::assertEqualsWithDelta(1.0 - WilsonInterval::of(0, 7)->upper, WilsonInterval::of(7, 7)->lower, 1e-12);
    }

    public function test_runs_that_change_say_how_often_they_fail(): void
    {
        self::assertSame('Unstable: 2 different results in 5 runs; it fails in 1 of 5 runs, so in 4 to 62 % of all', RunComparison::of(['3', 'pass', 'pass', 'pass', 'pass'])?->words);
        self::assertSame('Unstable: 2 different results in 2 runs', RunComparison::of(['3', '6'])?->words);
    }
}
