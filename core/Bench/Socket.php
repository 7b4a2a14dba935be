<?php

declare(strict_types=1);

namespace ZapTrace\Bench;

use ZapTrace\Board\Chip;

/**
 * The pins of one chip of a circuit, by the names of the library.
 */
final class Socket
{
    /** @var array<string, int> name => node, -1 for a pin on no net */
    private array $nodes = [];

    /** @var array<string, int> name => driver */
    private array $drivers = [];

    public function __construct(public readonly Chip $chip)
    {
    }

    public function joins(string $name, int $node, ?int $driver): void
    {
        $this->nodes[$name] = $node;
        if ($driver !== null) {
            $this->drivers[$name] = $driver;
        }
    }

    public function node(string $name): int
    {
        return $this->nodes[$name] ?? -1;
    }

    public function driver(string $name): int
    {
        return $this->drivers[$name] ?? -1;
    }

    public function has(string $name): bool
    {
        return isset($this->nodes[$name]);
    }

    /**
     * @param  list<string>  $names
     * @return list<int>
     */
    public function nodes(array $names): array
    {
        return array_map($this->node(...), $names);
    }

    /**
     * @param  list<string>  $names
     * @return list<int>
     */
    public function drivers(array $names): array
    {
        return array_map($this->driver(...), $names);
    }

    /**
     * Pins of a numbered row, A0, A1, ..., as far as there are any.
     *
     * @return list<string>
     */
    public function row(string $letters, int $from = 0): array
    {
        $names = [];
        for ($number = $from; isset($this->nodes["{$letters}{$number}"]); $number++) {
            $names[] = "{$letters}{$number}";
        }

        return $names;
    }
}
