<?php

declare(strict_types=1);

namespace ZapTrace\Bus;

use ZapTrace\Formats\CaptureSink;
use ZapTrace\Parts\ProcessorBus;

/**
 * What the lines beside the bus did: reset, clock, interrupts, waits, strobes.
 */
final class LineWatch implements CaptureSink
{
    /** @var array<string, array{channel: int, inverted: int, changes: int, first: int|null, level: int, last: int}> */
    private array $lines = [];

    public function __construct(ProcessorBus $bus, SignalMap $map)
    {
        foreach (array_unique([$bus->reset, $bus->clock, ...$bus->interrupts, ...$bus->waits, ...$bus->strobes()]) as $signal) {
            if (isset($map->signals[$signal])) {
                $this->lines[$signal] = ['channel' => $map->signals[$signal]['channel'], 'inverted' => $map->signals[$signal]['inverted'] ? 1 : 0, 'changes' => 0, 'first' => null, 'level' => 2, 'last' => 0];
            }
        }
    }

    public function watches(): array
    {
        return array_values(array_unique(array_column($this->lines, 'channel')));
    }

    public function moment(int $time, array $changes, array $levels): void
    {
        foreach ($this->lines as $signal => $line) {
            $level = $changes[$line['channel']] ?? null;
            if ($level === null) {
                continue;
            }
            $level = $level > 1 ? 2 : $level ^ $line['inverted'];
            // What it is given at the beginning is no change.
            if ($line['level'] !== 2 || $levels[$line['channel']] < 2) {
                $this->lines[$signal]['changes']++;
                $this->lines[$signal]['first'] ??= $time;
                $this->lines[$signal]['last'] = $time;
            }
            $this->lines[$signal]['level'] = $level;
        }
    }

    /**
     * @param  float  $unit  seconds in a unit of time
     * @return list<array{signal: string, changes: int, hz: float, first: float|null, level: string, words: string}>
     */
    public function summary(float $unit, int $end): array
    {
        $summary = [];
        foreach ($this->lines as $signal => $line) {
            $level = ['low', 'high', 'unknown'][$line['level']];
            $span = $line['changes'] > 1 ? ($line['last'] - (int) $line['first']) * $unit : 0.0;
            $hz = $span > 0.0 ? ($line['changes'] - 1) / 2.0 / $span : 0.0;
            $first = $line['first'] === null ? null : $line['first'] * $unit;
            $summary[] = ['signal' => $signal, 'changes' => $line['changes'], 'hz' => round($hz, 1), 'first' => $first, 'level' => $level, 'words' => match (true) {
                $line['changes'] === 0 => "stays {$level} from beginning to end",
                $line['changes'] === 1 => sprintf('goes %s once, after %s', $level, self::duration((float) $first)),
                default => sprintf('%d changes, about %s; the first after %s', $line['changes'], self::frequency($hz), self::duration((float) $first)).($end > 0 && $line['last'] < $end / 2 ? sprintf('; the last after %s, then %s', self::duration($line['last'] * $unit), $level) : ''),
            }];
        }

        return $summary;
    }

    private static function duration(float $seconds): string
    {
        return match (true) {
            $seconds >= 1.0 => round($seconds, 3).' s',
            $seconds >= 1e-3 => round($seconds * 1e3, 3).' ms',
            $seconds >= 1e-6 => round($seconds * 1e6, 3).' µs',
            default => round($seconds * 1e9, 1).' ns',
        };
    }

    private static function frequency(float $hz): string
    {
        return match (true) {
            $hz >= 1e6 => round($hz / 1e6, 3).' MHz',
            $hz >= 1e3 => round($hz / 1e3, 2).' kHz',
            default => round($hz, 1).' Hz',
        };
    }
}
