<?php

declare(strict_types=1);

namespace ZapTrace\Bus;

use ZapTrace\Formats\CaptureSink;
use ZapTrace\Parts\ProcessorBus;
use ZapTrace\Problems\InputRejected;

/**
 * Makes cycles of the edges of a capture: at each strobe what the bus carried just before. Lines that were not probed
 * are left out; a level that decides on the kind of a cycle and was not probed is taken as fitting.
 */
final class CycleDecoder implements CaptureSink
{
    private readonly CycleList $cycles;

    /** @var array<int, int> bit => channel */
    private array $address = [];

    /** @var array<int, int> */
    private array $data = [];

    /** @var array<int, int> channel => 1 when it is inverted */
    private array $inverted = [];

    /** @var list<array{kind: CycleKind, strobe: int, to: int, when: array<int, int>}> */
    private array $rules = [];

    private int $latch = -1;

    private int $latchTo = 0;

    private int $latched = 0;

    private bool $hasLatched = false;

    /** @var array<int, true> address bits that a latch holds */
    private array $held = [];

    private int $reset = -1;

    private int $resetOn = 0;

    /**
     * @throws InputRejected when no strobe was probed, or neither addresses nor data
     */
    public function __construct(ProcessorBus $bus, SignalMap $map, float $unit = 1e-9)
    {
        $channel = static fn (string $signal): int => $map->signals[$signal]['channel'] ?? -1;
        foreach ($map->signals as $at) {
            $this->inverted[$at['channel']] = $at['inverted'] ? 1 : 0;
        }
        $addressMask = $dataMask = 0;
        foreach ($bus->address as $signal) {
            if ($channel($signal) >= 0) {
                $this->address[ProcessorBus::bitOf($signal)] = $channel($signal);
                $addressMask |= 1 << ProcessorBus::bitOf($signal);
                if ($bus->latch !== null && in_array($signal, $bus->data, true)) {
                    $this->held[ProcessorBus::bitOf($signal)] = true;
                }
            }
        }
        foreach ($bus->data as $signal) {
            if ($channel($signal) >= 0) {
                $this->data[ProcessorBus::bitOf($signal)] = $channel($signal);
                $dataMask |= 1 << ProcessorBus::bitOf($signal);
            }
        }
        foreach ($bus->cycles as $rule) {
            if ($channel($rule['strobe']) < 0) {
                continue;
            }
            $when = [];
            foreach ($rule['when'] as $signal => $level) {
                if ($channel((string) $signal) >= 0) {
                    $when[$channel((string) $signal)] = $level;
                }
            }
            if ($rule['kind'] === CycleKind::Fetch->value && count($when) < count($rule['when'])) {
                continue; // What tells a fetch from a read was not probed.
            }
            $this->rules[] = ['kind' => CycleKind::from($rule['kind']), 'strobe' => $channel($rule['strobe']), 'to' => $rule['edge'] === 'rise' ? 1 : 0, 'when' => $when];
        }
        if ($this->rules === []) {
            $strobes = array_values(array_unique(array_map(static fn (array $rule): string => $rule['strobe'], $bus->cycles)));
            throw InputRejected::of('map', 'No channel is on '.implode(' or ', $strobes).': without a strobe no cycle can be told. Say which channel it is.');
        }
        if ($addressMask === 0 && $dataMask === 0) {
            throw InputRejected::of('map', 'No channel is on an address or data line. Say which channel is on which.');
        }
        if ($bus->latch !== null && $channel($bus->latch['signal']) >= 0) {
            $this->latch = $channel($bus->latch['signal']);
            $this->latchTo = $bus->latch['edge'] === 'rise' ? 1 : 0;
        }
        $this->reset = $channel($bus->reset);
        $this->resetOn = str_starts_with($bus->reset, '/') ? 0 : 1;
        $this->cycles = new CycleList($addressMask, $dataMask, $unit);
    }

    public function watches(): array
    {
        return array_values(array_unique([...array_column($this->rules, 'strobe'), ...($this->latch >= 0 ? [$this->latch] : [])]));
    }

    public function moment(int $time, array $changes, array $levels): void
    {
        if ($this->latch >= 0 && isset($changes[$this->latch]) && ($changes[$this->latch] ^ $this->inverted[$this->latch]) === $this->latchTo && $levels[$this->latch] < 2) {
            $this->latched = $this->word($this->address, $levels);
            $this->hasLatched = true;
        }
        foreach ($this->rules as $rule) {
            $strobe = $rule['strobe'];
            if (! isset($changes[$strobe]) || ($changes[$strobe] ^ $this->inverted[$strobe]) !== $rule['to'] || $levels[$strobe] > 1 || $changes[$strobe] === $levels[$strobe]) {
                continue;
            }
            foreach ($rule['when'] as $channel => $level) {
                if ($levels[$channel] < 2 && ($levels[$channel] ^ $this->inverted[$channel]) !== $level) {
                    continue 2;
                }
            }
            if ($this->reset >= 0 && ($levels[$this->reset] ^ $this->inverted[$this->reset]) === $this->resetOn) {
                return;
            }
            $address = $this->word($this->address, $levels);
            if ($this->hasLatched && $this->held !== []) {
                foreach ($this->held as $bit => $true) {
                    $address = $address & ~(1 << $bit) | $this->latched & 1 << $bit;
                }
            }
            $this->cycles->add($time, $rule['kind'], $address, $this->word($this->data, $levels));

            return;
        }
    }

    /** The cycles, when all was read. */
    public function cycles(int $end = 0): CycleList
    {
        $this->cycles->end = $end;

        return $this->cycles;
    }

    /**
     * @param  array<int, int>  $channels  bit => channel
     * @param  array<int, int>  $levels
     */
    private function word(array $channels, array $levels): int
    {
        $word = 0;
        foreach ($channels as $bit => $channel) {
            // What floats reads high.
            if (($levels[$channel] ^ $this->inverted[$channel]) !== 0) {
                $word |= 1 << $bit;
            }
        }

        return $word;
    }
}
