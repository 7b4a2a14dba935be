<?php

declare(strict_types=1);

namespace ZapTrace\Bus;

use ZapTrace\Formats\CaptureSink;

/**
 * Takes what all channels carry just before the edges of one of them, as one column of levels for each channel.
 */
final class ChannelSampler implements CaptureSink
{
    /** @var list<string> a row of "0", "1" and "2" for each sample */
    private array $rows = [];

    /**
     * @param  int  $to  level after the edge
     * @param  int  $most  samples that are enough
     */
    public function __construct(private readonly int $strobe, private readonly int $to, private readonly int $most)
    {
    }

    public function watches(): array
    {
        return [$this->strobe];
    }

    public function moment(int $time, array $changes, array $levels): void
    {
        if (count($this->rows) < $this->most && $changes[$this->strobe] === $this->to && $levels[$this->strobe] === 1 - $this->to) {
            $this->rows[] = implode('', $levels);
        }
    }

    public function isFull(): bool
    {
        return count($this->rows) >= $this->most;
    }

    /**
     * @return list<string> for each channel its levels, one character a sample
     */
    public function columns(int $channels): array
    {
        $columns = array_fill(0, $channels, '');
        $all = implode('', $this->rows);
        for ($channel = 0; $channel < $channels; $channel++) {
            $column = '';
            for ($at = $channel, $end = strlen($all); $at < $end; $at += $channels) {
                $column .= $all[$at];
            }
            $columns[$channel] = $column;
        }

        return array_values($columns);
    }
}
