<?php

declare(strict_types=1);

namespace ZapTrace\Reasoning;

use ZapTrace\Diagnostics\Diagnostic;

/**
 * The runs of one diagnostic in one state of the machine, and what it could meet there.
 */
final readonly class RunGroup
{
    /**
     * @param  non-empty-list<string>  $results  keys of the results, in the order of the runs
     * @param  array<string, float>  $reach  bank => the part of it that the diagnostic covers as the links stand
     */
    public function __construct(
        public Diagnostic $diagnostic,
        public array $results,
        public array $reach,
    ) {
    }
}
