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

    public function carries(string $line): bool
    {
        return $this->lines === [] || in_array($line, $this->lines, true);
    }
}
