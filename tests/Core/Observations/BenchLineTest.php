<?php

declare(strict_types=1);

namespace Tests\Core\Observations;

use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;
use Tests\Support\Boards;
use ZapTrace\Board\Settings;
use ZapTrace\Numbers\Radix;
use ZapTrace\Observations\BenchLine;
use ZapTrace\Observations\Moment;
use ZapTrace\Problems\InputRejected;
use ZapTrace\Reasoning\MachineState;

/**
 * Short notes as a technician types them, and what they are understood as.
 */
final class BenchLineTest extends TestCase
{
    /**
     * @param  array<string, mixed>  $payload
     */
    #[DataProvider('notes')]
    public function test_a_note_is_understood(string $board, string $note, string $kind, array $payload, string $words): void
    {
        $understood = $this->line($board)->understand($note);

        self::assertSame($kind, $understood->kind);
        self::assertEquals($payload, $understood->payload);
        self::assertStringContainsString($words, $understood->words);
    }

    /**
     * @return iterable<string, array{string, string, string, array<string, mixed>, string}>
     */
    public static function notes(): iterable
    {
        yield 'swap' => ['tamarisk-two', 'swap u33 and u34 moved', 'intervention', ['action' => 'swap', 'site' => 'U33', 'with' => 'U34', 'result' => 'moved'], 'U33 swapped with U34: the fault moved with it'];
        yield 'swap that stays' => ['tamarisk-two', 'swap u33 u34 stays', 'intervention', ['action' => 'swap', 'site' => 'U33', 'with' => 'U34', 'result' => 'as-before'], 'as before'];
        yield 'second machine' => ['tamarisk-two', 'second fails', 'second-machine', ['result' => 'fails'], 'The second machine shows the fault'];
        yield 'exchange with it' => ['tamarisk-two', 'exchange u33 second cured fails', 'intervention', ['action' => 'exchange-second', 'site' => 'U33', 'result' => 'cured', 'secondResult' => 'fails'], 'exchanged with the second machine: cured; second machine: shows the fault'];
        yield 'exchange with it, not tried there' => ['tamarisk-two', 'exchange u33 with the second machine same', 'intervention', ['action' => 'exchange-second', 'site' => 'U33', 'result' => 'as-before'], 'as before'];
        yield 'unplug' => ['halyard-16', 'unplug riser cured', 'intervention', ['action' => 'unplug', 'site' => 'riser', 'result' => 'cured'], 'memory riser unplugged: cured'];
        yield 'tested part' => ['tamarisk-two', 'fit u33 tested cured', 'intervention', ['action' => 'replace', 'site' => 'U33', 'tested' => true, 'result' => 'cured'], 'U33 replaced, tested before fitting: cured'];
        yield 'new part' => ['tamarisk-two', 'fit u33 new', 'intervention', ['action' => 'replace', 'site' => 'U33'], 'not tried yet'];
        yield 'tester with its method' => ['tamarisk-two', 'test u33 pass in the static tester', 'chip-test', ['site' => 'u33', 'result' => 'pass', 'method' => 'static tester'], 'The static tester passes U33'];
        yield 'the part fitted since' => ['tamarisk-two', 'test new u33 bad', 'chip-test', ['site' => 'new u33', 'result' => 'fail'], 'fails U33'];
        yield 'a pin' => ['tamarisk-two', 'bridge u33.14 cured', 'intervention', ['action' => 'bridge', 'site' => 'U33.14', 'result' => 'cured'], 'U33.14 bridged: cured'];
        yield 'a condition' => ['tamarisk-two', 'now warm', 'condition', ['condition' => 'warm', 'on' => true], 'Now warmed up'];
        yield 'a diagnostic in' => ['larkspur-64', 'now test-rom', 'condition', ['condition' => 'test-rom', 'on' => true], 'Now test ROM in'];
        yield 'a condition that ends' => ['tamarisk-two', 'not load', 'condition', ['condition' => 'load', 'on' => false], 'No longer under load'];
        yield 'history' => ['tamarisk-two', 'leak u33, u34', 'history', ['fact' => 'leak', 'sites' => ['u33', 'u34']], 'A cell or capacitor leaked near U33, U34'];
        yield 'over-voltage' => ['larkspur-64', 'over-voltage', 'history', ['fact' => 'over-voltage'], 'every chip'];
        yield 'a link and what came of it' => ['tamarisk-two', 'lk1 16k cured', 'setting', ['ref' => 'LK1', 'position' => '16K', 'since' => 'now', 'result' => 'cured'], 'moved to 16K now: cured'];
        yield 'another diagnostic by name' => ['larkspur-64', 'run long-test 24 x2', 'diagnostic-run', ['diagnostic' => 'long-test', 'result' => '24', 'times' => 2], 'mask 24'];
        yield 'no result' => ['larkspur-64', 'count nothing', 'diagnostic-run', ['diagnostic' => 'test-rom', 'result' => 'nothing', 'times' => 1], 'gave no result'];
        yield 'tried afterwards' => ['tamarisk-two', 'tried same', 'tried', ['result' => 'as-before'], 'Tried it: as before'];
        yield 'warming' => ['tamarisk-two', 'warm u33 worse', 'intervention', ['action' => 'warm', 'site' => 'U33', 'result' => 'worse'], 'U33 warmed: worse'];
        yield 'legs of a place' => ['larkspur-64', 'pins u14 ok', 'pins-measured', ['chip' => 'U14', 'open' => []], 'Pins of U14 measured: all connected'];
        yield 'legs that are open' => ['larkspur-64', 'pins u14 open 3, u14.5', 'pins-measured', ['chip' => 'U14', 'open' => ['U14.3', 'U14.5']], 'U14.3, U14.5 open'];
        yield 'all pins touched' => ['larkspur-64', 'walk u5 ok free', 'pin-walk', ['chip' => 'U5', 'situation' => 'free-run'], 'All pins of U5 touched, free run: as they should be'];
        yield 'all pins touched as it runs' => ['larkspur-64', 'walk u5 right', 'pin-walk', ['chip' => 'U5', 'situation' => 'running'], 'U5'];
        yield 'a link set right' => ['tamarisk-two', 'reseat lk1 cured', 'intervention', ['action' => 'reseat', 'site' => 'LK1', 'result' => 'cured'], 'LK1 set right: cured'];
    }

    #[DataProvider('mistakes')]
    public function test_a_mistake_is_told_in_words(string $board, string $note, string $sentence): void
    {
        try {
            $understood = $this->line($board)->understand($note);
            self::fail("It was understood as {$understood->words}.");
        } catch (InputRejected $rejected) {
            self::assertStringContainsString($sentence, $rejected->problems[0]->sentence);
        }
    }

    /**
     * @return iterable<string, array{string, string, string}>
     */
    public static function mistakes(): iterable
    {
        yield 'swap with itself' => ['tamarisk-two', 'swap u33 u33', 'Swap U33 with which other position?'];
        yield 'swap of unlike parts' => ['tamarisk-two', 'swap u33 u14', 'only like parts can change places'];
        yield 'moved without a swap' => ['tamarisk-two', 'exchange u33 moved', 'Only what was swapped can have taken the fault along'];
        yield 'nothing to unplug' => ['larkspur-64', 'unplug u14', 'Nothing on it is.'];
        yield 'something else to unplug' => ['halyard-16', 'unplug u14', 'no chip "u14"'];
        yield 'a leg that is not there' => ['larkspur-64', 'pins u14 open 99', 'U14'];
        yield 'an unknown condition' => ['tamarisk-two', 'now sunny', '"sunny" is no condition. Say cold, warm, load'];
        yield 'history of nothing' => ['tamarisk-two', 'leak', 'Which chips does it concern?'];
        yield 'history of what is not there' => ['tamarisk-two', 'leak u99', 'no chip "u99"'];
        yield 'an unknown method' => ['tamarisk-two', 'test u33 pass in the oven', 'is not a way of testing a chip. Known are chip tester'];
        yield 'a code that is not there' => ['tamarisk-two', 'count 99', 'has no code "99"'];
    }

    public function test_every_form_on_the_card_is_understood_on_some_board(): void
    {
        $understood = 0;
        foreach (BenchLine::FORMS as ['form' => $form]) {
            $words = [];
            foreach (['larkspur-64', 'tamarisk-two', 'halyard-16'] as $board) {
                foreach ([$form, str_replace(['u14', 'u15'], ['u33', 'u34'], $form), str_replace(['u14', 'u3 '], ['u81', 'u80 '], $form)] as $note) {
                    try {
                        $words[] = $this->line($board)->understand($note)->words;
                    } catch (InputRejected) {
                        continue;
                    }
                }
            }
            self::assertNotSame([], $words, $form);
            $understood++;
        }
        self::assertSame(count(BenchLine::FORMS), $understood);
    }

    private function line(string $board): BenchLine
    {
        $profile = Boards::shipped($board);

        return new BenchLine(new Moment($profile, new MachineState(Settings::of($profile)), Radix::Hexadecimal, Boards::modes()));
    }
}
