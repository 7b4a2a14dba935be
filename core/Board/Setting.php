<?php

declare(strict_types=1);

namespace ZapTrace\Board;

/**
 * A link (jumper, switch) or a latch (register) with named positions.
 */
final readonly class Setting
{
    /**
     * @param  non-empty-array<string, string>  $positions  position => what it changes
     * @param  array<string, list<array{string, string}>>  $joins  position => pairs of nets it connects
     * @param  bool  $isLatch  true when software sets it, false for a jumper or switch
     */
    public function __construct(
        public string $ref,
        public string $name,
        public array $positions,
        public string $default,
        public bool $isLatch,
        public ?float $x,
        public ?float $y,
        public array $joins = [],
    ) {
    }
}
