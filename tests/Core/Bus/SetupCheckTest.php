<?php

declare(strict_types=1);

namespace Tests\Core\Bus;

use Eris\Generators;
use Eris\TestTrait;
use PHPUnit\Framework\TestCase;
use Random\Engine\Mt19937;
use Random\Randomizer;
use Tests\Support\Boards;
use Tests\Support\Captures;
use ZapTrace\Bench\FaultKind;
use ZapTrace\Bench\InjectedFault;
use ZapTrace\Bench\Machine;
use ZapTrace\Bus\Cycle;
use ZapTrace\Bus\CycleList;
use ZapTrace\Bus\SetupCheck;
use ZapTrace\Bus\SignalMap;

final class SetupCheckTest extends TestCase
{
    use TestTrait;

    public function test_channels_that_are_where_they_are_said_to_be(): void
    {
        $check = self::check(Captures::vcd(self::good(), Captures::plainChannels()));

        self::assertSame([], $check->because);
        self::assertTrue($check->right);
        self::assertGreaterThan(0.4, $check->sure);
    }

    public function test_a_permuted_and_inverted_capture_is_solved_back(): void
    {
        $this->limitTo(12)->forAll(Generators::choose(1, 1_000_000))->disableShrinking()->then(static function (int $seed): void {
            $random = new Randomizer(new Mt19937($seed));
            $plain = Captures::plainChannels();
            $moved = array_values(array_filter(array_keys($plain), static fn (string $signal): bool => preg_match('/^[AD]\d/', $signal) === 1));
            $names = $random->shuffleArray($moved);
            foreach ($moved as $place => $signal) {
                $plain[$signal] = [$names[$place], $random->getInt(0, 1) === 1];
            }
            $plain['PHI2'] = ['PHI2', $random->getInt(0, 1) === 1];
            $check = self::check($vcd = Captures::vcd(self::good(), $plain));
            $channels = Captures::open($vcd)->channels();
            $solved = $check->map->written($channels);
            foreach ($moved as $signal) {
                $is = ($plain[$signal][1] ? '!' : '').$plain[$signal][0];
                // Lines that move alike all the time cannot be told apart, and it says so.
                if ($solved[$signal] !== $is) {
                    self::assertStringContainsString($signal, $check->doubt);
                }
            }
            self::assertSame(($plain['PHI2'][1] ? '!' : '').'PHI2', $solved['PHI2']);
            self::assertFalse($check->right && $names !== $moved);
        });
    }

    public function test_a_clip_that_does_not_touch_and_a_strobe_at_the_wrong_edge(): void
    {
        $channels = Captures::plainChannels();
        unset($channels['D3']);
        $vcd = str_replace('$upscope', "\$var wire 1 zz D3 \$end\n\$upscope", Captures::vcd(self::good(), $channels));
        $vcd = str_replace("#0\n", "#0\n0zz\n", $vcd);
        $check = self::check($vcd, ['PHI2' => '!PHI2']);
        $states = array_column($check->channels, 'state', 'channel');

        self::assertSame('stuck', $states['D3']);
        self::assertStringContainsString('taken at the wrong edge', implode(' ', $check->because));
        self::assertStringContainsString('D3, taken for D3, shows low', implode(' ', $check->because));
    }

    public function test_a_capture_of_the_machine_is_checked_by_its_rom_alone(): void
    {
        $vcd = (new Machine(Boards::shipped('larkspur-64'), [], 5))->capture(400);
        $swapped = strtr($vcd, [' A0 $end' => ' A1 $end', ' A1 $end' => ' A0 $end']);

        self::assertTrue(self::check($vcd, reference: Captures::run())->right);
        self::assertSame(['A0 is on A1, not on A0.', 'A1 is on A0, not on A1.'], self::check($swapped, reference: Captures::run())->because);
    }

    public function test_a_machine_that_goes_astray_is_checked_by_its_beginning(): void
    {
        $vcd = strtr((new Machine(Boards::shipped('larkspur-64'), [new InjectedFault(FaultKind::ReadsLow, 'U12')], 1))->capture(400), [' A0 $end' => ' A1 $end', ' A1 $end' => ' A0 $end']);

        self::assertSame(['A0 is on A1, not on A0.', 'A1 is on A0, not on A1.'], self::check($vcd)->because);
    }

    public function test_a_recording_of_something_else_is_not_called_right(): void
    {
        $this->expectExceptionMessage('Too little of it is like the run');
        self::check(Captures::vcd(Captures::changed(self::good(), static fn (int $number, Cycle $is): Cycle => new Cycle($is->time, $is->kind, crc32("a{$number}") & 0xFFFF, crc32("d{$number}") & 0xFF)), Captures::plainChannels()));
    }

    public function test_too_little_to_compare_with_is_refused(): void
    {
        $this->expectExceptionMessage('fewer than 12 cycles');
        self::check(Captures::vcd(self::good(), Captures::plainChannels()), reference: new CycleList(0xFFFF, 0xFF));
    }

    /**
     * @param  array<string, string>  $given
     */
    private static function check(string $vcd, array $given = [], ?CycleList $reference = null): SetupCheck
    {
        $bus = Captures::bus('6502');
        $channels = Captures::open($vcd)->channels();

        return SetupCheck::of(static fn () => Captures::open($vcd), $bus, SignalMap::byName($channels, $bus)->with($given, $channels, $bus), $reference ?? self::good());
    }

    private static function good(): CycleList
    {
        static $good = null;

        return $good ??= Captures::decode((new Machine(Boards::shipped('larkspur-64'), [], 1))->capture(1200), Captures::bus('6502'));
    }
}
