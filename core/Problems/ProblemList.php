<?php

declare(strict_types=1);

namespace ZapTrace\Problems;

/**
 * Gathers problems while an input is read, so that all of them can be told at once.
 *
 * A file of a million broken lines would say the same a million times: past LIMIT they are only counted.
 */
final class ProblemList
{
    public const LIMIT = 200;

    /** @var list<Problem> */
    private array $problems = [];

    private int $untold = 0;

    public function add(string $place, string $sentence): void
    {
        if (count($this->problems) < self::LIMIT) {
            $this->problems[] = new Problem($place, $sentence);
        } else {
            $this->untold++;
        }
    }

    public function atLine(int $line, string $sentence): void
    {
        $this->add("line {$line}", $sentence);
    }

    public function isEmpty(): bool
    {
        return $this->problems === [];
    }

    /**
     * @return list<Problem>
     */
    public function all(): array
    {
        if ($this->untold === 0) {
            return $this->problems;
        }

        return [...$this->problems, new Problem('', "and {$this->untold} more like these; mend the first ones and try again.")];
    }

    /**
     * @throws InputRejected when anything was added
     */
    public function throwIfAny(): void
    {
        $all = $this->all();
        if ($all !== []) {
            throw InputRejected::because($all);
        }
    }
}
