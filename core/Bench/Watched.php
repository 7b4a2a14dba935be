<?php

declare(strict_types=1);

namespace ZapTrace\Bench;

use ZapTrace\Processors\BusProgram;
use ZapTrace\Processors\NamesFetches;

/**
 * A programme whose accesses are written down as it makes them.
 */
final class Watched implements BusProgram, NamesFetches
{
    /** @var list<array{int, int, bool}> address, data, whether it wrote */
    public array $accesses = [];

    /** @var array{int, int|null}|null */
    private ?array $last = null;

    public function __construct(private readonly BusProgram $program)
    {
    }

    public function reset(): void
    {
        $this->accesses = [];
        $this->last = null;
        $this->program->reset();
    }

    public function isFetching(): bool
    {
        return $this->program instanceof NamesFetches && $this->program->isFetching();
    }

    /**
     * @return list<int> what was written to an address, in order
     */
    public function writesTo(int $address): array
    {
        $writes = [];
        foreach ($this->accesses as [$at, $data, $wrote]) {
            if ($wrote && $at === $address) {
                $writes[] = $data;
            }
        }

        return $writes;
    }

    public function next(?int $read): array
    {
        if ($this->last !== null) {
            $this->accesses[] = [$this->last[0], $this->last[1] ?? $read ?? 0xFF, $this->last[1] !== null];
        }

        return $this->last = $this->program->next($read);
    }
}
