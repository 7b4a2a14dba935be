<?php

declare(strict_types=1);

namespace ZapTrace\Processors;

/**
 * What a processor does on its bus, one access after the other.
 */
interface BusProgram
{
    /** It begins anew. */
    public function reset(): void;

    /**
     * The next access.
     *
     * @param  int|null  $read  what the last one read; null when it wrote, or when there was none
     * @return array{int, int|null} the address, and what is written there; null to read
     */
    public function next(?int $read): array;
}
