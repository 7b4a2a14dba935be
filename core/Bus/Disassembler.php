<?php

declare(strict_types=1);

namespace ZapTrace\Bus;

use ZapTrace\Formats\JsonNode;

/**
 * Names instructions as a processor fetches them, by tables of their bytes.
 */
final readonly class Disassembler
{
    /** Bytes that an instruction has at most before its operands. */
    private const PREFIX = 4;

    /** Cycles within which its operands come. */
    private const LATER = 6;

    /**
     * @param  array<string, array<string, string>>  $tables  processor => bytes in hex => instruction, with n, nn, e and d for operands
     */
    private function __construct(private array $tables)
    {
    }

    /**
     * @throws \JsonException when the file is damaged
     */
    public static function fromJson(string $json): self
    {
        $tables = [];
        foreach (JsonNode::decode($json)->each('processors') as $processor) {
            $tables[$processor->string('processor')] = array_map(static fn (JsonNode $name): string => $name->asString(), $processor->members('instructions'));
        }

        return new self($tables);
    }

    public function knows(string $processor): bool
    {
        return isset($this->tables[self::family($processor)]);
    }

    /**
     * @param  list<int>  $bytes  from the opcode on, as many as are known
     * @return array{string, int} the instruction, with ?? for what is not known, and its length in bytes
     */
    public function name(string $processor, array $bytes): array
    {
        $table = $this->tables[self::family($processor)] ?? [];
        $key = '';
        $found = null;
        foreach (array_slice($bytes, 0, self::PREFIX) as $place => $byte) {
            $key .= ($place === 0 ? '' : ' ').sprintf('%02X', $byte);
            // DD CB d 46: the displacement comes before the last byte of the opcode.
            $written = $place === 3 ? (string) preg_replace('/^(.. ..) .. (..)$/', '$1 d $2', $key) : $key;
            if (isset($table[$written])) {
                $found = [$table[$written], $place + 1, $written === $key ? null : $bytes[2]];
            }
        }
        if ($found === null) {
            return [$bytes === [] ? '??' : sprintf('%02X: none', $bytes[0]), 1];
        }

        return self::withOperands($found[0], array_slice($bytes, $found[1]), $found[1], $found[2]);
    }

    /**
     * The instruction that a cycle fetches: with its operands from the ROM, or as the cycles after it brought them.
     *
     * @return string "" for what is no fetch
     */
    public function fetched(string $processor, CycleList $cycles, int $number, MemoryPlan $plan): string
    {
        $fetch = $cycles->at($number);
        if ($fetch->kind !== CycleKind::Fetch || ! $this->knows($processor)) {
            return '';
        }
        $bytes = [$fetch->data];
        for ($offset = 1; $offset < self::PREFIX; $offset++) {
            $byte = $plan->romByte($fetch->address + $offset);
            for ($later = $number + 1; $byte === null && $later < min($cycles->count(), $number + self::LATER); $later++) {
                $byte = $cycles->at($later)->address === $fetch->address + $offset ? $cycles->at($later)->data : null;
            }
            if ($byte === null) {
                break;
            }
            $bytes[] = $byte;
        }

        return $this->name($processor, $bytes)[0];
    }

    /**
     * @param  list<int>  $operands
     * @return array{string, int}
     */
    private static function withOperands(string $template, array $operands, int $length, ?int $displacement): array
    {
        $name = '';
        foreach (preg_split('/(\bnn\b|\bn\b|\be\b|\+d\b)/', $template, -1, PREG_SPLIT_DELIM_CAPTURE) ?: [] as $place => $piece) {
            if ($place % 2 === 0) {
                $name .= $piece;

                continue;
            }
            $isGiven = $piece === '+d' && $displacement !== null;
            $low = $isGiven ? $displacement : array_shift($operands);
            $length += $isGiven ? 0 : 1;
            if ($piece === 'nn') {
                $high = array_shift($operands);
                $length++;
                $name .= $low === null || $high === null ? '????' : sprintf('%02X%02X', $high, $low);
            } else {
                $name .= $low === null ? '??' : ($piece === 'n' ? sprintf('%02X', $low) : sprintf('%+d', $low < 0x80 ? $low : $low - 0x100));
            }
        }

        return [$name, $length];
    }

    /** The CMOS part has all instructions of the older one. */
    private static function family(string $processor): string
    {
        return $processor === '65C02' ? '6502' : $processor;
    }
}
