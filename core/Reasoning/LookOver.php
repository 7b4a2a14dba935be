<?php

declare(strict_types=1);

namespace ZapTrace\Reasoning;

use ZapTrace\Observations\Look;

/**
 * Looks the board over before power is put on, as long as nothing was looked at.
 */
final readonly class LookOver implements Opener
{
    public function propose(Conclusion $conclusion, StepCosts $costs, FailureModes $modes): array
    {
        $facts = array_keys($conclusion->circumstances->facts);
        if (array_intersect($facts, array_keys(Look::FINDINGS)) !== [] || $conclusion->board->plan === null || $conclusion->suspects() !== []) {
            return [];
        }

        return [new Proposal('look-over', '', 'Look the board over before power: sockets, links, cables, fuse, capacitors.', 'finds what needs no measuring', 'look-over', [])];
    }
}
