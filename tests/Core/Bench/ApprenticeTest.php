<?php

declare(strict_types=1);

namespace Tests\Core\Bench;

use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;
use Tests\Support\Bench;
use Tests\Support\Boards;
use Tests\Support\Map;
use Tests\Support\SickBench;
use ZapTrace\Bench\Apprentice;
use ZapTrace\Bench\FaultKind;
use ZapTrace\Bench\InjectedFault;
use ZapTrace\Bench\LogicShelf;
use ZapTrace\Bench\SimulatedBench;
use ZapTrace\Memory\Pattern;
use ZapTrace\Reasoning\Step;

/**
 * What the simulated bench answers to a step, and what it does to the machine.
 */
final class ApprenticeTest extends TestCase
{
    private static function step(Bench $bench, string $key): Step
    {
        foreach ($bench->steps() as $step) {
            if (trim($step->key()) === $key) {
                return $step;
            }
        }
        self::fail("{$key} is not proposed: ".implode(', ', $bench->proposed()));
    }

    public function test_swapped_memory_takes_its_fault_along_and_a_held_line_stays(): void
    {
        $sick = Bench::with('tamarisk-two')->note('sign blank', 'count 2', 'count 2')->read("4100 FF FD\n5000 FF FD");
        $swap = self::step($sick, (string) array_values(array_filter($sick->proposed(), static fn (string $key): bool => str_starts_with($key, 'swap U22')))[0]);
        $with = $swap->outcomes[0]['observation']['payload']['with'] ?? '';

        $bench = SickBench::with('tamarisk-two', new InjectedFault(FaultKind::ReadsLow, 'U22'));
        self::assertSame('moved', (new Apprentice($bench))->take($swap)['payload']['result'] ?? '');
        self::assertSame([$with], array_map(static fn (InjectedFault $fault): string => $fault->at, $bench->left()));
        self::assertSame('as-before', (new Apprentice(SickBench::with('tamarisk-two', new InjectedFault(FaultKind::HoldsLow, 'U22.14'), new InjectedFault(FaultKind::BadContact, 'U22.14'))))->take($swap)['payload']['result'] ?? '');
    }

    public function test_a_fault_moves_with_its_part_to_the_same_pin(): void
    {
        self::assertSame('U24.14', (new InjectedFault(FaultKind::OutputLow, 'U22.14'))->movedTo('U24')->at);
        self::assertSame('U24', (new InjectedFault(FaultKind::Dead, 'U22'))->movedTo('U24')->at);
    }

    public function test_a_bank_read_all_over_shows_bad_cells_and_a_lost_address_line_as_what_they_are(): void
    {
        $sick = Bench::with('tamarisk-two')->note('sign clean-banner')->record('diagnostic-run', ['diagnostic' => 'step-program', 'result' => '0200']);
        $sweep = self::step($sick, 'read bank 0');
        $board = Boards::shipped('tamarisk-two');
        foreach ([[new InjectedFault(FaultKind::Cells, 'U25', 'quarter 1'), [4]], [new InjectedFault(FaultKind::AddressInput, 'U24', '3'), [3]], [new InjectedFault(FaultKind::ReadsHigh, 'U21'), [0]]] as [$fault, $bits]) {
            $answer = (new Apprentice(SickBench::with('tamarisk-two', $fault)))->take($sweep);
            self::assertNotNull($answer);
            self::assertIsString($answer['payload']['text']);
            $mapping = Map::text($board, $answer['payload']['text']);
            self::assertSame($bits, array_keys(array_filter($mapping->patterns['0'], static fn (Pattern $pattern): bool => $pattern !== Pattern::None)), $fault->words());
            self::assertSame($fault->at, $sick->read($answer['payload']['text'])->leading(), $fault->words());
        }
    }

    public function test_what_there_is_no_memory_to_read_in_is_not_read(): void
    {
        $step = new Step('read', 'bank nowhere', '', '', 1.0, 'none', '', 0.0, 0.0, []);

        self::assertNull((new Apprentice(SickBench::with('tamarisk-two')))->take($step));
    }

    public function test_a_step_programme_names_the_rom_that_is_wrong_and_the_memory_that_is(): void
    {
        $diagnostic = Boards::shipped('tamarisk-two')->findDiagnostic('step-program');
        self::assertNotNull($diagnostic);
        foreach ([
            ['0120', new InjectedFault(FaultKind::Contents, 'U2')],
            ['0140', new InjectedFault(FaultKind::Contents, 'U3')],
            ['0140', new InjectedFault(FaultKind::OutputHigh, 'U8.19')],
            ['0200', new InjectedFault(FaultKind::ReadsLow, 'U22')],
            ['0160', new InjectedFault(FaultKind::OutputLow, 'U43.11')],
            ['pass', null],
        ] as [$named, $fault]) {
            self::assertSame($named, SickBench::with('tamarisk-two', ...($fault === null ? [] : [$fault]))->diagnostic($diagnostic), $fault?->words() ?? 'nothing wrong');
        }
    }

    public function test_a_programme_that_fills_memory_meets_every_chip_of_it(): void
    {
        self::assertTrue(SickBench::with('tamarisk-two')->functionWorks('memory'));
        foreach (['U21', 'U24', 'U38'] as $chip) {
            self::assertFalse(SickBench::with('tamarisk-two', new InjectedFault(FaultKind::Dead, $chip))->functionWorks('memory'), $chip);
        }
        self::assertTrue(SickBench::with('tamarisk-two', new InjectedFault(FaultKind::Dead, 'U24'))->functionWorks('tape'));
    }

    public function test_a_machine_is_whole_when_its_links_and_assemblies_are_home(): void
    {
        $bench = SickBench::with('tamarisk-two');
        self::assertTrue($bench->isWhole());
        $bench->do('set', 'LK1', '16K');
        self::assertFalse($bench->isWhole());
        $bench->do('set', 'LK1', '32K');
        self::assertTrue($bench->isWhole());
        $bench->do('remove', 'U22');
        self::assertFalse($bench->isWhole());
    }

    public function test_legs_that_are_measured_one_by_one_show_a_broken_trace_and_it_is_wired(): void
    {
        $bench = SickBench::with('larkspur-64', new InjectedFault(FaultKind::OpenTrace, '/CAS', 'U16.15'));
        self::assertSame([true, false], [$bench->isOpenAt('U16'), $bench->isOpenAt('U15')]);
        self::assertTrue($bench->isBitWrong('U16'));
        $bench->do('wire', 'U15');
        self::assertFalse($bench->works());
        $bench->do('wire', 'U16');
        self::assertSame([true, []], [$bench->works(), $bench->left()]);
    }

    public function test_a_link_that_stands_wrong_is_seen_when_the_board_is_looked_over(): void
    {
        $board = Boards::shipped('larkspur-64');
        $fine = (new Apprentice(new SimulatedBench($board, [new InjectedFault(FaultKind::ReadsHigh, 'U14')], 1, new LogicShelf, 0.0)))->lookedOver();
        self::assertSame(['sites' => ['LK1', 'LK2'], 'finding' => 'fine'], $fine['payload']);
        $seen = (new Apprentice(new SimulatedBench($board, [new InjectedFault(FaultKind::WrongSetting, 'LK2', '32K')], 1, new LogicShelf, 0.0)))->lookedOver();
        self::assertSame(['sites' => ['LK2'], 'finding' => 'wrong-setting'], $seen['payload']);

        $log = Bench::with('larkspur-64')->record('look', $seen['payload'])->note('sign blank', 'count pass');
        self::assertSame('LK2', $log->leading());
        $acts = array_values(array_filter($log->proposed(), static fn (string $step): bool => preg_match('/^(reseat|set|exchange|replace) /', $step) === 1));
        self::assertSame('reseat LK2', $acts[0]);
    }

    public function test_a_bank_is_read_where_it_answers_as_the_links_stand(): void
    {
        $bench = new SimulatedBench(Boards::shipped('tamarisk-two'), [new InjectedFault(FaultKind::ReadsHigh, 'U31')], 1, new LogicShelf, 0.0);
        $text = (new Apprentice($bench))->take(new Step('read', 'bank 1', '', '', 5.0, 'none', '', 0.0, 0.0, []))['payload']['text'] ?? '';

        self::assertIsString($text);
        self::assertMatchesRegularExpression('/^8[0-9A-F]{3} /', $text);
        self::assertStringContainsString(' 01', $text, 'And the chip that reads ones shows.');
    }

    /**
     * @return iterable<string, array{string, list<InjectedFault>, string}>
     */
    public static function screens(): iterable
    {
        yield 'well' => ['tamarisk-two', [], 'clean-banner'];
        yield 'it does not start' => ['tamarisk-two', [new InjectedFault(FaultKind::Dead, 'U1')], 'blank'];
        yield 'no dots come out' => ['tamarisk-two', [new InjectedFault(FaultKind::OutputLow, 'U39.9')], 'blank'];
        yield 'the right characters, drawn wrong' => ['tamarisk-two', [new InjectedFault(FaultKind::Contents, 'U20')], 'misshapen'];
        yield 'other characters' => ['tamarisk-two', [new InjectedFault(FaultKind::ReadsLow, 'U43')], 'half-wrong'];
        yield 'a bit of the latch' => ['larkspur-64', [new InjectedFault(FaultKind::OutputHigh, 'U21.5')], 'half-wrong'];
        yield 'rubbish' => ['tamarisk-two', [new InjectedFault(FaultKind::Dead, 'U20')], 'garbage'];
        yield 'a key that fails is not seen' => ['tamarisk-two', [new InjectedFault(FaultKind::Dead, 'U4')], 'clean-banner'];
    }

    /**
     * @param  list<InjectedFault>  $faults
     */
    #[DataProvider('screens')]
    public function test_what_the_screen_shows_is_what_is_wrong_with_the_picture(string $slug, array $faults, string $sign): void
    {
        $seen = (new Apprentice(SickBench::with($slug, ...$faults)))->take(new Step('watch', '', '', '', 2.0, 'none', '', 0.0, 0.0, []));

        self::assertSame($sign, $seen['payload']['sign'] ?? '');
    }
}
