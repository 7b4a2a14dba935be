<?php

declare(strict_types=1);

namespace Tests\Core\Diagnostics;

use PHPUnit\Framework\TestCase;
use ZapTrace\Diagnostics\RunComparison;

final class RunComparisonTest extends TestCase
{
    public function test_two_of_two_alike_is_a_result_and_one_is_not(): void
    {
        self::assertNull(RunComparison::of([]));
        self::assertSame('One run', RunComparison::of(['3'])?->words);
        self::assertSame('2 of 2 alike', RunComparison::of(['3', '3'])?->words);
        self::assertSame('Unstable: 3 different results in 4 runs', RunComparison::of(['3', '5', '3', '1'])?->words);
    }

    public function test_the_latest_run_tells_whether_it_passes_now(): void
    {
        self::assertTrue(RunComparison::of(['3', 'pass'])?->passed);
        self::assertFalse(RunComparison::of(['pass', '3'])?->passed);
    }
}
