<?php

declare(strict_types=1);

namespace Tests\Core\Bus;

use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;
use Tests\Support\Boards;
use ZapTrace\Bench\LogicShelf;
use ZapTrace\Bench\SimulatedBench;
use ZapTrace\Bus\CycleKind;
use ZapTrace\Bus\MemoryPlan;
use ZapTrace\Bus\SharedMemory;

/**
 * Memory comes up with anything in it, so two healthy machines do not read the same everywhere.
 */
final class SharedMemoryTest extends TestCase
{
    public function test_memory_may_differ_until_both_write_the_same_to_it(): void
    {
        $memory = self::memory();

        self::assertTrue($memory->takes(CycleKind::Read, 0x10, 0x55, 0xAA));
        self::assertTrue($memory->takes(CycleKind::Write, 0x10, 7, 7));
        self::assertTrue($memory->takes(CycleKind::Read, 0x10, 7, 7));
        self::assertFalse($memory->takes(CycleKind::Read, 0x10, 7, 6));
    }

    public function test_what_is_made_of_unset_memory_may_be_written_back(): void
    {
        $memory = self::memory();

        self::assertTrue($memory->takes(CycleKind::Read, 0x10, 0x55, 0xAA));
        self::assertTrue($memory->takes(CycleKind::Write, 0x20, 0x56, 0xAB), 'As INC does.');
        self::assertTrue($memory->takes(CycleKind::Read, 0x20, 0x56, 0xAB), 'And it is read again.');
        self::assertTrue($memory->takes(CycleKind::Write, 0x20, 0, 0));
        self::assertFalse($memory->takes(CycleKind::Read, 0x20, 1, 0), 'Until it is set to the same.');
    }

    public function test_a_wrong_write_out_of_nothing_is_a_difference(): void
    {
        self::assertFalse(self::memory()->takes(CycleKind::Write, 0x10, 1, 0));

        $late = self::memory();
        $late->takes(CycleKind::Read, 0x10, 0x55, 0xAA);
        for ($cycle = 0; $cycle < 80; $cycle++) {
            $late->takes(CycleKind::Fetch, 0xF000 + $cycle, 0xEA, 0xEA);
        }
        self::assertFalse($late->takes(CycleKind::Write, 0x10, 1, 0), 'What was read so long ago is not what is written.');
    }

    public function test_a_rom_never_differs_and_memory_that_takes_its_place_may(): void
    {
        $memory = self::memory();

        self::assertFalse($memory->takes(CycleKind::Fetch, 0xF000, 1, 0));
        self::assertTrue($memory->takes(CycleKind::Fetch, 0xF001, 0x20, 0x20));
        self::assertTrue($memory->takes(CycleKind::Read, 0xF001, 0x33, 0x44), 'The good one reads something else than before: memory was switched in.');
        self::assertTrue($memory->takes(CycleKind::Read, 0xF002, 0x35, 0x46), 'And so it was for the whole range.');
        self::assertTrue($memory->takes(CycleKind::Write, 0xF002, 9, 9));
        self::assertFalse($memory->takes(CycleKind::Read, 0xF002, 8, 9));
    }

    public function test_a_port_answers_as_it_likes_and_an_unknown_place_does_not(): void
    {
        $memory = self::memory();

        self::assertTrue($memory->takes(CycleKind::Read, 0xC000, 1, 2));
        self::assertTrue($memory->takes(CycleKind::IoRead, 0x7000, 1, 2));
        self::assertFalse($memory->takes(CycleKind::Read, 0x7000, 1, 2));
    }

    public function test_only_the_lines_that_both_show_count(): void
    {
        $memory = new SharedMemory(self::plan(), 0x0F);

        self::assertTrue($memory->takes(CycleKind::Fetch, 0xF000, 0x31, 0x41));
        self::assertFalse($memory->takes(CycleKind::Fetch, 0xF000, 0x32, 0x41));
    }

    /**
     * @return iterable<string, array{string, int}>
     */
    public static function healthy(): iterable
    {
        foreach (['larkspur-64', 'tamarisk-two', 'halyard-16'] as $slug) {
            foreach ([2, 11, 40] as $seed) {
                yield "{$slug}, {$seed}" => [$slug, $seed];
            }
        }
    }

    #[DataProvider('healthy')]
    public function test_two_healthy_machines_do_not_part(string $slug, int $seed): void
    {
        $ladder = (new SimulatedBench(Boards::shipped($slug), [], $seed, new LogicShelf, 0.0))->bus();

        self::assertArrayNotHasKey('divergence', $ladder);
        self::assertGreaterThan(150, $ladder['distance']);
    }

    private static function memory(): SharedMemory
    {
        return new SharedMemory(self::plan(), 0xFF);
    }

    private static function plan(): MemoryPlan
    {
        return new MemoryPlan([
            ['from' => 0xE000, 'to' => 0xFFFF, 'kind' => 'rom', 'chip' => 'U2', 'image' => null],
            ['from' => 0x0000, 'to' => 0x5FFF, 'kind' => 'ram', 'chip' => '', 'image' => null],
            ['from' => 0xC000, 'to' => 0xC0FF, 'kind' => 'io', 'chip' => 'U9', 'image' => null],
        ]);
    }
}
