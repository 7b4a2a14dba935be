<?php

declare(strict_types=1);

namespace Tests\Core\Diagnostics;

use PHPUnit\Framework\TestCase;
use Tests\Support\Bench;
use Tests\Support\Boards;
use ZapTrace\Diagnostics\Diagnostic;
use ZapTrace\Diagnostics\DiagnosticCode;
use ZapTrace\Diagnostics\DiagnosticResult;
use ZapTrace\Problems\InputRejected;

/**
 * What diagnostics report, in each of the ways they do: a count, a colour, chips, an error mask, a step with registers.
 */
final class DiagnosticTest extends TestCase
{
    public function test_a_mask_of_32_is_data_bit_5(): void
    {
        // Arithmetic: 32 = 20 in hex = bit 5.
        $long = self::find('larkspur-64', 'long-test');

        self::assertSame([5], self::bits($long->read('20')));
        self::assertSame([5], self::bits($long->read('#32')));
        self::assertSame([0, 5, 7], self::bits($long->read('A1')));
        self::assertTrue($long->read('00')->passed(), 'No bit set, nothing wrong.');
    }

    public function test_a_mask_with_bits_that_the_table_does_not_know_is_refused(): void
    {
        $this->expectException(InputRejected::class);
        $this->expectExceptionMessage('bits that the table of the long memory test does not know');
        self::find('larkspur-64', 'long-test')->read('120');
    }

    public function test_several_chips_are_read_in_any_order_and_case(): void
    {
        $startUp = self::find('halyard-16', 'start-up');

        self::assertSame('u41 u44', $startUp->read('u44, U41')->key);
        self::assertSame([4, 1], self::bits($startUp->read('U44 U41')));
    }

    public function test_a_step_names_what_it_presses_and_its_registers_the_bits(): void
    {
        $steps = self::find('tamarisk-two', 'step-program');
        $result = $steps->read('0200', ['d' => '55', 'E' => '75']);

        self::assertSame('memory, bank 0', $result->codes[0]->words());
        self::assertSame([['bank' => '0', 'line' => 5]], $result->differing, '55 written, 75 read: bit 5.');
        self::assertSame([], $steps->read('0200')->differing);
    }

    public function test_half_the_registers_say_nothing(): void
    {
        $this->expectExceptionMessage('Give both register D (written) and register E (read), or neither.');
        self::find('tamarisk-two', 'step-program')->read('0200', ['D' => '55']);
    }

    public function test_a_code_that_is_not_in_the_table_is_refused_with_those_that_are(): void
    {
        $this->expectExceptionMessage('has no code "purple". It has red, green, yellow, blue');
        self::find('halyard-16', 'start-colour')->read('purple');
    }

    public function test_a_slip_of_one_is_for_what_is_counted(): void
    {
        self::assertCount(2, self::find('larkspur-64', 'test-rom')->oneOff('3'));
        self::assertCount(1, self::find('larkspur-64', 'test-rom')->oneOff('1'));
        self::assertSame([], self::find('halyard-16', 'start-colour')->oneOff('red'));
    }

    public function test_one_that_reports_everything_acquits_what_it_does_not_name(): void
    {
        $mask = Bench::with('larkspur-64')->record('diagnostic-run', ['diagnostic' => 'long-test', 'result' => '24', 'times' => 2]);

        self::assertGreaterThan(0.5, $mask->share('U11'));
        self::assertGreaterThan(0.5, $mask->share('U14'));
        self::assertLessThan(0.02, $mask->share('U12'), 'A mask would have said so.');
        self::assertGreaterThan(0.02, Bench::with('larkspur-64')->note('count 3 x2')->share('U12'), 'A count names one of several.');
    }

    public function test_a_step_program_clears_the_steps_it_passed_and_not_those_after(): void
    {
        $stopped = Bench::with('tamarisk-two')->record('diagnostic-run', ['diagnostic' => 'step-program', 'result' => '0160', 'times' => 2]);

        self::assertContains($stopped->leading(), ['U43', 'U44'], 'It stopped at the screen memory.');
        self::assertGreaterThan(0.005, $stopped->share('U21'), 'It never came to bank 0.');
        $later = Bench::with('tamarisk-two')->record('diagnostic-run', ['diagnostic' => 'step-program', 'result' => '0200', 'times' => 2]);
        self::assertLessThan(0.5 * $stopped->share('U43'), $later->share('U43'));
    }

    public function test_registers_turn_a_step_into_a_chip(): void
    {
        $bench = Bench::with('tamarisk-two')->record('diagnostic-run', ['diagnostic' => 'step-program', 'result' => '0200', 'times' => 2, 'registers' => ['D' => '55', 'E' => '75']]);

        self::assertSame('U26', $bench->leading());
        self::assertStringContainsString('stopped at 0200', $bench->assess()->contributions['o1']->title);
        self::assertSame(['Registers: D = 55, E = 75'], $bench->assess()->contributions['o1']->notes);
    }

    public function test_a_colour_names_the_chips_behind_it(): void
    {
        $bench = Bench::with('halyard-16')->note('run start-colour yellow x2');

        self::assertContains($bench->leading(), ['U80', 'U81', 'U82', 'U83', 'U87']);
        self::assertLessThan(0.02, $bench->share('U40'));
    }

    public function test_a_pass_clears_nothing_outside_its_coverage(): void
    {
        // The start-up test of this board looks at the first 64 KiB of the main memory and at no riser.
        $riser = Bench::with('halyard-16')->read("80000 0000 0010\n80002 0000 0010");

        self::assertGreaterThan($riser->share('U81') - 0.01, $riser->note('run start-up pass x3')->share('U81'));
        $ofBit = static fn (Bench $bench): float => array_sum(array_map($bench->share(...), ['U81', 'U81.1', 'U65', 'D4']));
        self::assertLessThan(0.9 * $ofBit($riser), $ofBit($riser->note('run start-colour pass x3')), 'The colour test looks at the riser.');
    }

    public function test_a_code_without_a_bit_or_a_chip_is_refused_in_a_board_file(): void
    {
        $board = Boards::plain(['diagnostics' => [['id' => 'x', 'name' => 'X', 'reports' => 'colour', 'covers' => [['from' => '0x0000', 'to' => '0x00FF']], 'codes' => [['code' => 'red'], ['code' => 'green', 'sites' => ['U99']]]]]]);
        try {
            Boards::build($board);
            self::fail('It should have been refused.');
        } catch (InputRejected $rejected) {
            self::assertSame(['/diagnostics/0/codes/0', '/diagnostics/0/codes/1/sites/0'], array_map(static fn ($problem): string => $problem->place, $rejected->problems));
        }
    }

    public function test_a_wrong_table_is_looked_at_when_it_is_suspected(): void
    {
        $bench = Bench::with('larkspur-64')->note('count 3 x2')->read("6C00 00 20\n6C01 0F 2F\n7000 00 20\n7001 FF FF\n7002 00 20");
        self::assertContains('look table of the test ROM', $bench->proposed());

        $right = $bench->record('setup-check', ['setup' => 'table of the test ROM', 'result' => 'right']);
        $wrong = $bench->record('setup-check', ['setup' => 'table of the test ROM', 'result' => 'wrong']);
        self::assertLessThan(0.2 * $bench->share('table of the test ROM'), $right->share('table of the test ROM'));
        self::assertGreaterThan($bench->share('table of the test ROM'), $wrong->share('table of the test ROM'));
        self::assertNotContains('look table of the test ROM', $right->proposed(), 'Once is enough.');
    }

    private static function find(string $board, string $id): Diagnostic
    {
        return Boards::shipped($board)->findDiagnostic($id) ?? self::fail("No {$id} on {$board}.");
    }

    /**
     * @return list<int>
     */
    private static function bits(DiagnosticResult $result): array
    {
        return array_map(static fn (DiagnosticCode $code): int => $code->bit['line'] ?? -1, $result->codes);
    }
}
