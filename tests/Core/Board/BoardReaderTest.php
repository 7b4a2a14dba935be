<?php

declare(strict_types=1);

namespace Tests\Core\Board;

use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;
use Tests\Support\Boards;
use ZapTrace\Board\Bank;
use ZapTrace\Board\Settings;
use ZapTrace\Problems\InputRejected;

final class BoardReaderTest extends TestCase
{
    /**
     * @return iterable<string, array{string}>
     */
    public static function shipped(): iterable
    {
        yield 'Larkspur 64' => ['larkspur-64'];
        yield 'Tamarisk Two' => ['tamarisk-two'];
        yield 'Halyard 16' => ['halyard-16'];
    }

    #[DataProvider('shipped')]
    public function test_a_shipped_board_holds_together(string $slug): void
    {
        $board = Boards::shipped($slug);

        self::assertSame($slug, $board->slug);
        foreach ($board->chips as $chip) {
            self::assertNotNull($chip->x, "{$chip->ref} has a place on the plan");
        }
    }

    /** Arithmetic: 8 chips of 64K x 1 are 64 KiB, 16 chips of 16K x 1 are 32 KiB in two banks. */
    public function test_chips_and_banks_of_the_shipped_boards_add_up_to_their_memory(): void
    {
        $bytes = static fn (Bank $bank, string $slug): int => intdiv(array_sum(array_map(
            static fn (int $line): int => Boards::parts()->find(Boards::shipped($slug)->chips[$bank->chipOfLine[$line]]->part)->memory->words ?? 0,
            $bank->lines(),
        )), 8);

        self::assertSame(65536, $bytes(Boards::shipped('larkspur-64')->banks['0'], 'larkspur-64'));
        self::assertSame(32768, $bytes(Boards::shipped('tamarisk-two')->banks['0'], 'tamarisk-two') + $bytes(Boards::shipped('tamarisk-two')->banks['1'], 'tamarisk-two'));
        self::assertSame(524288, $bytes(Boards::shipped('halyard-16')->banks['main'], 'halyard-16'));
    }

    public function test_every_problem_of_a_bad_file_is_told_at_once_by_pointer(): void
    {
        $problems = $this->problemsOf('{"format":"zap-trace-board/2","slug":"A b","name":5,"bus":{"dataWidth":9,"addressWidth":99},"chips":[{"ref":"U1"},{"rfe":1,"ref":"9","part":"x"}],"banks":[],"map":[],"extra":1}');

        self::assertSame(
            ['/', '/format', '/slug', '/name', '/bus/dataWidth', '/bus/addressWidth', '/chips/0', '/chips/1/ref', '/chips/1', '/map', '/'],
            array_column($problems, 0),
        );
        self::assertSame('Missing: "revision".', $problems[0][1]);
        self::assertStringContainsString('only 8, 16, 32', $problems[4][1]);
        self::assertStringContainsString('"rfe"', $problems[8][1]);
        self::assertStringNotContainsString('"ref"', $problems[8][1]);
    }

    /**
     * @return iterable<string, array{array<string, mixed>, string, string}>
     */
    public static function inconsistencies(): iterable
    {
        $chips = Boards::plain()['chips'];
        $bank = Boards::plain()['banks'][0];
        $range = ['from' => '0x0000', 'to' => '0x7FFF', 'kind' => 'ram', 'bank' => '0'];

        yield 'a part that the library does not know' => [['chips' => [['ref' => 'U1', 'part' => '9999'], ...array_slice($chips, 1)]], '/chips/0/part', 'not in the part library'];
        yield 'one reference twice' => [['chips' => [...$chips, ['ref' => 'u1', 'part' => '4164']]], '/chips/8/ref', 'used twice'];
        yield 'a bank with a bit that no chip holds' => [['banks' => [[...$bank, 'chips' => array_slice($bank['chips'], 1)]]], '/banks/0/chips', 'no chip holds D0'];
        yield 'a bank with a bit that two chips hold' => [['banks' => [[...$bank, 'chips' => [...$bank['chips'], ['chip' => 'U1', 'lines' => ['D3']]]]]], '/banks/0/chips/8/lines', 'both U4 and U1'];
        yield 'a chip given more lines than it has' => [['banks' => [[...$bank, 'chips' => [['chip' => 'U1', 'lines' => ['D0', 'D1']], ...array_slice($bank['chips'], 2)]]]], '/banks/0/chips/0/lines', '1 bit wide, but is given 2'];
        yield 'a bank wider than the bus' => [['banks' => [[...$bank, 'width' => 16]]], '/banks/0/width', '8 data lines'];
        yield 'a bank of a chip that is not there' => [['banks' => [[...$bank, 'servedBy' => [['chip' => 'U99', 'role' => 'select']]]]], '/banks/0/servedBy/0/chip', 'no such chip'];
        yield 'an address bit used twice' => [['banks' => [[...$bank, 'multiplex' => ['row' => ['A0', 'A1'], 'column' => ['A1']]]]], '/banks/0/multiplex', 'twice'];
        yield 'ranges that collide' => [['map' => [$range, [...$range, 'from' => '0x7000', 'to' => '0x8000', 'bankAddress' => '0x7000']]], '/map/1', 'collides'];
        yield 'a range back to front' => [['map' => [[...$range, 'from' => '0x8000']]], '/map/0', 'before it starts'];
        yield 'a range beyond the last address' => [['map' => [[...$range, 'to' => '0x10000']]], '/map/0/to', 'beyond the last address'];
        yield 'a range larger than its chips' => [['bus' => ['dataWidth' => 8, 'addressWidth' => 20], 'map' => [[...$range, 'to' => '0x1FFFF']]], '/map/0', 'with 65536 words'];
        yield 'memory without a bank' => [['map' => [['from' => '0x0', 'to' => '0xF', 'kind' => 'ram']]], '/map/0', 'needs a bank'];
        yield 'a bank that is not there' => [['map' => [[...$range, 'bank' => '7']]], '/map/0/bank', 'no bank "7"'];
        yield 'a setting that is not there' => [['map' => [[...$range, 'when' => ['LK9' => ['on']]]]], '/map/0/when/LK9', 'no link or latch'];
        yield 'an assembly that is not there' => [['chips' => [[...$chips[0], 'assembly' => 'riser'], ...array_slice($chips, 1)]], '/chips/0/assembly', 'assemblies are main'];
        yield 'a code that names no chip' => [['diagnostics' => [['id' => 'd', 'name' => 'test', 'reports' => 'flashes', 'covers' => [['from' => '0x0', 'to' => '0xFF']], 'codes' => [['code' => '1', 'bank' => '7', 'line' => 'D0']]]]], '/diagnostics/0/codes/0', 'where there is no chip'];
        yield 'a sign that excludes one that is not there' => [['signs' => [['id' => 'hum', 'words' => 'hums', 'means' => 'It has its supply.', 'excludes' => ['blank', 'blnak']]]], '/signs/0/excludes/1', '"blnak"'];
        yield 'a default that is no position' => [['links' => [['ref' => 'LK1', 'name' => 'size', 'default' => 'x', 'positions' => [['name' => 'a'], ['name' => 'b']]]]], '/links/0/default', 'positions are a, b'];
    }

    /**
     * @param  array<string, mixed>  $changes
     */
    #[DataProvider('inconsistencies')]
    public function test_what_the_schema_cannot_say_is_checked(array $changes, string $pointer, string $says): void
    {
        $problems = $this->problemsOf((string) json_encode(Boards::plain($changes)));

        self::assertContains($pointer, array_column($problems, 0));
        self::assertStringContainsString($says, $problems[(int) array_search($pointer, array_column($problems, 0), true)][1]);
    }

    public function test_overlays_told_apart_by_access_setting_page_or_pattern_do_not_collide(): void
    {
        $range = ['from' => '0x0000', 'to' => '0x7FFF', 'kind' => 'ram', 'bank' => '0'];
        $latch = [['ref' => 'SEL', 'name' => 'select', 'default' => 'a', 'positions' => [['name' => 'a'], ['name' => 'b']]]];
        foreach ([
            [[...$range, 'access' => 'read'], [...$range, 'access' => 'write']],
            [[...$range, 'when' => ['SEL' => ['a']]], [...$range, 'when' => ['SEL' => ['b']]]],
            [[...$range, 'page' => 1], [...$range, 'page' => 2]],
            [[...$range, 'where' => ['mask' => '0x1', 'value' => '0x0']], [...$range, 'where' => ['mask' => '0x1', 'value' => '0x1']]],
        ] as $map) {
            self::assertCount(2, Boards::build(Boards::plain(['map' => $map, 'latches' => $latch]))->map->ranges);
        }
    }

    /**
     * @return iterable<string, array{string, string}>
     */
    public static function notBoards(): iterable
    {
        yield 'an empty file' => ['', 'empty'];
        yield 'blanks' => ["\xEF\xBB\xBF  \n", 'empty'];
        yield 'no JSON' => ['hello', 'not a JSON file'];
        yield 'a list' => ['[]', 'an object is wanted'];
        yield 'a huge file' => [str_repeat(' ', 5 * 1024 * 1024), 'at most 4 MiB'];
    }

    #[DataProvider('notBoards')]
    public function test_what_is_no_board_file_is_refused_with_a_sentence(string $content, string $says): void
    {
        self::assertStringContainsString($says, $this->problemsOf($content)[0][1]);
    }

    public function test_an_unknown_link_or_position_is_told_with_the_known_ones(): void
    {
        $board = Boards::shipped('tamarisk-two');
        self::assertSame('16K', Settings::of($board, ['lk1' => '16k'])->position('LK1'));
        try {
            Settings::of($board, ['LK1' => '48K', 'LK7' => 'on']);
            self::fail('They were taken');
        } catch (InputRejected $rejected) {
            self::assertCount(2, $rejected->problems);
            self::assertStringContainsString('32K, 16K, swapped', $rejected->problems[0]->sentence);
            self::assertStringContainsString('It has LK1', $rejected->problems[1]->sentence);
        }
    }

    /**
     * @return list<array{string, string}>
     */
    private function problemsOf(string $json): array
    {
        try {
            Boards::reader()->read($json);
        } catch (InputRejected $rejected) {
            return array_map(static fn ($problem): array => [$problem->place, $problem->sentence], $rejected->problems);
        }
        self::fail('The board was taken.');
    }
}
