<?php

declare(strict_types=1);

namespace Tests\Core\Bench;

use PHPUnit\Framework\TestCase;
use Tests\Support\Boards;
use Tests\Support\SickBench;
use ZapTrace\Bench\Apprentice;
use ZapTrace\Bench\FaultKind;
use ZapTrace\Bench\InjectedFault;
use ZapTrace\Bench\LogicShelf;
use ZapTrace\Bench\SimulatedBench;
use ZapTrace\Formats\JsonNode;
use ZapTrace\Observations\Assessment;
use ZapTrace\Observations\Interpreters;
use ZapTrace\Observations\NoAttachments;
use ZapTrace\Observations\Observation;
use ZapTrace\Reasoning\Equipment;
use ZapTrace\Reasoning\Evidence;
use ZapTrace\Reasoning\School;
use ZapTrace\Reasoning\Step;
use ZapTrace\Reasoning\StepAdvisor;
use ZapTrace\Reasoning\Workbench;
use ZapTrace\Signals\ProbeState;
use ZapTrace\Signals\Situation;

/**
 * Dead machines on the simulated bench: what a few instruments say of them is enough to name the place.
 */
final class FoundOnTheBenchTest extends TestCase
{
    /** Common practice: two data lines that are both between the levels touch each other. */
    public function test_two_lines_between_the_levels_are_a_short_and_not_the_rom(): void
    {
        [$bench, $log] = $this->dead('larkspur-64', new InjectedFault(FaultKind::Short, 'D2', 'D7'));
        $log[] = $this->noted(count($log), ['kind' => 'bus-capture', 'payload' => $bench->bus()]);
        $log[] = $this->noted(count($log), (new Apprentice($bench))->walked('U1', Situation::FreeRun));
        $assessment = $this->weighed($bench, $log);

        self::assertContains($assessment->conclusion->suspects()[0]->site, ['D2', 'D7']);
        $test = $this->among($this->steps($bench, $assessment), 'continuity');
        self::assertStringContainsString('touch', $test->sentence);
        $log[] = $this->noted(count($log), (new Apprentice($bench))->take($test) ?? []);
        $fix = $this->among($this->steps($bench, $this->weighed($bench, $log)), 'fix');
        self::assertContains($fix->site, ['D2', 'D7']);
    }

    public function test_a_part_all_of_whose_outputs_are_silent_is_dead(): void
    {
        [$bench, $log] = $this->dead('tamarisk-two', new InjectedFault(FaultKind::Dead, 'U8'));
        $log[] = $this->noted(count($log), (new Apprentice($bench))->walked('U8', Situation::FreeRun));
        $assessment = $this->weighed($bench, $log);

        $outputs = array_values(array_filter($assessment->conclusion->evidence, static fn (Evidence $seen): bool => str_ends_with($seen->id, ' outputs of U8')));
        self::assertSame(0.95, $outputs[0]->strengths['U8'] ?? null, 'Several outputs of one part are one thing that was seen.');
        self::assertSame('U8', $assessment->conclusion->suspects()[0]->site);
        self::assertGreaterThan(0.95, $assessment->conclusion->suspects()[0]->share);
        self::assertSame(['obtain', 'U8'], [$this->steps($bench, $assessment)[0]->action, $this->steps($bench, $assessment)[0]->site]);
        // Another is to be had on the practice bench.
        self::assertSame(['action' => 'exchange', 'site' => 'U8', 'result' => 'cured'], (new Apprentice($bench))->take($this->steps($bench, $assessment)[0])['payload'] ?? null);
        self::assertSame(['exchange', 'U8'], [$this->steps($bench, $assessment, ['16L8'])[0]->action, $this->steps($bench, $assessment, ['16L8'])[0]->site]);
    }

    public function test_a_machine_that_does_not_start_has_its_bus_recorded(): void
    {
        [$bench, $log] = $this->dead('larkspur-64', new InjectedFault(FaultKind::Dead, 'U2'));
        // Its clock is looked at where it comes in, and what selects its ROM at all pins: two or three minutes.
        $first = array_slice($this->steps($bench, $this->weighed($bench, $log)), 0, 6);
        self::assertContains($first[0]->action, ['probe', 'walk']);
        self::assertLessThan(3.5, $first[0]->minutes);
        self::assertContains('probe U1.37', array_map(static fn (Step $step): string => $step->key(), $first));
        $log[] = $this->noted(count($log), (new Apprentice($bench))->probed('U1.37', Situation::FreeRun));
        $actions = array_map(static fn (Step $step): string => $step->action, $this->steps($bench, $this->weighed($bench, $log)));
        $repairs = array_keys(array_intersect($actions, ['exchange', 'replace', 'wire', 'fix']));
        self::assertContains('capture', array_slice($actions, 0, $repairs[0] ?? 0), 'Before anything is exchanged.');

        // What is advised is done, until something is exchanged.
        $apprentice = new Apprentice($bench);
        $taken = [];
        for ($step = 0; $step < 12 && array_filter($taken, static fn (string $key): bool => preg_match('/^(exchange|replace|wire|fix) /', $key) === 1) === []; $step++) {
            $next = $this->steps($bench, $this->weighed($bench, $log))[0];
            $taken[] = $next->key();
            $log[] = $this->noted(count($log), $apprentice->take($next) ?? throw new \LogicException("{$next->key()} cannot be done."));
        }
        self::assertSame('exchange U2', $taken[count($taken) - 1], implode(', ', $taken));
    }

    /**
     * @param  list<Step>  $steps
     */
    private function among(array $steps, string $action): Step
    {
        foreach (array_slice($steps, 0, 16) as $step) {
            if ($step->action === $action) {
                return $step;
            }
        }
        self::fail("{$action} is not among the first steps: ".implode(', ', array_map(static fn (Step $step): string => $step->key(), array_slice($steps, 0, 3))));
    }

    /**
     * @return array{SimulatedBench, list<Observation>}
     */
    private function dead(string $slug, InjectedFault $fault): array
    {
        $bench = new SimulatedBench(Boards::shipped($slug), [$fault], 1, new LogicShelf, 0.0);
        $log = [$this->noted(0, ['kind' => 'sign', 'payload' => ['sign' => 'blank']])];
        foreach ([1, 2] as $run) {
            $log[] = $this->noted($run, ['kind' => 'diagnostic-run', 'payload' => ['diagnostic' => $bench->board->diagnostics[0]->id, 'result' => 'nothing']]);
        }

        return [$bench, $log];
    }

    /**
     * @param  array<string, mixed>  $observation
     */
    private function noted(int $number, array $observation): Observation
    {
        self::assertIsString($observation['kind'] ?? null);

        return new Observation((string) $number, $observation['kind'], JsonNode::of(json_decode((string) json_encode($observation['payload'] ?? []), false)));
    }

    /**
     * @param  list<Observation>  $log
     */
    private function weighed(SimulatedBench $bench, array $log): Assessment
    {
        return Assessment::of($bench->board, $bench->board->radix, $log, Interpreters::all(), new NoAttachments, Boards::modes());
    }

    /**
     * @param  list<string>|null  $spares
     * @return list<Step>
     */
    private function steps(SimulatedBench $bench, Assessment $assessment, ?array $spares = null): array
    {
        return StepAdvisor::usual(Boards::modes(), Boards::parts(), Boards::steps())->steps($assessment->conclusion, new Workbench(School::MeasureFirst, [...Workbench::usual()->equipment, Equipment::Analyser], $spares), $assessment->outlook($bench->board, 0.95));
    }

    public function test_what_is_plugged_in_again_is_expected_again(): void
    {
        $bench = SickBench::with('halyard-16');
        $bench->do('plug', 'riser');
        $before = $bench->expected('U86.4', Situation::FreeRun)['state'];
        $bench->do('unplug', 'riser');
        $bench->do('plug', 'riser');

        self::assertSame(ProbeState::Pulsing, $before);
        self::assertSame($before, $bench->expected('U86.4', Situation::FreeRun)['state']);
    }

    public function test_a_test_in_a_rom_that_the_processor_does_not_reach_says_nothing(): void
    {
        $startUp = Boards::shipped('halyard-16')->findDiagnostic('start-up');
        self::assertNotNull($startUp);

        self::assertSame('nothing', SickBench::with('halyard-16', new InjectedFault(FaultKind::OpenTrace, 'A23', 'U6.1'))->diagnostic($startUp));
        self::assertSame('U47', SickBench::with('halyard-16', new InjectedFault(FaultKind::ReadsLow, 'U47'))->diagnostic($startUp), 'With bad memory it still tells which.');
    }

    public function test_a_wire_mends_the_trace_of_its_leg(): void
    {
        $bench = SickBench::with('larkspur-64', new InjectedFault(FaultKind::OpenTrace, 'MD6', 'U15.2'));
        self::assertTrue($bench->isOpenAt('U15.2'));
        self::assertTrue($bench->isOpenAt('U15.14'), 'It is the trace of both its legs.');
        self::assertFalse($bench->isOpenAt('U14.14'));
        $bench->do('wire', 'U15.14');
        self::assertSame([], $bench->left());
    }
}
