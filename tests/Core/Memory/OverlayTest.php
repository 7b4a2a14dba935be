<?php

declare(strict_types=1);

namespace Tests\Core\Memory;

use PHPUnit\Framework\Attributes\TestWith;
use PHPUnit\Framework\TestCase;
use Tests\Support\Bench;
use Tests\Support\SickBench;
use ZapTrace\Bench\FaultKind;
use ZapTrace\Bench\InjectedFault;
use ZapTrace\Reasoning\Evidence;

/**
 * Memory that a latch lays the ROM over when the machine starts, and that still reads the ROM when it should be over.
 */
final class OverlayTest extends TestCase
{
    private static function swept(InjectedFault ...$faults): Bench
    {
        return Bench::with('halyard-16')->note('sign blank')->read(SickBench::swept(SickBench::with('halyard-16', ...$faults), 'main'));
    }

    /**
     * @return list<string> what was seen laid over memory
     */
    private static function overlays(Bench $bench): array
    {
        return array_values(array_map(static fn (Evidence $seen): string => $seen->words, array_filter($bench->assess()->conclusion->evidence, static fn (Evidence $seen): bool => $seen->kind === Evidence::OVERLAY)));
    }

    public function test_a_latch_that_does_not_go_over_leaves_the_rom_over_the_memory(): void
    {
        // What clocks the latch stands still.
        $bench = self::swept(new InjectedFault(FaultKind::OutputLow, 'U6.18'));

        self::assertCount(1, self::overlays($bench));
        self::assertMatchesRegularExpression('/^(\d+) of \1 bytes from 000000 to 01FFFF are wrong while bank main is right beside them: it reads as if BOOT \(start-up latch\) stood at "starting", with the ROM at start-up there$/', self::overlays($bench)[0]);
        self::assertContains($bench->leading(), ['U6', 'U94', '/ROMHI', 'BOOT']);
        foreach (['U62', 'U63', 'U64', 'U65', 'U40'] as $good) {
            self::assertLessThan(0.05, $bench->share($good), "{$good} serves what is right beside as well.");
        }
        self::assertSame([], array_values(array_filter($bench->assess()->conclusion->evidence, static fn (Evidence $seen): bool => $seen->abnormal && str_starts_with($seen->kind, 'bank-'))), 'It says nothing else of the bank.');
    }

    public function test_memory_chips_that_fail_beside_are_seen_as_well(): void
    {
        $bench = self::swept(new InjectedFault(FaultKind::OutputLow, 'U6.18'), new InjectedFault(FaultKind::Dead, 'U52'));

        self::assertCount(1, self::overlays($bench));
        self::assertGreaterThan(0.7, $bench->share('U52'), 'It is wrong everywhere.');
        self::assertGreaterThan(0.2, $bench->share('U6') + $bench->share('U94') + $bench->share('/ROMHI'));
    }

    #[TestWith(['U63.12'])] // the multiplexer's channel of the same address line: one cell, as it was written last
    #[TestWith(['U65.11'])] // a bit of the buffer: wrong beside as well
    public function test_what_else_is_wrong_there_is_no_overlay(string $output): void
    {
        self::assertSame([], self::overlays(self::swept(new InjectedFault(FaultKind::OutputLow, $output))));
    }

    public function test_memory_that_is_right_has_nothing_laid_over_it(): void
    {
        self::assertSame([], self::overlays(self::swept(new InjectedFault(FaultKind::Dead, 'U40'))));
    }

    public function test_a_few_readings_are_not_enough(): void
    {
        self::assertSame([], self::overlays(Bench::with('halyard-16')->read("000100 55 12\n000201 AA 34\n000300 5A 81\n020100 55 55\n020201 AA AA\n020300 5A 5A")));
    }
}
