<?php

declare(strict_types=1);

namespace Tests\Core\Reasoning;

use PHPUnit\Framework\TestCase;
use Tests\Support\Boards;
use ZapTrace\Formats\JsonNode;
use ZapTrace\Numbers\Radix;
use ZapTrace\Observations\Assessment;
use ZapTrace\Observations\Interpreters;
use ZapTrace\Observations\NoAttachments;
use ZapTrace\Observations\Observation;
use ZapTrace\Reasoning\Equipment;
use ZapTrace\Reasoning\Reason;
use ZapTrace\Reasoning\School;
use ZapTrace\Reasoning\Step;
use ZapTrace\Reasoning\StepAdvisor;
use ZapTrace\Reasoning\Suspect;
use ZapTrace\Reasoning\Workbench;

/**
 * What is done to a machine, and what the complaint does then, weighed with what memory returned. Common practice.
 */
final class RepairTest extends TestCase
{
    private const STUCK = "6C00 00 20\n6C01 0F 2F\n7000 00 20\n7001 FF FF";

    public function test_a_fault_that_went_with_the_part_leaves_nothing_to_suspect(): void
    {
        $assessment = $this->assess('larkspur-64', ['readings' => self::STUCK], ['exchange', 'U14', 'cured']);

        self::assertGreaterThan(0.95, $assessment->conclusion->cured()['U14']);
        self::assertGreaterThan(0.9, $assessment->conclusion->nothingLeft());
        self::assertSame(0.0, $this->share($assessment, 'U14'), 'What is in there now is another part.');
    }

    public function test_a_fault_that_stayed_with_the_machine_turns_to_the_line_and_its_buffer(): void
    {
        $before = $this->assess('larkspur-64', ['readings' => self::STUCK]);
        $after = $this->assess('larkspur-64', ['readings' => self::STUCK], ['replace', 'U14', 'as-before']);

        self::assertSame('U14', $before->conclusion->suspects()[0]->site);
        self::assertContains($after->conclusion->suspects()[0]->site, ['U14.14', 'D5', 'U4']);
        self::assertGreaterThan(3 * $this->share($before, 'D5'), $this->share($after, 'D5'));
    }

    public function test_reading_well_after_the_exchange_says_as_much_as_the_complaint(): void
    {
        $assessment = $this->assess('larkspur-64', ['readings' => self::STUCK], ['exchange', 'U14', null], ['readings' => "6C00 00 00\n7000 00 00\n7001 FF FF\n7100 00 00"]);

        self::assertGreaterThan(0.9, $assessment->conclusion->cured()['U14']);
        self::assertSame(4, $assessment->memory->readings, 'Shown is what the machine as it stands returned.');
        self::assertLessThan(0.02, $this->share($assessment, 'U4'));
    }

    public function test_another_bit_after_the_first_chip_is_a_second_bad_chip(): void
    {
        $assessment = $this->assess('larkspur-64', ['readings' => self::STUCK], ['replace', 'U14', 'different'], ['readings' => "6C00 00 01\n7000 00 01\n7100 00 01"]);

        self::assertSame('U9', $assessment->conclusion->suspects()[0]->site);
        self::assertGreaterThan(0.8, $assessment->conclusion->cured()['U14']);
    }

    public function test_a_piggyback_without_change_is_weak_evidence_and_speaks_for_a_hard_driven_output(): void
    {
        $before = $this->assess('larkspur-64', ['readings' => self::STUCK]);
        $after = $this->assess('larkspur-64', ['readings' => self::STUCK], ['piggyback', 'U14', 'as-before']);

        self::assertSame('U14', $after->conclusion->suspects()[0]->site);
        self::assertGreaterThan(0.6 * $this->share($before, 'U14'), $this->share($after, 'U14'));
        self::assertGreaterThan(2 * $after->conclusion->posterior->faults['U14/dead'], $after->conclusion->posterior->faults['U14/output stuck high']);
        self::assertSame([], $after->now->done, 'The chip on top comes off again.');
    }

    public function test_reseating_that_cures_means_the_contact(): void
    {
        $assessment = $this->assess('halyard-16', ['readings' => "80000 0000 00F0\n80002 0000 00F0"], ['reseat', 'U81', 'cured']);

        self::assertGreaterThan(0.7, $assessment->conclusion->posterior->faults['U81/bad contact']);
    }

    public function test_the_original_put_back_without_the_fault_was_never_bad(): void
    {
        $exchanged = $this->assess('halyard-16', ['readings' => "80000 0000 00F0\n80002 0000 00F0"], ['exchange', 'U81', 'cured']);
        $refitted = $this->assess('halyard-16', ['readings' => "80000 0000 00F0\n80002 0000 00F0"], ['exchange', 'U81', 'cured'], ['refit', 'U81', 'as-before']);

        self::assertGreaterThan(0.9, $exchanged->conclusion->cured()['U81']);
        self::assertGreaterThan(0.9, $this->share($refitted, 'U81'), 'The fault came back with the part.');
    }

    public function test_withdrawing_gives_exactly_the_answer_of_never_having_done_it(): void
    {
        // An assessment is a function of the standing observations and of nothing else.
        $never = $this->assess('larkspur-64', ['readings' => self::STUCK]);
        $this->assess('larkspur-64', ['readings' => self::STUCK], ['exchange', 'U14', 'as-before']);

        self::assertEquals($never->conclusion->posterior, $this->assess('larkspur-64', ['readings' => self::STUCK])->conclusion->posterior);
    }

    public function test_that_the_machine_is_sick_points_at_nobody_yet(): void
    {
        self::assertSame([], $this->assess('larkspur-64')->conclusion->suspects());
    }

    public function test_a_single_reading_is_repeated_before_anything_is_taken_apart(): void
    {
        $step = $this->steps($this->assess('larkspur-64', ['readings' => '6C00 00 20']))[0];

        self::assertContains($step->action, ['read', 'run']);
        self::assertSame('none', $step->risk);
        foreach ($this->steps($this->assess('larkspur-64', ['readings' => '6C00 00 20'])) as $step) {
            self::assertNotSame('heat', $step->risk, 'Never solder on one unrepeated reading.');
        }
    }

    public function test_the_other_bank_is_asked_before_a_chip_comes_out(): void
    {
        $step = $this->steps($this->assess('tamarisk-two', ['readings' => "4000 00 20\n4001 0F 2F\n4100 00 20"]))[0];

        self::assertSame('read', $step->action);
        self::assertGreaterThan(0.0, $step->saves);
        self::assertStringContainsString('buffer', $step->tells);
    }

    public function test_the_link_is_looked_at_before_the_select_is_replaced(): void
    {
        $steps = $this->steps($this->assess('tamarisk-two', ['readings' => "8000 00 FF\n8001 55 FF\n8002 AA FF\n4000 00 00\n4001 55 55"]));

        $worked = array_values(array_filter($steps, static fn (Step $step): bool => in_array($step->action, ['reseat', 'set', 'exchange', 'replace', 'wire', 'fix'], true)));
        self::assertSame('LK1', $worked[0]->site);
        self::assertContains('replace', array_column($worked, 'action'));
    }

    public function test_a_regulator_is_measured_before_it_is_replaced(): void
    {
        $steps = $this->steps($this->assess('halyard-16', ['readings' => "1000 00 08\n1002 00 00\n1004 00 08\n1006 00 00\n1001 00 10\n1003 00 00\n1005 00 10\n1007 00 00"]));
        $supply = array_values(array_filter($steps, static fn (Step $step): bool => $step->site === 'VR1'));

        self::assertStringStartsWith('Measure what VR1 gives', $supply[0]->sentence);
    }

    public function test_when_nothing_else_can_tell_the_likeliest_chip_is_replaced(): void
    {
        $first = fn (Equipment ...$has): Step => StepAdvisor::usual(Boards::modes(), Boards::parts(), Boards::steps())->steps($this->assess('larkspur-64', ['readings' => self::STUCK], ['run' => '6', 'times' => 2])->conclusion, new Workbench(School::MeasureFirst, [Equipment::Tester, Equipment::Diagnostic, Equipment::SolderingStation, ...$has]))[0];
        $step = $first();

        self::assertSame(['replace', 'U14', 'heat'], [$step->action, $step->site, $step->risk]);
        self::assertSame('continuity U14.14', $first(Equipment::Meter)->key(), 'With a meter its line is measured before it comes out.');
        self::assertContains('solder', array_map(static fn (\ZapTrace\Reasoning\Caution $caution): string => $caution->kind, $step->cautions), 'Fume and lead are told where the iron is used.');
        self::assertEqualsWithDelta(1.0, array_sum(array_column($step->outcomes, 'chance')), 1e-9);
    }

    public function test_after_a_cure_the_repair_is_to_be_proved(): void
    {
        self::assertSame('prove', $this->steps($this->assess('larkspur-64', ['readings' => self::STUCK], ['replace', 'U14', 'cured']))[0]->action);
    }

    public function test_a_tester_that_fails_the_removed_chip_confirms_it_and_one_that_passes_says_little(): void
    {
        $before = $this->assess('larkspur-64', ['readings' => self::STUCK]);
        $fails = $this->assess('larkspur-64', ['readings' => self::STUCK], ['tester' => 'fail', 'site' => 'U14']);
        $passes = $this->assess('larkspur-64', ['readings' => self::STUCK], ['tester' => 'pass', 'site' => 'U14']);

        self::assertGreaterThan(0.97, $this->share($fails, 'U14'));
        self::assertLessThan($this->share($before, 'U14'), $this->share($passes, 'U14'));
        self::assertGreaterThan(0.3, $this->share($passes, 'U14'), 'A pass does not clear a chip.');
        self::assertGreaterThan($before->conclusion->posterior->faults['U14/bad contact'], $passes->conclusion->posterior->faults['U14/bad contact']);
    }

    public function test_a_complaint_that_moves_on_and_a_removed_chip_that_passes_its_own_test_speak_for_bad_drive(): void
    {
        // Two readings of "another bit now": a second bad chip, or good chips driven badly. The removed chip decides.
        $moved = [['readings' => self::STUCK], ['replace', 'U14', 'different'], ['readings' => "6C00 00 01\n7000 00 01\n7100 00 01"]];
        $bad = $this->assess('larkspur-64', ...[...$moved, ['tester' => 'fail', 'site' => 'U14']]);
        $good = $this->assess('larkspur-64', ...[...$moved, ['tester' => 'pass', 'site' => 'U14']]);

        self::assertGreaterThan(0.95, $bad->conclusion->cured()['U14']);
        self::assertSame('U9', $bad->conclusion->suspects()[0]->site);
        self::assertLessThan($bad->conclusion->cured()['U14'], $good->conclusion->cured()['U14']);
        self::assertGreaterThan(2 * $this->share($bad, 'U18'), $this->share($good, 'U18'), 'The strobes drive good chips badly.');
    }

    public function test_a_count_names_a_bit_and_its_chip_and_a_second_run_alike_makes_it_surer(): void
    {
        $once = $this->assess('larkspur-64', ['run' => '3', 'times' => 1]);
        $twice = $this->assess('larkspur-64', ['run' => '3', 'times' => 2]);

        self::assertSame('U11', $once->conclusion->suspects()[0]->site);
        self::assertGreaterThan($this->share($once, 'U11'), $this->share($twice, 'U11'));
        self::assertSame('read', $this->steps($once)[0]->action, 'Two of two alike is a result; one is not.');
    }

    public function test_a_slip_of_one_is_kept_in_mind_and_readings_settle_it(): void
    {
        $once = $this->assess('larkspur-64', ['run' => '3', 'times' => 1]);
        foreach (['U10', 'U12'] as $neighbour) {
            self::assertGreaterThan(1.2 * $this->share($once, 'U15'), $this->share($once, $neighbour), 'A neighbour by number is likelier than another chip.');
        }
        $twice = $this->assess('larkspur-64', ['run' => '3', 'times' => 2]);
        self::assertLessThan(0.8 * $this->share($once, 'U12') / $this->share($once, 'U11'), $this->share($twice, 'U12') / $this->share($twice, 'U11'), 'A slip that comes twice is rare.');

        $read = $this->assess('larkspur-64', ['run' => '3', 'times' => 1], ['readings' => "1000 00 08\n1001 FF FF\n2000 00 08\n2001 55 5D\n3000 AA AA"]);
        self::assertSame('U12', $read->conclusion->suspects()[0]->site);
        self::assertLessThan(0.1, $this->share($read, 'U11'));
        self::assertSame(['3 is one off from U12, which everything else makes likelier than U11: count again.'], $read->notices);
        self::assertSame([], $once->notices);
    }

    public function test_equal_runs_under_one_table_leave_the_table_suspect(): void
    {
        $two = $this->assess('larkspur-64', ['run' => '3', 'times' => 2]);
        $fifty = $this->assess('larkspur-64', ['run' => '3', 'times' => 50]);
        $site = 'table of the test ROM';

        self::assertGreaterThan(0.03, $this->share($two, $site), 'A wrong table is as likely as before: about 5 %.');
        self::assertGreaterThan(0.9 * $this->share($two, $site), $this->share($fifty, $site), 'Fifty equal runs say no more of the table than two.');

        $read = $this->assess('larkspur-64', ['run' => '3', 'times' => 2], ['readings' => "6C00 00 20\n6C01 0F 2F\n7000 00 20\n7001 FF FF"]);
        self::assertSame('U14', $read->conclusion->suspects()[0]->site);
        self::assertGreaterThan(0.3, $this->share($read, $site), 'The table names another chip than the memory shows.');
    }

    public function test_a_pass_clears_nothing_outside_what_it_covers(): void
    {
        // The test ROM covers 0000 to 3FFF only: cells above stay as suspect as they were.
        $reading = ['readings' => "C000 00 08\nC001 00 00\n4000 00 00\n5000 00 00\n6000 00 00"];
        $before = $this->assess('larkspur-64', $reading);
        $after = $this->assess('larkspur-64', $reading, ['run' => 'pass', 'times' => 2]);

        self::assertSame('U12', $after->conclusion->suspects()[0]->site);
        self::assertGreaterThan(0.5 * $before->conclusion->posterior->faults['U12/cells'], $after->conclusion->posterior->faults['U12/cells']);
    }

    public function test_a_pass_of_what_it_covers_speaks_against_a_stuck_output(): void
    {
        $before = $this->assess('larkspur-64', ['readings' => '6C00 00 20']);
        $after = $this->assess('larkspur-64', ['readings' => '6C00 00 20'], ['run' => 'pass', 'times' => 2]);

        self::assertLessThan(0.7 * $before->conclusion->posterior->faults['U14/output stuck high'], $after->conclusion->posterior->faults['U14/output stuck high']);
        $against = array_filter($after->conclusion->reasons('U14'), static fn (Reason $reason): bool => str_contains($reason->words, 'passed') && $reason->decibans < -1.0);
        self::assertCount(1, $against);
    }

    public function test_runs_that_change_are_of_little_worth(): void
    {
        $steady = $this->assess('larkspur-64', ['run' => '3', 'times' => 3]);
        $unsteady = $this->assess('larkspur-64', ['run' => '3', 'times' => 1], ['run' => '6', 'times' => 1], ['run' => '1', 'times' => 1]);

        self::assertLessThan(0.7 * $this->share($steady, 'U11'), $this->share($unsteady, 'U11'));
    }

    /**
     * @param  array{readings: string}|array{run: string, times: int}|array{tester: string, site: string}|array{string, string, string|null}  ...$happened
     */
    private function assess(string $slug, array ...$happened): Assessment
    {
        $observations = [];
        foreach (array_values($happened) as $number => $event) {
            if (isset($event['tester'])) {
                $observations[] = new Observation("o{$number}", 'chip-test', JsonNode::of((object) ['site' => $event['site'], 'result' => $event['tester']]));

                continue;
            }
            $observations[] = isset($event['run'])
                ? new Observation("o{$number}", 'diagnostic-run', JsonNode::of((object) ['diagnostic' => Boards::shipped($slug)->diagnostics[0]->id, 'result' => $event['run'], 'times' => $event['times']]))
                : (isset($event['readings'])
                ? new Observation("o{$number}", 'memory-readings', JsonNode::of((object) ['text' => $event['readings'], 'radix' => 16]))
                : new Observation("o{$number}", 'intervention', JsonNode::of((object) array_filter(['action' => $event[0], 'site' => $event[1], 'result' => $event[2]]))));
        }

        return Assessment::of(Boards::shipped($slug), Radix::Hexadecimal, $observations, Interpreters::all(), new NoAttachments, Boards::modes());
    }

    private function share(Assessment $assessment, string $site): float
    {
        $suspects = array_values(array_filter($assessment->conclusion->suspects(), static fn (Suspect $suspect): bool => $suspect->site === $site));

        return $suspects[0]->share ?? 0.0;
    }

    /**
     * @return list<Step>
     */
    private function steps(Assessment $assessment): array
    {
        return StepAdvisor::usual(Boards::modes(), Boards::parts(), Boards::steps())->steps($assessment->conclusion, Workbench::usual());
    }
}
