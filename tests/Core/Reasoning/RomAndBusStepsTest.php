<?php

declare(strict_types=1);

namespace Tests\Core\Reasoning;

use PHPUnit\Framework\TestCase;
use Tests\Support\Bench;
use Tests\Support\Boards;
use ZapTrace\Reasoning\Equipment;
use ZapTrace\Reasoning\School;
use ZapTrace\Reasoning\Step;
use ZapTrace\Reasoning\StepAdvisor;
use ZapTrace\Reasoning\Workbench;

/**
 * When a ROM is worth reading, when a bus is worth recording, and what need not be measured any more.
 */
final class RomAndBusStepsTest extends TestCase
{
    public function test_a_suspected_rom_in_a_socket_is_read_where_there_is_a_reader(): void
    {
        $bench = Bench::with('larkspur-64')->note('sign blank', 'count nothing', 'count nothing');
        $with = $this->steps($bench, [Equipment::EpromReader]);
        $read = $this->find($with, 'rom', 'U2');

        self::assertNotNull($read);
        self::assertEqualsCanonicalizing(['it matches', 'it does not'], array_column($read->outcomes, 'words'));
        self::assertGreaterThan(0.2, $read->bits);
        self::assertStringContainsString('notch', $read->caution);
        self::assertNull($this->find($this->steps($bench, []), 'rom', 'U2'), 'Nobody reads a ROM without a reader.');
    }

    public function test_a_rom_that_was_read_is_not_read_again_until_it_was_out(): void
    {
        // Two runs that went nowhere are one thing that was seen; that the clock comes is another.
        $blank = Bench::with('larkspur-64')->note('sign blank', 'count nothing', 'count nothing')->record('probe', ['pin' => 'U1.37', 'situation' => 'free-run', 'state' => 'pulsing', 'expected' => 'pulsing']);
        $unread = $blank->assess();
        $bench = $blank->record('rom-read', ['chip' => 'U2', 'where' => 'reader', 'reads' => [], 'result' => 'match']);
        $read = $bench->assess();

        self::assertNull($this->find($this->steps($bench, [Equipment::EpromReader]), 'rom', 'U2'));
        self::assertLessThan($unread->conclusion->posterior->sites['U2'], $read->conclusion->posterior->sites['U2']);
        $bad = static fn (array $faults): float => $faults['U2/contents'] + $faults['U2/dead'];
        self::assertGreaterThan(0.1, $bad($unread->conclusion->posterior->faults));
        self::assertLessThan(0.03, $bad($read->conclusion->posterior->faults), 'What is left of U2 is its contact.');
    }

    public function test_one_click_records_what_the_reader_told(): void
    {
        $read = $this->find($this->steps(Bench::with('larkspur-64')->note('sign blank', 'count nothing', 'count nothing'), [Equipment::EpromReader]), 'rom', 'U2');
        $bench = Bench::with('larkspur-64')->note('sign blank');
        foreach ($read->outcomes ?? [] as $outcome) {
            self::assertNotNull($outcome['observation']);
            $after = $bench->record($outcome['observation']['kind'], $outcome['observation']['payload'])->assess()->conclusion->posterior->sites['U2'] ?? 0.0;
            $outcome['words'] === 'it matches' ? self::assertLessThan(0.1, $after) : self::assertGreaterThan(0.8, $after);
        }
    }

    public function test_the_bus_of_a_machine_that_does_not_start_is_recorded_and_not_that_of_one_with_a_bad_bit(): void
    {
        $dead = Bench::with('larkspur-64')->note('sign blank', 'count nothing', 'count nothing');
        $capture = $this->find($this->steps($dead, [Equipment::Analyser]), 'capture', 'U1');

        self::assertNotNull($capture);
        self::assertGreaterThan(0.5, $capture->bits, 'It tells processor, ROM, select and each data bit apart.');
        self::assertNull($this->find($this->steps($dead, []), 'capture', 'U1'));
        $recorded = $dead->record('bus-capture', ['name' => 'a', 'against' => 'b', 'cycles' => 500, 'distance' => 500]);
        self::assertNull($this->find($this->steps($recorded, [Equipment::Analyser]), 'capture', 'U1'), 'Not twice with the same parts.');
    }

    public function test_a_board_without_a_processor_or_a_netlist_has_no_bus_to_record(): void
    {
        $bench = Bench::on(Boards::build(Boards::plain()))->note('2000 00>01', '2001 00>01', '2002 00>01');

        self::assertNull($this->find($this->steps($bench, [Equipment::Analyser]), 'capture', ''));
    }

    public function test_probes_that_would_not_change_what_to_do_wait_for_the_repair(): void
    {
        $bench = Bench::with('larkspur-64')->note('6c00 00>20', '6c01 0f>2f', '7000 00>20', '7001 ff>ff', 'count 6', 'count 6', 'count 6');
        $steps = $this->steps($bench, [Equipment::Probe]);
        $place = static fn (string $action): int => (int) (array_search($action, array_map(static fn (Step $step): string => $step->action, $steps), true) === false ? 99 : array_search($action, array_map(static fn (Step $step): string => $step->action, $steps), true));

        self::assertGreaterThan(0.65, $bench->assess()->conclusion->suspects()[0]->share);
        self::assertLessThan($place('walk'), $place('replace'));
        foreach ($steps as $step) {
            if (in_array($step->action, ['walk', 'probe'], true) && array_search($step, $steps, true) < $place('replace')) {
                self::assertTrue($step->turns, "{$step->key()} goes before the repair and does not turn it.");
            }
        }
    }

    /**
     * @param  list<Equipment>  $more
     * @return list<Step>
     */
    private function steps(Bench $bench, array $more): array
    {
        $assessment = $bench->assess();
        $equipment = [Equipment::Meter, Equipment::Diagnostic, Equipment::SolderingStation, ...$more];

        return StepAdvisor::usual(Boards::modes(), Boards::parts(), Boards::steps())->steps($assessment->conclusion, new Workbench(School::MeasureFirst, $equipment), $assessment->outlook($bench->board(), 0.95));
    }

    /**
     * @param  list<Step>  $steps
     */
    private function find(array $steps, string $action, string $site): ?Step
    {
        foreach ($steps as $step) {
            if ($step->action === $action && ($site === '' || $step->site === $site)) {
                return $step;
            }
        }

        return null;
    }
}
