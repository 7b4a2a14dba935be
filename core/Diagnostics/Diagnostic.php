<?php

declare(strict_types=1);

namespace ZapTrace\Diagnostics;

/**
 * A diagnostic for a board revision: how it reports, what it really tests, and what each of its codes names.
 */
final readonly class Diagnostic
{
    /**
     * @param  string  $reports  flashes, tones, colour, chips, mask or step
     * @param  list<array{int, int}>  $covers  first and last address of each stretch it tests
     * @param  array<string, array{bank: string, line: int}>  $codes  code, in small letters => the bit it names
     */
    public function __construct(
        public string $id,
        public string $name,
        public string $reports,
        public array $covers,
        public array $codes,
    ) {
    }

    /**
     * @return array{bank: string, line: int}|null
     */
    public function bitOf(string $code): ?array
    {
        return $this->codes[strtolower(trim($code))] ?? null;
    }

    public function isCounted(): bool
    {
        return $this->reports === 'flashes' || $this->reports === 'tones';
    }

    /**
     * The bits that a slip of one in counting would name.
     *
     * @return list<array{bank: string, line: int}>
     */
    public function oneOff(string $code): array
    {
        if (! $this->isCounted() || ! ctype_digit($code)) {
            return [];
        }

        return array_values(array_filter([$this->bitOf((string) ((int) $code - 1)), $this->bitOf((string) ((int) $code + 1))], static fn (?array $bit): bool => $bit !== null));
    }

    /** The part of a range of addresses that is tested, 0 to 1. */
    public function share(int $from, int $to): float
    {
        $covered = 0;
        foreach ($this->covers as [$first, $last]) {
            $covered += max(0, min($to, $last) - max($from, $first) + 1);
        }

        return $covered / max(1, $to - $from + 1);
    }
}
