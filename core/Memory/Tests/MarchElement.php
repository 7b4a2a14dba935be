<?php

declare(strict_types=1);

namespace ZapTrace\Memory\Tests;

/**
 * A part of a march test: at every address in order, the same operations.
 */
final readonly class MarchElement
{
    /**
     * @param  'up'|'down'|'either'  $order  in which the addresses are visited
     * @param  non-empty-list<'r0'|'r1'|'w0'|'w1'>  $operations  read expecting, or write: 0 the data background, 1 its complement
     */
    public function __construct(public string $order, public array $operations)
    {
    }

    /** As the literature writes it. */
    public function words(): string
    {
        return ['up' => 'up', 'down' => 'down', 'either' => 'either way'][$this->order].'('.implode(', ', $this->operations).')';
    }
}
