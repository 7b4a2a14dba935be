<?php

declare(strict_types=1);

namespace Tests\Core\Signals;

use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;
use Tests\Support\Bench;
use Tests\Support\Boards;
use ZapTrace\Parts\Logic\LogicUnit;
use ZapTrace\Reasoning\Evidence;
use ZapTrace\Signals\GateCheck;
use ZapTrace\Signals\ProbeState;
use ZapTrace\Signals\Structure;

/**
 * Whether an output can follow from its inputs; the function tables of the parts are common practice. U56 of the 16-bit
 * board is a 74LS05: six inverters that only pull low.
 */
final class GateCheckTest extends TestCase
{
    /**
     * @return iterable<string, array{array<string, string>, list<string>}>
     */
    public static function seen(): iterable
    {
        yield 'an input that nobody has touched may stand still' => [['U56.2' => 'low'], []];
        yield 'high, with the input unseen' => [['U56.2' => 'high'], []];
        yield 'low, and the input moves' => [['U56.1' => 'pulsing', 'U56.2' => 'low'], ['U56.2']];
        yield 'high, and the input moves' => [['U56.1' => 'pulsing', 'U56.2' => 'high'], ['U56.2']];
        yield 'low, and the input is low' => [['U56.1' => 'low', 'U56.2' => 'low'], ['U56.2']];
        yield 'low, and the input is high' => [['U56.1' => 'high', 'U56.2' => 'low'], []];
        yield 'low, and nothing drives the input: it is taken as high' => [['U56.1' => 'silent', 'U56.2' => 'low'], []];
        yield 'moves, and the input stands still' => [['U56.1' => 'high', 'U56.2' => 'pulsing'], ['U56.2']];
        yield 'another gate of the same part says nothing' => [['U56.3' => 'pulsing', 'U56.2' => 'low'], []];
        yield 'between the levels' => [['U56.2' => 'between'], ['U56.2']];
    }

    /**
     * @param  array<string, string>  $seen
     * @param  list<string>  $contradict
     */
    #[DataProvider('seen')]
    public function test_an_output_contradicts_what_was_seen_of_its_inputs_and_not_what_was_not(array $seen, array $contradict): void
    {
        $checks = GateCheck::all(Structure::of(Boards::shipped('halyard-16')), array_map(static fn (string $state): ProbeState => ProbeState::from($state), $seen));

        self::assertSame($contradict, array_map(static fn (GateCheck $check): string => $check->output, $checks));
    }

    public function test_what_others_on_its_line_do_contradicts_no_output_that_does_not_drive(): void
    {
        // U5 is a 74LS257; while it is not enabled a 74LS244 drives the same addresses.
        $structure = Structure::of(Boards::shipped('larkspur-64'));
        $checks = static fn (array $seen): array => array_map(static fn (GateCheck $check): string => $check->output, GateCheck::all($structure, array_map(static fn (string $state): ProbeState => ProbeState::from($state), $seen)));

        self::assertSame([], $checks(['U5.15' => 'silent', 'U5.4' => 'pulsing', 'U5.7' => 'high']));
        self::assertSame([], $checks(['U5.15' => 'pulsing', 'U5.4' => 'pulsing']));
        self::assertSame(['U5.4'], $checks(['U5.15' => 'low', 'U5.1' => 'low', 'U5.2' => 'low', 'U5.4' => 'pulsing']), 'It drives, and what it is given stands still.');
    }

    public function test_an_output_is_given_by_its_inputs_where_no_other_level_can_come(): void
    {
        $structure = Structure::of(Boards::shipped('tamarisk-two'));
        $is = static fn (array $seen): bool => GateCheck::isGiven($structure, 'U7.14', array_map(static fn (string $state): ProbeState => ProbeState::from($state), $seen));

        // A decoder that is not enabled gives high, whatever else comes in; U7 is a 74LS138.
        self::assertTrue($is(['U7.4' => 'high', 'U7.14' => 'high']));
        self::assertFalse($is(['U7.4' => 'high', 'U7.14' => 'low']));
        self::assertFalse($is(['U7.4' => 'low', 'U7.14' => 'high']), 'The addresses were not touched.');
        self::assertTrue($is(['U7.1' => 'high', 'U7.2' => 'low', 'U7.3' => 'low', 'U7.4' => 'low', 'U7.5' => 'low', 'U7.6' => 'high', 'U7.14' => 'low']));
        self::assertFalse($is(['U7.1' => 'pulsing', 'U7.2' => 'low', 'U7.3' => 'low', 'U7.4' => 'low', 'U7.5' => 'low', 'U7.6' => 'high', 'U7.14' => 'low']), 'It should move.');
        self::assertFalse($is([]));
    }

    public function test_of_many_inputs_the_last_counts_as_the_first_does(): void
    {
        // A programmed part whose outputs go by thirteen inputs.
        $structure = Structure::of(Boards::shipped('larkspur-64'));
        $unit = array_values(array_filter($structure->unitsOf('U17'), static fn (LogicUnit $unit): bool => count($unit->inputs) > 12))[0];
        $last = count($unit->inputs) - 1;
        $met = 0;
        for ($levels = 0; $levels < 1 << $last; $levels++) {
            [$low, $high] = [$unit->settle($levels, 0)[1], $unit->settle($levels | 1 << $last, 0)[1]];
            foreach ($unit->outputs as $place => $output) {
                [$whenLow, $whenHigh] = [$low >> 2 * $place & 3, $high >> 2 * $place & 3];
                if ($whenLow === $whenHigh || $met > 40) {
                    continue;
                }
                $met++;
                $seen = [];
                foreach (array_slice($unit->inputs, 0, $last) as $input => $number) {
                    $seen["U17.{$number}"] = ($levels >> $input & 1) === 1 ? ProbeState::High : ProbeState::Low;
                }
                foreach ([ProbeState::Low, ProbeState::High] as $state) {
                    self::assertFalse(GateCheck::isGiven($structure, "U17.{$output->pin}", [...$seen, "U17.{$output->pin}" => $state]), 'The last was not touched.');
                }
                $is = match ($whenHigh) {
                    LogicUnit::LOW => ProbeState::Low,
                    LogicUnit::HIGH => ProbeState::High,
                    default => null,
                };
                if ($is !== null) {
                    self::assertTrue(GateCheck::isGiven($structure, "U17.{$output->pin}", [...$seen, "U17.{$unit->inputs[$last]}" => ProbeState::High, "U17.{$output->pin}" => $is]));
                }
            }
        }
        self::assertGreaterThan(4, $met);
    }

    public function test_what_was_found_right_on_a_walk_counts_as_seen(): void
    {
        $walk = ['chip' => 'U56', 'situation' => 'free-run', 'wrong' => [['pin' => 'U56.2', 'state' => 'low', 'expected' => 'high']], 'pulsing' => ['U56.1'], 'unknown' => []];
        $gates = static fn (array $walk): array => array_filter(Bench::with('halyard-16')->note('sign blank')->record('pin-walk', $walk)->assess()->conclusion->evidence, static fn (Evidence $seen): bool => str_starts_with($seen->id, 'gate '));

        self::assertCount(1, $gates($walk), 'Its input moves.');
        self::assertSame([], $gates([...$walk, 'pulsing' => []]), 'Nothing is known of it.');
    }
}
