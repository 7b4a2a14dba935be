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
     * @param  list<Report>  $findings
     * @param  int  $maxFaults  how many live faults a diagnosis holds at most; of those out of play it may hold as many again
     * @param  bool  $addOthers  also add every fault that sets do not grow from once to the leading sets, so that a hidden
     *                           second fault keeps its prior
     * @param  bool  $collapse  of the faults of one site only one can be there, and those that no finding tells apart are
     *                          weighed as one; their shares are told apart again by their priors
     * @param  float  $cut  a set is not grown when all that could grow from it is below this part of the running total
     */
    public function __construct(
        public array $faults,
        public array $findings,
        public int $maxFaults = 4,
        public bool $addOthers = false,
        public bool $collapse = false,
        public float $cut = 1e-5,
    ) {
    }
}
