<?php

declare(strict_types=1);

namespace ZapTrace\Bus;

use ZapTrace\Formats\CaptureSink;

/**
 * How often each channel changes, and which levels it was seen at.
 */
final class ChannelCount implements CaptureSink
{
    /** @var array<int, int> */
    public array $changes = [];

    /** @var array<int, int> bits 1, 2, 4: it was low, high, neither */
    public array $seen = [];

    public function __construct(private readonly int $channels)
    {
        $this->changes = $this->seen = array_fill(0, $channels, 0);
    }

    public function watches(): array
    {
        return range(0, max(0, $this->channels - 1));
    }

    public function moment(int $time, array $changes, array $levels): void
    {
        foreach ($changes as $channel => $level) {
            $this->seen[$channel] |= 1 << $level;
            if ($levels[$channel] !== 2 && $levels[$channel] !== $level) {
                $this->changes[$channel]++;
            }
        }
    }
}
