<?php

declare(strict_types=1);

namespace ZapTrace\Rom;

use ZapTrace\Parts\ProcessorBus;

/**
 * Whether a processor could start from an image: its vectors lead into a ROM, or the ROM lies where it begins.
 */
final readonly class StartUp
{
    /**
     * @param  list<array{int, int}>  $roms  first and last address of all ROM of the machine
     */
    public function __construct(private ProcessorBus $bus, private array $roms)
    {
    }

    /**
     * What is odd about the start in an image that lies at these addresses.
     *
     * @return list<string> sentences; none when nothing is odd, or when the start lies elsewhere
     */
    public function problems(RomImage $image, int $from): array
    {
        $start = $this->bus->start;
        $problems = [];
        if ($start['how'] === 'address') {
            $first = $image->bytes[$start['at'] - $from] ?? null;

            return $start['at'] >= $from && ($first === "\xFF" || $first === "\0") ? [sprintf('The processor begins at %04X, and there is %02X: no program starts so.', $start['at'], ord($first))] : [];
        }
        $width = $start['order'] === 'big' && $start['at'] === 4 ? 4 : 2;
        $to = $this->target($image, $start['at'] - $from, $width);
        if ($to !== null && ! $this->isRom($to)) {
            $problems[] = sprintf('The start-up vector at %04X leads to %04X, where there is no ROM: the processor would run into nothing.', $start['at'], $to);
        }
        if ($width === 4 && ($to & 1) === 1) {
            $problems[] = sprintf('The start-up vector at %04X leads to %X, an odd address: the processor stops at once.', $start['at'], $to);
        }

        return $problems;
    }

    private function target(RomImage $image, int $offset, int $width): ?int
    {
        if ($offset < 0 || $offset + $width > $image->size()) {
            return null;
        }
        $bytes = substr($image->bytes, $offset, $width);
        $target = 0;
        foreach (str_split($this->bus->start['order'] === 'little' ? strrev($bytes) : $bytes) as $byte) {
            $target = $target << 8 | ord($byte);
        }

        return $target;
    }

    private function isRom(int $address): bool
    {
        foreach ($this->roms as [$from, $to]) {
            if ($address >= $from && $address <= $to) {
                return true;
            }
        }

        return false;
    }
}
