<?php

declare(strict_types=1);

namespace Tests\Core\Memory\Listings;

use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;
use Tests\Support\Bench;
use Tests\Support\Listings;
use ZapTrace\Formats\IntelHex;
use ZapTrace\Memory\Listings\Language;
use ZapTrace\Memory\Listings\Listing;
use ZapTrace\Memory\Listings\PrintedResults;
use ZapTrace\Memory\Tests\MemoryTest;
use ZapTrace\Problems\InputRejected;

final class ListingTest extends TestCase
{
    public function test_a_basic_listing_is_short_enough_to_type_and_says_what_it_does(): void
    {
        $text = Listings::of('march-c-', 'basic-peek', 0x400, 0x7FF)->text;

        self::assertStringContainsString('20 N=0:F=1024:T=2047', $text);
        self::assertStringContainsString('X=PEEK(A):IF X<>D THEN W=D:GOSUB 950', $text);
        self::assertStringContainsString('FOR A=T TO F STEP -1', $text);
        self::assertLessThan(40, substr_count($text, "\n"));
    }

    public function test_the_other_basic_reaches_memory_by_its_operator(): void
    {
        $text = Listings::of('mats+', 'basic-indirect', 0x400, 0x7FF)->text;

        self::assertStringContainsString('X=?A', $text);
        self::assertStringContainsString('?A=E', $text);
        self::assertStringNotContainsString('PEEK', $text);
    }

    /**
     * @return iterable<string, array{string}>
     */
    public static function processors(): iterable
    {
        foreach (['6502', 'z80', '6809', '8088', '68000'] as $processor) {
            yield $processor => [$processor];
        }
    }

    #[DataProvider('processors')]
    public function test_every_test_fits_every_processor_and_reads_back_from_its_hex_file(string $processor): void
    {
        foreach (MemoryTest::all() as $test) {
            foreach ([0.0, 1.0] as $pause) {
                $listing = Listings::of($test->id, $processor, 0x3000, 0x3FFF, null, $pause);
                $segments = IntelHex::read($listing->hex())->segments;

                self::assertSame($listing->bytes, implode('', $segments), $test->name);
                self::assertLessThan(300, strlen((string) $listing->bytes), 'Short enough to type.');
            }
        }
    }

    /**
     * The opcodes of the makers' published tables, recalled from memory: Motorola, MC6809 Programming Manual, 1981;
     * Intel, iAPX 86/88 User's Manual, 1981; Motorola, M68000 Programmer's Reference Manual.
     *
     * @return iterable<string, array{string, array<string, array{string, int}>}>
     */
    public static function opcodes(): iterable
    {
        // Opcode => mnemonic and length of the whole instruction.
        yield '6809' => ['6809', [
            '7F' => ['CLR ext', 3], 'F6' => ['LDB ext', 3], '8E' => ['LDX #', 3], 'A6' => ['LDA idx', 2], 'B7' => ['STA ext', 3], '10 8E' => ['LDY #', 4], '81' => ['CMPA #', 2],
            '26' => ['BNE', 2], '27' => ['BEQ', 2], '24' => ['BCC', 2], '25' => ['BCS', 2], '2B' => ['BMI', 2], '20' => ['BRA', 2], '8D' => ['BSR', 2], '7C' => ['INC ext', 3], 'B6' => ['LDA ext', 3],
            '39' => ['RTS', 1], '10 BF' => ['STY ext', 4], '10 BE' => ['LDY ext', 4], '85' => ['BITA #', 2], '44' => ['LSRA', 1], '54' => ['LSRB', 1], '43' => ['COMA', 1], '74' => ['LSR ext', 3],
            'A1' => ['CMPA idx', 2], 'C1' => ['CMPB #', 2], '34' => ['PSHS', 2], '35' => ['PULS', 2], '31' => ['LEAY', 2], '30' => ['LEAX', 2], 'AF' => ['STX idx', 2], 'A7' => ['STA idx', 2],
            'CB' => ['ADDB #', 2], 'F7' => ['STB ext', 3], '8C' => ['CMPX #', 3], '1F' => ['TFR', 2], '86' => ['LDA #', 2], 'C6' => ['LDB #', 2], '7D' => ['TST ext', 3], '5A' => ['DECB', 1],
        ]];
        yield '8088' => ['8088', [
            'B8' => ['MOV AX,imm', 3], '8E' => ['MOV DS,', 2], '2E C6 06' => ['MOV BYTE CS:', 6], '2E 8A 1E' => ['MOV BL,CS:', 5], 'B7' => ['MOV BH,', 2], '2E 8A 97' => ['MOV DL,CS:[BX+', 5], 'BE' => ['MOV SI,imm', 3],
            '2E 8A 04' => ['MOV AL,CS:[SI]', 3], '3C' => ['CMP AL,', 2], '75' => ['JNE/JNZ', 2], '74' => ['JE/JZ', 2], '2E FE 06' => ['INC BYTE CS:', 5], '2E 80 3E' => ['CMP BYTE CS:', 6], 'CC' => ['INT 3', 1], '46' => ['INC SI', 1],
            '8A' => ['MOV r8,r/m8', 2], '8B' => ['MOV r16,r16', 2], 'A8' => ['TEST AL,', 2], 'E8' => ['CALL', 3], 'BF' => ['MOV DI,imm', 3], 'F6 C6' => ['TEST DH,', 3], '2E 8A 0C' => ['MOV CL,CS:[SI]', 3], '0A' => ['OR r8,', 2],
            '78' => ['JS', 2], 'D0' => ['SHR r8,1', 2], '73' => ['JNC/JAE', 2], 'F6 D0' => ['NOT AL', 2], '72' => ['JC', 2], '3A' => ['CMP r8,', 2], '80 FB' => ['CMP BL,', 3], '2E 89' => ['MOV CS:[BX+res', 5], '2E 80 06' => ['ADD BYTE CS:', 6],
            'EB' => ['JMP', 2], 'E9' => ['JMP', 3], '88' => ['MOV [DI],AL', 2], '81 FF' => ['CMP DI,', 4], '47' => ['INC DI', 1], '4F' => ['DEC DI', 1], 'B0' => ['MOV AL,', 2], 'C3' => ['RET', 1], 'B3' => ['MOV BL,', 2], 'B9' => ['MOV CX,', 3], 'E2' => ['LOOP', 2], 'FE CB' => ['DEC BL', 2],
        ]];
        yield '68000' => ['68000', [
            '49 FA' => ['LEA (PC),A4', 4], '47 FA' => ['LEA (PC),A3', 4], '43 FA' => ['LEA (PC),A1', 4], '4B FA' => ['LEA (PC),A5', 4], '78 00' => ['MOVEQ #0,D4', 2], '16 1C' => ['MOVE.B (A4)+,D3', 2], '14 19' => ['MOVE.B (A1)+,D2', 2],
            '0C 02' => ['CMPI.B D2', 4], '0C 04' => ['CMPI.B D4', 4], '67' => ['BEQ.S', 2], '24 49' => ['MOVEA.L A1,A2', 2], '08 02' => ['BTST D2', 4], '61' => ['BSR.S', 2], '41 F9' => ['LEA abs,A0', 6], '22 4A' => ['MOVEA.L A2,A1', 2],
            '12 19' => ['MOVE.B (A1)+,D1', 2], '6B' => ['BMI.S', 2], 'E2 09' => ['LSR.B #1,D1', 2], '64' => ['BCC.S', 2], '46 00' => ['NOT.B D0', 2], '65' => ['BCS.S', 2], '1A 10' => ['MOVE.B (A0),D5', 2], 'BA 00' => ['CMP.B D0,D5', 2],
            '52 04' => ['ADDQ.B #1,D4', 2], '26 C8' => ['MOVE.L A0,(A3)+', 2], '16 C0' => ['MOVE.B D0,(A3)+', 2], '16 C5' => ['MOVE.B D5,(A3)+', 2], '60' => ['BRA.S', 2], '10 80' => ['MOVE.B D0,(A0)', 2], '66' => ['BNE.S', 2], 'B1 FC' => ['CMPA.L #,A0', 6],
            '52 88' => ['ADDQ.L #1,A0', 2], '53 88' => ['SUBQ.L #1,A0', 2], 'B9 CD' => ['CMPA.L A5,A4', 2], '1A 84' => ['MOVE.B D4,(A5)', 2], '4E 75' => ['RTS', 2], '10 03' => ['MOVE.B D3,D0', 2], '20 08' => ['MOVE.L A0,D0', 2], 'E0 48' => ['LSR.W #8,D0', 2],
            '4A 03' => ['TST.B D3', 2], '02 00' => ['ANDI.B D0', 4], '44 00' => ['NEG.B D0', 2], '0A 00' => ['EORI.B D0', 4], '7A' => ['MOVEQ D5', 2], '20 3C' => ['MOVE.L #,D0', 6], '53 80' => ['SUBQ.L #1,D0', 2], '53 05' => ['SUBQ.B #1,D5', 2],
        ]];
    }

    /**
     * @param  array<string, array{string, int}>  $table
     */
    #[DataProvider('opcodes')]
    public function test_every_instruction_is_its_maker_s_opcode(string $processor, array $table): void
    {
        $checked = 0;
        foreach (['march-b', 'checkerboard', 'address-in-address', 'address-low', 'address-high'] as $test) {
            foreach (explode("\n", Listings::of($test, $processor, 0x3000, 0x3FFF, null, 1.0)->text) as $line) {
                // Columns: address, bytes, label, instruction and comment.
                $bytes = trim(substr($line, 6, 24));
                $text = trim((string) strtok(substr($line, 39), ';'));
                if ($text === '' || preg_match('/^(BYTE|FCB|FDB)/', $text) === 1) {
                    continue;
                }
                $found = null;
                foreach ($table as $opcode => $entry) {
                    if (str_starts_with("{$bytes} ", "{$opcode} ") && ($found === null || strlen((string) $opcode) > strlen($found))) {
                        $found = (string) $opcode;
                    }
                }
                self::assertNotNull($found, "{$processor}: {$line}");
                [$words, $length] = $table[$found];
                $mnemonic = explode('/', (string) strtok($words, ' '));
                $written = (string) strtok($text, ' ');
                self::assertContains($written, $mnemonic, "{$processor}: {$bytes} is {$words}, not {$text}");
                self::assertCount($length, explode(' ', $bytes), "{$processor}: {$line}");
                $checked++;
            }
        }
        self::assertGreaterThan(200, $checked);
    }

    public function test_the_running_time_is_said_in_what_is_handy(): void
    {
        $request = Listings::of('mats+', '6502', 0x3000, 0x3FFF)->request;
        foreach (['1 seconds' => 0.2, '89 seconds' => 88.4, '2 minutes' => 90.0, '89 minutes' => 5340.0, '1.5 hours' => 5400.0] as $words => $seconds) {
            self::assertSame($words, (new Listing($request, '', null, null, $seconds, []))->duration());
        }
    }

    #[DataProvider('processors')]
    public function test_every_jump_lands_on_the_label_it_names(string $processor): void
    {
        $listing = Listings::of('march-b', $processor, 0x3000, 0x3FFF);
        $jumps = 0;
        foreach (explode("\n", $listing->text) as $line) {
            if (preg_match('/^([0-9A-F]{4})  (\S\S) (\S\S) {2,}.*\b(?:B(?:NE|EQ|CC|CS|MI|RA|SR)(?:\.S)?|JR(?: N?[ZC],)?|J(?:N?[EZCS]|AE|MP))[ ]?(\w+)(?: +;.*)?$/', $line, $match) === 1 && isset($listing->symbols[$match[4]])) {
                $distance = (int) hexdec($match[3]);
                self::assertSame($listing->symbols[$match[4]], (int) hexdec($match[1]) + 2 + ($distance > 127 ? $distance - 256 : $distance), $line);
                $jumps++;
            }
        }
        self::assertGreaterThan(5, $jumps, $processor);
    }

    public function test_everything_wrong_with_a_request_is_said_at_once(): void
    {
        $problems = [];
        try {
            Listings::of('mats+', '8088', 0x12000, 0x32000, null, 99.0);
        } catch (InputRejected $rejected) {
            $problems = array_map(static fn ($problem): string => $problem->place, $rejected->problems);
        }

        self::assertSame(['pause', 'to'], $problems);
    }

    /**
     * @return iterable<string, array{string, int, int, int|null, string}>
     */
    public static function refused(): iterable
    {
        yield 'backwards' => ['6502', 0x2000, 0x1000, 0x4000, '/ends at 1000, before it starts/'];
        yield 'over itself' => ['z80', 0x4000, 0x7FFF, 0x7F00, '/test itself away/'];
        yield 'no room' => ['6502', 0x0100, 0xFFFF, null, '/no room beside the range/'];
        yield 'page zero' => ['6502', 0x0000, 0x1FFF, 0x4000, '/needs 00F8 to 00FF/'];
        yield 'odd' => ['68000', 0x1000, 0x1FFF, 0x2001, '/even address/'];
        yield 'beyond' => ['z80', 0x0000, 0x10000, 0x4000, '/beyond what/'];
    }

    #[DataProvider('refused')]
    public function test_a_program_that_could_not_run_is_refused(string $processor, int $from, int $to, ?int $at, string $sentence): void
    {
        $this->expectException(InputRejected::class);
        $this->expectExceptionMessageMatches($sentence);

        Listings::of('mats+', $processor, $from, $to, $at);
    }

    /**
     * @return iterable<string, array{string, string, list<array{int, int, int}>, bool}>
     */
    public static function printed(): iterable
    {
        yield 'BASIC, clean' => ['basic-peek', " 0  FAILURES\n", [], true];
        yield 'BASIC, as printed' => ['basic-peek', " 1536  0  32\n 1537  255  223\n 2  FAILURES", [[1536, 0, 32], [1537, 255, 223]], true];
        yield 'BASIC, broken off' => ['basic-indirect', '1536 0 32', [[1536, 0, 32]], false];
        yield '6502' => ['6502', '04 00 06 00 20', [[0x600, 0, 0x20]], true];
        yield 'with the addresses of a monitor' => ['z80', "4100: 08 00 06 00 20\n4105: 01 06 FF DF", [[0x600, 0, 0x20], [0x601, 0xFF, 0xDF]], true];
        yield '6809, high byte first' => ['6809', '04 06 00 00 20', [[0x600, 0, 0x20]], true];
        yield '68000' => ['68000', '01 00 00 06 00 00 20', [[0x600, 0, 0x20]], true];
        yield 'full' => ['6502', '7C'.str_repeat(' 00 06 00 20', 31), array_fill(0, 31, [0x600, 0, 0x20]), false];
    }

    /**
     * @param  list<array{int, int, int}>  $failures
     */
    #[DataProvider('printed')]
    public function test_what_was_printed_is_read_back(string $language, string $text, array $failures, bool $complete): void
    {
        $results = PrintedResults::parse($text, Language::from($language), 0x400, 0x7FF);

        self::assertSame($failures, array_map(static fn ($failure): array => [$failure->address, $failure->expected, $failure->read], $results->failures));
        self::assertSame($complete, $results->complete);
    }

    /**
     * @return iterable<string, array{string, string, string}>
     */
    public static function unreadable(): iterable
    {
        yield 'no numbers' => ['basic-peek', 'READY', '/three decimal numbers/'];
        yield 'nothing' => ['6502', '   ', '/Nothing to read/'];
        yield 'not a number of failures' => ['6502', '03 00 06 00 20', '/is no number of failures/'];
        yield 'cut off' => ['z80', '08 00 06 00 20', '/take 9 bytes, but only 5/'];
        yield 'elsewhere' => ['6502', '04 00 90 00 20', '/lies outside the range/'];
    }

    #[DataProvider('unreadable')]
    public function test_what_cannot_be_read_is_said(string $language, string $text, string $sentence): void
    {
        $this->expectException(InputRejected::class);
        $this->expectExceptionMessageMatches($sentence);

        PrintedResults::parse($text, Language::from($language), 0x400, 0x7FF);
    }

    public function test_a_test_that_ran_clean_clears_the_chips_of_its_range_and_one_failure_names_its_chip(): void
    {
        $bench = Bench::with('larkspur-64');
        $clean = $bench->record('memory-test', ['test' => 'march-c-', 'language' => 'basic-peek', 'from' => 0x400, 'to' => 0x13FF, 'results' => '0 FAILURES']);
        $failed = $bench->record('memory-test', ['test' => 'march-c-', 'language' => 'basic-peek', 'from' => 0x400, 'to' => 0x13FF, 'results' => "1536 0 32\n1537 0 32\n2 FAILURES"]);

        self::assertCount(8, $clean->assess()->memory->clearedChips());
        self::assertSame('U14', $failed->leading(), 'Bit 5.');
        self::assertSame(2, $failed->assess()->memory->failed);
        $brokenOff = $bench->record('memory-test', ['test' => 'march-c-', 'language' => 'basic-peek', 'from' => 0x400, 'to' => 0x13FF, 'results' => '1536 0 32']);
        self::assertSame([], $brokenOff->assess()->memory->clearedChips(), 'What was not told was not seen to be right.');
    }
}
