<?php

declare(strict_types=1);

namespace ZapTrace\Parts\Logic;

/**
 * One output pin: what it gives, and when it drives at all.
 */
final readonly class Output
{
    /**
     * @param  Expression|null  $when  null for one that always drives
     * @param  bool  $open  open collector: it pulls low or lets go
     */
    public function __construct(public int $pin, public Expression $value, public ?Expression $when, public bool $open)
    {
    }

    /** Whether it drives all the time, high and low. */
    public function isAlways(): bool
    {
        return $this->when === null && ! $this->open;
    }

    /**
     * @return list<string>
     */
    public function names(): array
    {
        return array_values(array_unique([...$this->value->names(), ...($this->when?->names() ?? [])]));
    }
}
