<?php

declare(strict_types=1);

namespace Tests\Core\Bench;

use PHPUnit\Framework\TestCase;
use Tests\Support\Boards;
use Tests\Support\SickBench;
use ZapTrace\Bench\FaultKind;
use ZapTrace\Bench\FaultTable;
use ZapTrace\Bench\InjectedFault;
use ZapTrace\Bench\LogicShelf;
use ZapTrace\Bench\SimulatedBench;
use ZapTrace\Bench\Trial;
use ZapTrace\Signals\ProbeState;
use ZapTrace\Signals\Situation;

final class TrialTest extends TestCase
{
    private static function table(): FaultTable
    {
        return FaultTable::fromJson(Boards::file('knowledge/bench-faults.json'));
    }

    public function test_the_same_seed_breaks_the_same_machine_and_another_breaks_another(): void
    {
        $board = Boards::shipped('larkspur-64');
        $words = static fn (int $seed): array => array_map(static fn (InjectedFault $fault): string => $fault->words(), self::table()->break($board, $seed, 3, static fn (): bool => true));

        self::assertSame($words(5), $words(5));
        self::assertNotSame($words(5), $words(6));
        self::assertCount(3, $words(5));
    }

    public function test_only_what_shows_is_broken(): void
    {
        self::assertSame([], self::table()->break(Boards::shipped('larkspur-64'), 1, 2, static fn (): bool => false));
    }

    public function test_a_new_part_cures_a_bad_one_and_the_old_one_brings_its_fault_back(): void
    {
        $bench = SickBench::with('larkspur-64', new InjectedFault(FaultKind::ReadsLow, 'U14'));
        self::assertFalse($bench->works());
        $bench->do('replace', 'U14');
        self::assertTrue($bench->works());
        self::assertSame(0, $bench->goodSoldered);
        $bench->do('refit', 'U14');
        self::assertFalse($bench->works());
    }

    public function test_a_good_part_that_is_taken_out_is_counted(): void
    {
        $bench = SickBench::with('larkspur-64', new InjectedFault(FaultKind::ReadsLow, 'U14'));
        $bench->do('replace', 'U13');
        $bench->do('exchange', 'U2');

        self::assertSame([1, 1], [$bench->goodSoldered, $bench->goodPulled]);
        self::assertFalse($bench->works());
    }

    public function test_each_remedy_helps_against_its_fault_alone(): void
    {
        $trace = new InjectedFault(FaultKind::OpenTrace, 'MA3', Boards::shipped('larkspur-64')->netlist->nets['MA3']->pins[3]);
        $bench = SickBench::with('larkspur-64', $trace);
        $bench->do('replace', 'U5');
        self::assertFalse($bench->works());
        $bench->do('wire', 'MA3');
        self::assertTrue($bench->works());

        $short = SickBench::with('larkspur-64', new InjectedFault(FaultKind::Short, 'MD2', 'MD3'));
        self::assertFalse($short->works());
        $short->do('fix', 'MD2');
        self::assertTrue($short->works());

        $supply = SickBench::with('larkspur-64', new InjectedFault(FaultKind::RailLow, 'VR1'));
        self::assertEqualsWithDelta(4.2, $supply->rail('+5'), 0.01);
        $supply->do('fix', 'VR1');
        self::assertSame(5.0, $supply->rail('+5'));
    }

    public function test_piggybacking_helps_a_dead_part_and_not_one_that_drives_hard(): void
    {
        self::assertTrue(SickBench::with('larkspur-64', new InjectedFault(FaultKind::Dead, 'U14'))->piggybacked('U14'));
        self::assertFalse(SickBench::with('larkspur-64', new InjectedFault(FaultKind::OutputLow, 'U14.14'))->piggybacked('U14'));
    }

    public function test_a_diagnostic_reports_by_the_boards_own_table_and_only_where_it_looks(): void
    {
        $diagnostic = Boards::shipped('larkspur-64')->findDiagnostic('test-rom');
        self::assertNotNull($diagnostic);

        self::assertSame('pass', SickBench::with('larkspur-64')->diagnostic($diagnostic));
        self::assertSame('6', SickBench::with('larkspur-64', new InjectedFault(FaultKind::ReadsHigh, 'U14'))->diagnostic($diagnostic));
        self::assertSame('nothing', SickBench::with('larkspur-64', new InjectedFault(FaultKind::Dead, 'U1'))->diagnostic($diagnostic));
        self::assertSame('pass', SickBench::with('larkspur-64', new InjectedFault(FaultKind::Cells, 'U14', 'quarter 3'))->diagnostic($diagnostic), 'Its coverage ends at 3FFF.');
    }

    public function test_instruments_answer_for_the_sick_machine(): void
    {
        $bench = SickBench::with('larkspur-64', new InjectedFault(FaultKind::OutputHigh, 'U18.6'));

        self::assertSame(ProbeState::High, $bench->probe('U9.4', Situation::Running));
        self::assertSame(ProbeState::Pulsing, $bench->expected('U9.4', Situation::Running)['state']);
        self::assertSame(0.0, $bench->frequency('U9.4', Situation::Running));
    }

    public function test_the_advice_repairs_a_machine_with_one_bad_memory_chip_and_proves_it(): void
    {
        $trial = new Trial(Boards::modes(), Boards::parts(), Boards::steps(), self::table(), new LogicShelf);
        $board = Boards::shipped('larkspur-64');
        $sick = [new InjectedFault(FaultKind::ReadsHigh, 'U14')];
        $case = $trial->run($board, 4, 1, 'zap', faults: $sick);

        self::assertTrue($case->revived, implode("\n", $case->steps));
        self::assertTrue($case->firstRight);
        self::assertSame(0, $case->goodSoldered);
        $hurried = $trial->run($board, 4, 1, 'ram-first', faults: $sick);
        self::assertTrue($hurried->revived);
        self::assertGreaterThan(0, $hurried->goodSoldered, 'Chip by chip takes good ones out.');
    }

    public function test_what_shows_when_it_is_warm_shows_then_and_goes_when_its_chip_is_cooled(): void
    {
        $bench = SickBench::with('larkspur-64', new InjectedFault(FaultKind::ReadsHigh, 'U14', whenWarm: true));
        self::assertTrue($bench->works());
        self::assertFalse($bench->worksWith('U14', true), 'Hot air on the one chip.');
        self::assertTrue($bench->worksWith('U13', true));
        $bench->do('warm', SimulatedBench::ALL);
        self::assertFalse($bench->works());
        self::assertTrue($bench->worksWith('U14', false));
        self::assertFalse($bench->worksWith('U13', false));
        self::assertTrue($bench->tester('U14'), 'A tester tests it cold.');
        $bench->do('cool', SimulatedBench::ALL);
        self::assertTrue($bench->works());
        $bench->do('replace', 'U14');
        $bench->do('warm', SimulatedBench::ALL);
        self::assertTrue($bench->works());
    }

    public function test_a_gate_a_trace_and_a_function_can_come_and_go(): void
    {
        $trace = Boards::shipped('larkspur-64')->netlist->nets['MA3']->pins[3];
        foreach ([new InjectedFault(FaultKind::OutputHigh, 'U18.6', '', 0.5), new InjectedFault(FaultKind::OpenTrace, 'MA3', $trace, 0.5)] as $fault) {
            $bench = SickBench::with('larkspur-64', $fault);
            $works = 0;
            for ($run = 0; $run < 12; $run++) {
                $bench->powerOn();
                $works += (int) $bench->works();
            }
            self::assertGreaterThan(0, $works, $fault->words());
            self::assertLessThan(12, $works, $fault->words());
        }
        $function = Boards::shipped('larkspur-64')->functions[0];
        $bench = SickBench::with('larkspur-64', new InjectedFault(FaultKind::Dead, $function->sites[0], '', 0.5));
        self::assertCount(2, array_unique(array_map(static function () use ($bench, $function): bool {
            $bench->powerOn();

            return $bench->functionWorks($function->id);
        }, range(1, 20))));
    }

    public function test_every_mode_is_drawn_and_only_what_can_come_and_go_does(): void
    {
        $board = Boards::shipped('tamarisk-two');
        $kinds = [];
        $waits = [];
        for ($seed = 1; $seed <= 700; $seed++) {
            foreach (self::table()->break($board, $seed, 3, static fn (): bool => true) as $fault) {
                $kinds[$fault->kind->value] = true;
                $waits[$fault->kind->value][$fault->rate < 1.0 ? 'now and then' : ($fault->whenWarm ? 'warm' : 'always')] = true;
            }
        }
        $never = [FaultKind::InputLow->value, FaultKind::InputHigh->value, FaultKind::HoldsHigh->value];

        self::assertSame([], array_diff(array_column(FaultKind::cases(), 'value'), array_keys($kinds), $never));
        foreach ([FaultKind::OutputLow, FaultKind::Dead, FaultKind::ReadsHigh] as $kind) {
            self::assertEqualsCanonicalizing(['always', 'now and then', 'warm'], array_keys($waits[$kind->value]), $kind->value);
        }
        self::assertEqualsCanonicalizing(['always', 'now and then'], array_keys($waits[FaultKind::OpenTrace->value]));
        foreach ([FaultKind::Short, FaultKind::WrongSetting, FaultKind::RailLow] as $kind) {
            self::assertSame(['always'], array_keys($waits[$kind->value]), $kind->value);
        }
    }

    public function test_a_machine_that_fails_when_warm_is_brought_in_warm_and_repaired(): void
    {
        $trial = new Trial(Boards::modes(), Boards::parts(), Boards::steps(), self::table(), new LogicShelf);
        $case = $trial->run(Boards::shipped('larkspur-64'), 4, 1, 'zap', faults: [new InjectedFault(FaultKind::ReadsHigh, 'U14', whenWarm: true)]);

        self::assertTrue($case->revived, implode("\n", $case->steps));
        self::assertSame(0, $case->goodSoldered);
    }
}
