<?php

declare(strict_types=1);

namespace Tests\Core\Signals;

use PHPUnit\Framework\TestCase;
use Tests\Support\Bench;
use Tests\Support\Boards;
use Tests\Support\SickBench;
use ZapTrace\Bench\Apprentice;
use ZapTrace\Bench\FaultKind;
use ZapTrace\Bench\InjectedFault;
use ZapTrace\Formats\JsonNode;
use ZapTrace\Observations\LineDropMeasured;
use ZapTrace\Observations\Observation;
use ZapTrace\Problems\InputRejected;
use ZapTrace\Reasoning\Evidence;
use ZapTrace\Signals\LineDrop;
use ZapTrace\Signals\SignalEvidence;
use ZapTrace\Signals\Situation;
use ZapTrace\Signals\Structure;

/**
 * A line that is driven and pulled at once, measured at each of its pins to the millivolt: the current goes where it is
 * pulled. Common practice for a stuck node.
 */
final class LineDropTest extends TestCase
{
    public function test_the_bench_shows_where_a_line_is_pulled(): void
    {
        self::assertSame('U57.9', SickBench::with('halyard-16', new InjectedFault(FaultKind::HoldsLow, 'U57.9'))->pullsAt('CLK16'));
        self::assertSame('U33.18', SickBench::with('larkspur-64', new InjectedFault(FaultKind::OutputLow, 'U33.18'))->pullsAt('MA0'), 'One of two outputs on the line.');
        self::assertNull(SickBench::with('halyard-16', new InjectedFault(FaultKind::HoldsLow, 'U57.9'))->pullsAt('A12'), 'That stands still, and nothing fights.');
        self::assertNull(SickBench::with('larkspur-64', new InjectedFault(FaultKind::Short, 'VA4', 'VA8'))->pullsAt('VA8'), 'Where two touch no pin stands out.');
        self::assertNull(SickBench::with('larkspur-64', new InjectedFault(FaultKind::Short, 'VA4', 'VA8'), new InjectedFault(FaultKind::OutputLow, 'U32.4'))->pullsAt('VA8'), 'Nor where one of the two is stuck besides.');
        self::assertNull(SickBench::with('tamarisk-two', new InjectedFault(FaultKind::OutputLow, 'U10.6'))->pullsAt('/RAM1'), 'It drives alone.');
        self::assertNull(SickBench::with('larkspur-64')->pullsAt('MA0'));
    }

    public function test_an_input_that_has_gone_to_ground_is_found(): void
    {
        $apprentice = new Apprentice($sick = SickBench::with('halyard-16', new InjectedFault(FaultKind::HoldsLow, 'U57.9')));
        $walked = Bench::with('halyard-16')->note('sign blank')->record('pin-walk', $apprentice->walked('U78', Situation::FreeRun)['payload']);
        self::assertSame('U78', $walked->leading(), 'By what a probe shows it is what drives the line.');
        self::assertContains('drop CLK16', $walked->proposed());
        self::assertNotSame('replace U78', $walked->proposed()[0]);

        $step = array_values(array_filter($walked->steps(), static fn ($step): bool => $step->key() === 'drop CLK16'))[0];
        $measured = $walked->record('line-drop', $apprentice->take($step)['payload'] ?? []);
        self::assertSame($sick->pullsAt('CLK16'), 'U57.9');
        self::assertSame('U57', $measured->leading());
        self::assertLessThan(0.25 * $walked->share('U78'), $measured->share('U78'));
        self::assertNotContains('drop CLK16', $measured->proposed());
    }

    public function test_where_no_pin_stands_out_two_traces_touch_or_two_parts_are_let_drive(): void
    {
        $board = Boards::shipped('larkspur-64');
        $evidence = new SignalEvidence(Structure::of($board), Boards::modes());
        $state = Bench::with('larkspur-64')->assess()->conclusion->now;
        $between = $evidence->ofDrop(new LineDrop('MA4', null), $state)->strengths ?? [];
        $single = $evidence->ofDrop(new LineDrop('VA8', null), $state)->strengths ?? [];

        self::assertGreaterThan(0.8, $between[SignalEvidence::held('MA4')]);
        self::assertLessThan(0.01, $between['U6']);
        self::assertNotSame([], array_filter($between, static fn (float $strength, string $site): bool => $strength > 0.3 && isset($board->chips[$site]), ARRAY_FILTER_USE_BOTH), 'What lets its drivers drive.');
        self::assertSame([], array_filter($single, static fn (float $strength, string $site): bool => $strength > 0.3 && isset($board->chips[$site]), ARRAY_FILTER_USE_BOTH));
        self::assertNull($evidence->ofDrop(new LineDrop('nothing', null), $state));
    }

    public function test_it_can_be_typed(): void
    {
        $bench = Bench::with('halyard-16')->note('drop clk16 u57.9');
        $seen = array_values(array_filter($bench->assess()->conclusion->evidence, static fn (Evidence $seen): bool => $seen->kind === Evidence::DROP));

        self::assertSame('CLK16 is pulled at U57.9', $seen[0]->words);
        self::assertSame('U57', $bench->leading());
        self::assertSame('along CLK16 no pin stands out', array_values(array_filter(Bench::with('halyard-16')->note('drop CLK16')->assess()->conclusion->evidence, static fn (Evidence $seen): bool => $seen->kind === Evidence::DROP))[0]->words);
    }

    public function test_a_line_or_a_pin_that_is_not_there_is_refused_with_what_to_do(): void
    {
        $board = Boards::shipped('halyard-16');
        $problem = static function (string $net, string $pin) use ($board): string {
            try {
                LineDropMeasured::read(new Observation('1', LineDropMeasured::KIND, JsonNode::of((object) ['net' => $net, 'pin' => $pin])), $board);
            } catch (InputRejected $rejected) {
                return $rejected->getMessage();
            }

            return '';
        };

        self::assertStringContainsString('no line CLK99', $problem('CLK99', ''));
        self::assertStringContainsString('U57.8 is not on CLK16. Its pins are U78.8', $problem('CLK16', 'U57.8'));
        self::assertStringContainsString('GND', $problem('GND', ''));
        self::assertSame('', $problem('CLK16', 'U57.9'));
    }

    public function test_what_is_stuck_only_while_it_is_read_pulls_no_line(): void
    {
        $pulled = Bench::with('tamarisk-two')->note('sign blank', 'count 5')->read("4100 FF EF\n8100 FF EF\n3D00 FF FF")
            ->record('probe', ['pin' => 'U14.14', 'situation' => 'running', 'state' => 'between', 'expected' => 'pulsing'])->note('drop md4 u35.14');

        self::assertGreaterThan(0.95, $pulled->share('U35'));
        self::assertLessThan(0.15, $pulled->share('U14'), 'What U35 pulls it does not have to explain.');
    }

    public function test_a_memory_chip_of_several_bits_holds_one_of_its_lines(): void
    {
        $sick = SickBench::with('halyard-16', new InjectedFault(FaultKind::OutputLow, 'U83.19'));
        $pulled = Bench::with('halyard-16')->note('sign blank', 'run start-up u55')->read(SickBench::swept($sick, 'riser'))
            ->record('pin-walk', (new Apprentice($sick))->walked('U55', Situation::FreeRun)['payload'])->note('drop md15 u83.19');

        self::assertGreaterThan(0.95, $pulled->share('U83'));
        self::assertLessThan(0.3, $pulled->share('U55'), 'It is on the same line.');
    }
}
