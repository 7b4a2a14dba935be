<?php

declare(strict_types=1);

namespace Tests\Core\Board;

use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\Attributes\TestWith;
use PHPUnit\Framework\TestCase;
use stdClass;
use Tests\Support\Boards;
use ZapTrace\Board\BoardEditor;
use ZapTrace\Board\BoardProfile;
use ZapTrace\Board\NetlistCheck;
use ZapTrace\Problems\InputRejected;

final class BoardEditorTest extends TestCase
{
    private static function draw(string ...$lines): stdClass
    {
        $editor = new BoardEditor(Boards::parts());
        $file = BoardEditor::blank('mine', 'Mine', 8, 16);
        foreach ($lines as $line) {
            $file = $editor->change($file, $line);
        }

        return $file;
    }

    private static function read(stdClass $file): BoardProfile
    {
        return Boards::reader()->read((string) json_encode($file));
    }

    public function test_a_blank_board_is_a_profile_already(): void
    {
        self::assertSame([], self::read(self::draw())->chips);
    }

    public function test_chips_are_drawn_moved_and_taken_away(): void
    {
        $board = self::read(self::draw('chip u9 4164 at 120,40 socket memory, bit 0', 'chip U10 4164', 'move u9 130,44', 'remove u10'));

        self::assertSame(['U9'], array_keys($board->chips));
        self::assertSame([130.0, 44.0, true, 'memory, bit 0'], [$board->chips['U9']->x, $board->chips['U9']->y, $board->chips['U9']->socketed, $board->chips['U9']->role]);
    }

    public function test_a_chip_that_is_given_no_place_finds_a_free_one_on_the_board(): void
    {
        $parts = ['6502', '74LS245', '4164', '68000', '74LS245', '6522', '2716', '4164', '74LS257', '74LS257', '6502', '74LS74'];
        $file = self::draw('chip u90 6502 at 60,24 turned', ...array_map(static fn (int $number, string $part): string => 'chip u'.($number + 1)." {$part}", array_keys($parts), $parts));
        $board = self::read($file);
        self::assertCount(13, $board->chips);
        $bodies = [];
        foreach ($board->chips as $ref => $chip) {
            $length = ($chip->type->pins ?? 0) / 2 * 2.54;
            [$across, $tall] = $ref === 'U90' ? [16.0, $length] : [$length, 16.0];
            self::assertGreaterThanOrEqual(0.0, $chip->x - $across / 2, "{$ref} lies past the left edge.");
            self::assertLessThanOrEqual(300.0, $chip->x + $across / 2, "{$ref} lies past the right edge.");
            foreach ($bodies as $other => [$x, $y, $width, $height]) {
                self::assertTrue(abs($chip->x - $x) >= ($across + $width) / 2 || abs($chip->y - $y) >= ($tall + $height) / 2, "{$ref} lies on {$other}.");
            }
            $bodies[$ref] = [$chip->x, $chip->y, $across, $tall];
        }
    }

    public function test_pins_are_joined_by_number_or_by_name_and_taken_off_again(): void
    {
        $board = self::read($file = self::draw('chip u1 6502', 'chip u2 2764', 'u1.A0 u2.10 = A0', 'u1./IRQ = IRQ', 'net IRQ is other'));

        self::assertSame(['U1.9', 'U2.10'], $board->netlist->nets['A0']->pins);
        self::assertSame(['address', 'other'], [$board->netlist->nets['A0']->kind, $board->netlist->nets['IRQ']->kind]);
        $without = self::read((new BoardEditor(Boards::parts()))->change($file, 'u2.10 = -'));
        self::assertSame(['U1.9'], $without->netlist->nets['A0']->pins);
        self::assertSame(['U1.9', 'U2.10'], self::read($file)->netlist->nets['A0']->pins, 'What was given is left as it was.');
    }

    public function test_a_chip_that_is_taken_away_leaves_its_nets(): void
    {
        $board = self::read(self::draw('chip u1 6502', 'chip u2 2764', 'u1.9 u2.10 = A0', 'u2.11 = D0', 'remove u2'));

        self::assertSame(['A0'], array_keys($board->netlist->nets));
        self::assertSame(['U1.9'], $board->netlist->nets['A0']->pins);
    }

    public function test_banks_ranges_links_and_code_tables_make_a_memory_map(): void
    {
        $board = self::read(self::draw('chip u1 6502', 'chip u2 2764', 'chip u3 2114', 'chip u4 2114', 'bank 0: u3 u4', 'range 0000-03FF ram 0', 'range E000-FFFF rom u2', 'link lk1 memory size: 1K, 512', 'codes test-rom flashes: 1 = 0 D0, 5 = 0 D4, 9 = u1'));

        self::assertSame(['U3', 'U4'], $board->banks['0']->chips());
        self::assertSame('U4', $board->banks['0']->chipOfLine[5]);
        self::assertSame([0x0000, 0xE000], array_map(static fn ($range): int => $range->from, $board->map->ranges));
        self::assertSame('1K', $board->settings['LK1']->default);
        self::assertSame(['1', '5', '9'], array_map(strval(...), array_keys($board->diagnostics[0]->codes)));
    }

    public function test_a_netlist_is_taken_in_from_csv_and_from_a_plain_list(): void
    {
        $editor = new BoardEditor(Boards::parts());
        $file = self::draw('chip u1 6502', 'chip u2 74ls00', 'u1.10 = A0');
        $csv = self::read($editor->import($file, "net,chip,pin\nA0,U1,9\nA0,U2,1\n\"D0\",u1,D0\n"));
        self::assertSame(['U1.9', 'U2.1'], $csv->netlist->nets['A0']->pins);
        self::assertSame(['U1.33'], $csv->netlist->nets['D0']->pins);
        $list = self::read($editor->import($file, "# as drawn\nA0: U1.9 U2.1\n/IRQ: u1.4"));
        self::assertSame(['A0', '/IRQ'], array_keys($list->netlist->nets));
    }

    public function test_every_wrong_line_of_a_netlist_is_told_and_nothing_is_taken(): void
    {
        try {
            (new BoardEditor(Boards::parts()))->import(self::draw('chip u1 6502'), "A0,U1,9\nA1,U7,1\nnonsense\nA2: U1.99");
            self::fail();
        } catch (InputRejected $rejected) {
            self::assertCount(3, $rejected->problems);
        }
    }

    /**
     * @param  list<string>  $sentences  how each begins
     */
    #[TestWith(['u1.77 U8.3 u1.1 u9.2 = MA1', ['U1 is a 6502 and has no pin 77', 'There is no U8', 'There is no u9']])]
    #[TestWith(['bank 0: u1 u8 u9', ['U1 is a 6502, which is no memory', 'There is no u8', 'There is no u9']])]
    #[TestWith(['codes test flashes: 1 = u8, nonsense', ['There is no u8', '"nonsense" is no code']])]
    public function test_all_that_is_wrong_in_a_line_is_told_at_once(string $line, array $sentences): void
    {
        $board = self::draw('chip u1 6502 at 60,30');
        try {
            (new BoardEditor(Boards::parts()))->change($board, $line);
            self::fail('It was taken.');
        } catch (InputRejected $rejected) {
            self::assertCount(count($sentences), $rejected->problems);
            foreach ($sentences as $place => $begins) {
                self::assertStringStartsWith($begins, $rejected->problems[$place]->sentence);
            }
        }
    }

    /**
     * @return iterable<string, array{string, string}>
     */
    public static function mistakes(): iterable
    {
        yield 'a part that is unknown' => ['chip u5 9999', 'The part library has no 9999'];
        yield 'a chip that is not there' => ['u9.1 u1.1 = X', 'There is no u9 on this board yet'];
        yield 'a pin that is not there' => ['u1.77 = X', 'has no pin 77'];
        yield 'a kind that is none' => ['net A0 is fast', 'not "fast"'];
        yield 'a bank of no memory' => ['bank 0: u1', 'which is no memory'];
        yield 'a bank of too few chips' => ['bank 0: u10 u11', 'A bank has 1, 4, 8, 16 or 32 data lines, and these chips give 2. Name all of its chips'];
        yield 'a range of no bank' => ['range 0000-7FFF ram 0', 'There is no bank "0" yet. Write it first'];
        yield 'codes of no memory' => ['codes test-rom flashes: 1 = u1', 'no range of it is drawn yet'];
        yield 'nothing that is known' => ['please draw it', 'That is not understood. Write, for example, "chip u9 4164 at 120,40"'];
        yield 'a form with a slip' => ['bank 0 u9 u10', 'That is not understood. Write, for example, "bank 0: u9 u10'];
    }

    #[DataProvider('mistakes')]
    public function test_a_line_that_cannot_be_drawn_says_why(string $line, string $says): void
    {
        try {
            (new BoardEditor(Boards::parts()))->change(self::draw('chip u1 6502', 'chip u10 4164', 'chip u11 4164', 'u1.9 = A0'), $line);
            self::fail();
        } catch (InputRejected $rejected) {
            self::assertStringContainsString($says, $rejected->problems[0]->sentence);
        }
    }

    public function test_the_checks_tell_what_fights_what_floats_and_what_has_no_supply(): void
    {
        $sentences = array_column((new NetlistCheck)->notices(self::read(self::draw('chip u1 74ls04', 'chip u2 74ls04', 'chip u3 74ls125', 'u1.2 u2.2 = BOTH', 'u1.1 = LOOSE', 'u3.3 u3.6 = BUS'))), 'sentence');
        $all = implode("\n", $sentences);

        self::assertStringContainsString('BOTH is driven by U1.2 (1Y) and U2.2 (1Y) at once', $all);
        self::assertStringContainsString('Nothing drives LOOSE', $all);
        self::assertStringContainsString('U1.14 (VCC) is a supply pin on no net', $all);
        self::assertStringNotContainsString('BUS is driven', $all, 'Three-state outputs share a line.');
    }
}
