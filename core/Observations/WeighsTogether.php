<?php

declare(strict_types=1);

namespace ZapTrace\Observations;

use ZapTrace\Board\BoardProfile;
use ZapTrace\Reasoning\Evidence;
use ZapTrace\Reasoning\FailureModes;

/**
 * An interpreter whose observations mean something only beside each other: a temperature beside those of like chips,
 * a voltage beside those at the other end of the rail.
 */
interface WeighsTogether
{
    /**
     * @param  list<Sample>  $samples  everything that was measured, in the order it was made
     * @return list<Evidence>
     */
    public function together(array $samples, BoardProfile $board, FailureModes $modes): array;
}
