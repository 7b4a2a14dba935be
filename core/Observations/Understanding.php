<?php

declare(strict_types=1);

namespace ZapTrace\Observations;

/**
 * How a bench line is understood: the observation it would make, and that in words.
 */
final readonly class Understanding
{
    /**
     * @param  array<string, mixed>  $payload  as the schema of the kind wants it
     */
    public function __construct(
        public string $kind,
        public array $payload,
        public string $words,
    ) {
    }
}
