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
            $structure = new Structure(Boards::shipped($slug));
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
