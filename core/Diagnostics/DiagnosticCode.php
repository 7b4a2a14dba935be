<?php

declare(strict_types=1);

namespace ZapTrace\Diagnostics;

/**
 * One code of a diagnostic's table and what it names.
 */
final readonly class DiagnosticCode
{
    /**
     * @param  string  $code  as it is reported: a count, a colour, a chip, a bit of a mask, a step
     * @param  string  $name  what the table calls it; "" when it says no more
     * @param  array{bank: string, line: int}|null  $bit  the data bit it names
     * @param  list<string>  $sites  chips it names otherwise
     */
    public function __construct(
        public string $code,
        public string $name,
        public ?array $bit,
        public array $sites,
    ) {
    }

    /** What it names, in words. */
    public function words(): string
    {
        return match (true) {
            $this->bit !== null => "bit {$this->bit['line']} of bank {$this->bit['bank']}",
            $this->name !== '' => $this->name,
            default => implode(', ', $this->sites),
        };
    }
}
