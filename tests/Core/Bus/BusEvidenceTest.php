<?php

declare(strict_types=1);

namespace Tests\Core\Bus;

use PHPUnit\Framework\TestCase;
use Tests\Support\Boards;
use ZapTrace\Board\BoardProfile;
use ZapTrace\Board\Settings;
use ZapTrace\Bus\BusEvidence;
use ZapTrace\Bus\Divergence;
use ZapTrace\Bus\HandOver;
use ZapTrace\Bus\MemoryPlan;
use ZapTrace\Signals\Structure;

/**
 * Common practice: nothing selected is followed back gate by gate, a bit of memory to its chip, a machine that never
 * starts to reset and clock.
 */
final class BusEvidenceTest extends TestCase
{
    public function test_a_wrong_bit_of_memory_is_its_chip_before_its_buffer(): void
    {
        $strengths = $this->of(new Divergence(9, Divergence::DATA_BITS, 0x0200, 0x00, 0x20, [5], ''));

        self::assertSame(0.9, $strengths['U14']);
        self::assertGreaterThan($strengths['U4'] ?? 0.0, $strengths['U14']);
        self::assertGreaterThan(0.2, $strengths['D5/held or shorted']);
        self::assertLessThan(0.3, $strengths['U9'] ?? 0.0);
    }

    public function test_a_wrong_bit_of_a_rom_is_the_rom_or_the_line(): void
    {
        $strengths = $this->of(new Divergence(9, Divergence::DATA_BITS, 0xE100, 0x00, 0x20, [5], ''));

        self::assertSame(0.75, $strengths['U2']);
        self::assertArrayNotHasKey('U14', $strengths);
    }

    public function test_nothing_selected_is_the_select_chain_before_the_chip(): void
    {
        $strengths = $this->of(new Divergence(9, Divergence::NOTHING_SELECTED, 0xE100, 0x4C, 0xFF, [], ''));

        self::assertGreaterThan($strengths['U2'], $strengths['U17']);
        self::assertGreaterThan(0.5, $strengths['/ROMCS/open at U2.20']);
        $memory = $this->of(new Divergence(9, Divergence::NOTHING_SELECTED, 0x0200, 0x4C, 0xFF, [], ''));
        self::assertGreaterThan($memory['U9'], $memory['U18'], 'The strobes before any one chip.');
    }

    public function test_a_rom_that_gives_another_byte_may_be_led_to_another_address(): void
    {
        $board = Boards::shipped('tamarisk-two');
        $of = static fn (Divergence $found): array => (new BusEvidence(Structure::of($board), Settings::of($board)))->of($found);
        $another = $of(new Divergence(1, Divergence::WRONG_TARGET, 0x1FFF, 0xC7, 0x39, [1, 2, 3, 4, 5, 6, 7], ''));
        self::assertGreaterThan(0.25, $another['U5'] ?? 0.0, 'The buffer of its address lines.');
        self::assertGreaterThan(0.4, $another['BA0/open at U2.10'] ?? 0.0);

        self::assertArrayNotHasKey('BA0/open at U2.10', $of(new Divergence(1, Divergence::NOTHING_SELECTED, 0x1FFF, 0xC7, 0xFF, [], '')), 'Where nothing answers, the address says nothing.');
        self::assertArrayNotHasKey('BA0/open at U2.10', $of(new Divergence(1, Divergence::DATA_BITS, 0x1FFF, 0xC7, 0xC6, [0], '')), 'One bit is no other address.');
    }

    public function test_an_address_line_that_is_wrong_at_the_processor_is_its_pin_its_trace_or_the_processor(): void
    {
        $strengths = $this->of(new Divergence(9, Divergence::ADDRESS_BITS, 0xF000, 0xF000, 0xE000, [12], ''));

        self::assertSame(['A12'], array_values(array_unique(array_map(static fn (string $site): string => (string) strtok($site, '/'), array_filter(array_keys($strengths), static fn (string $site): bool => str_contains($site, '/'))))));
        self::assertSame(0.5, $strengths['U1']);
        $behind = $this->of(new Divergence(9, Divergence::ADDRESS_BITS, 0xF000, 0x78, 0x10, [12], '', behind: true));
        self::assertGreaterThan(0.8, $behind['A12/open at U2.2'], 'Right at the processor, it is lost on its way to the ROM.');
    }

    public function test_a_machine_that_never_starts_is_reset_clock_or_processor(): void
    {
        $strengths = $this->of(new Divergence(0, Divergence::NEVER_STARTS, 0xFFFC, null, null, [], ''));

        foreach (['U1', 'U28', 'U20', 'U37', 'PHI0/held or shorted', '/RESET/open at U1.40'] as $site) {
            self::assertGreaterThan(0.2, $strengths[$site] ?? 0.0, $site);
        }
        self::assertArrayNotHasKey('U2', $strengths);
        $stops = $this->of(new Divergence(50, Divergence::STOPS, 0xF010, null, 0xEA, [], ''));
        self::assertArrayNotHasKey('/RESET/open at U1.40', $stops, 'Reset had ended.');
    }

    public function test_going_back_to_the_start_is_reset_and_going_round_is_what_does_not_answer(): void
    {
        $again = $this->of(new Divergence(60, Divergence::REPEATS, 0xF010, 0xF010, 0xFFFC, [], ''));
        self::assertArrayHasKey('/RESET/held or shorted', $again);
        $waits = $this->of(new Divergence(60, Divergence::REPEATS, 0xD00D, 0xF100, 0xF000, [], ''));
        self::assertArrayHasKey('U26', $waits, 'The port it asks.');
    }

    public function test_writing_what_it_should_not_is_the_processor_or_what_drives_against_it(): void
    {
        $strengths = $this->of(new Divergence(9, Divergence::DATA_BITS, 0x0200, 0x55, 0x54, [0], '', true));

        self::assertArrayHasKey('U1', $strengths);
        self::assertGreaterThan($strengths['U17'], $strengths['U2'], 'The ROM drives, and what selects it lets it.');
        self::assertArrayHasKey('U26', $strengths);
        self::assertArrayNotHasKey('U14', $strengths, 'What lies behind the buffer reaches the processor by the buffer alone.');
        self::assertArrayNotHasKey('D1/held or shorted', $strengths, 'Of the bit that was wrong.');
    }

    public function test_a_run_as_it_should_be_clears_the_processor_and_the_way_to_its_rom(): void
    {
        $clears = (new BusEvidence(Structure::of($this->board()), Settings::of($this->board())))->clears();

        foreach (['U1', 'U2', 'U17', '/ROMCS/open at U2.20'] as $site) {
            self::assertGreaterThan(0.5, $clears[$site] ?? 0.0, $site);
        }
        self::assertArrayNotHasKey('U14', $clears);
    }

    public function test_every_kind_has_a_heading_and_is_kept_without_what_is_not_known(): void
    {
        foreach ([Divergence::NOTHING_SELECTED, Divergence::DATA_BITS, Divergence::ADDRESS_BITS, Divergence::WRONG_TARGET, Divergence::CONTENTION, Divergence::NEVER_STARTS, Divergence::STOPS, Divergence::REPEATS] as $kind) {
            self::assertNotSame('', (new Divergence(0, $kind, 0, 0, 0, [], ''))->title());
        }
        self::assertSame(['cycle' => 3, 'kind' => 'stops', 'address' => 7, 'bits' => [], 'words' => 'It stops.'], (new Divergence(3, Divergence::STOPS, 7, null, null, [], 'It stops.'))->toArray());
    }

    public function test_right_after_the_start_the_rom_answers_where_memory_comes_later(): void
    {
        $board = Boards::shipped('halyard-16');
        $evidence = new BusEvidence(Structure::of($board), Settings::of($board));
        $d5 = static fn (int $cycle): Divergence => new Divergence($cycle, Divergence::DATA_BITS, 0x149A0, 0x2C5B, 0x2C7B, [5], '');

        self::assertSame('U2', $evidence->chipAt(0x149A0, 2));
        self::assertArrayHasKey('U3', $evidence->of($d5(2)), 'The ROM of the low byte.');
        self::assertArrayNotHasKey('U45', $evidence->of($d5(2)));
        self::assertArrayHasKey('U45', $evidence->of($d5(300)), 'Once the latch is over it is memory.');
    }

    public function test_of_two_roms_beside_each_other_the_one_whose_bits_are_wrong_is_meant(): void
    {
        $board = Boards::shipped('halyard-16');
        $settings = Settings::of($board);
        $evidence = new BusEvidence(Structure::of($board), $settings);
        $low = new Divergence(0, Divergence::WRONG_TARGET, 0, 0x8CAD, 0x8CFF, [0, 1, 2, 3, 4, 5, 6, 7], 'At 0000 8CFF is read, where 8CAD belongs.');
        $strengths = $evidence->of($low);

        self::assertGreaterThan(0.7, $strengths['U3'] ?? 0.0, 'It has the low byte.');
        self::assertArrayNotHasKey('U2', $strengths);
        self::assertLessThan(0.1, $strengths['U6'] ?? 0.0, 'It selects both, and the other was right.');
        self::assertLessThan(0.1, $strengths['A22/open at U6.2'] ?? 0.0);
        self::assertGreaterThan(0.5, $strengths['/ROM/open at U3.20'] ?? 0.0, 'A leg of its own.');
        self::assertSame('U3 should answer at 0000. Measure U3.20, then U6.12.', HandOver::of($low, $board, $settings)?->words);

        $both = $evidence->of(new Divergence(0, Divergence::WRONG_TARGET, 0, 0x8CAD, 0xFFFF, [1, 4, 6, 8, 9, 12, 13, 14], ''));
        self::assertGreaterThan(0.5, $both['U6'] ?? 0.0);
        self::assertGreaterThan(0.2, min($both['U2'] ?? 0.0, $both['U3'] ?? 0.0));
    }

    public function test_a_link_that_takes_a_range_away_is_asked_when_nothing_answers_there(): void
    {
        $strengths = $this->of(new Divergence(81, Divergence::NOTHING_SELECTED, 0x8000, 0x12, 0xFF, [0, 1, 2, 3, 4, 5, 6, 7], ''));

        self::assertGreaterThan(0.5, $strengths['LK2'] ?? 0.0);
        self::assertArrayNotHasKey('LK2', $this->of(new Divergence(81, Divergence::NOTHING_SELECTED, 0x1000, 0x12, 0xFF, [0, 1, 2, 3, 4, 5, 6, 7], '')));
    }

    public function test_what_is_not_selected_is_handed_over_to_the_probe(): void
    {
        $over = HandOver::of(new Divergence(9, Divergence::NOTHING_SELECTED, 0xE000, 0x4C, 0xFF, [], ''), $this->board(), Settings::of($this->board()));

        self::assertSame(['U2', 0xE000, 'U2 should answer at E000. Measure U2.20, then U17.12, then U3.7.'], [$over?->chip, $over?->address, $over?->words]);
        self::assertNull(HandOver::of(new Divergence(9, Divergence::DATA_BITS, 0xE000, 0x4C, 0x44, [3], ''), $this->board(), Settings::of($this->board())), 'One bit is a line, not a select.');
        self::assertNotNull(HandOver::of(new Divergence(9, Divergence::DATA_BITS, 0xE000, 0x4C, 0x00, [2, 3, 6, 7], ''), $this->board(), Settings::of($this->board())));
    }

    public function test_links_decide_what_lies_where_and_rom_covers_memory(): void
    {
        $large = MemoryPlan::of($this->board());
        $small = MemoryPlan::of($this->board(), [], Settings::of($this->board(), ['LK2' => '32K']));

        self::assertSame('ram', $large->at(0x9000)['kind'] ?? null);
        self::assertNull($small->at(0x9000));
        self::assertSame(['rom', 'U2'], [$large->at(0xE000)['kind'] ?? null, $large->at(0xE000)['chip'] ?? null]);
        self::assertTrue($large->isPort(0xD001));
        self::assertNull($large->romByte(0xE000), 'Nothing is known of what it should hold.');
    }

    private function board(): BoardProfile
    {
        return Boards::shipped('larkspur-64');
    }

    /**
     * @return array<string, float>
     */
    private function of(Divergence $found): array
    {
        return (new BusEvidence(Structure::of($this->board()), Settings::of($this->board())))->of($found);
    }
}
