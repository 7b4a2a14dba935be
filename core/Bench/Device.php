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

    /** A node it listens to has changed. */
    public function settle(Circuit $circuit): void;
}
