<?php

declare(strict_types=1);

namespace ZapTrace\Processors;

use Generator;

/**
 * A 6502 that executes the documented instructions, cycle by cycle as the real one goes over its bus, the dummy reads
 * included; no interrupt asks anything of it. Decimal mode as in the NMOS part. What is not documented does nothing, in two cycles.
 *
 * Source: MOS MCS6500 programming manual, instruction timing of its appendix (from memory).
 */
final class Cpu6502 implements BusProgram, NamesFetches
{
    public int $a = 0;

    public int $x = 0;

    public int $y = 0;

    public int $s = 0xFD;

    public int $pc = 0;

    /** N V - B D I Z C */
    public int $p = 0x24;

    /** Address of the instruction that is executed. */
    public int $at = 0;

    /** Instructions executed. */
    public int $instructions = 0;

    /** The next access is the fetch of an instruction. */
    public bool $fetching = false;

    /** @var Generator<int, array{int, int|null}, int, void>|null */
    private ?Generator $run = null;

    private bool $started = false;

    public function reset(): void
    {
        $this->run = $this->cycles();
        $this->started = false;
    }

    public function next(?int $read): array
    {
        $this->run ??= $this->cycles();
        if (! $this->started) {
            $this->started = true;

            return $this->run->current();
        }
        $this->run->send($read ?? 0xFF);

        return $this->run->current();
    }

    public function isFetching(): bool
    {
        return $this->fetching;
    }

    /**
     * The accesses one after the other: address, and what is written; null to read. What was read is sent in.
     *
     * @return Generator<int, array{int, int|null}, int, void>
     */
    private function cycles(): Generator
    {
        $this->s = 0xFD;
        $this->p = 0x24 | $this->p & 0x08;
        $this->instructions = 0;
        for ($dummy = 0; $dummy < 5; $dummy++) {
            yield [$dummy < 2 ? 0xFFFF : 0x0100 | (0xFF - $dummy) & 0xFF, null];
        }
        $low = yield [0xFFFC, null];
        $this->pc = $low | (yield [0xFFFD, null]) << 8;
        while (true) {
            $this->at = $this->pc;
            $this->instructions++;
            $this->fetching = true;
            $opcode = yield [$this->pc, null];
            $this->fetching = false;
            $this->pc = $this->pc + 1 & 0xFFFF;
            yield from $this->execute($opcode);
        }
    }

    /**
     * @return Generator<int, array{int, int|null}, int, void>
     */
    private function interrupt(int $vector, int $flags): Generator
    {
        yield [0x100 | $this->s, $this->pc >> 8];
        $this->s = $this->s - 1 & 0xFF;
        yield [0x100 | $this->s, $this->pc & 0xFF];
        $this->s = $this->s - 1 & 0xFF;
        yield [0x100 | $this->s, $this->p & 0xCF | $flags];
        $this->s = $this->s - 1 & 0xFF;
        $this->p |= 0x04;
        $low = yield [$vector, null];
        $this->pc = $low | (yield [$vector + 1, null]) << 8;
    }

    /**
     * @return Generator<int, array{int, int|null}, int, void>
     */
    private function execute(int $opcode): Generator
    {
        [$name, $mode] = Opcodes6502::of($opcode);
        switch ($mode) {
            case 'implied':
            case 'accumulator':
                yield from $this->implied($name);

                return;
            case 'relative':
                yield from $this->branch($name);

                return;
            case 'immediate':
                $this->operate($name, yield [$this->pc, null]);
                $this->pc = $this->pc + 1 & 0xFFFF;

                return;
        }
        if ($name === 'JMP' || $name === 'JSR') {
            yield from $this->jump($name, $mode);

            return;
        }
        $writes = $name === 'STA' || $name === 'STX' || $name === 'STY';
        $modifies = in_array($name, ['ASL', 'LSR', 'ROL', 'ROR', 'INC', 'DEC'], true);
        $first = yield [$this->pc, null];
        $this->pc = $this->pc + 1 & 0xFFFF;
        switch ($mode) {
            case 'zero page':
                $address = $first;
                break;
            case 'zero page,x':
            case 'zero page,y':
                yield [$first, null];
                $address = $first + ($mode === 'zero page,x' ? $this->x : $this->y) & 0xFF;
                break;
            case '(indirect,x)':
                yield [$first, null];
                $pointer = $first + $this->x & 0xFF;
                $low = yield [$pointer, null];
                $address = $low | (yield [$pointer + 1 & 0xFF, null]) << 8;
                break;
            default:
                if ($mode === '(indirect),y') {
                    $low = yield [$first, null];
                    $high = yield [$first + 1 & 0xFF, null];
                    $index = $this->y;
                } else {
                    $low = $first;
                    $high = yield [$this->pc, null];
                    $this->pc = $this->pc + 1 & 0xFFFF;
                    $index = match ($mode) {
                        'absolute,x' => $this->x,
                        'absolute,y' => $this->y,
                        default => 0,
                    };
                }
                $address = ($high << 8) + $low + $index & 0xFFFF;
                // The high byte is put right one cycle later; what only reads and stays in the page does without.
                if ($mode !== 'absolute' && ($low + $index > 0xFF || $writes || $modifies)) {
                    yield [$high << 8 | $low + $index & 0xFF, null];
                }
        }
        if ($writes) {
            yield [$address, $name === 'STA' ? $this->a : ($name === 'STX' ? $this->x : $this->y)];

            return;
        }
        $value = yield [$address, null];
        if ($modifies) {
            yield [$address, $value];
            yield [$address, $this->modify($name, $value)];

            return;
        }
        $this->operate($name, $value);
    }

    /**
     * @return Generator<int, array{int, int|null}, int, void>
     */
    private function implied(string $name): Generator
    {
        yield [$this->pc, null];
        switch ($name) {
            case 'BRK':
                $this->pc = $this->pc + 1 & 0xFFFF;
                yield from $this->interrupt(0xFFFE, 0x30);
                break;
            case 'RTI':
                yield [0x100 | $this->s, null];
                $this->p = (yield $this->pulled()) & 0xCF | 0x20;
                $low = yield $this->pulled();
                $this->pc = $low | (yield $this->pulled()) << 8;
                break;
            case 'RTS':
                yield [0x100 | $this->s, null];
                $low = yield $this->pulled();
                $this->pc = $low | (yield $this->pulled()) << 8;
                yield [$this->pc, null];
                $this->pc = $this->pc + 1 & 0xFFFF;
                break;
            case 'PHA':
            case 'PHP':
                yield [0x100 | $this->s, $name === 'PHA' ? $this->a : $this->p | 0x30];
                $this->s = $this->s - 1 & 0xFF;
                break;
            case 'PLA':
                yield [0x100 | $this->s, null];
                $this->a = $this->flags(yield $this->pulled());
                break;
            case 'PLP':
                yield [0x100 | $this->s, null];
                $this->p = (yield $this->pulled()) & 0xCF | 0x20;
                break;
            default:
                $this->change($name);
        }
    }

    /**
     * @return array{int, null}
     */
    private function pulled(): array
    {
        $this->s = $this->s + 1 & 0xFF;

        return [0x100 | $this->s, null];
    }

    private function change(string $name): void
    {
        switch ($name) {
            case 'ASL': case 'LSR': case 'ROL': case 'ROR':
                $this->a = $this->modify($name, $this->a);
                break;
            case 'TAX': $this->x = $this->flags($this->a);
                break;
            case 'TAY': $this->y = $this->flags($this->a);
                break;
            case 'TXA': $this->a = $this->flags($this->x);
                break;
            case 'TYA': $this->a = $this->flags($this->y);
                break;
            case 'TSX': $this->x = $this->flags($this->s);
                break;
            case 'TXS': $this->s = $this->x;
                break;
            case 'INX': $this->x = $this->flags($this->x + 1 & 0xFF);
                break;
            case 'INY': $this->y = $this->flags($this->y + 1 & 0xFF);
                break;
            case 'DEX': $this->x = $this->flags($this->x - 1 & 0xFF);
                break;
            case 'DEY': $this->y = $this->flags($this->y - 1 & 0xFF);
                break;
            case 'CLC': $this->p &= ~0x01;
                break;
            case 'SEC': $this->p |= 0x01;
                break;
            case 'CLI': $this->p &= ~0x04;
                break;
            case 'SEI': $this->p |= 0x04;
                break;
            case 'CLV': $this->p &= ~0x40;
                break;
            case 'CLD': $this->p &= ~0x08;
                break;
            case 'SED': $this->p |= 0x08;
                break;
        }
    }

    /**
     * @return Generator<int, array{int, int|null}, int, void>
     */
    private function branch(string $name): Generator
    {
        $distance = yield [$this->pc, null];
        $this->pc = $this->pc + 1 & 0xFFFF;
        [$flag, $wanted] = ['BPL' => [0x80, 0], 'BMI' => [0x80, 1], 'BVC' => [0x40, 0], 'BVS' => [0x40, 1], 'BCC' => [0x01, 0], 'BCS' => [0x01, 1], 'BNE' => [0x02, 0], 'BEQ' => [0x02, 1]][$name] ?? [0, 1];
        if ((($this->p & $flag) !== 0 ? 1 : 0) !== $wanted) {
            return;
        }
        yield [$this->pc, null];
        $target = $this->pc + ($distance < 0x80 ? $distance : $distance - 0x100) & 0xFFFF;
        if (($target & 0xFF00) !== ($this->pc & 0xFF00)) {
            yield [$this->pc & 0xFF00 | $target & 0xFF, null];
        }
        $this->pc = $target;
    }

    /**
     * @return Generator<int, array{int, int|null}, int, void>
     */
    private function jump(string $name, string $mode): Generator
    {
        $low = yield [$this->pc, null];
        $this->pc = $this->pc + 1 & 0xFFFF;
        if ($name === 'JSR') {
            yield [0x100 | $this->s, null];
            yield [0x100 | $this->s, $this->pc >> 8];
            $this->s = $this->s - 1 & 0xFF;
            yield [0x100 | $this->s, $this->pc & 0xFF];
            $this->s = $this->s - 1 & 0xFF;
        }
        $address = $low | (yield [$this->pc, null]) << 8;
        if ($mode === '(indirect)') {
            // The pointer does not cross its page.
            $low = yield [$address, null];
            $address = $low | (yield [$address & 0xFF00 | $address + 1 & 0xFF, null]) << 8;
        }
        $this->pc = $address;
    }

    private function operate(string $name, int $value): void
    {
        switch ($name) {
            case 'LDA': $this->a = $this->flags($value);
                break;
            case 'LDX': $this->x = $this->flags($value);
                break;
            case 'LDY': $this->y = $this->flags($value);
                break;
            case 'AND': $this->a = $this->flags($this->a & $value);
                break;
            case 'ORA': $this->a = $this->flags($this->a | $value);
                break;
            case 'EOR': $this->a = $this->flags($this->a ^ $value);
                break;
            case 'CMP': $this->compare($this->a, $value);
                break;
            case 'CPX': $this->compare($this->x, $value);
                break;
            case 'CPY': $this->compare($this->y, $value);
                break;
            case 'BIT':
                $this->p = $this->p & 0x3D | $value & 0xC0 | (($this->a & $value) === 0 ? 0x02 : 0);
                break;
            case 'ADC': $this->add($value);
                break;
            case 'SBC': $this->subtract($value);
                break;
        }
    }

    private function modify(string $name, int $value): int
    {
        $carry = $this->p & 0x01;
        switch ($name) {
            case 'INC':
                return $this->flags($value + 1 & 0xFF);
            case 'DEC':
                return $this->flags($value - 1 & 0xFF);
            case 'ASL':
            case 'ROL':
                $this->p = $this->p & ~0x01 | $value >> 7;

                return $this->flags($value << 1 & 0xFF | ($name === 'ROL' ? $carry : 0));
            default:
                $this->p = $this->p & ~0x01 | $value & 0x01;

                return $this->flags($value >> 1 | ($name === 'ROR' ? $carry << 7 : 0));
        }
    }

    private function compare(int $register, int $value): void
    {
        $this->p = $this->p & ~0x01 | ($register >= $value ? 0x01 : 0);
        $this->flags($register - $value & 0xFF);
    }

    private function add(int $value): void
    {
        $carry = $this->p & 0x01;
        $sum = $this->a + $value + $carry;
        if (($this->p & 0x08) === 0) {
            $this->p = $this->p & ~0x41 | ($sum > 0xFF ? 0x01 : 0) | ((~($this->a ^ $value) & ($this->a ^ $sum) & 0x80) !== 0 ? 0x40 : 0);
            $this->a = $this->flags($sum & 0xFF);

            return;
        }
        // NMOS: Z of the binary sum, N and V before the upper digit is put right.
        $low = ($this->a & 0x0F) + ($value & 0x0F) + $carry;
        $low = $low > 9 ? ($low + 6 & 0x0F) + 0x10 : $low;
        $whole = ($this->a & 0xF0) + ($value & 0xF0) + $low;
        $this->p = $this->p & ~0xC3 | (($sum & 0xFF) === 0 ? 0x02 : 0) | $whole & 0x80 | ((~($this->a ^ $value) & ($this->a ^ $whole) & 0x80) !== 0 ? 0x40 : 0);
        $whole += $whole > 0x9F ? 0x60 : 0;
        $this->p |= $whole > 0xFF ? 0x01 : 0;
        $this->a = $whole & 0xFF;
    }

    private function subtract(int $value): void
    {
        $borrow = 1 - ($this->p & 0x01);
        $difference = $this->a - $value - $borrow;
        $low = ($this->a & 0x0F) - ($value & 0x0F) - $borrow;
        $high = ($this->a & 0xF0) - ($value & 0xF0);
        if ($low < 0) {
            $low = $low - 6 & 0x0F;
            $high -= 0x10;
        }
        $high = $high < 0 ? $high - 0x60 & 0xF0 : $high;
        $decimal = ($this->p & 0x08) !== 0;
        $this->p = $this->p & ~0x41 | ($difference >= 0 ? 0x01 : 0) | ((($this->a ^ $value) & ($this->a ^ $difference) & 0x80) !== 0 ? 0x40 : 0);
        $this->flags($difference & 0xFF);
        $this->a = $decimal ? $high | $low : $difference & 0xFF;
    }

    private function flags(int $value): int
    {
        $this->p = $this->p & 0x7D | $value & 0x80 | ($value === 0 ? 0x02 : 0);

        return $value;
    }
}
