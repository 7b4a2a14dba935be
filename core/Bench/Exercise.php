<?php

declare(strict_types=1);

namespace ZapTrace\Bench;

use ZapTrace\Processors\BusProgram;

/**
 * Accesses from a list; what was read is kept.
 */
final class Exercise implements BusProgram
{
    /** @var list<int|null> what each access read */
    public array $read = [];

    private int $at = 0;

    private bool $going = false;

    /**
     * @param  list<array{int, int|null}>  $accesses
     */
    public function __construct(private readonly array $accesses, private readonly bool $again = false)
    {
    }

    public function reset(): void
    {
        $this->at = 0;
        $this->going = false;
        $this->read = [];
    }

    public function next(?int $read): array
    {
        if ($this->going && count($this->read) < count($this->accesses)) {
            $this->read[] = $read;
        }
        $this->going = true;
        $access = $this->accesses[$this->at % max(1, count($this->accesses))] ?? [0, null];
        $this->at++;

        return $this->at > count($this->accesses) && ! $this->again ? [$access[0], null] : $access;
    }

    public function isDone(): bool
    {
        return count($this->read) >= count($this->accesses);
    }
}
