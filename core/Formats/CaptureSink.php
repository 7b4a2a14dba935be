<?php

declare(strict_types=1);

namespace ZapTrace\Formats;

/**
 * Hears of a capture as it is read, moment by moment.
 */
interface CaptureSink
{
    /**
     * @return list<int> channels whose changes it wants to hear of
     */
    public function watches(): array;

    /**
     * Something changed at a moment on a channel that is watched.
     *
     * @param  int  $time  in units of the capture
     * @param  array<int, int>  $changes  channel => new level: 0, 1, or 2 for what is neither
     * @param  array<int, int>  $levels  of all channels, as they were just before
     */
    public function moment(int $time, array $changes, array $levels): void;
}
