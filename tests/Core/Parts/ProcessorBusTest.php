<?php

declare(strict_types=1);

namespace Tests\Core\Parts;

use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;
use Tests\Support\Boards;
use ZapTrace\Bus\SignalMap;
use ZapTrace\Parts\Pin;
use ZapTrace\Parts\ProcessorBus;

final class ProcessorBusTest extends TestCase
{
    /**
     * Widths by the manuals.
     *
     * @return iterable<string, array{string, int, int}>
     */
    public static function processors(): iterable
    {
        yield '6502' => ['6502', 16, 8];
        yield '65C02' => ['65C02', 16, 8];
        yield '6809' => ['6809', 16, 8];
        yield 'Z80' => ['Z80', 16, 8];
        yield '8085' => ['8085', 16, 8];
        yield '8088' => ['8088', 20, 8];
        yield '68000' => ['68000', 23, 16];
    }

    #[DataProvider('processors')]
    public function test_every_signal_of_a_bus_is_a_pin_of_its_processor(string $name, int $address, int $data): void
    {
        $part = Boards::parts()->find($name);
        $bus = $part->bus ?? null;
        self::assertNotNull($bus);
        $pins = array_map(static fn (Pin $pin): string => ($pin->activeLow ? '/' : '').$pin->name, $part->pinList());

        self::assertSame([], array_diff($bus->signals(), $pins));
        self::assertSame([$address, $data], [count($bus->address), count($bus->data)]);
        self::assertSame(range($name === '68000' ? 1 : 0, $name === '68000' ? 23 : $address - 1), array_map(ProcessorBus::bitOf(...), $bus->address));
        self::assertSame(range(0, $data - 1), array_map(ProcessorBus::bitOf(...), $bus->data));
        foreach ($bus->cycles as $cycle) {
            self::assertContains($cycle['strobe'], $bus->strobes());
        }
    }

    /** Intel iAPX 88 manual: pins 9 to 16 carry address and data and need a latch; 20 lines reach 1 MiB. */
    public function test_an_8088_shares_pins_9_to_16(): void
    {
        $part = Boards::parts()->find('8088');
        $shared = array_intersect($part->bus->address ?? [], $part->bus->data ?? []);
        $numbers = array_map(static fn (Pin $pin): int => $pin->number, array_values(array_filter($part?->pinList() ?? [], static fn (Pin $pin): bool => in_array($pin->name, $shared, true))));
        sort($numbers);

        self::assertSame(range(9, 16), $numbers);
        self::assertSame(['signal' => 'ALE', 'edge' => 'fall'], $part->bus->latch ?? null);
    }

    public function test_channels_are_known_by_their_names_however_they_are_written(): void
    {
        $bus = Boards::parts()->find('6502')->bus ?? null;
        self::assertNotNull($bus);
        $channels = ['a0', 'A[1]', 'D_0', 'rnw', 'phi2', 'n_res', 'Something'];
        $map = SignalMap::byName($channels, $bus);

        self::assertSame(['A0' => 'a0', 'A1' => 'A[1]', 'D0' => 'D_0', 'PHI2' => 'phi2', 'R//W' => 'rnw', '/RES' => 'n_res'], $map->written($channels));
        self::assertFalse($map->has('D1'));
        self::assertSame('!Something', $map->with(['D1' => '!Something', 'A0' => ''], $channels, $bus)->written($channels)['D1']);
        self::assertFalse($map->with(['A0' => ''], $channels, $bus)->has('A0'));
    }

    public function test_a_part_that_is_no_processor_has_no_bus(): void
    {
        self::assertNull(Boards::parts()->find('2764')->bus ?? null);
    }
}
