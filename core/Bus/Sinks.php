<?php

declare(strict_types=1);

namespace ZapTrace\Bus;

use ZapTrace\Formats\CaptureSink;

/**
 * Several sinks that hear of one capture in one reading.
 */
final readonly class Sinks implements CaptureSink
{
    /** @var list<array{CaptureSink, array<int, true>}> */
    private array $sinks;

    public function __construct(CaptureSink ...$sinks)
    {
        $this->sinks = array_values(array_map(static fn (CaptureSink $sink): array => [$sink, array_fill_keys($sink->watches(), true)], $sinks));
    }

    public function watches(): array
    {
        $watches = [];
        foreach ($this->sinks as [, $channels]) {
            $watches += $channels;
        }

        return array_keys($watches);
    }

    public function moment(int $time, array $changes, array $levels): void
    {
        foreach ($this->sinks as [$sink, $channels]) {
            foreach ($changes as $channel => $level) {
                if (isset($channels[$channel])) {
                    $sink->moment($time, $changes, $levels);
                    break;
                }
            }
        }
    }
}
