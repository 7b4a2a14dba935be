<?php

declare(strict_types=1);

namespace Tests\Core\Reasoning;

use PHPUnit\Framework\TestCase;
use Tests\Support\Bench;
use Tests\Support\SickBench;
use ZapTrace\Bench\Apprentice;
use ZapTrace\Bench\FaultKind;
use ZapTrace\Bench\InjectedFault;
use ZapTrace\Reasoning\Equipment;
use ZapTrace\Reasoning\School;
use ZapTrace\Reasoning\Step;
use ZapTrace\Reasoning\Workbench;
use ZapTrace\Signals\Situation;

/**
 * What was seen is so again as long as nothing but contacts was tried, and none of those was at fault.
 */
final class SeenAgainTest extends TestCase
{
    private static function step(Bench $bench, string $key): ?Step
    {
        return array_values(array_filter($bench->steps(), static fn (Step $step): bool => $step->key() === $key))[0] ?? null;
    }

    public function test_going_nowhere_again_after_a_contact_was_tried_says_nothing_new(): void
    {
        $before = Bench::with('larkspur-64')->note('sign blank', 'count nothing', 'reseat lk1 same');
        $after = $before->note('count nothing', 'reseat lk2 same', 'count nothing');

        foreach (array_slice($before->assess()->conclusion->suspects(), 0, 12) as $suspect) {
            self::assertEqualsWithDelta($suspect->share, $after->share($suspect->site), 0.25 * $suspect->share + 0.01, $suspect->site);
        }
    }

    public function test_a_run_is_not_made_again_because_a_contact_was_tried(): void
    {
        $first = self::step(Bench::with('larkspur-64')->note('sign blank'), 'run test-rom');
        $again = self::step(Bench::with('larkspur-64')->note('sign blank', 'count nothing', 'reseat u17 same'), 'run test-rom');

        self::assertGreaterThan(1.0, $first->bits ?? 0.0);
        self::assertLessThan(0.25, $again->bits ?? 0.0);
        self::assertGreaterThan(0.85, max(array_column($again->outcomes ?? [], 'chance')));
    }

    public function test_where_that_mended_a_leg_it_is_run_again_at_once(): void
    {
        $open = ['from' => 'U3.7', 'to' => 'U17.1', 'result' => 'open'];
        $mended = Bench::with('larkspur-64')->note('sign blank', 'count nothing')->record('continuity', $open)->note('reseat u17 same')->record('continuity', ['result' => 'closed'] + $open);

        $run = self::step($mended, 'run test-rom');
        self::assertGreaterThan(0.0, $run->saves ?? -1.0);
        self::assertContains('run test-rom', array_slice($mended->proposed(), 0, 2));
    }

    public function test_a_recording_and_a_blank_screen_stand_after_a_contact_was_tried_and_the_complaint_is_as_it_was(): void
    {
        $all = new Workbench(School::MeasureFirst, [...Workbench::usual()->equipment, Equipment::Analyser]);
        $seen = Bench::with('larkspur-64')->note('sign blank', 'count nothing')->record('bus-capture', SickBench::with('larkspur-64', new InjectedFault(FaultKind::OutputLow, 'U3.7'))->bus());

        foreach (['reseat lk1 same' => false, 'reseat lk1 better' => true] as $line => $again) {
            $proposed = implode(', ', $seen->note($line)->proposed($all));
            self::assertSame($again, str_contains($proposed, 'watch clean-banner') || str_contains($proposed, 'capture U1'), "{$line}: {$proposed}");
        }
    }

    public function test_banks_that_were_read_and_are_wrong_alike_are_not_read_again(): void
    {
        $sick = SickBench::with('tamarisk-two', new InjectedFault(FaultKind::Dead, 'U13'));
        $read = Bench::with('tamarisk-two')->note('sign clean-banner')->read(SickBench::swept($sick, '0'))->read(SickBench::swept($sick, '1'));

        self::assertSame([], array_intersect(['read bank 0', 'read bank 1'], $read->proposed()));
        self::assertContains('read bank screen', $read->proposed());
    }

    public function test_a_programme_that_passes_however_often_clears_what_serves_memory_once(): void
    {
        $sick = SickBench::with('larkspur-64', new InjectedFault(FaultKind::BadContact, 'U17.5'));
        $walked = (new Apprentice($sick))->walked('U17', Situation::FreeRun)['payload'];
        $passed = Bench::with('larkspur-64')->note('sign blank', 'count pass', 'reseat u2 same', 'count pass', 'exchange u2 same', 'count pass')->record('bus-capture', $sick->bus())->record('pin-walk', $walked);

        self::assertSame('PHI2 is silent at U17.5', substr(array_values(array_filter($passed->assess()->conclusion->evidence, static fn ($seen): bool => str_starts_with($seen->words, 'PHI2 is silent')))[0]->words ?? '', 0, 23));
        self::assertSame('continuity PHI2', $passed->proposed()[0], 'Silent where it should pulse: the trace that leads there is measured.');
        self::assertGreaterThan(0.15, $passed->share('PHI2'));
    }
}
