<?php

declare(strict_types=1);

namespace Tests\Core\Bench;

use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;
use Tests\Support\Boards;
use Tests\Support\Captures;
use ZapTrace\Bench\FaultKind;
use ZapTrace\Bench\InjectedFault;
use ZapTrace\Bench\LogicShelf;
use ZapTrace\Bench\Machine;
use ZapTrace\Bench\SimulatedBench;
use ZapTrace\Board\Firmware;
use ZapTrace\Bus\CycleKind;
use ZapTrace\Bus\CycleList;

/**
 * The bus of the simulated boards, as an analyser records it.
 */
final class RecordingTest extends TestCase
{
    /**
     * @return iterable<string, array{string, string}>
     */
    public static function boards(): iterable
    {
        yield 'Larkspur' => ['larkspur-64', '6502'];
        yield 'Tamarisk' => ['tamarisk-two', 'Z80'];
        yield 'Halyard' => ['halyard-16', '68000'];
    }

    #[DataProvider('boards')]
    public function test_the_file_holds_the_cycles_that_are_recorded_without_one(string $slug, string $processor): void
    {
        $decoded = Captures::decode((new Machine(Boards::shipped($slug), [], 4))->capture(120), Captures::bus($processor));
        $recorded = (new Machine(Boards::shipped($slug), [], 4))->recorded(120);

        self::assertNotNull($recorded);
        self::assertGreaterThan(100, $decoded->count());
        self::assertSame(self::listed($recorded), self::listed($decoded));
        self::assertSame([$recorded->addressMask, $recorded->dataMask], [$decoded->addressMask, $decoded->dataMask]);
    }

    #[DataProvider('boards')]
    public function test_the_same_machine_records_the_same_each_time(string $slug): void
    {
        self::assertSame((new Machine(Boards::shipped($slug), [], 4))->capture(60), (new Machine(Boards::shipped($slug), [], 4))->capture(60));
    }

    public function test_a_fetch_is_marked_as_the_processor_marks_it(): void
    {
        $cycles = (new Machine(Boards::shipped('larkspur-64'), [], 4))->recorded(60);
        self::assertNotNull($cycles);
        $fetches = [];
        for ($number = 0; $number < 20; $number++) {
            if ($cycles->at($number)->kind === CycleKind::Fetch) {
                $fetches[] = $cycles->at($number)->address;
            }
        }

        // SEI, CLD, LDX #, TXS, LDA #, STA: one, one, two, one and two bytes.
        self::assertSame([0xF000, 0xF001, 0xF002, 0xF004, 0xF005, 0xF007], array_slice($fetches, -6));
    }

    public function test_a_fault_shows_on_the_bus_where_it_is(): void
    {
        $stuck = (new Machine(Boards::shipped('larkspur-64'), [new InjectedFault(FaultKind::HoldsLow, 'U26.30')], 4))->recorded(60);
        self::assertNotNull($stuck);
        for ($number = 0; $number < $stuck->count(); $number++) {
            self::assertSame(0, $stuck->at($number)->data & 0x08, 'U26 holds D3 low, and so it is at every cycle.');
        }
    }

    public function test_a_rom_with_other_contents_leads_astray(): void
    {
        $board = Boards::shipped('larkspur-64');
        $boot = $board->firmware[Firmware::BOOT];
        $machine = new Machine($board, [], 1);

        self::assertGreaterThan(1, count($machine->run($boot, 700)->writesTo($boot->signal)));
        self::assertSame([], (new Machine($board, [new InjectedFault(FaultKind::Dead, 'U3')], 1))->run($boot, 700)->writesTo($boot->signal));
        self::assertNull((new Machine(Boards::shipped('tamarisk-two'), [], 1))->firmware(Firmware::BOOT), 'Nothing is known of what it runs.');
    }

    public function test_a_recording_beside_a_good_one_parts_where_the_fault_is(): void
    {
        $well = self::bench('larkspur-64')->bus();
        $sick = self::bench('larkspur-64', new InjectedFault(FaultKind::ReadsHigh, 'U11'))->bus();

        self::assertArrayNotHasKey('divergence', $well);
        self::assertGreaterThan(300, $well['distance']);
        self::assertSame([2], $sick['divergence']['bits'] ?? null);
        self::assertLessThan($well['distance'], $sick['distance']);
    }

    public function test_a_rom_reader_sees_the_chip_and_not_its_place(): void
    {
        foreach ([[FaultKind::Contents, 'U2', false], [FaultKind::Dead, 'U2', false], [FaultKind::BadContact, 'U2.20', true]] as [$kind, $at, $matches]) {
            self::assertSame($matches, self::bench('larkspur-64', new InjectedFault($kind, $at))->romMatches('U2'), $kind->name);
        }
    }

    private static function bench(string $slug, InjectedFault ...$faults): SimulatedBench
    {
        return new SimulatedBench(Boards::shipped($slug), array_values($faults), 4, new LogicShelf, 0.0);
    }

    /**
     * @return list<string>
     */
    private static function listed(CycleList $cycles): array
    {
        $listed = [];
        for ($number = 0; $number < $cycles->count(); $number++) {
            $cycle = $cycles->at($number);
            $listed[] = sprintf('%s %X %X', $cycle->kind->value, $cycle->address, $cycle->data);
        }

        return $listed;
    }
}
