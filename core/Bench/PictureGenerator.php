<?php

declare(strict_types=1);

namespace ZapTrace\Bench;

use ZapTrace\Board\Video;

/**
 * A 6845 as the machine's own programme has set it: 40 characters shown of a line, the lines of the board's picture.
 */
final class PictureGenerator implements Device
{
    private const SHOWN = 40;

    private const SCANLINES = 8;

    private const ROWS = 25;

    private bool $clockHigh = true;

    private int $character;

    private int $line;

    /** @var list<int> */
    private array $address;

    /** @var list<int> */
    private array $scan;

    public function __construct(private readonly Socket $socket, private readonly Video $video)
    {
        $this->address = $socket->drivers($socket->row('MA'));
        $this->scan = $socket->drivers($socket->row('RA'));
        // Shortly before the end of the picture, so that every signal is seen soon.
        $this->character = 0;
        $this->line = $video->lines - 3;
    }

    public function listens(): array
    {
        return [$this->socket->node('CLK')];
    }

    public function deaf(): ?array
    {
        return null;
    }

    public function settle(Circuit $circuit): void
    {
        $high = $circuit->level($this->socket->node('CLK')) === 1;
        if (! $high && $this->clockHigh) {
            if (++$this->character >= $this->video->lineClocks) {
                $this->character = 0;
                $this->line = ($this->line + 1) % $this->video->lines;
            }
            $row = intdiv($this->line, self::SCANLINES);
            $circuit->driveWord($this->address, $row * self::SHOWN + $this->character);
            $circuit->driveWord($this->scan, $this->line % self::SCANLINES);
            $circuit->drive($this->socket->driver('DE'), $this->character < self::SHOWN && $row < self::ROWS ? 1 : 0);
            $circuit->drive($this->socket->driver('HS'), $this->character >= 48 && $this->character < 52 ? 1 : 0);
            $circuit->drive($this->socket->driver('VS'), $this->line >= $this->video->lines - 2 ? 1 : 0);
            $circuit->drive($this->socket->driver('CURSOR'), $this->character === 0 && $row === 0 ? 1 : 0);
        }
        $this->clockHigh = $high;
    }
}
