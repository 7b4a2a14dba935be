<?php

declare(strict_types=1);

namespace Tests\Core\Signals;

use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;
use Tests\Support\Boards;
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
        $checks = GateCheck::all(new Structure(Boards::shipped('halyard-16')), array_map(static fn (string $state): ProbeState => ProbeState::from($state), $seen));

        self::assertSame($contradict, array_map(static fn (GateCheck $check): string => $check->output, $checks));
    }

    public function test_an_output_is_given_by_its_inputs_where_no_other_level_can_come(): void
    {
        $structure = new Structure(Boards::shipped('tamarisk-two'));
        $is = static fn (array $seen): bool => GateCheck::isGiven($structure, 'U7.14', array_map(static fn (string $state): ProbeState => ProbeState::from($state), $seen));

        // A decoder that is not enabled gives high, whatever else comes in; U7 is a 74LS138.
        self::assertTrue($is(['U7.4' => 'high', 'U7.14' => 'high']));
        self::assertFalse($is(['U7.4' => 'high', 'U7.14' => 'low']));
        self::assertFalse($is(['U7.4' => 'low', 'U7.14' => 'high']), 'The addresses were not touched.');
        self::assertTrue($is(['U7.1' => 'high', 'U7.2' => 'low', 'U7.3' => 'low', 'U7.4' => 'low', 'U7.5' => 'low', 'U7.6' => 'high', 'U7.14' => 'low']));
        self::assertFalse($is(['U7.1' => 'pulsing', 'U7.2' => 'low', 'U7.3' => 'low', 'U7.4' => 'low', 'U7.5' => 'low', 'U7.6' => 'high', 'U7.14' => 'low']), 'It should move.');
        self::assertFalse($is([]));
    }
}
