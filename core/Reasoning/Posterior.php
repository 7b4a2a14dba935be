<?php

declare(strict_types=1);

namespace ZapTrace\Reasoning;

/**
 * What the findings make of the faults.
 */
final readonly class Posterior
{
    /**
     * @param  array<string, float>  $sites  site => probability that it is faulty, highest first; marginals, not parts of one
     * @param  array<string, float>  $faults  fault => probability
     * @param  list<Diagnosis>  $diagnoses  the likelier ones, likeliest first
     */
    public function __construct(
        public array $sites,
        public array $faults,
        public array $diagnoses,
    ) {
    }
}
