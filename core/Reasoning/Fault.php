<?php

declare(strict_types=1);

namespace ZapTrace\Reasoning;

/**
 * A site with a mode in which it can be faulty, and how likely that is before anything was observed.
 */
final readonly class Fault
{
    /**
     * @param  string  $id  unique within a network
     * @param  string  $site  U12, LK1, D5; several faults may share a site
     * @param  float  $prior  more than 0, less than 1
     * @param  string  $mode  "output stuck high", "wrong setting"; "" when unsaid
     */
    public function __construct(
        public string $id,
        public string $site,
        public float $prior,
        public string $mode = '',
    ) {
    }
}
