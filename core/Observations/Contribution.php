<?php

declare(strict_types=1);

namespace ZapTrace\Observations;

use ZapTrace\Diagnostics\Diagnostic;
use ZapTrace\Diagnostics\DiagnosticResult;
use ZapTrace\Memory\ReadingSet;
use ZapTrace\Reasoning\Evidence;

/**
 * What an observation adds to what is known, and the words for the log.
 */
final readonly class Contribution
{
    /**
     * @param  string  $title  the observation in a few words
     * @param  ReadingSet|null  $readings  to be weighed together with all others made in the same state
     * @param  list<string>  $notes  what was noticed while it was read
     * @param  int|null  $firstFailing  an address that failed the machine's own test
     * @param  list<array{diagnostic: Diagnostic, result: DiagnosticResult}>  $runs  to be weighed together likewise
     * @param  list<Evidence>  $evidence  what it says by itself
     * @param  list<Measured>  $measured  to be weighed or shown together with others like it
     * @param  array{action: string, site: string, reason: string}|null  $setAside  a step that is not to be proposed now
     */
    public function __construct(
        public string $title,
        public ?ReadingSet $readings = null,
        public array $notes = [],
        public ?int $firstFailing = null,
        public array $runs = [],
        public array $evidence = [],
        public ?array $setAside = null,
        public array $measured = [],
    ) {
    }
}
