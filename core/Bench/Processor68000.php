<?php

declare(strict_types=1);

namespace ZapTrace\Bench;

/**
 * Eight half clocks to an access, more while nothing acknowledges it. Words are read and written whole; an address
 * with bit 24 set writes the upper byte alone, with bit 25 the lower.
 */
final class Processor68000 extends Processor
{
    private int $state = 0;

    private int $e = 0;

    protected function begin(): void
    {
        $this->state = 7;
    }

    protected function rest(Circuit $circuit, bool $clockHigh): void
    {
        foreach (['/AS', '/UDS', '/LDS', 'R//W', '/BG', '/VMA'] as $pin) {
            $circuit->drive($this->pin($pin), 1);
        }
        $circuit->driveWord($this->address, 0);
        $circuit->release($this->dataOut);
        $this->clockE($circuit, $clockHigh);
        $this->state = 7;
    }

    protected function edge(Circuit $circuit, bool $high): void
    {
        $this->clockE($circuit, $high);
        if ($this->state === 4 && $circuit->level($this->socket->node('/DTACK')) === 1) {
            // It waits, a whole clock at a time.
            $this->state = 3;

            return;
        }
        $this->state = ($this->state + 1) % 8;
        $writes = $this->access[1] !== null;
        switch ($this->state) {
            case 0:
                $circuit->release($this->dataOut);
                $circuit->drive($this->pin('R//W'), 1);
                $this->advance();
                break;
            case 1:
                $circuit->driveWord($this->address, $this->access[0] >> 1 & 0x7FFFFF);
                break;
            case 2:
                $circuit->drive($this->pin('/AS'), 0);
                $writes ? $circuit->drive($this->pin('R//W'), 0) : $this->strobes($circuit);
                break;
            case 3:
                if ($writes) {
                    $circuit->driveWord($this->dataOut, (int) $this->access[1]);
                }
                break;
            case 4:
                if ($writes) {
                    $this->strobes($circuit);
                }
                break;
            case 7:
                if (! $writes) {
                    $this->read = $circuit->word($this->dataIn);
                }
                foreach (['/AS', '/UDS', '/LDS'] as $pin) {
                    $circuit->drive($this->pin($pin), 1);
                }
                break;
        }
    }

    private function strobes(Circuit $circuit): void
    {
        $circuit->drive($this->pin('/UDS'), ($this->access[0] & 0x2000000) === 0 ? 0 : 1);
        $circuit->drive($this->pin('/LDS'), ($this->access[0] & 0x1000000) === 0 ? 0 : 1);
    }

    /** A clock for the older peripherals, a tenth of its own. */
    private function clockE(Circuit $circuit, bool $high): void
    {
        if ($high) {
            $this->e = ($this->e + 1) % 10;
            $circuit->drive($this->pin('E'), $this->e < 4 ? 1 : 0);
        }
    }
}
