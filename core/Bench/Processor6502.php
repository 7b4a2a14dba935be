<?php

declare(strict_types=1);

namespace ZapTrace\Bench;

use ZapTrace\Processors\NamesFetches;

/**
 * One access in each clock: the address after PHI2 falls, written data while it is high, read data taken as it falls.
 */
final class Processor6502 extends Processor
{
    protected function begin(): void
    {
        $this->access = [0xFFFF, null];
    }

    protected function rest(Circuit $circuit, bool $clockHigh): void
    {
        $circuit->drive($this->pin('PHI2'), $clockHigh ? 1 : 0);
        $circuit->drive($this->pin('PHI1'), $clockHigh ? 0 : 1);
        $circuit->drive($this->pin('R//W'), 1);
        $circuit->drive($this->pin('SYNC'), 0);
        $circuit->driveWord($this->address, 0xFFFF);
        $circuit->release($this->dataOut);
    }

    protected function edge(Circuit $circuit, bool $high): void
    {
        if ($high) {
            $circuit->drive($this->pin('PHI1'), 0);
            $circuit->drive($this->pin('PHI2'), 1);
            if ($this->access[1] !== null) {
                $circuit->driveWord($this->dataOut, $this->access[1]);
            }

            return;
        }
        if ($this->access[1] === null) {
            $this->read = $circuit->word($this->dataIn);
        }
        $circuit->drive($this->pin('PHI2'), 0);
        $circuit->drive($this->pin('PHI1'), 1);
        $circuit->release($this->dataOut);
        $this->advance();
        foreach ($this->address as $bit => $driver) {
            $circuit->driveLater($driver, $this->access[0] >> $bit & 1);
        }
        $circuit->driveLater($this->pin('R//W'), $this->access[1] === null ? 1 : 0);
        $fetches = $this->program instanceof NamesFetches ? $this->program->isFetching() : $this->access[1] === null && ($this->cycles & 1) === 1;
        $circuit->driveLater($this->pin('SYNC'), $fetches ? 1 : 0);
    }
}
