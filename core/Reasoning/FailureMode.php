<?php

declare(strict_types=1);

namespace ZapTrace\Reasoning;

/**
 * One way in which a kind of part fails.
 */
final readonly class FailureMode
{
    /**
     * @param  array<string, float>  $shows  kind of evidence => chance that the fault shows in it
     * @param  array<string, float>  $relief  action => the part of the fault it takes out of play
     */
    public function __construct(
        public string $cause,
        public string $name,
        public float $prior,
        public array $shows,
        public array $relief,
    ) {
    }
}
