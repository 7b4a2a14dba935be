<?php

declare(strict_types=1);

namespace ZapTrace\Parts\Logic;

/**
 * One bit that a part keeps: at an edge of its clock, or as long as its latch is open.
 */
final readonly class Register
{
    /**
     * @param  Expression  $next  what it takes
     * @param  Expression  $clock  whose edge it waits for; or what holds its latch open
     * @param  'rise'|'fall'|'while'  $when
     */
    public function __construct(public string $name, public Expression $next, public Expression $clock, public string $when, public ?Expression $reset, public ?Expression $set)
    {
    }

    /**
     * @return list<string>
     */
    public function names(): array
    {
        return array_values(array_unique([...$this->next->names(), ...$this->clock->names(), ...($this->reset?->names() ?? []), ...($this->set?->names() ?? [])]));
    }

    /**
     * @param  array<string, Expression>  $meanings
     */
    public function with(array $meanings): self
    {
        return new self($this->name, $this->next->with($meanings), $this->clock->with($meanings), $this->when, $this->reset?->with($meanings), $this->set?->with($meanings));
    }
}
