<?php

declare(strict_types=1);

namespace ZapTrace\Bench;

/**
 * Four clocks to a fetch, the last two of them with a refresh address on the bus; three to a write.
 */
final class ProcessorZ80 extends Processor
{
    private int $state = 0;

    private int $refresh = 0;

    protected function begin(): void
    {
        $this->state = 0;
    }

    protected function rest(Circuit $circuit, bool $clockHigh): void
    {
        foreach (['/MREQ', '/IORQ', '/RD', '/WR', '/M1', '/RFSH', '/HALT', '/BUSAK'] as $pin) {
            $circuit->drive($this->pin($pin), 1);
        }
        $circuit->driveWord($this->address, 0);
        $circuit->release($this->dataOut);
        $this->state = 0;
    }

    protected function edge(Circuit $circuit, bool $high): void
    {
        $writes = $this->access[1] !== null;
        if ($high) {
            $this->state = $this->state % ($writes ? 3 : 4) + 1;
            if ($this->state === 1) {
                $this->advance();
                $writes = $this->access[1] !== null;
                $circuit->drive($this->pin('/RFSH'), 1);
                $circuit->drive($this->pin('/WR'), 1);
                $circuit->release($this->dataOut);
                $circuit->driveWord($this->address, $this->access[0]);
                $circuit->drive($this->pin('/M1'), $writes ? 1 : 0);
            } elseif ($this->state === 3 && ! $writes) {
                $this->read = $circuit->word($this->dataIn);
                foreach (['/MREQ', '/RD', '/M1'] as $pin) {
                    $circuit->drive($this->pin($pin), 1);
                }
                $circuit->driveLater($this->pin('/RFSH'), 0);
                foreach ($this->address as $bit => $driver) {
                    $circuit->driveLater($driver, $this->refresh >> $bit & 1);
                }
                $this->refresh = $this->refresh + 1 & 0x7F;
            }

            return;
        }
        if ($writes) {
            match ($this->state) {
                1 => $this->put($circuit),
                2 => $this->strobe($circuit, ['/WR'], 0),
                3 => $this->strobe($circuit, ['/WR', '/MREQ'], 1),
                default => null,
            };
        } else {
            match ($this->state) {
                1 => $this->strobe($circuit, ['/MREQ', '/RD'], 0),
                3 => $this->strobe($circuit, ['/MREQ'], 0),
                4 => $this->strobe($circuit, ['/MREQ'], 1),
                default => null,
            };
        }
    }

    private function put(Circuit $circuit): void
    {
        $circuit->driveWord($this->dataOut, (int) $this->access[1]);
        $circuit->drive($this->pin('/MREQ'), 0);
    }

    /**
     * @param  list<string>  $pins
     */
    private function strobe(Circuit $circuit, array $pins, int $level): void
    {
        foreach ($pins as $pin) {
            $circuit->drive($this->pin($pin), $level);
        }
    }
}
