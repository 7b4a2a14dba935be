<?php

declare(strict_types=1);

namespace Tests\Core\Rom;

use PHPUnit\Framework\TestCase;
use Tests\Support\Boards;
use ZapTrace\Rom\RomEvidence;
use ZapTrace\Rom\RomVerdict;
use ZapTrace\Signals\Structure;

/**
 * Common practice: all ones can mean blank, dead, or never selected; one constant bit is a data line; repeated halves
 * are an address line.
 */
final class RomEvidenceTest extends TestCase
{
    public function test_in_a_reader_nothing_but_the_chip_is_to_blame(): void
    {
        self::assertSame(['U2'], array_keys(RomEvidence::inReader('U2')));
    }

    public function test_all_ones_on_the_board_speaks_of_the_chip_and_of_its_whole_select_chain(): void
    {
        $strengths = $this->of(RomVerdict::Blank);

        foreach (['U2', 'U17', 'U3', '/ROMCS/open at U2.20', '/ROMCS/open at U2.22', '/ROMCS/open before U2.22', '/ROMCS/held or shorted'] as $site) {
            self::assertGreaterThan(0.2, $strengths[$site] ?? 0.0, $site);
        }
        self::assertGreaterThan($strengths['U3'], $strengths['U17'], 'The nearer the stage, the stronger.');
        self::assertArrayNotHasKey('D3/held or shorted', $strengths);
    }

    public function test_all_zeros_is_seldom_a_select(): void
    {
        self::assertLessThan($this->of(RomVerdict::Blank)['U17'], $this->of(RomVerdict::Zeros)['U17']);
    }

    public function test_one_constant_bit_is_its_output_or_its_line_and_no_other(): void
    {
        $strengths = $this->of(RomVerdict::ConstantBits, [3]);

        self::assertGreaterThan(0.6, $strengths['U2']);
        self::assertGreaterThan(0.6, $strengths['D3/open at U2.15']);
        self::assertGreaterThan(0.4, $strengths['D3/held or shorted']);
        self::assertSame([], array_filter(array_keys($strengths), static fn (string $site): bool => str_starts_with($site, 'D4/') || $site === 'U17'));
        self::assertArrayHasKey('U17', $this->of(RomVerdict::ConstantBits, range(0, 7)), 'When no bit moves at all, it is not selected.');
    }

    public function test_tied_bits_are_two_lines_that_touch_and_hardly_the_chip(): void
    {
        $strengths = $this->of(RomVerdict::TiedBits, [2, 5]);

        self::assertGreaterThan($strengths['U2'], $strengths['D2/held or shorted']);
        self::assertGreaterThan($strengths['D5/open at U2.17'] ?? 0.0, $strengths['D5/held or shorted']);
    }

    public function test_repeated_contents_speak_of_the_address_line_at_the_chip(): void
    {
        $strengths = $this->of(RomVerdict::Mirrored, [], [12]);

        self::assertGreaterThan($strengths['U2'], $strengths['A12/open at U2.2']);
        self::assertGreaterThan(0.3, $strengths['U1'], 'The processor drives it.');
        self::assertArrayNotHasKey('A11/open at U2.23', $strengths);
    }

    public function test_bits_lost_towards_ones_are_the_cells_alone(): void
    {
        self::assertSame(['U2'], array_keys($this->of(RomVerdict::Differs, [3], towardsOnes: true)));
        self::assertArrayHasKey('D3/held or shorted', $this->of(RomVerdict::Differs, [3]));
    }

    public function test_a_right_read_clears_the_chip_its_lines_and_its_select(): void
    {
        $strengths = $this->of(RomVerdict::Match);

        foreach (['U2', 'U17', 'A12/open at U2.2', 'D3/held or shorted', '/ROMCS/open at U2.20'] as $site) {
            self::assertGreaterThan(0.5, $strengths[$site] ?? 0.0, $site);
        }
    }

    public function test_every_strength_is_a_chance(): void
    {
        foreach (RomVerdict::cases() as $verdict) {
            foreach ($this->of($verdict, [0, 1], [3]) as $site => $strength) {
                self::assertTrue($strength > 0.0 && $strength <= 1.0, "{$verdict->value} {$site}");
            }
        }
    }

    /**
     * @param  list<int>  $bits
     * @param  list<int>  $lines
     * @return array<string, float>
     */
    private function of(RomVerdict $verdict, array $bits = [], array $lines = [], bool $towardsOnes = false): array
    {
        return (new RomEvidence(Structure::of(Boards::shipped('larkspur-64'))))->onBoard('U2', $verdict, $bits, $lines, $towardsOnes);
    }
}
