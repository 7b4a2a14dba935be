<?php

declare(strict_types=1);

namespace Tests\Core\Reasoning;

use PHPUnit\Framework\TestCase;
use Tests\Support\Bench;
use Tests\Support\Boards;
use Tests\Support\SickBench;
use ZapTrace\Bench\Apprentice;
use ZapTrace\Bench\FaultKind;
use ZapTrace\Bench\InjectedFault;
use ZapTrace\Bench\SimulatedBench;
use ZapTrace\Reasoning\Step;
use ZapTrace\Signals\Expectations;
use ZapTrace\Signals\ProbeState;
use ZapTrace\Signals\Situation;
use ZapTrace\Signals\Structure;

/**
 * A machine that is never reset stands as it happened; its reset lines are right all the time, but while the button is
 * held. Common practice.
 */
final class NeverResetTest extends TestCase
{
    public function test_the_way_of_the_reset_is_read_from_the_netlist(): void
    {
        foreach (['halyard-16' => ['POR', 'RST', '/RESET', '/HALT'], 'tamarisk-two' => ['POR', 'RST', '/RESET'], 'larkspur-64' => ['POR', '/RESET']] as $slug => $way) {
            $structure = Structure::of(Boards::shipped($slug));
            $found = array_keys(array_filter(Boards::shipped($slug)->netlist->nets, $structure->isResetLine(...)));

            self::assertSame([], array_diff($way, $found), $slug);
            self::assertNotContains('D0', $found);
            self::assertLessThanOrEqual(6, count($found));
        }
    }

    public function test_the_line_of_the_button_is_low_while_it_is_held_whatever_pulls_it_up(): void
    {
        $expectations = new Expectations(Boards::shipped('tamarisk-two'));

        self::assertSame(ProbeState::Low, $expectations->at('U9.1', Situation::Reset)['state']);
        self::assertSame(ProbeState::High, $expectations->at('U9.1', Situation::FreeRun)['state']);
    }

    public function test_what_is_right_in_a_free_run_is_touched_again_while_reset_is_held(): void
    {
        [$bench, $apprentice] = self::stuck();
        // What else the machine runs by was measured before.
        foreach (['U6.1', 'U6.2', 'U6.3', 'U1.15', 'U1.10'] as $pin) {
            $bench = $bench->record('probe', $apprentice->probed($pin, Situation::FreeRun)['payload']);
        }
        $bench = $bench->record('pin-walk', $apprentice->walked('U7', Situation::FreeRun)['payload'])->record('pin-walk', $apprentice->walked('U6', Situation::FreeRun)['payload']);
        self::assertSame('free-run', self::situation($bench, 'probe U1.18'));

        $right = $bench->record('probe', $apprentice->probed('U1.18', Situation::FreeRun)['payload']);
        self::assertSame('reset', self::situation($right, 'probe U1.18'));

        $wrong = $right->record('probe', $apprentice->probed('U1.18', Situation::Reset)['payload']);
        self::assertNotContains('probe U1.18', $wrong->proposed());
        self::assertSame('reset', self::situation($wrong, 'probe U56.1'));
        self::assertNotContains('fix /RESET', array_slice($wrong->proposed(), 0, 5), 'No looking for a splash of solder before what drives it was touched.');

        $walked = $wrong->record('pin-walk', $apprentice->walked('U57', Situation::Reset)['payload'])->record('pin-walk', $apprentice->walked('U56', Situation::Reset)['payload']);
        self::assertSame('U57', $walked->leading());
    }

    public function test_a_reset_that_is_held_explains_all_that_stands_still(): void
    {
        // U37.3 pulls the line of the button, which nothing but a resistor holds up.
        $sick = SickBench::with('larkspur-64', new InjectedFault(FaultKind::HoldsLow, 'U37.3', 'POR'));
        $apprentice = new Apprentice($sick);
        $bench = Bench::with('larkspur-64')->note('sign blank', 'count nothing')->read(SickBench::swept($sick, '0'));
        foreach (['U1.37', 'J3.33', 'U37.3'] as $pin) {
            $bench = $bench->record('probe', $apprentice->probed($pin, Situation::FreeRun)['payload']);
        }
        $bench = $bench->record('pin-walk', $apprentice->walked('U17', Situation::FreeRun)['payload']);

        self::assertGreaterThan(0.7, $bench->share('POR') + $bench->share('U37'), 'No address moves, and no data line, because reset is held.');
        self::assertLessThan(0.1, $bench->share('U1'));

        // What holds the trace was looked for, and it is as before: then it is the input.
        $still = $bench->record('intervention', ['action' => 'fix', 'site' => 'POR', 'result' => 'as-before'])->record('probe', $apprentice->probed('U37.3', Situation::FreeRun)['payload']);
        self::assertSame('U37', $still->leading());
        self::assertGreaterThan(0.8, $still->share('U37'));
    }

    public function test_memory_that_reads_ones_is_laid_to_a_reset_that_is_held_and_not_to_its_buffer(): void
    {
        $sick = SickBench::with('tamarisk-two', new InjectedFault(FaultKind::OutputHigh, 'U9.2'), new InjectedFault(FaultKind::ReadsHigh, 'U37'));
        $bench = Bench::with('tamarisk-two')->note('sign blank', 'count nothing')->read(SickBench::swept($sick, '0'))->record('pin-walk', (new Apprentice($sick))->walked('U9', Situation::FreeRun)['payload']);
        self::assertSame('U9', $bench->leading());
        self::assertLessThan(0.1, $bench->share('U14'));

        // Once that is repaired, a bit that is wrong is a bit.
        $sick->do('replace', 'U9');
        $after = $bench->record('intervention', ['action' => 'replace', 'site' => 'U9', 'result' => 'as-before'])->record('bus-capture', $sick->bus());
        self::assertSame('U37', $after->leading());
        self::assertLessThan(0.3, $after->share('U14') + $after->share('U10'));
    }

    public function test_a_trace_of_the_reset_or_the_clock_stops_the_reading_of_memory_where_it_is_cut(): void
    {
        $faults = [];
        $sick = SickBench::with('tamarisk-two', new InjectedFault(FaultKind::OutputHigh, 'U9.2'));
        $bench = Bench::with('tamarisk-two')->note('sign blank')->read(SickBench::swept($sick, '0'))->record('bus-capture', $sick->bus());
        foreach ($bench->assess()->conclusion->suspected as $fault) {
            $faults[$fault->id] = $fault->mode->shows['high'] ?? 0.0;
        }
        foreach (['/RESET/open before U1.26', '/RESET/open at U9.4', 'RST/open at U9.3', 'CLK/open before U1.6', '/RESET/held or shorted'] as $id) {
            self::assertEqualsWithDelta(0.5, $faults[$id] ?? null, 0.001, $id);
        }
        self::assertSame(0.0, $faults['RST/open at U4.35'] ?? 0.0, 'That leg resets a port, not the processor.');
    }

    /**
     * An output in the way of the reset is stuck where it stands when the machine runs.
     *
     * @return array{Bench, Apprentice}
     */
    private static function stuck(): array
    {
        $sick = self::bench();

        return [Bench::with('halyard-16')->note('sign blank')->record('diagnostic-run', ['diagnostic' => 'start-up', 'result' => 'nothing'])->record('bus-capture', $sick->bus()), new Apprentice($sick)];
    }

    private static function bench(): SimulatedBench
    {
        return SickBench::with('halyard-16', new InjectedFault(FaultKind::OutputLow, 'U57.2'));
    }

    private static function situation(Bench $bench, string $key): string
    {
        foreach ($bench->steps() as $step) {
            if (trim($step->key()) === $key) {
                return self::foreseen($step);
            }
        }
        self::fail("{$key} is not proposed: ".implode(', ', $bench->proposed()));
    }

    private static function foreseen(Step $step): string
    {
        $situation = $step->outcomes[0]['observation']['payload']['situation'] ?? '';

        return is_string($situation) ? $situation : '';
    }

    public function test_a_pin_that_follows_what_feeds_it_is_not_asked_for_again(): void
    {
        $sick = SickBench::with('tamarisk-two', new InjectedFault(FaultKind::OutputHigh, 'U9.2'));
        $apprentice = new Apprentice($sick);
        $bench = Bench::with('tamarisk-two')->note('sign blank')->record('diagnostic-run', ['diagnostic' => 'plug-in', 'result' => 'nothing'])->record('bus-capture', $sick->bus());
        foreach (['U16.1', 'U1.21', 'J2.29'] as $pin) {
            $bench = $bench->record('probe', $apprentice->probed($pin, Situation::FreeRun)['payload']);
        }

        self::assertSame([], array_values(array_intersect(['probe U16.1', 'probe U1.21'], $bench->proposed())));
        $said = array_map(static fn ($seen): string => $seen->words, $bench->assess()->conclusion->evidence);
        self::assertContains('U16.1 is high, and so is not right what it goes by', $said);
    }
}
