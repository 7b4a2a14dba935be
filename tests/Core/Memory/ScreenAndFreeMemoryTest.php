<?php

declare(strict_types=1);

namespace Tests\Core\Memory;

use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;
use Tests\Support\Boards;
use ZapTrace\Board\Settings;
use ZapTrace\Memory\FreeMemoryFigure;
use ZapTrace\Memory\ScreenReading;
use ZapTrace\Problems\InputRejected;

final class ScreenAndFreeMemoryTest extends TestCase
{
    /** Arithmetic: "$" is code 36, a blank 32, and 36 XOR 32 is bit 2. */
    public function test_a_wrong_character_on_a_blank_screen_gives_the_bit(): void
    {
        $reading = ScreenReading::character('$', null, 3, 2, Boards::shipped('larkspur-64'));

        self::assertSame(1 << 2, $reading->expected ^ $reading->read);
        self::assertSame(0x0400 + 2 * 40 + 3, $reading->address);
    }

    public function test_a_stripe_on_a_bit_mapped_screen_gives_the_data_line(): void
    {
        $left = ScreenReading::stripe(0, 0, 0, Boards::shipped('halyard-16'));
        $right = ScreenReading::stripe(15, 39, 399, Boards::shipped('halyard-16'));

        self::assertSame([0x78000, 1 << 15, 16], [$left->address, $left->read, $left->bits]);
        self::assertSame([0x78000 + 399 * 80 + 78, 1 << 0], [$right->address, $right->read]);
    }

    public function test_all_that_is_wrong_with_a_screen_reading_is_told_at_once(): void
    {
        try {
            ScreenReading::character('€', 'ab', 40, 25, Boards::shipped('larkspur-64'));
            self::fail('It was taken');
        } catch (InputRejected $rejected) {
            self::assertSame(['seen', 'expected', 'column', 'row'], array_map(static fn ($problem): string => $problem->place, $rejected->problems));
        }
    }

    public function test_a_stripe_within_characters_does_not_come_from_memory(): void
    {
        $this->expectExceptionMessage('character generator');
        ScreenReading::stripe(3, 0, 0, Boards::shipped('larkspur-64'));
    }

    public function test_a_stable_figure_is_the_first_failing_address(): void
    {
        // 16384 - 684 bytes free: the test went through bank 0 and failed at the first byte of bank 1.
        $figure = $this->figure([15700, 15700]);

        self::assertTrue($figure->stable);
        self::assertSame(0x8000, $figure->address);
        self::assertSame('1', $figure->range?->bank);
    }

    public function test_a_figure_that_changes_says_nothing_of_an_address(): void
    {
        $figure = $this->figure([15700, 12044]);

        self::assertFalse($figure->stable);
        self::assertNull($figure->address);
        self::assertStringContainsString('unstable', $figure->sentence);
    }

    public function test_one_power_on_is_not_enough(): void
    {
        self::assertFalse($this->figure([15700])->stable);
        self::assertNull($this->figure([15700])->address);
    }

    public function test_the_figure_of_a_good_machine_is_no_failure(): void
    {
        self::assertNull($this->figure([32084, 32084])->address);
    }

    /**
     * @return iterable<string, array{int}>
     */
    public static function impossible(): iterable
    {
        yield 'more than the machine has' => [40000];
        yield 'beyond the last address' => [70000];
        yield 'below nothing' => [-1];
    }

    #[DataProvider('impossible')]
    public function test_an_impossible_figure_is_refused(int $figure): void
    {
        $this->expectExceptionMessage('more than this machine can have');
        $this->figure([$figure, $figure]);
    }

    /**
     * @param  non-empty-list<int>  $figures
     */
    private function figure(array $figures): FreeMemoryFigure
    {
        $board = Boards::shipped('tamarisk-two');

        return FreeMemoryFigure::interpret($figures, $board, Settings::of($board));
    }
}
