<?php

declare(strict_types=1);

namespace Tests\Core\Observations;

use PHPUnit\Framework\TestCase;
use Tests\Support\Bench;
use Tests\Support\Boards;
use ZapTrace\Bus\Divergence;
use ZapTrace\Bus\Ladder;
use ZapTrace\Reasoning\Evidence;

final class BusCapturedTest extends TestCase
{
    public function test_a_bit_of_memory_that_is_wrong_on_the_bus_names_its_chip(): void
    {
        $bench = $this->captured(27, new Divergence(33, Divergence::DATA_BITS, 0x0000, 0xAA, 0x8A, [5], 'At 0000 8A is read, where AA belongs: D5 is wrong.'));

        self::assertSame('U14', $bench->assess()->conclusion->suspects()[0]->site);
    }

    public function test_how_far_it_went_clears_the_way_to_the_rom(): void
    {
        $early = $this->captured(2, new Divergence(8, Divergence::DATA_BITS, 0x0000, 0xAA, 0x8A, [5], 'x'));
        $late = $this->captured(40, new Divergence(46, Divergence::DATA_BITS, 0x0000, 0xAA, 0x8A, [5], 'x'));
        $share = static fn (Bench $bench): float => $bench->assess()->conclusion->posterior->sites['U2'] ?? 0.0;

        self::assertLessThan($share($early), $share($late));
        self::assertCount(2, array_filter($late->assess()->conclusion->evidence, static fn (Evidence $seen): bool => $seen->kind === Evidence::BUS));
        self::assertCount(1, array_filter($early->assess()->conclusion->evidence, static fn (Evidence $seen): bool => $seen->kind === Evidence::BUS));
    }

    public function test_a_short_run_without_a_difference_says_nothing_and_a_long_one_clears(): void
    {
        $short = $this->captured(40, null);
        $long = $this->captured(400, null);

        self::assertSame([], array_filter($short->assess()->conclusion->evidence, static fn (Evidence $seen): bool => $seen->kind === Evidence::BUS));
        $seen = array_values(array_filter($long->assess()->conclusion->evidence, static fn (Evidence $seen): bool => $seen->kind === Evidence::BUS));
        self::assertFalse($seen[0]->abnormal);
        self::assertStringContainsString('400 cycles, all as they should be', $long->assess()->contributions['o1']->title ?? '');
    }

    public function test_channels_that_were_checked_make_it_surer(): void
    {
        $found = new Divergence(33, Divergence::DATA_BITS, 0x0000, 0xAA, 0x8A, [5], 'x');
        $rates = [];
        foreach (['unchecked', 'right'] as $setup) {
            $evidence = array_values(array_filter($this->captured(27, $found, $setup)->assess()->conclusion->evidence, static fn (Evidence $seen): bool => $seen->kind === Evidence::BUS && $seen->abnormal));
            $rates[$setup] = $evidence[0]->falseAlarm;
        }

        self::assertLessThan($rates['unchecked'], $rates['right']);
    }

    public function test_after_the_part_was_exchanged_the_old_capture_blames_what_was_there_then(): void
    {
        $bench = $this->captured(27, new Divergence(33, Divergence::DATA_BITS, 0x0000, 0xAA, 0x8A, [5], 'x'))->note('exchange u14 cured');

        self::assertGreaterThan(0.9, $bench->assess()->conclusion->cured()['U14'] ?? 0.0);
    }

    public function test_waiting_that_was_passed_over_is_told(): void
    {
        $noted = (new Ladder(500, 400, null, [], 64))->noted('a', 'b', 'right');

        self::assertSame(['64 cycles of waiting were passed over.'], $noted['notes']);
        self::assertArrayNotHasKey('divergence', $noted);
    }

    /**
     * @param  'right'|'wrong'|'unchecked'  $setup
     */
    private function captured(int $distance, ?Divergence $found, string $setup = 'right'): Bench
    {
        return Bench::on(Boards::shipped('larkspur-64'))->record('bus-capture', (new Ladder(500, $distance, $found, [], 0))->noted('sick', 'the ROM', $setup));
    }
}
