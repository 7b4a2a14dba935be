<?php

declare(strict_types=1);

namespace ZapTrace\Board;

/**
 * A programme that is known of the machine: what it is in, and how it shows that it runs.
 */
final readonly class Firmware
{
    /** What the machine runs when it is switched on. */
    public const BOOT = 'boot';

    /**
     * @param  string  $runs  "boot", or the diagnostic that it is
     * @param  string  $chip  the ROM that holds it, or in whose place it is put
     * @param  array<int, string>  $parts  address of the chip => bytes; what lies between is not known
     * @param  int  $signal  address it writes to: its port, or where it shows that it is alive
     */
    public function __construct(public string $runs, public string $chip, public array $parts, public int $signal)
    {
    }

    /** The parts put over other contents. */
    public function over(string $image): string
    {
        foreach ($this->parts as $at => $bytes) {
            $image = substr_replace($image, $bytes, $at, strlen($bytes));
        }

        return $image;
    }
}
