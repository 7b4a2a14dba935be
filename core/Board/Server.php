<?php

declare(strict_types=1);

namespace ZapTrace\Board;

/**
 * A chip that serves a bank: its select, strobes, address multiplexer, data buffer, refresh or supply.
 */
final readonly class Server
{
    /**
     * @param  'select'|'strobe'|'multiplexer'|'buffer'|'refresh'|'supply'  $role
     * @param  list<string>  $lines  the lines it carries (D5, A12); empty when it carries all
     */
    public function __construct(public string $chip, public string $role, public array $lines)
    {
    }

    /**
     * @return list<int> the address lines it carries, by number
     */
    public function addressLines(): array
    {
        return $this->numbers('A');
    }

    /**
     * @return list<int> the data lines it carries, by number
     */
    public function dataLines(): array
    {
        return $this->numbers('D');
    }

    /**
     * @return list<int>
     */
    private function numbers(string $letter): array
    {
        return array_map(static fn (string $line): int => (int) substr($line, 1), array_values(array_filter($this->lines, static fn (string $line): bool => $line[0] === $letter)));
    }

    public function carries(string $line): bool
    {
        return $this->lines === [] || in_array($line, $this->lines, true);
    }
}
