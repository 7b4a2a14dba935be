<?php

declare(strict_types=1);

namespace ZapTrace\Reasoning;

/**
 * What the choice of the next step has to know beside the diagnoses.
 */
final readonly class Outlook
{
    /**
     * @param  bool  $untried  something was done last, and the machine was not tried since
     * @param  array<string, mixed>  $setAside  steps not to be proposed now, by action and site
     * @param  string  $held  why other conclusions are held back, "" when they are not: a rail is out of limits
     * @param  string  $fixFirst  the part that is to be looked at then
     */
    public function __construct(
        public bool $untried = false,
        public array $setAside = [],
        public string $held = '',
        public string $fixFirst = '',
        public ?ProofPlan $proof = null,
    ) {
    }
}
