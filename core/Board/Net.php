<?php

declare(strict_types=1);

namespace ZapTrace\Board;

/**
 * Pins that should be one electrical node.
 */
final readonly class Net
{
    /**
     * @param  'data'|'address'|'control'|'clock'|'power'|'other'  $kind
     * @param  list<string>  $pins  as U12.14, in the order in which they lie along the trace
     */
    public function __construct(public string $name, public string $kind, public array $pins)
    {
    }

    public function isPower(): bool
    {
        return $this->kind === 'power';
    }
}
