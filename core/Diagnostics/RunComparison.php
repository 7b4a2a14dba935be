<?php

declare(strict_types=1);

namespace ZapTrace\Diagnostics;

use ZapTrace\Numbers\WilsonInterval;

/**
 * Runs compared: two of two alike is a result, one is not, and results that change are no result at all.
 */
final readonly class RunComparison
{
    /**
     * @param  string  $words  "2 of 2 alike", "Unstable: 3 different results in 4 runs"
     * @param  bool  $passed  the latest run passed
     */
    private function __construct(public string $words, public bool $passed)
    {
    }

    /**
     * @param  list<string>  $results  of all runs in the order they were made: codes, or "pass"
     */
    public static function of(array $results): ?self
    {
        $runs = count($results);
        if ($runs === 0) {
            return null;
        }
        $different = count(array_unique($results));
        $failed = count(array_filter($results, static fn (string $result): bool => $result !== DiagnosticResult::PASS));
        $rate = WilsonInterval::of($failed, $runs);
        $interval = sprintf('; it fails in %d of %d runs, so in %.0f to %.0f %% of all', $failed, $runs, 100 * $rate->lower, 100 * $rate->upper);

        return new self(match (true) {
            $different > 1 => "Unstable: {$different} different results in {$runs} runs".($failed < $runs ? $interval : ''),
            $runs > 1 => "{$runs} of {$runs} alike",
            default => 'One run',
        }, $results[$runs - 1] === DiagnosticResult::PASS);
    }
}
