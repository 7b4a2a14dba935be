<?php

declare(strict_types=1);

namespace ZapTrace\Reasoning;

/**
 * Faults and findings: a two-layer noisy-OR network.
 */
final readonly class Network
{
    /**
     * @param  list<Fault>  $faults
     * @param  list<Finding>  $findings
     * @param  int  $maxFaults  how many faults a diagnosis holds at most
     */
    public function __construct(
        public array $faults,
        public array $findings,
        public int $maxFaults = 4,
    ) {
    }
}
