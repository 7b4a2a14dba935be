<?php

declare(strict_types=1);

namespace Tests\Core\Bench;

use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;
use Random\Engine\Mt19937;
use Random\Randomizer;
use Symfony\Component\Process\Process;
use Tests\Support\Boards;
use ZapTrace\Bench\FaultKind;
use ZapTrace\Bench\InjectedFault;
use ZapTrace\Bench\LogicShelf;
use ZapTrace\Bench\Machine;
use ZapTrace\Bench\SimulatedBench;
use ZapTrace\Diagnostics\DiagnosticResult;
use ZapTrace\Memory\Listings\Assembler;
use ZapTrace\Memory\Listings\Language;
use ZapTrace\Processors\Cpu6502;
use ZapTrace\Processors\Opcodes6502;

final class Cpu6502Test extends TestCase
{
    /** Access by access beside 6502.ts of the npm registry; decimal mode is left out, where that core is not exact. */
    #[DataProvider('seeds')]
    public function test_random_programmes_go_over_the_bus_as_with_another_core(int $seed): void
    {
        $random = new Randomizer(new Mt19937($seed));
        $opcodes = array_values(array_diff(array_keys(Opcodes6502::all()), [0xF8, 0x28, 0x40]));
        $memory = '';
        for ($at = 0; $at < 0x10000; $at++) {
            $memory .= chr($opcodes[$random->getInt(0, count($opcodes) - 1)]);
        }
        $other = new Process(['node', 'tests/Support/trace6502.mjs'], dirname(__DIR__, 3), input: (string) json_encode(['memory' => base64_encode($memory), 'cycles' => 4000]));
        $other->mustRun();
        /** @var array{accesses: list<array{int, int}>} $trace */
        $trace = json_decode($other->getOutput(), true);
        $cpu = new Cpu6502;
        $cpu->reset();
        $read = null;
        $compared = 0;
        foreach ($trace['accesses'] as $number => $access) {
            [$address, $written] = $cpu->next($read);
            if ($number >= 5) {
                self::assertSame([$access[0], $access[1] < 0 ? -1 : $access[1] & 0xFF], [$address, $written ?? -1], "access {$number}");
                $compared++;
            }
            if ($written !== null) {
                $memory[$address] = chr($written);
                $read = null;
            } else {
                $read = ord($memory[$address]);
                if ($cpu->isFetching() && ! Opcodes6502::isDocumented($read)) {
                    break;
                }
            }
        }
        self::assertGreaterThan(100, $compared);
    }

    /**
     * @return iterable<array{int}>
     */
    public static function seeds(): iterable
    {
        foreach (range(11, 22) as $seed) {
            yield [$seed];
        }
    }

    public function test_there_are_151_documented_opcodes(): void
    {
        self::assertCount(151, Opcodes6502::all());
    }

    /** Decimal sums of valid digits, by arithmetic. */
    public function test_decimal_mode_adds_and_subtracts_digits(): void
    {
        foreach ([[0x09, 0x01, 0, 0x10, 0], [0x99, 0x01, 0, 0x00, 1], [0x58, 0x46, 1, 0x05, 1], [0x12, 0x34, 0, 0x46, 0], [0x81, 0x92, 0, 0x73, 1]] as [$a, $b, $carry, $sum, $out]) {
            $cpu = $this->after([0xF8, $carry === 1 ? 0x38 : 0x18, 0xA9, $a, 0x69, $b], 4);
            self::assertSame([$sum, $out], [$cpu->a, $cpu->p & 1]);
        }
        foreach ([[0x46, 0x12, 1, 0x34, 1], [0x40, 0x13, 1, 0x27, 1], [0x32, 0x02, 0, 0x29, 1], [0x12, 0x21, 1, 0x91, 0], [0x00, 0x01, 1, 0x99, 0]] as [$a, $b, $carry, $difference, $out]) {
            $cpu = $this->after([0xF8, $carry === 1 ? 0x38 : 0x18, 0xA9, $a, 0xE9, $b], 4);
            self::assertSame([$difference, $out], [$cpu->a, $cpu->p & 1]);
        }
    }

    public function test_the_programmes_of_the_larkspur_are_those_of_their_listings(): void
    {
        $board = Boards::shipped('larkspur-64');
        foreach (['boot' => 'boot', 'test-rom' => 'diag'] as $runs => $name) {
            $bytes = '';
            foreach ((new Assembler(Language::Mos6502))->assemble(Boards::file("listings/larkspur-{$name}.txt"), 0xF000, [], [], [])->lines as $line) {
                $bytes .= implode('', array_map(chr(...), $line->bytes));
            }
            self::assertSame(bin2hex($bytes), bin2hex($board->firmware[$runs]->parts[0x1000]));
        }
    }

    public function test_the_board_boots_and_does_not_with_a_memory_chip_that_is_dead(): void
    {
        $board = Boards::shipped('larkspur-64');

        self::assertTrue((new Machine($board, [], 1))->starts());
        self::assertFalse((new Machine($board, [new InjectedFault(FaultKind::ReadsLow, 'U14')], 1))->starts());
        self::assertFalse((new Machine($board, [new InjectedFault(FaultKind::Dead, 'U2')], 1))->starts());
        self::assertFalse((new Machine($board, [new InjectedFault(FaultKind::Contents, 'U2')], 1))->starts());
    }

    /** Common practice: the count is the lowest bad bit, and nothing is flashed where the ROM cannot run. */
    public function test_the_test_rom_really_runs_and_flashes_the_bit(): void
    {
        $board = Boards::shipped('larkspur-64');
        $diagnostic = $board->findDiagnostic('test-rom');
        self::assertNotNull($diagnostic);
        $flashed = static fn (InjectedFault ...$faults): string => (new SimulatedBench($board, array_values($faults), 1, new LogicShelf, 0.0))->diagnostic($diagnostic);

        self::assertSame(DiagnosticResult::PASS, $flashed());
        foreach ([0 => 'U9', 3 => 'U12', 5 => 'U14', 7 => 'U16'] as $bit => $chip) {
            self::assertSame((string) ($bit + 1), $flashed(new InjectedFault(FaultKind::ReadsHigh, $chip)), $chip);
        }
        self::assertSame('4', $flashed(new InjectedFault(FaultKind::ReadsLow, 'U16'), new InjectedFault(FaultKind::ReadsLow, 'U12')));
        self::assertSame(DiagnosticResult::NOTHING, $flashed(new InjectedFault(FaultKind::Dead, 'U3')));
        self::assertSame(DiagnosticResult::NOTHING, $flashed(new InjectedFault(FaultKind::ReadsLow, 'U14'), new InjectedFault(FaultKind::Dead, 'U26')));
    }

    /**
     * @param  list<int>  $program
     */
    private function after(array $program, int $instructions): Cpu6502
    {
        $memory = array_fill(0, 0x10000, 0xEA);
        foreach ([0xFFFC => 0x00, 0xFFFD => 0x80] as $at => $byte) {
            $memory[$at] = $byte;
        }
        foreach ($program as $offset => $byte) {
            $memory[0x8000 + $offset] = $byte;
        }
        $cpu = new Cpu6502;
        $cpu->reset();
        $read = null;
        while ($cpu->instructions <= $instructions) {
            [$address] = $cpu->next($read);
            $read = $memory[$address];
        }

        return $cpu;
    }
}
