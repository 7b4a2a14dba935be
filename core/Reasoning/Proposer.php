<?php

declare(strict_types=1);

namespace ZapTrace\Reasoning;

/**
 * Lists steps of one kind that could be taken now.
 */
interface Proposer
{
    /**
     * @return list<Proposal>
     */
    public function propose(Conclusion $conclusion, StepCosts $costs, FailureModes $modes): array;
}
