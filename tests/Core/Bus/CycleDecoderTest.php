<?php

declare(strict_types=1);

namespace Tests\Core\Bus;

use PHPUnit\Framework\TestCase;
use Tests\Support\Boards;
use Tests\Support\Captures;
use ZapTrace\Bus\Cycle;
use ZapTrace\Bus\CycleKind;
use ZapTrace\Bus\CycleList;
use ZapTrace\Bus\Disassembler;
use ZapTrace\Bus\LineWatch;
use ZapTrace\Bus\SignalMap;
use ZapTrace\Problems\InputRejected;
use ZapTrace\Processors\Opcodes6502;

final class CycleDecoderTest extends TestCase
{
    public function test_a_6502_is_read_as_phi2_falls_and_not_before_reset_has_ended(): void
    {
        $run = Captures::run();
        $decoded = Captures::decode(Captures::vcd($run, Captures::plainChannels()), Captures::bus('6502'));

        self::assertSame($run->count(), $decoded->count());
        for ($number = 0; $number < $run->count(); $number++) {
            self::assertEquals([$run->at($number)->kind, $run->at($number)->address, $run->at($number)->data], [$decoded->at($number)->kind, $decoded->at($number)->address, $decoded->at($number)->data]);
        }
    }

    public function test_an_inverted_channel_and_lines_that_were_not_probed(): void
    {
        $channels = array_diff_key(Captures::plainChannels(), array_flip(['D4', 'D5', 'D6', 'D7', 'A12', 'A13', 'A14', 'A15', 'SYNC']));
        $channels['R//W'] = ['CH9', true];
        $decoded = Captures::decode(Captures::vcd(Captures::run(), $channels), Captures::bus('6502'), ['R//W' => '!CH9']);

        self::assertSame([0x0FFF, 0x0F], [$decoded->addressMask, $decoded->dataMask]);
        self::assertSame(0xFFC, $decoded->at(0)->address);
        self::assertSame(CycleKind::Read, $decoded->at(0)->kind);
    }

    public function test_the_lower_address_of_an_8088_is_latched_before_its_data_come(): void
    {
        // Intel iAPX 88 manual: AD0 to AD7 carry the address while ALE is high, the data at the end of /RD.
        $rows = ['time,ALE,/RD,/WR,IO//M,AD0,AD1,AD2,AD3,AD4,AD5,AD6,AD7,A8,A9'];
        foreach ([[1, 1, 0x0F5], [0, 1, 0x0F5], [0, 0, 0x0F5], [0, 0, 0x0A7], [0, 1, 0x0A7], [0, 1, 0x000]] as $time => [$ale, $rd, $word]) {
            $bits = array_map(static fn (int $bit): int => $word >> $bit & 1, range(0, 7));
            $rows[] = implode(',', [$time, $ale, $rd, 1, 0, ...$bits, 0, 1]);
        }
        $decoded = Captures::decode(implode("\n", $rows)."\n", Captures::bus('8088'));

        self::assertSame(1, $decoded->count());
        self::assertEquals([CycleKind::Read, 0x2F5, 0xA7], [$decoded->at(0)->kind, $decoded->at(0)->address, $decoded->at(0)->data]);
    }

    public function test_a_z80_tells_fetches_reads_and_ports_apart(): void
    {
        $rows = ['time,/M1,/MREQ,/IORQ,/RD,/WR,A0,D0'];
        foreach ([
            [1, 1, 1, 1, 1, 0, 0], [0, 0, 1, 0, 1, 0, 1], [1, 1, 1, 1, 1, 1, 1],
            [1, 0, 1, 0, 1, 1, 0], [1, 1, 1, 1, 1, 1, 0],
            [1, 1, 0, 1, 0, 0, 1], [1, 1, 1, 1, 1, 0, 1],
        ] as $time => $levels) {
            $rows[] = implode(',', [$time, ...$levels]);
        }
        $decoded = Captures::decode(implode("\n", $rows)."\n", Captures::bus('Z80'));

        self::assertSame([CycleKind::Fetch, CycleKind::Read, CycleKind::IoWrite], [$decoded->at(0)->kind, $decoded->at(1)->kind, $decoded->at(2)->kind]);
        self::assertSame([0, 1], [$decoded->at(0)->address, $decoded->at(0)->data]);
    }

    public function test_without_a_strobe_nothing_can_be_told_and_a_channel_that_is_not_there_is_named(): void
    {
        try {
            Captures::decode("time,A0,D0\n0,0,0\n", Captures::bus('6502'));
            self::fail('Nothing said.');
        } catch (InputRejected $rejected) {
            self::assertStringContainsString('No channel is on PHI2', $rejected->getMessage());
        }
        $this->expectExceptionMessage('The capture has no channel "CH5"; it has PHI2, A0');
        Captures::decode("time,PHI2,A0\n0,0,0\n", Captures::bus('6502'), ['A1' => 'CH5']);
    }

    public function test_cycles_are_kept_packed_and_come_back(): void
    {
        $list = new CycleList(0xFFFFFF, 0xFFFF, 1e-12, 99);
        $list->add(5_000_000_000, CycleKind::IoRead, 0xF80004, 0x4E71);
        $back = CycleList::unpacked($list->packed());

        self::assertEquals(new Cycle(5_000_000_000, CycleKind::IoRead, 0xF80004, 0x4E71), $back->at(0));
        self::assertSame([0xFFFFFF, 0xFFFF, 1e-12, 99, 1], [$back->addressMask, $back->dataMask, $back->unit, $back->end, $back->count()]);
    }

    public function test_lines_beside_the_bus_are_summed_up(): void
    {
        $content = Captures::vcd(Captures::run(), Captures::plainChannels());
        $capture = Captures::open($content);
        $watch = new LineWatch(Captures::bus('6502'), SignalMap::byName($capture->channels(), Captures::bus('6502')));
        $capture->read($watch);
        $lines = array_column($watch->summary($capture->unit(), $capture->end()), null, 'signal');

        self::assertSame('goes high once, after 200 ns', $lines['/RES']['words']);
        self::assertEqualsWithDelta(1e6, $lines['PHI2']['hz'], 2000.0);
    }

    public function test_instructions_are_named(): void
    {
        $disassembler = Disassembler::fromJson(Boards::file('knowledge/instructions.json'));
        // MOS MCS6500 and Zilog Z80 programming manuals, from memory.
        foreach ([[[0xA9, 0x55], 'LDA #55', 2], [[0x8D, 0x00, 0xD0], 'STA D000', 3], [[0xD0, 0xFE], 'BNE -2', 2], [[0x6C, 0x34, 0x12], 'JMP (1234)', 3], [[0xB1, 0x10], 'LDA (10),Y', 2], [[0x0A], 'ASL A', 1], [[0x02], '02: none', 1], [[0xAD], 'LDA ????', 3]] as [$bytes, $name, $length]) {
            self::assertSame([$name, $length], $disassembler->name('6502', $bytes));
        }
        foreach ([[[0xC3, 0x00, 0x80], 'JP 8000', 3], [[0x21, 0x34, 0x12], 'LD HL,1234', 3], [[0xED, 0xB0], 'LDIR', 2], [[0xCB, 0x7E], 'BIT 7,(HL)', 2], [[0xDD, 0x21, 0x00, 0x40], 'LD IX,4000', 4], [[0x10, 0xFE], 'DJNZ -2', 2], [[0x76], 'HALT', 1], [[0xF3], 'DI', 1], [[0x3E, 0x0F], 'LD A,0F', 2], [[0xE6, 0x07], 'AND 07', 2], [[0xED, 0x4B, 0, 0x50], 'LD BC,(5000)', 4], [[0xCB, 0x3F], 'SRL A', 2], [[0xDD, 0x7E, 0xFE], 'LD A,(IX-2)', 3], [[0xFD, 0xCB, 0x05, 0x46], 'BIT 0,(IY+5)', 4], [[0xDD, 0x36, 0x02, 0xAA], 'LD (IX+2),AA', 4], [[0xED, 0x00], 'ED: none', 1]] as [$bytes, $name, $length]) {
            self::assertSame([$name, $length], $disassembler->name('Z80', $bytes));
        }
    }

    public function test_the_table_of_the_6502_names_what_the_model_executes(): void
    {
        $disassembler = Disassembler::fromJson(Boards::file('knowledge/instructions.json'));
        $lengths = ['implied' => 1, 'accumulator' => 1, 'absolute' => 3, 'absolute,x' => 3, 'absolute,y' => 3, '(indirect)' => 3];
        for ($opcode = 0; $opcode < 256; $opcode++) {
            [$name, $length] = $disassembler->name('6502', [$opcode, 0, 0]);
            if (! Opcodes6502::isDocumented($opcode)) {
                self::assertStringEndsWith('none', $name);

                continue;
            }
            [$expected, $mode] = Opcodes6502::of($opcode);
            self::assertSame([$expected, $lengths[$mode] ?? 2], [substr($name, 0, 3), $length], sprintf('%02X', $opcode));
        }
    }
}
