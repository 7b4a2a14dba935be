<?php

declare(strict_types=1);

namespace ZapTrace\Memory\Tests;

use ZapTrace\Problems\InputRejected;

/**
 * A test of memory: its elements, the data it writes, and what it finds.
 *
 * Source of the march tests: A. J. van de Goor, "Using March Tests to Test SRAMs", IEEE Design & Test of Computers,
 * March 1993.
 */
final readonly class MemoryTest
{
    /**
     * @param  string  $data  background, checkerboard, walking, address, address-low or address-high: what 0 stands for
     * @param  list<MarchElement>  $elements
     * @param  list<string>  $finds  kinds of fault it finds for certain
     * @param  list<string>  $misses  kinds of fault it is known to miss
     */
    private function __construct(
        public string $id,
        public string $name,
        public string $data,
        public array $elements,
        public array $finds,
        public array $misses,
        public string $source,
    ) {
    }

    /**
     * @return array<string, self> by id
     */
    public static function all(): array
    {
        $goor = 'A. J. van de Goor, IEEE Design & Test of Computers, March 1993';
        $up = static fn (string ...$operations): MarchElement => new MarchElement('up', self::operations($operations));
        $down = static fn (string ...$operations): MarchElement => new MarchElement('down', self::operations($operations));
        $either = static fn (string ...$operations): MarchElement => new MarchElement('either', self::operations($operations));
        $readBack = [$up('w0'), $up('r0'), $up('w1'), $up('r1')];
        $tests = [
            new self('mats+', 'MATS+', 'background', [$either('w0'), $up('r0', 'w1'), $down('r1', 'w0')], ['stuck cells', 'address decoder'], ['transition', 'coupling'], $goor),
            new self('march-x', 'March X', 'background', [$either('w0'), $up('r0', 'w1'), $down('r1', 'w0'), $either('r0')], ['stuck cells', 'address decoder', 'transition', 'inversion coupling'], ['idempotent coupling', 'state coupling'], $goor),
            new self('march-y', 'March Y', 'background', [$either('w0'), $up('r0', 'w1', 'r1'), $down('r1', 'w0', 'r0'), $either('r0')], ['stuck cells', 'address decoder', 'transition', 'inversion coupling'], ['idempotent coupling', 'state coupling'], $goor),
            new self('march-c-', 'March C-', 'background', [$either('w0'), $up('r0', 'w1'), $up('r1', 'w0'), $down('r0', 'w1'), $down('r1', 'w0'), $either('r0')], ['stuck cells', 'address decoder', 'transition', 'inversion coupling', 'idempotent coupling', 'state coupling'], [], $goor),
            new self('march-b', 'March B', 'background', [$either('w0'), $up('r0', 'w1', 'r1', 'w0', 'r0', 'w1'), $up('r1', 'w0', 'w1'), $down('r1', 'w0', 'w1', 'w0'), $down('r0', 'w1', 'w0')], ['stuck cells', 'address decoder', 'transition', 'linked inversion coupling'], ['state coupling'], $goor),
            new self('checkerboard', 'Checkerboard', 'checkerboard', $readBack, ['stuck cells'], ['address decoder', 'transition', 'coupling'], 'common practice'),
            new self('walking-ones', 'Walking ones', 'walking', [$up('w0'), $up('r0')], ['stuck cells', 'data lines tied together'], ['address decoder', 'coupling'], 'common practice'),
            new self('address-in-address', 'Address in address, both bytes', 'address', $readBack, ['low address lines', 'high address lines', 'stuck cells'], ['coupling'], 'common practice'),
            new self('address-low', 'Address in address, low byte', 'address-low', $readBack, ['low address lines', 'stuck cells'], ['high address lines', 'coupling'], 'common practice'),
            new self('address-high', 'Address in address, high byte', 'address-high', $readBack, ['high address lines', 'stuck cells'], ['low address lines', 'coupling'], 'common practice'),
        ];

        return array_combine(array_map(static fn (self $test): string => $test->id, $tests), $tests);
    }

    /**
     * @throws InputRejected when there is none of that name
     */
    public static function named(string $id): self
    {
        $tests = self::all();
        $id = strtolower(trim($id));

        return $tests[$id] ?? throw InputRejected::of('test', "There is no memory test \"{$id}\". There are ".implode(', ', array_keys($tests)).'.');
    }

    /** Operations for each address and background: the n of the literature. */
    public function length(): int
    {
        return array_sum(array_map(static fn (MarchElement $element): int => count($element->operations), $this->elements));
    }

    /**
     * The data that are run through, one after another, for words of eight bits: enough that any two bits differ in one
     * of them. For a test whose data follow from the address they choose the byte of it.
     *
     * @return non-empty-list<int>
     */
    public function backgrounds(): array
    {
        return match ($this->data) {
            'background' => [0x00, 0x55, 0x33, 0x0F],
            'walking' => [0x01, 0x02, 0x04, 0x08, 0x10, 0x20, 0x40, 0x80],
            // The low byte of the address, then the high byte.
            'address' => [0, 1],
            default => [0x00],
        };
    }

    /** What 0 stands for at an address, with a background. */
    public function value(int $address, int $background): int
    {
        return match ($this->data) {
            'checkerboard' => ($address & 1) === 1 ? 0xAA : 0x55,
            'address' => ($background === 0 ? $address : $address >> 8) & 0xFF,
            'address-low' => $address & 0xFF,
            'address-high' => ($address >> 8) & 0xFF,
            default => $background,
        };
    }

    /**
     * Elements before which the pause variant waits: the first that reads 0 and the first that reads 1, so that cells
     * that lose either are found.
     *
     * @return list<int> places among the elements
     */
    public function pausesBefore(): array
    {
        $pauses = [];
        foreach (['r0', 'r1'] as $read) {
            foreach ($this->elements as $place => $element) {
                if ($element->operations[0] === $read) {
                    $pauses[] = $place;
                    break;
                }
            }
        }
        sort($pauses);

        return $pauses;
    }

    /** As the literature writes it. */
    public function words(): string
    {
        return implode('; ', array_map(static fn (MarchElement $element): string => $element->words(), $this->elements));
    }

    /**
     * @param  array<string>  $operations
     * @return non-empty-list<'r0'|'r1'|'w0'|'w1'>
     */
    private static function operations(array $operations): array
    {
        $list = [];
        foreach ($operations as $operation) {
            assert(in_array($operation, ['r0', 'r1', 'w0', 'w1'], true));
            $list[] = $operation;
        }
        assert($list !== []);

        return $list;
    }
}
