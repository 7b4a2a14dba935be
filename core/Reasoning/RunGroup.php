<?php

declare(strict_types=1);

namespace ZapTrace\Reasoning;

use ZapTrace\Diagnostics\Diagnostic;
use ZapTrace\Diagnostics\DiagnosticResult;

/**
 * The runs of one diagnostic in one state of the machine, and what it could meet there.
 */
final readonly class RunGroup
{
    /**
     * @param  non-empty-list<string>  $results  keys of the results, in the order of the runs
     * @param  array<string, float>  $reach  bank => the part of it that the diagnostic covers as the links stand
     * @param  int  $alike  states in which it got through, or went nowhere, as in this one, this one among them: what does not come and go lets it through in all or in none
     * @param  int  $passes  states in which it passed, this one among them
     */
    public function __construct(
        public Diagnostic $diagnostic,
        public array $results,
        public array $reach,
        public int $alike = 1,
        public int $passes = 1,
    ) {
    }

    /**
     * Whether none of some runs in one state went nowhere.
     *
     * @param  list<string>  $results  keys
     */
    public static function through(array $results): bool
    {
        return ! in_array(DiagnosticResult::NOTHING, $results, true);
    }

    /**
     * Whether all of some runs in one state passed.
     *
     * @param  list<string>  $results  keys
     */
    public static function passed(array $results): bool
    {
        return array_unique($results) === [DiagnosticResult::PASS];
    }

    /**
     * Whether all of some runs in one state went nowhere.
     *
     * @param  list<string>  $results  keys
     */
    public static function hung(array $results): bool
    {
        return array_unique($results) === [DiagnosticResult::NOTHING];
    }
}
