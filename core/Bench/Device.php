<?php

declare(strict_types=1);

namespace ZapTrace\Bench;

/**
 * A part of the simulated board that is more than equations: memory, a processor, a picture generator.
 */
interface Device
{
    /**
     * @return list<int> nodes whose changes it wants to hear of
     */
    public function listens(): array;

    /**
     * As long as this node has this level, it hears of nothing else.
     *
     * @return array{int, int}|null node, and LOW or HIGH; null when it always listens
     */
    public function deaf(): ?array;

    /** A node it listens to has changed. */
    public function settle(Circuit $circuit): void;
}
