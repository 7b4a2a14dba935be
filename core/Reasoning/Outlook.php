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
     * @param  string  $railOut  what is wrong with the supply, as a sentence; "" when nothing is
     * @param  string  $fixFirst  the likeliest part of the supply then
     */
    public function __construct(
        public bool $untried = false,
        public array $setAside = [],
        public string $railOut = '',
        public string $fixFirst = '',
        public ?ProofPlan $proof = null,
    ) {
    }

    /** Why other conclusions are held back; "" when they are not. */
    public function held(): string
    {
        return $this->railOut === '' ? '' : "{$this->railOut} Until it is put right, nothing measured later means much.";
    }
}
