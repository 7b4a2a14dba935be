<?php

declare(strict_types=1);

namespace ZapTrace\Bench;

use ZapTrace\Processors\BusProgram;

/**
 * A processor that is given nothing but an instruction that does nothing: its addresses count.
 */
final class FreeRun implements BusProgram
{
    private int $access = 0;

    /**
     * @param  int  $accesses  accesses to each address
     * @param  int  $step  from one address to the next; a larger one sweeps all lines in a short look
     */
    public function __construct(private readonly int $accesses, private readonly int $step, private readonly int $mask)
    {
    }

    public function reset(): void
    {
        $this->access = 0;
    }

    public function next(?int $read): array
    {
        return [intdiv($this->access++, $this->accesses) * $this->step & $this->mask, null];
    }
}
