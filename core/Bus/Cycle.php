<?php

declare(strict_types=1);

namespace ZapTrace\Bus;

/**
 * One cycle of a bus: what went where.
 */
final readonly class Cycle
{
    /**
     * @param  int  $time  of the edge at which it was complete, in units of the capture
     */
    public function __construct(public int $time, public CycleKind $kind, public int $address, public int $data)
    {
    }
}
