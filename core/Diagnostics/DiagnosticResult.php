<?php

declare(strict_types=1);

namespace ZapTrace\Diagnostics;

/**
 * What one run of a diagnostic reported.
 */
final readonly class DiagnosticResult
{
    public const PASS = 'pass';

    /** It did not get through: no result at all. */
    public const NOTHING = 'nothing';

    /**
     * @param  string  $key  the same results have the same key: pass, nothing, or its codes in small letters
     * @param  list<DiagnosticCode>  $codes  what it named; empty when it passed or gave nothing
     * @param  list<array{bank: string, line: int}>  $differing  bits that differ between the registers it stopped with
     */
    public function __construct(public string $key, public array $codes = [], public array $differing = [])
    {
    }

    public function passed(): bool
    {
        return $this->key === self::PASS;
    }
}
