<?php

declare(strict_types=1);

namespace ZapTrace\Board;

/**
 * The outline of the board in millimetres, seen from the component side.
 */
final readonly class Plan
{
    /**
     * @param  list<array{name: string, edge: string, at: float, length: float}>  $connectors
     * @param  list<array{x: float, y: float}>  $holes
     */
    public function __construct(
        public float $width,
        public float $height,
        public array $connectors,
        public array $holes,
    ) {
    }
}
