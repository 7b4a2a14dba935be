<?php

declare(strict_types=1);

namespace Tests\Core\Parts;

use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;
use Tests\Support\Boards;
use ZapTrace\Parts\Logic\LogicFunction;
use ZapTrace\Parts\Logic\LogicMistake;
use ZapTrace\Parts\Logic\LogicUnit;

/**
 * Function tables of the parts, row by row. Source: TI TTL Data Book, from memory.
 */
final class LogicFunctionTest extends TestCase
{
    /** @var array<string, int> */
    private array $levels = [];

    private LogicFunction $function;

    /** @var list<string> */
    private array $pinout;

    /** @var array<int, int> */
    private array $states = [];

    private function part(string $name): void
    {
        $part = Boards::parts()->find($name);
        self::assertNotNull($part);
        $this->pinout = $part->pinout;
        $this->function = LogicFunction::parse($part->logic, $part->pinout);
        $this->levels = array_fill_keys($part->pinout, 1);
        $this->states = [];
    }

    /**
     * "A=1 B=0": sets inputs, and gives what each output gives: L, H, or Z.
     *
     * @return array<string, string>
     */
    private function with(string $inputs): array
    {
        foreach (array_filter(explode(' ', $inputs)) as $set) {
            [$name, $level] = [substr($set, 0, (int) strrpos($set, '=')), substr($set, (int) strrpos($set, '=') + 1)];
            self::assertArrayHasKey($name, $this->levels);
            $this->levels[$name] = (int) $level;
        }
        $given = [];
        foreach ($this->function->units as $number => $unit) {
            $levels = 0;
            foreach ($unit->inputs as $bit => $pin) {
                $levels |= $this->levels[$this->pinout[$pin - 1]] << $bit;
            }
            [$this->states[$number], $drives] = $unit->settle($levels, $this->states[$number] ?? $unit->stateOf(0, $levels));
            foreach ($unit->outputs as $place => $output) {
                $given[$this->pinout[$output->pin - 1]] = [LogicUnit::LOW => 'L', LogicUnit::HIGH => 'H', LogicUnit::FLOATING => 'Z'][$drives >> 2 * $place & 3];
            }
        }

        return $given;
    }

    public function test_a_138_gives_one_low_output_and_none_when_it_is_not_enabled(): void
    {
        $this->part('74LS138');
        for ($select = 0; $select < 8; $select++) {
            $given = $this->with(sprintf('G1=1 /G2A=0 /G2B=0 A=%d B=%d C=%d', $select & 1, $select >> 1 & 1, $select >> 2));
            for ($output = 0; $output < 8; $output++) {
                self::assertSame($output === $select ? 'L' : 'H', $given["/Y{$output}"]);
            }
        }
        foreach (['G1=0 /G2A=0 /G2B=0', 'G1=1 /G2A=1 /G2B=0', 'G1=1 /G2A=0 /G2B=1'] as $off) {
            self::assertSame(['H'], array_values(array_unique($this->with($off))));
        }
    }

    public function test_each_half_of_a_139_decodes_by_itself(): void
    {
        $this->part('74LS139');
        $given = $this->with('/1G=0 1A=1 1B=0 /2G=0 2A=0 2B=1');

        self::assertSame(['L', 'H', 'L', 'H'], [$given['/1Y1'], $given['/1Y0'], $given['/2Y2'], $given['/2Y1']]);
        self::assertSame('H', $this->with('/1G=1')['/1Y1']);
    }

    public function test_a_151_passes_the_chosen_input_and_its_opposite(): void
    {
        $this->part('74LS151');
        for ($chosen = 0; $chosen < 8; $chosen++) {
            $inputs = implode(' ', array_map(static fn (int $input): string => "D{$input}=".($input === $chosen ? 1 : 0), range(0, 7)));
            $given = $this->with(sprintf('/G=0 A=%d B=%d C=%d %s', $chosen & 1, $chosen >> 1 & 1, $chosen >> 2, $inputs));
            self::assertSame(['H', 'L'], [$given['Y'], $given['/W']]);
        }
        self::assertSame(['L', 'H'], [$this->with('/G=1')['Y'], $this->with('/G=1')['/W']]);
    }

    public function test_multiplexers_choose_and_let_go_each_in_its_way(): void
    {
        $this->part('74LS153');
        self::assertSame('H', $this->with('/1G=0 A=0 B=1 1C0=0 1C1=0 1C2=1 1C3=0')['1Y']);
        self::assertSame('L', $this->with('/1G=1')['1Y'], 'Not enabled it is low.');
        $this->part('74LS157');
        self::assertSame(['L', 'H'], [$this->with('/G=0 A/B=0 1A=0 1B=1')['1Y'], $this->with('A/B=1')['1Y']]);
        self::assertSame('L', $this->with('/G=1 A/B=1')['1Y']);
        $this->part('74LS158');
        self::assertSame(['H', 'L', 'H'], [$this->with('/G=0 A/B=0 1A=0 1B=1')['/1Y'], $this->with('A/B=1')['/1Y'], $this->with('/G=1')['/1Y']]);
        $this->part('74LS257');
        self::assertSame(['L', 'H', 'Z'], [$this->with('/G=0 A/B=0 1A=0 1B=1')['1Y'], $this->with('A/B=1')['1Y'], $this->with('/G=1')['1Y']]);
    }

    public function test_a_161_counts_loads_carries_and_clears_at_once_and_a_163_at_the_clock(): void
    {
        $value = static fn (array $given): int => array_sum(array_map(static fn (string $pin, int $weight): int => $given[$pin] === 'H' ? $weight : 0, ['QA', 'QB', 'QC', 'QD'], [1, 2, 4, 8]));
        $clock = function (string $with = '') use ($value): int {
            $this->with("CLK=0 {$with}");

            return $value($this->with('CLK=1'));
        };
        $this->part('74LS161');
        $this->with('CLK=0 /CLR=0');
        self::assertSame(0, $value($this->with('/CLR=1 /LOAD=1 ENP=1 ENT=1')));
        self::assertSame([1, 2, 3], [$clock(), $clock(), $clock()]);
        self::assertSame(13, $clock('/LOAD=0 A=1 B=0 C=1 D=1'));
        self::assertSame([14, 14], [$clock('/LOAD=1'), $clock('ENP=0')]);
        self::assertSame(15, $clock('ENP=1'));
        self::assertSame(['H', 'L'], [$this->with('CLK=1')['RCO'], $this->with('ENT=0')['RCO']]);
        self::assertSame(0, $value($this->with('/CLR=0')), 'It clears without a clock.');

        $this->part('74LS163');
        $this->with('CLK=0 /CLR=1 /LOAD=0 A=1 B=1 C=0 D=0');
        self::assertSame(3, $value($this->with('CLK=1')));
        self::assertSame(3, $value($this->with('/CLR=0')), 'It waits for the clock.');
        self::assertSame(0, $clock());
    }

    public function test_buffers_pass_in_their_direction_and_let_go(): void
    {
        $this->part('74LS244');
        $given = $this->with('/1G=0 1A1=0 1A2=1 /2G=1 2A1=0');
        self::assertSame(['L', 'H', 'Z'], [$given['1Y1'], $given['1Y2'], $given['2Y1']]);
        $this->part('74LS245');
        $given = $this->with('/G=0 DIR=1 A3=0 B3=1');
        self::assertSame(['L', 'Z'], [$given['B3'], $given['A3']]);
        $given = $this->with('DIR=0 B3=0');
        self::assertSame(['L', 'Z'], [$given['A3'], $given['B3']]);
        self::assertSame(['Z'], array_values(array_unique($this->with('/G=1'))));
    }

    public function test_a_259_keeps_what_it_is_addressed_with_and_decodes_while_it_is_cleared(): void
    {
        $this->part('74LS259');
        $this->with('/CLR=0 /G=1 D=0');
        $this->with('/CLR=1 S0=1 S1=0 S2=1 D=1 /G=0');
        $given = $this->with('/G=1 D=0');
        self::assertSame(['H', 'L'], [$given['Q5'], $given['Q4']]);
        $given = $this->with('/CLR=0 /G=0 D=1 S0=0 S1=1 S2=0');
        self::assertSame(['H', 'L'], [$given['Q2'], $given['Q5']]);
    }

    public function test_a_373_is_open_while_its_gate_is_high_and_a_374_takes_at_the_edge(): void
    {
        $this->part('74LS373');
        self::assertSame('H', $this->with('/OC=0 G=1 4D=1')['4Q']);
        self::assertSame('L', $this->with('4D=0')['4Q']);
        $this->with('G=0');
        self::assertSame('L', $this->with('4D=1')['4Q']);
        self::assertSame('Z', $this->with('/OC=1')['4Q']);
        $this->part('74LS374');
        $this->with('/OC=0 CLK=0 4D=1');
        self::assertSame('H', $this->with('CLK=1')['4Q']);
        self::assertSame('H', $this->with('4D=0')['4Q'], 'Nothing is taken while the clock stays.');
        self::assertSame('H', $this->with('CLK=0')['4Q']);
        self::assertSame('L', $this->with('CLK=1')['4Q']);
    }

    public function test_flip_flops_obey_preset_and_clear_before_their_clock(): void
    {
        $this->part('74LS74');
        $given = $this->with('/1CLR=0 /1PRE=1 1D=1 1CLK=0');
        self::assertSame(['L', 'H'], [$given['1Q'], $given['/1Q']]);
        $this->with('/1CLR=1');
        self::assertSame('H', $this->with('1CLK=1')['1Q']);
        self::assertSame(['H', 'H'], [$this->with('/1CLR=0 /1PRE=0')['1Q'], $this->with('')['/1Q']], 'Both at once: both high, as the table says.');
    }

    public function test_ripple_counters_divide(): void
    {
        $this->part('74LS393');
        $this->with('1A=0 1CLR=1');
        $this->with('1CLR=0');
        $seen = [];
        for ($count = 1; $count <= 17; $count++) {
            $this->with('1A=1');
            $given = $this->with('1A=0');
            $seen[] = ($given['1QA'] === 'H' ? 1 : 0) + ($given['1QB'] === 'H' ? 2 : 0) + ($given['1QC'] === 'H' ? 4 : 0) + ($given['1QD'] === 'H' ? 8 : 0);
        }
        self::assertSame([...range(1, 15), 0, 1], $seen);
    }

    public function test_a_283_adds_and_a_280_tells_odd_from_even(): void
    {
        $this->part('74LS283');
        foreach ([[0, 0, 0], [5, 9, 1], [15, 15, 1], [7, 8, 0]] as [$a, $b, $carry]) {
            $bits = implode(' ', array_map(static fn (int $bit): string => 'A'.($bit + 1).'='.($a >> $bit & 1).' B'.($bit + 1).'='.($b >> $bit & 1), range(0, 3)));
            $given = $this->with("C0={$carry} {$bits}");
            $sum = array_sum(array_map(static fn (string $pin, int $weight): int => $given[$pin] === 'H' ? $weight : 0, ['S1', 'S2', 'S3', 'S4', 'C4'], [1, 2, 4, 8, 16]));
            self::assertSame($a + $b + $carry, $sum);
        }
        $this->part('74LS280');
        $given = $this->with('A=1 B=1 C=1 D=0 E=0 F=0 G=0 H=0 I=0');
        self::assertSame(['L', 'H'], [$given['EVEN'], $given['ODD']]);
    }

    public function test_an_open_collector_pulls_low_or_lets_go(): void
    {
        $this->part('7405');

        self::assertSame(['L', 'Z'], [$this->with('1A=1')['1Y'], $this->with('1A=0')['1Y']]);
    }

    /**
     * @return iterable<string, array{string}>
     */
    public static function withFunction(): iterable
    {
        foreach (Boards::parts()->all() as $part) {
            if ($part->logic !== '') {
                yield $part->name => [$part->name];
            }
        }
    }

    #[DataProvider('withFunction')]
    public function test_every_output_of_a_part_has_an_equation_and_every_input_is_used(string $name): void
    {
        $part = Boards::parts()->find($name);
        self::assertNotNull($part);
        $function = LogicFunction::parse($part->logic, $part->pinout);
        $given = $used = [];
        foreach ($function->units as $unit) {
            array_push($given, ...array_map(static fn ($output): int => $output->pin, $unit->outputs));
            array_push($used, ...$unit->inputs);
        }
        foreach ($part->pinList() as $pin) {
            if (in_array($pin->direction, ['out', 'both'], true)) {
                self::assertContains($pin->number, $given, "{$name} {$pin->name}");
            }
            if (in_array($pin->direction, ['in', 'both'], true)) {
                self::assertContains($pin->number, $used, "{$name} {$pin->name}");
            }
        }
    }

    /**
     * @return iterable<string, array{string, string}>
     */
    public static function mistakes(): iterable
    {
        yield 'no equation' => ['Y', 'is no equation'];
        yield 'no such pin' => ['Z = A', '"Z" is no pin'];
        yield 'a name that is nowhere' => ['Y = A & Q9', '"Q9" is neither a pin'];
        yield 'a bracket left open' => ['Y = (A & B', 'not closed'];
        yield 'half a choice' => ['Y = A ? B', 'without its colon'];
        yield 'a strange sign' => ['Y = A + B', 'neither a pin'];
    }

    #[DataProvider('mistakes')]
    public function test_a_mistake_in_an_equation_is_told(string $text, string $says): void
    {
        $this->expectException(LogicMistake::class);
        $this->expectExceptionMessage($says);
        LogicFunction::parse($text, ['A', 'B', 'Y']);
    }

    /**
     * @return iterable<string, array{string}>
     */
    public static function keeping(): iterable
    {
        foreach (['74LS74', '74LS161', '74LS373', '74LS174', '74LS393'] as $part) {
            yield $part => [$part];
        }
    }

    /** Law: where a unit only takes note of an input, clearing those bits of its state is all that settling would do. */
    #[DataProvider('keeping')]
    public function test_what_is_only_noted_changes_nothing_else(string $part): void
    {
        $this->part($part);
        $noted = 0;
        foreach ($this->function->units as $unit) {
            foreach (array_keys($unit->inputs) as $place) {
                foreach ([0, 1] as $level) {
                    $cleared = $unit->notes($place, $level);
                    for ($levels = 0; $cleared !== null && $levels < 1 << count($unit->inputs); $levels++) {
                        for ($kept = 0; $kept < 1 << intdiv($unit->stateBits(), 2); $kept++) {
                            $state = $unit->stateOf($kept, $levels);
                            [$same, $gives] = $unit->settle($levels, $state);
                            if ($same === $state && ($levels >> $place & 1) !== $level) {
                                self::assertSame([$state & ~$cleared, $gives], $unit->settle($levels ^ 1 << $place, $state));
                                $noted++;
                            }
                        }
                    }
                }
            }
        }
        if ($part === '74LS74') {
            self::assertGreaterThan(0, $noted, 'The falling edge of a clock that acts as it rises.');
            $clocks = array_filter($this->function->units, fn (LogicUnit $unit): bool => $unit->notes((int) array_search(array_search('1CLK', $this->pinout, true) + 1, $unit->inputs, true), 0) !== null);
            self::assertNotSame([], $clocks);
        }
        $this->part('74LS00');
        self::assertNull($this->function->units[0]->notes(0, 0), 'A unit that keeps nothing notes nothing.');
    }

    public function test_a_shift_register_only_notes_its_falling_clock_where_the_other_clock_is_tied_low(): void
    {
        $this->part('74LS165');
        [$unit] = $this->function->units;
        $place = array_flip(array_map(fn (int $pin): string => $this->pinout[$pin - 1], $unit->inputs));

        self::assertNull($unit->notes($place['CLK'], 0), 'With INH high, the clock inside stays high.');
        self::assertNull($unit->notes($place['CLK'], 1, [$place['INH'] => 0]), 'It shifts.');
        self::assertNull($unit->notes($place['SH//LD'], 0, [$place['INH'] => 0]), 'It loads.');
        $cleared = $unit->notes($place['CLK'], 0, [$place['INH'] => 0]);
        self::assertNotNull($cleared);
        for ($case = 0; $case < 300; $case++) {
            $levels = crc32("levels {$case}") % (1 << count($unit->inputs)) & ~(1 << $place['INH']) | 1 << $place['CLK'];
            [$state, $gives] = $unit->settle($levels, $unit->stateOf(crc32("kept {$case}") % 256, $levels));
            self::assertSame([$state & ~$cleared, $gives], $unit->settle($levels ^ 1 << $place['CLK'], $state));
        }
    }

    /**
     * @return iterable<string, array{string, int}>
     */
    public static function channelled(): iterable
    {
        yield 'a buffer in both directions' => ['74LS245', 2];
        yield 'a buffer in two halves' => ['74LS244', 2];
        yield 'a multiplexer' => ['74LS257', 1];
        yield 'a multiplexer that always drives' => ['74LS157', 1];
        yield 'two decoders' => ['74LS139', 2];
        yield 'gates that share nothing' => ['74LS08', 4];
        yield 'latches keep' => ['74LS373', 8];
    }

    /** Law: channels that are answered together give what each of them gives, and are deaf to what all of them are deaf to. */
    #[DataProvider('channelled')]
    public function test_channels_behind_the_same_controls_are_answered_together(string $part, int $count): void
    {
        $this->part($part);
        $together = LogicUnit::together($this->function->units);

        self::assertCount($count, $together);
        $outputs = static fn (LogicUnit ...$units): array => array_merge(...array_map(static fn (LogicUnit $unit): array => array_column($unit->outputs, 'pin'), array_values($units)));
        self::assertEqualsCanonicalizing($outputs(...$this->function->units), $outputs(...$together));
        for ($case = 0; $case < 500; $case++) {
            $high = crc32("{$part} {$case}");
            $alone = self::given($this->function->units, $high);
            self::assertSame($alone, self::given($together, $high));
            foreach ($together as $unit) {
                foreach ($unit->inputs as $place => $pin) {
                    $ignores = $unit->ignores($place);
                    if (is_array($ignores) && ($high >> $unit->inputs[$ignores[0]] & 1) === $ignores[1]) {
                        self::assertSame(self::given([$unit], $high), self::given([$unit], $high ^ 1 << $pin));
                    }
                }
            }
        }
    }

    /**
     * @param  array<int, LogicUnit>  $units
     * @return array<int, int> pin => level
     */
    private static function given(array $units, int $high): array
    {
        $given = [];
        foreach ($units as $unit) {
            $levels = 0;
            foreach ($unit->inputs as $bit => $pin) {
                $levels |= ($high >> $pin & 1) << $bit;
            }
            $drives = $unit->settle($levels, $unit->stateOf(0, $levels))[1];
            foreach ($unit->outputs as $place => $output) {
                $given[$output->pin] = $drives >> 2 * $place & 3;
            }
        }
        ksort($given);

        return $given;
    }

    public function test_a_buffer_that_looks_the_other_way_is_deaf_to_its_data(): void
    {
        $this->part('74LS245');
        foreach (LogicUnit::together($this->function->units) as $unit) {
            $deaf = array_filter(array_keys($unit->inputs), static fn (int $place): bool => is_array($unit->ignores($place)));
            self::assertGreaterThanOrEqual(8, count($deaf));
        }
    }
}
