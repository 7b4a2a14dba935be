<?php

declare(strict_types=1);

namespace ZapTrace\Rom;

/**
 * One pin of a chip on an adapter.
 */
final readonly class AdapterPin
{
    /**
     * @param  int  $pin  of the chip
     * @param  string  $name  as the chip calls it
     * @param  int|null  $under  pin of the socket that it would sit in; null where it hangs over
     * @param  int|null  $to  pin of the socket it belongs to
     * @param  'join'|'low'|'high'|'open'  $how  joined to that pin, or tied low or high
     * @param  bool  $straight  it sits right as it is; otherwise the pin is lifted and wired
     */
    public function __construct(public int $pin, public string $name, public ?int $under, public ?int $to, public string $how, public string $why, public bool $straight)
    {
    }

    /** Where it goes, in words. */
    public function goes(): string
    {
        return match ($this->how) {
            'join' => "pin {$this->to} of the socket",
            'low' => 'ground',
            'high' => '+5 V',
            default => 'left open',
        };
    }
}
