<?php

declare(strict_types=1);

namespace ZapTrace\Board;

/**
 * Memory chips that answer together.
 */
final readonly class Bank
{
    /**
     * @param  int  $width  data lines it answers on
     * @param  int  $firstLine  its lowest data line
     * @param  array<int, string>  $chipOfLine  data line => reference of the chip that holds it
     * @param  list<Server>  $servers
     */
    public function __construct(
        public string $name,
        public int $width,
        public int $firstLine,
        public array $chipOfLine,
        public ?Multiplex $multiplex,
        public array $servers,
    ) {
    }

    /**
     * @return list<int> its data lines, lowest first
     */
    public function lines(): array
    {
        return range($this->firstLine, $this->firstLine + $this->width - 1);
    }

    /**
     * @return list<int> the data lines that this chip holds in this bank
     */
    public function linesOf(string $chip): array
    {
        return array_keys($this->chipOfLine, $chip, true);
    }

    /**
     * @return list<string> its memory chips, each once, by lowest line
     */
    public function chips(): array
    {
        $chips = $this->chipOfLine;
        ksort($chips);

        return array_values(array_unique($chips));
    }

    /**
     * @param  string|null  $line  only those that carry this line
     * @return list<Server>
     */
    public function serversIn(string $role, ?string $line = null): array
    {
        return array_values(array_filter(
            $this->servers,
            static fn (Server $server): bool => $server->role === $role && ($line === null || $server->carries($line)),
        ));
    }
}
