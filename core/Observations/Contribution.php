<?php

declare(strict_types=1);

namespace ZapTrace\Observations;

use ZapTrace\Diagnostics\Diagnostic;
use ZapTrace\Memory\ReadingSet;

/**
 * What an observation adds to what is known, and the words for the log.
 */
final readonly class Contribution
{
    /**
     * @param  string  $title  the observation in a few words
     * @param  list<string>  $notes  what was noticed while it was read
     * @param  int|null  $firstFailing  an address that failed the machine's own test
     * @param  string|null  $complaint  what the complaint did: as-before, better, cured, worse or different
     * @param  list<array{diagnostic: Diagnostic, result: string}>  $runs  runs of diagnostics
     * @param  array{site: string, failed: bool}|null  $tested  a part tested by itself
     */
    public function __construct(
        public string $title,
        public ?ReadingSet $readings = null,
        public array $notes = [],
        public ?int $firstFailing = null,
        public ?string $complaint = null,
        public array $runs = [],
        public ?array $tested = null,
    ) {
    }
}
