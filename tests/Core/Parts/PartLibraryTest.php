<?php

declare(strict_types=1);

namespace Tests\Core\Parts;

use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;
use Tests\Support\Boards;
use ZapTrace\Board\Checklist;

/**
 * Pinouts and supply as the makers' data sheets have them (memory).
 */
final class PartLibraryTest extends TestCase
{
    public function test_every_part_on_the_demo_boards_has_its_pins_and_what_it_draws(): void
    {
        foreach (['larkspur-64', 'tamarisk-two', 'halyard-16'] as $slug) {
            foreach (Boards::shipped($slug)->chips as $chip) {
                $type = $chip->type;
                self::assertNotNull($type, $chip->ref);
                self::assertCount($type->pins, $type->pinout, "{$chip->part} has a name for each pin.");
                if (! in_array($type->kind, ['regulator', 'connector', 'discrete'], true)) {
                    self::assertNotSame([], $type->supply, $chip->part);
                    self::assertGreaterThan(0.0, array_sum(array_map(static fn ($supply): float => $supply->milliamps, $type->supply)), $chip->part);
                }
            }
        }
    }

    /**
     * @return iterable<string, array{string, int, string}>
     */
    public static function pins(): iterable
    {
        yield '7400' => ['74LS00', 3, '1Y'];
        yield '7402, its output first' => ['74LS02', 1, '1Y'];
        yield '74138' => ['74LS138', 15, '/Y0'];
        yield '74245' => ['74LS245', 19, '/G'];
        yield '74257' => ['74LS257', 1, 'A/B'];
        yield '4116' => ['4116', 1, 'VBB'];
        yield '4164' => ['4164', 14, 'DO'];
        yield '4164, supply in the middle' => ['4164', 8, 'VCC'];
        yield '41256' => ['41256', 1, 'A8'];
        yield '2764' => ['2764', 20, '/CE'];
        yield '6502' => ['6502', 40, '/RES'];
        yield '6502, data' => ['6502', 33, 'D0'];
        // Intel iAPX 88 manual has no part here; the Z80 by its maker's manual.
        yield 'Z80' => ['Z80', 11, 'VCC'];
        yield 'Z80, address' => ['Z80', 40, 'A10'];
        yield '68000' => ['68000', 52, 'A23'];
        yield '68000, data' => ['68000', 64, 'D5'];
        yield '6522' => ['6522', 25, 'PHI2'];
        yield '8255' => ['8255', 26, 'VCC'];
        yield '6845' => ['6845', 39, 'HS'];
    }

    #[DataProvider('pins')]
    public function test_a_pin_has_its_name(string $part, int $pin, string $name): void
    {
        self::assertSame($name, Boards::parts()->find($part)?->pinout[$pin - 1]);
    }

    public function test_logic_has_the_limits_and_the_current_of_its_family(): void
    {
        $plain = Boards::parts()->find('7404')->supply[0] ?? null;
        $ls = Boards::parts()->find('74LS04')->supply[0] ?? null;
        $hc = Boards::parts()->find('74HC04')->supply[0] ?? null;

        self::assertSame([4.75, 5.25], [$ls?->min, $ls?->max], 'TI SN74LS00 data sheet (memory).');
        self::assertGreaterThan(3 * $ls?->milliamps, $plain?->milliamps);
        self::assertLessThan($ls?->milliamps, $hc?->milliamps);
        self::assertSame([14], $ls?->pins);
    }

    public function test_the_data_pins_of_a_memory_are_called_so(): void
    {
        foreach (Boards::parts()->all() as $part) {
            foreach ($part->memory->dataPins ?? [] as $pin) {
                if ($part->pinout !== []) {
                    self::assertMatchesRegularExpression('/^(DO|D\d|IO\d)$/', $part->pinout[$pin - 1], "{$part->name}.{$pin}");
                }
            }
        }
    }

    public function test_the_list_before_power_is_made_from_the_board(): void
    {
        $list = Checklist::of(Boards::shipped('halyard-16'));
        $sites = array_column($list, 'site');

        self::assertContains('riser', $sites);
        self::assertContains('W1', $sites);
        self::assertContains('C1', $sites);
        self::assertContains('U80', $sites, 'Every socket.');
        self::assertNotContains('U40', $sites, 'What is soldered sits.');
        self::assertSame(1, count(array_keys($sites, 'W1', true)), 'The profile says more of it than its part does.');
    }

    public function test_a_rail_from_a_regulator_of_another_is_refused(): void
    {
        try {
            Boards::build(Boards::plain(['chips' => [...Boards::plain()['chips'], ['ref' => 'VR1', 'part' => '7812']], 'rails' => [['name' => '+5', 'volts' => 5, 'regulator' => 'VR1', 'feeds' => ['F9']]], 'functions' => [['id' => 'x', 'name' => 'x', 'sites' => ['U77']]]]));
            self::fail('It was taken.');
        } catch (\ZapTrace\Problems\InputRejected $rejected) {
            $sentences = implode("\n", array_map(strval(...), $rejected->problems));
            self::assertStringContainsString('VR1 is a 7812, which gives +12 V, not +5 V', $sentences);
            self::assertStringContainsString('F9', $sentences);
            self::assertStringContainsString('U77', $sentences);
        }
    }

    /**
     * TI SN74LS00 and SN74HC00 data sheets (memory); three-rail memory by its makers' data sheets (memory).
     *
     * @return iterable<string, array{string, float, float, float, float}>
     */
    public static function levels(): iterable
    {
        yield 'LS' => ['74LS00', 0.8, 2.0, 0.5, 2.7];
        yield 'HC at 4.5 V' => ['74HC00', 1.35, 3.15, 0.1, 4.4];
        yield 'HCT takes what TTL gives' => ['74HCT00', 0.8, 2.0, 0.1, 4.4];
    }

    #[DataProvider('levels')]
    public function test_a_family_has_the_levels_of_its_data_sheet(string $part, float $low, float $high, float $givesLow, float $givesHigh): void
    {
        $levels = Boards::parts()->find($part)?->levels;

        self::assertSame([$low, $high, $givesLow, $givesHigh], [$levels?->inputLow, $levels?->inputHigh, $levels?->outputLow, $levels?->outputHigh]);
        self::assertSame(['low', 'between', 'high'], [$levels?->read($low), $levels?->read(($low + $high) / 2), $levels?->read($high)]);
    }

    public function test_three_rail_memory_wants_more_than_ttl_gives_on_some_pins(): void
    {
        $memory = Boards::parts()->find('4116')?->levels;

        self::assertSame('between', $memory?->read(2.5, 4), 'Pin 4 is /RAS.');
        self::assertSame('high', $memory?->read(2.5, 5), 'Pin 5 is an address.');
        self::assertSame('between', $memory?->read(2.2, 5));
    }

    public function test_the_library_is_complete(): void
    {
        $wanted = [
            ...array_map(strval(...), [4116, 4164, 41256, 4464, 44256, 2114, 6116, 6264, 62256, 2316, 2332, 2364, 2716, 2732, 2764, 27128, 27256, 27512, 6502, 6809, 8085, 8088, 68000, 6520, 6821, 6522, 6850, 6845, 8251, 8253, 8255, 7805, 7812, 7905, 7912]),
            '65C02', 'Z80', '16L8', '16R8', '82S100', 'NPN', 'PNP', 'DIODE', 'RESISTOR', 'RPACK8', 'CAP', 'ELCAP', 'CRYSTAL', 'OSC14', 'FUSE', 'CABLE20', 'DB25', 'CUSTOM40',
            ...array_map(static fn (string $number): string => "74LS{$number}", explode(' ', '00 02 04 05 08 10 11 14 20 21 27 30 32 42 51 74 86 93 107 109 112 123 125 126 132 138 139 145 148 151 153 155 156 157 158 160 161 163 164 165 166 173 174 175 190 191 193 194 240 241 244 245 251 253 257 258 259 273 279 280 283 365 366 367 368 373 374 375 377 390 393 541 573 574 670')),
        ];

        self::assertSame([], array_values(array_filter($wanted, static fn (string $name): bool => Boards::parts()->find($name) === null)));
    }

    public function test_every_part_has_a_pinout_with_its_supply_and_something_that_drives(): void
    {
        foreach (Boards::parts()->all() as $part) {
            self::assertCount($part->pins, $part->pinout, $part->name);
            $names = array_filter($part->pinout, static fn (string $name): bool => ! in_array($name, ['NC', '-', 'GND', 'VSS', 'VCC'], true));
            self::assertSame(array_unique($names), $names, "{$part->name} has two pins of one name.");
            if (in_array($part->kind, ['logic', 'dram', 'sram', 'rom', 'eprom', 'processor', 'peripheral', 'video', 'programmed'], true)) {
                $directions = array_map(static fn ($pin): string => $pin->direction, $part->pinList());
                self::assertNotSame([], array_intersect(['out', 'both'], $directions), "{$part->name} drives something.");
                self::assertContains('in', $directions, $part->name);
                self::assertNotSame([], array_intersect(['GND', 'VSS'], $part->pinout), $part->name);
                foreach ($part->supply as $supply) {
                    foreach ($supply->pins as $pin) {
                        self::assertContains($part->pinout[$pin - 1], ['VCC', 'VDD', 'VBB', 'VPP'], "{$part->name}.{$pin}");
                    }
                }
            }
        }
    }

    /**
     * TI TTL Data Book and the makers' sheets (memory).
     *
     * @return iterable<string, array{string, int, string, string}>
     */
    public static function directions(): iterable
    {
        yield '74LS138' => ['74LS138', 7, 'Y7', 'out'];
        yield '74LS138, enable' => ['74LS138', 4, 'G2A', 'in'];
        yield '74LS245' => ['74LS245', 2, 'A1', 'both'];
        yield '74LS541' => ['74LS541', 18, 'Y1', 'out'];
        yield '74LS574' => ['74LS574', 19, '1Q', 'out'];
        yield '74LS93, supply in the middle' => ['74LS93', 5, 'VCC', 'supply'];
        // Intel iAPX 88 manual: pins 9 to 16 carry address and data.
        yield '8088, first of the multiplexed' => ['8088', 9, 'AD7', 'both'];
        yield '8088, last of the multiplexed' => ['8088', 16, 'AD0', 'both'];
        yield '8085' => ['8085', 12, 'AD0', 'both'];
        yield '6809' => ['6809', 8, 'A0', 'out'];
        yield '6502, data' => ['6502', 33, 'D0', 'both'];
        yield '4164' => ['4164', 2, 'DI', 'in'];
    }

    #[DataProvider('directions')]
    public function test_a_pin_has_its_direction(string $part, int $number, string $name, string $direction): void
    {
        foreach (Boards::parts()->find($part)?->pinList() ?? [] as $pin) {
            if ($pin->number === $number) {
                self::assertSame([$name, $direction], [$pin->name, $pin->direction]);

                return;
            }
        }
        self::fail("{$part} has no pin {$number}.");
    }

    public function test_what_is_active_low_is_marked(): void
    {
        $pins = Boards::parts()->find('74LS74')?->pinList() ?? [];

        self::assertSame([true, false], [$pins[0]->activeLow, $pins[1]->activeLow]);
        self::assertSame('R//W', Boards::parts()->find('6502')?->pinList()[33]->name, 'Read, and write when low: the mark is within the name.');
    }

    public function test_what_a_part_does_can_be_read(): void
    {
        $equations = static fn (string $part): array => Boards::parts()->find($part)?->equations() ?? [];

        self::assertSame(['for # = 1 to 4: #Y = !(#A & #B)'], $equations('74LS00'));
        self::assertCount(8, $equations('74LS138'));
        self::assertStringStartsWith('/Y7 = !(G1', $equations('74LS138')[7]);
        self::assertSame([], $equations('4164'));
    }
}
