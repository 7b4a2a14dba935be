<?php

declare(strict_types=1);

namespace ZapTrace\Reasoning;

/**
 * A piece of evidence for or against a site.
 */
final readonly class Reason
{
    /**
     * @param  float  $decibans  more than 0 speaks for the site being faulty
     * @param  string|null  $observation  the observation behind it, when it is one alone
     */
    public function __construct(
        public string $words,
        public float $decibans,
        public ?string $observation,
    ) {
    }
}
