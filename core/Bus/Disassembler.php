<?php

declare(strict_types=1);

namespace ZapTrace\Bus;

use ZapTrace\Bench\Opcodes6502;

/**
 * Names instructions as a processor fetches them: those of the 6502 with their operands, those of the Z80 by their
 * tables.
 */
final readonly class Disassembler
{
    private const R = ['B', 'C', 'D', 'E', 'H', 'L', '(HL)', 'A'];

    private const RP = ['BC', 'DE', 'HL', 'SP'];

    private const RP2 = ['BC', 'DE', 'HL', 'AF'];

    private const CC = ['NZ', 'Z', 'NC', 'C', 'PO', 'PE', 'P', 'M'];

    private const ALU = ['ADD A,', 'ADC A,', 'SUB ', 'SBC A,', 'AND ', 'XOR ', 'OR ', 'CP '];

    private const ROT = ['RLC', 'RRC', 'RL', 'RR', 'SLA', 'SRA', 'SLL', 'SRL'];

    public static function knows(string $processor): bool
    {
        return in_array($processor, ['6502', '65C02', 'Z80'], true);
    }

    /**
     * @param  list<int>  $bytes  from the opcode on, as many as are known
     * @return array{string, int} the instruction, with ?? for what is not known, and its length in bytes
     */
    public static function name(string $processor, array $bytes): array
    {
        return $processor === 'Z80' ? self::z80($bytes) : self::m6502($bytes);
    }

    /**
     * @param  list<int>  $bytes
     * @return array{string, int}
     */
    private static function m6502(array $bytes): array
    {
        if (! isset($bytes[0]) || ! Opcodes6502::isDocumented($bytes[0])) {
            return [isset($bytes[0]) ? sprintf('%02X: none', $bytes[0]) : '??', 1];
        }
        [$name, $mode] = Opcodes6502::of($bytes[0]);
        $byte = isset($bytes[1]) ? sprintf('%02X', $bytes[1]) : '??';
        $word = isset($bytes[1], $bytes[2]) ? sprintf('%02X%02X', $bytes[2], $bytes[1]) : '????';

        return match ($mode) {
            'implied' => [$name, 1],
            'accumulator' => ["{$name} A", 1],
            'immediate' => ["{$name} #{$byte}", 2],
            'zero page' => ["{$name} {$byte}", 2],
            'zero page,x' => ["{$name} {$byte},X", 2],
            'zero page,y' => ["{$name} {$byte},Y", 2],
            '(indirect,x)' => ["{$name} ({$byte},X)", 2],
            '(indirect),y' => ["{$name} ({$byte}),Y", 2],
            'relative' => [$name.' '.(isset($bytes[1]) ? sprintf('%+d', $bytes[1] < 128 ? $bytes[1] : $bytes[1] - 256) : '??'), 2],
            'absolute,x' => ["{$name} {$word},X", 3],
            'absolute,y' => ["{$name} {$word},Y", 3],
            '(indirect)' => ["{$name} ({$word})", 3],
            default => ["{$name} {$word}", 3],
        };
    }

    /**
     * By the fields of the opcode: x its upper two bits, y the middle three, z the lower three.
     *
     * @param  list<int>  $bytes
     * @return array{string, int}
     */
    private static function z80(array $bytes): array
    {
        $opcode = $bytes[0] ?? null;
        if ($opcode === null) {
            return ['??', 1];
        }
        $n = isset($bytes[1]) ? sprintf('%02X', $bytes[1]) : '??';
        $nn = isset($bytes[1], $bytes[2]) ? sprintf('%02X%02X', $bytes[2], $bytes[1]) : '????';
        $d = isset($bytes[1]) ? sprintf('%+d', $bytes[1] < 128 ? $bytes[1] : $bytes[1] - 256) : '??';
        [$x, $y, $z, $p, $q] = [$opcode >> 6, $opcode >> 3 & 7, $opcode & 7, $opcode >> 4 & 3, $opcode >> 3 & 1];
        if ($opcode === 0xCB) {
            $second = $bytes[1] ?? null;

            return [match (true) {
                $second === null => 'CB ??',
                $second < 0x40 => self::ROT[$second >> 3 & 7].' '.self::R[$second & 7],
                default => ($second < 0x80 ? 'BIT' : ($second < 0xC0 ? 'RES' : 'SET')).' '.($second >> 3 & 7).','.self::R[$second & 7],
            }, 2];
        }
        if ($opcode === 0xED) {
            return self::extended($bytes);
        }
        if ($opcode === 0xDD || $opcode === 0xFD) {
            [$name, $length] = self::z80(array_slice($bytes, 1));

            return [strtr($name, ['(HL)' => $opcode === 0xDD ? '(IX+d)' : '(IY+d)', 'HL' => $opcode === 0xDD ? 'IX' : 'IY']), $length + (str_contains($name, '(HL)') ? 2 : 1)];
        }
        if ($x === 1) {
            return [$opcode === 0x76 ? 'HALT' : 'LD '.self::R[$y].','.self::R[$z], 1];
        }
        if ($x === 2) {
            return [self::ALU[$y].self::R[$z], 1];
        }
        if ($x === 0) {
            return match ($z) {
                0 => [['NOP', "EX AF,AF'", "DJNZ {$d}", "JR {$d}", "JR NZ,{$d}", "JR Z,{$d}", "JR NC,{$d}", "JR C,{$d}"][$y], $y < 2 ? 1 : 2],
                1 => $q === 0 ? ['LD '.self::RP[$p].",{$nn}", 3] : ['ADD HL,'.self::RP[$p], 1],
                2 => [['LD (BC),A', 'LD A,(BC)', 'LD (DE),A', 'LD A,(DE)', "LD ({$nn}),HL", "LD HL,({$nn})", "LD ({$nn}),A", "LD A,({$nn})"][$y], $y < 4 ? 1 : 3],
                3 => [($q === 0 ? 'INC ' : 'DEC ').self::RP[$p], 1],
                4 => ['INC '.self::R[$y], 1],
                5 => ['DEC '.self::R[$y], 1],
                6 => ['LD '.self::R[$y].",{$n}", 2],
                default => [['RLCA', 'RRCA', 'RLA', 'RRA', 'DAA', 'CPL', 'SCF', 'CCF'][$y], 1],
            };
        }

        return match ($z) {
            0 => ['RET '.self::CC[$y], 1],
            1 => $q === 0 ? ['POP '.self::RP2[$p], 1] : [['RET', 'EXX', 'JP (HL)', 'LD SP,HL'][$p], 1],
            2 => ['JP '.self::CC[$y].",{$nn}", 3],
            3 => [["JP {$nn}", '', "OUT ({$n}),A", "IN A,({$n})", 'EX (SP),HL', 'EX DE,HL', 'DI', 'EI'][$y], [3, 2, 2, 2, 1, 1, 1, 1][$y]],
            4 => ['CALL '.self::CC[$y].",{$nn}", 3],
            5 => $q === 0 ? ['PUSH '.self::RP2[$p], 1] : ["CALL {$nn}", 3],
            6 => [self::ALU[$y].$n, 2],
            default => [sprintf('RST %02X', $y * 8), 1],
        };
    }

    /**
     * @param  list<int>  $bytes
     * @return array{string, int}
     */
    private static function extended(array $bytes): array
    {
        $opcode = $bytes[1] ?? null;
        if ($opcode === null) {
            return ['ED ??', 2];
        }
        $nn = isset($bytes[2], $bytes[3]) ? sprintf('%02X%02X', $bytes[3], $bytes[2]) : '????';
        [$x, $y, $z, $p, $q] = [$opcode >> 6, $opcode >> 3 & 7, $opcode & 7, $opcode >> 4 & 3, $opcode >> 3 & 1];
        if ($x === 2 && $y >= 4 && $z < 4) {
            return [[['LDI', 'CPI', 'INI', 'OUTI'], ['LDD', 'CPD', 'IND', 'OUTD'], ['LDIR', 'CPIR', 'INIR', 'OTIR'], ['LDDR', 'CPDR', 'INDR', 'OTDR']][$y - 4][$z], 2];
        }
        if ($x !== 1) {
            return [sprintf('ED %02X: none', $opcode), 2];
        }

        return match ($z) {
            0 => [$y === 6 ? 'IN (C)' : 'IN '.self::R[$y].',(C)', 2],
            1 => [$y === 6 ? 'OUT (C),0' : 'OUT (C),'.self::R[$y], 2],
            2 => [($q === 0 ? 'SBC HL,' : 'ADC HL,').self::RP[$p], 2],
            3 => [$q === 0 ? "LD ({$nn}),".self::RP[$p] : 'LD '.self::RP[$p].",({$nn})", 4],
            4 => ['NEG', 2],
            5 => [$y === 1 ? 'RETI' : 'RETN', 2],
            6 => ['IM '.['0', '0', '1', '2'][$y & 3], 2],
            default => [['LD I,A', 'LD R,A', 'LD A,I', 'LD A,R', 'RRD', 'RLD', 'NOP', 'NOP'][$y], 2],
        };
    }
}
