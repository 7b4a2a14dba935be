<?php

declare(strict_types=1);

namespace Tests\Core\Reasoning;

use PHPUnit\Framework\Attributes\TestWith;
use PHPUnit\Framework\TestCase;
use Tests\Support\Bench;
use Tests\Support\Boards;
use Tests\Support\SickBench;
use ZapTrace\Bench\Apprentice;
use ZapTrace\Bench\FaultKind;
use ZapTrace\Bench\InjectedFault;
use ZapTrace\Problems\InputRejected;
use ZapTrace\Problems\Problem;
use ZapTrace\Reasoning\Equipment;
use ZapTrace\Reasoning\ProofPlan;
use ZapTrace\Reasoning\School;
use ZapTrace\Reasoning\Workbench;
use ZapTrace\Signals\ContinuityPlan;

/**
 * Where a part was unsoldered each pin is measured, before anything else and before anything is called proved. Common
 * practice.
 */
final class PinsMeasuredTest extends TestCase
{
    private static function replaced(string $result = 'as-before'): Bench
    {
        return Bench::with('halyard-16')->note('sign blank')->record('intervention', ['action' => 'replace', 'site' => 'U64', 'result' => $result]);
    }

    private static function proof(Bench $bench): ProofPlan
    {
        return $bench->assess()->outlook(Boards::shipped('halyard-16'), 0.95)->proof ?? self::fail('There is always a plan.');
    }

    public function test_what_was_unsoldered_is_measured_first(): void
    {
        $steps = self::replaced()->steps();

        self::assertSame('pins U64', $steps[0]->key());
        self::assertStringContainsString('measure each leg of U64', $steps[0]->sentence);
        self::assertSame(['kind' => 'pins-measured', 'payload' => ['chip' => 'U64', 'open' => []]], $steps[0]->outcomes[0]['observation']);
        self::assertNotContains('pins U64', self::replaced()->record('pins-measured', ['chip' => 'U64', 'open' => []])->proposed());
        self::assertNotSame('pins U64', self::replaced()->record('set-aside', ['action' => 'pins', 'site' => 'U64', 'reason' => 'no-tool'])->proposed()[0]);
    }

    public function test_it_is_asked_of_those_who_have_a_meter_and_says_how_likely_it_is(): void
    {
        $without = array_values(array_filter(Workbench::usual()->equipment, static fn (Equipment $each): bool => $each !== Equipment::Meter));
        self::assertNotContains('pins U64', self::replaced()->proposed(new Workbench(School::MeasureFirst, $without, [])));

        [$whole, $torn] = array_column(self::replaced()->steps()[0]->outcomes, 'chance');
        self::assertEqualsWithDelta(1.0, $whole + $torn, 1e-9);
        self::assertGreaterThan(0.5, $whole);
    }

    public function test_a_part_in_a_socket_is_not_asked_about(): void
    {
        $bench = Bench::with('halyard-16')->note('sign blank')->record('intervention', ['action' => 'exchange', 'site' => 'U1', 'result' => 'as-before']);

        self::assertNotContains('pins U1', $bench->proposed());
        self::assertSame([], self::proof($bench)->unmeasured);
    }

    public function test_nothing_is_proved_before_its_pins_were_measured(): void
    {
        $cured = self::replaced('cured');
        foreach (Boards::shipped('halyard-16')->functions as $function) {
            $cured = $cured->record('function-test', ['function' => $function->id, 'result' => 'works']);
        }
        $cured = $cured->record('power-ons', ['clean' => 30]);

        self::assertSame(['U64'], self::proof($cured)->unmeasured);
        self::assertFalse(self::proof($cured)->isProved());
        $measured = $cured->record('pins-measured', ['chip' => 'U64', 'open' => []]);
        self::assertSame([], self::proof($measured)->unmeasured);
        self::assertTrue(self::proof($measured)->isProved());
    }

    public function test_pin_by_pin_counts_as_well_and_what_was_measured_before_does_not(): void
    {
        $bench = self::replaced();
        $list = ContinuityPlan::afterRemoval(Boards::shipped('halyard-16'), 'U64');
        foreach ($list as $place => $each) {
            self::assertSame(['U64'], self::proof($bench)->unmeasured, "{$place} of ".count($list));
            $bench = $bench->record('continuity', ['from' => $each['to'], 'to' => $each['pin'], 'result' => 'closed']);
        }
        self::assertSame([], self::proof($bench)->unmeasured);

        $before = Bench::with('halyard-16')->note('sign blank')->record('pins-measured', ['chip' => 'U64', 'open' => []])->record('intervention', ['action' => 'replace', 'site' => 'U64', 'result' => 'as-before']);
        self::assertSame(['U64'], self::proof($before)->unmeasured);
    }

    public function test_an_open_pin_names_the_trace_and_whole_ones_clear_the_place(): void
    {
        $bench = self::replaced();
        $torn = $bench->record('pins-measured', ['chip' => 'U64', 'open' => ['U64.2']]);
        $whole = $bench->record('pins-measured', ['chip' => 'U64', 'open' => []]);
        $at = static fn (Bench $bench): float => $bench->share('traces at U64') + $bench->share('A9');
        $tear = static fn (Bench $bench): float => array_sum(array_filter($bench->assess()->conclusion->posterior->faults, static fn (string $fault): bool => str_starts_with($fault, 'traces at U64/'), ARRAY_FILTER_USE_KEY));

        self::assertGreaterThan(0.9, $at($torn));
        self::assertSame('Fit a wire from U64.2 to U3.25, and try it.', $torn->steps()[0]->sentence);
        self::assertNotSame('wire U64', $torn->record('intervention', ['action' => 'wire', 'site' => 'U64', 'result' => 'as-before'])->proposed()[0]);
        self::assertNotSame('wire U64', $torn->record('intervention', ['action' => 'wire', 'site' => 'A9', 'result' => 'as-before'])->proposed()[0]);
        self::assertFalse(self::proof($torn)->isProved());
        self::assertSame(['U64'], array_keys(self::proof($torn)->open));
        self::assertLessThan(0.2 * $tear($bench), $tear($whole));
        self::assertEqualsWithDelta($bench->share('U64'), $whole->share('U64'), 0.05, 'It says nothing of the part.');
    }

    public function test_the_instrument_finds_what_the_iron_tore_off(): void
    {
        $sick = SickBench::with('halyard-16', new InjectedFault(FaultKind::OpenTrace, 'A9', 'U64.2'));

        self::assertSame(['chip' => 'U64', 'open' => ['U64.2']], (new Apprentice($sick))->pinsOf('U64')['payload']);
        self::assertSame([], (new Apprentice($sick))->pinsOf('U60')['payload']['open']);
    }

    #[TestWith(['U999', [], 'U999'])]
    #[TestWith(['U64', ['U60.1'], 'U60.1 is not a pin of U64.'])]
    #[TestWith(['U64', ['U64.99', 'U60.1'], 'no pin 99'])]
    #[TestWith(['U64', ['U64.9'], 'U64.9 goes nowhere else'])]
    public function test_what_is_wrong_with_it_is_said(string $chip, array $open, string $words): void
    {
        try {
            $assessment = Bench::with('halyard-16')->record('pins-measured', ['chip' => $chip, 'open' => $open])->assess();
            self::assertStringContainsString($words, implode(' ', $assessment->unreadable));
        } catch (InputRejected $rejected) {
            self::assertStringContainsString($words, implode(' ', array_map(static fn (Problem $problem): string => $problem->sentence, $rejected->problems)));
        }
    }
}
