<?php

declare(strict_types=1);

namespace ZapTrace\Board;

use ZapTrace\Parts\Part;
use ZapTrace\Rom\FirmwareChecksum;

/**
 * A part at a reference designator of the board.
 */
final readonly class Chip
{
    /**
     * @param  string  $ref  reference designator, U12
     * @param  string  $part  generic type number, 4164
     * @param  string  $role  what it does here, "" when unsaid
     * @param  string  $assembly  the assembly it sits on
     * @param  float|null  $x  centre on the plan in mm from the left; null when its place is not known
     * @param  float|null  $y  centre on the plan in mm from the top
     * @param  0|90|180|270  $turn  0: notch to the left, then clockwise
     * @param  Part|null  $type  what the library knows of it
     * @param  string  $logic  the equations of a programmed part, "" when not known
     * @param  float  $hz  of an oscillator or crystal
     * @param  string  $contents  SHA-1 of what a ROM holds, "" when not known
     * @param  FirmwareChecksum|null  $checksum  of a ROM, as the machine's own firmware computes it
     * @param  list<int>  $dataPins  pins its data comes out of, lowest bit first; for memory
     */
    public function __construct(
        public string $ref,
        public string $part,
        public string $role,
        public string $assembly,
        public bool $socketed,
        public ?float $x,
        public ?float $y,
        public int $turn,
        public array $dataPins = [],
        public ?Part $type = null,
        public string $logic = '',
        public float $hz = 0.0,
        public string $contents = '',
        public ?FirmwareChecksum $checksum = null,
    ) {
    }

    /** Its equations: its own where it is programmed, or those of its type; "" when there are none. */
    public function equations(): string
    {
        return $this->logic !== '' ? $this->logic : $this->type->logic ?? '';
    }

    /**
     * @return list<string> the pins that its data comes out of, as U14.14
     */
    public function dataOutputs(): array
    {
        return array_map(fn (int $pin): string => "{$this->ref}.{$pin}", $this->dataPins);
    }

    /** The kind of part it is; "" when the library does not know it. */
    public function kind(): string
    {
        return $this->type->kind ?? '';
    }
}
