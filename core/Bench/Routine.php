<?php

declare(strict_types=1);

namespace ZapTrace\Bench;

use ZapTrace\Board\BoardProfile;
use ZapTrace\Board\MapRange;
use ZapTrace\Board\RangeKind;
use ZapTrace\Processors\BusProgram;

/**
 * What a machine does when it is well, in small: it reads its ROM, writes and reads memory, looks at its ports. When
 * the ROM, or the first memory it uses, does not read back as it should, it goes astray.
 */
final class Routine implements BusProgram
{
    private const OF_ROM = 12;

    private const OF_MEMORY = 6;

    /** So many wrong bytes of the ROM are survived. */
    private const SURVIVES = 1;

    /** @var list<array{int, int|null, int|null}> address, what is written, what it has to read */
    private array $accesses = [];

    private int $at = 0;

    private int $wrong = 0;

    private bool $going = false;

    public bool $astray = false;

    public bool $finished = false;

    /**
     * @param  array<string, string>  $positions
     * @param  callable(int): ?int  $contents  what the ROM holds at an address
     * @param  bool  $forgiving  it goes on whatever it reads, as a test ROM does that only looks
     * @param  array<string, true>  $absent  chips and assemblies that are out
     */
    public function __construct(BoardProfile $board, array $positions, callable $contents, private readonly bool $forgiving = false, array $absent = [])
    {
        $step = intdiv($board->bus->dataWidth, 8);
        $roms = array_values(array_filter($board->map->ranges, static fn (MapRange $range): bool => $range->kind === RangeKind::Rom));
        $memories = array_values(array_filter($board->map->ranges, static fn (MapRange $range): bool => $range->kind === RangeKind::Ram && self::holds($board, $range, $positions) && ! self::isOut($board, $range, $absent)));
        foreach ($roms as $range) {
            for ($place = 0; $place < self::OF_ROM; $place++) {
                $address = $this->within($range, $place, $step);
                $expected = $contents($address);
                if ($expected !== null) {
                    $this->accesses[] = [$address, null, $expected];
                }
            }
        }
        foreach ($memories as $range) {
            foreach ([0xA5, 0x5A] as $value) {
                for ($place = 0; $place < self::OF_MEMORY; $place++) {
                    $this->accesses[] = [$this->within($range, $place, $step), $step === 2 ? $value * 257 : $value, null];
                }
                for ($place = 0; $place < self::OF_MEMORY; $place++) {
                    $this->accesses[] = [$this->within($range, $place, $step), null, $range->access === 'write' ? null : ($step === 2 ? $value * 257 : $value)];
                }
            }
        }
        foreach ($board->map->ranges as $range) {
            for ($place = 0; $range->kind === RangeKind::Io && $place < 8; $place++) {
                $this->accesses[] = [$range->from + $place * 16 * $step, null, null];
            }
        }
    }

    public function reset(): void
    {
        $this->at = 0;
        $this->wrong = 0;
        $this->going = false;
        $this->astray = false;
        $this->finished = false;
    }

    public function next(?int $read): array
    {
        if ($this->accesses === []) {
            return [0, null];
        }
        if ($this->astray) {
            // It stumbles over what it takes for instructions.
            return [crc32((string) ($this->at++ >> 2)) & 0xFFFE, null];
        }
        if ($this->going) {
            [, $written, $expected] = $this->accesses[($this->at - 1) % count($this->accesses)];
            if ($written === null && $expected !== null && $read !== $expected && ++$this->wrong > self::SURVIVES && ! $this->forgiving) {
                $this->astray = true;
            }
        }
        $this->going = true;
        $this->finished = $this->finished || $this->at >= count($this->accesses);
        [$address, $written] = $this->accesses[$this->at++ % count($this->accesses)];

        return [$address, $written];
    }

    private function within(MapRange $range, int $place, int $step): int
    {
        $length = $range->to - $range->from + 1;
        $offset = match ($place) {
            0 => 0,
            1 => $length - $step,
            default => crc32("{$range->from} {$place}") % $length,
        };

        return $range->from + intdiv($offset, $step) * $step;
    }

    /**
     * Whether the memory of a range was taken out: the machine starts with what is left.
     *
     * @param  array<string, true>  $absent  chips and assemblies
     */
    public static function isOut(BoardProfile $board, MapRange $range, array $absent): bool
    {
        $chips = $range->bank === null || $absent === [] ? [] : $board->banks[$range->bank]->chips();

        return $chips !== [] && array_filter($chips, static fn (string $chip): bool => ! isset($absent[$chip]) && ! isset($absent[$board->chips[$chip]->assembly])) === [];
    }

    /**
     * @param  array<string, string>  $positions
     */
    public static function holds(BoardProfile $board, MapRange $range, array $positions): bool
    {
        foreach ($range->when as $ref => $allowed) {
            if (! in_array($positions[$ref] ?? $board->settings[$ref]->default ?? '', $allowed, true)) {
                return false;
            }
        }

        return true;
    }
}
