<?php

declare(strict_types=1);

namespace ZapTrace\Board;

/**
 * A thing that comes out or is swapped whole: main board, riser, module, keyboard.
 */
final readonly class Assembly
{
    /**
     * @param  bool  $removable  comes out without soldering
     * @param  bool  $needed  the machine will not start without it
     * @param  string  $access  what has to be opened or removed to reach it, "" when nothing
     * @param  float  $accessMinutes  how long that takes
     * @param  array{x: float, y: float, width: float, height: float}|null  $outline  on the plan, in mm
     */
    public function __construct(
        public string $id,
        public string $name,
        public bool $removable,
        public bool $needed,
        public ?array $outline,
        public string $access = '',
        public float $accessMinutes = 0.0,
    ) {
    }
}
