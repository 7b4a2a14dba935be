<?php

declare(strict_types=1);

namespace ZapTrace\Observations;

use ZapTrace\Board\BoardProfile;
use ZapTrace\Board\Settings;
use ZapTrace\Numbers\Radix;

/**
 * What an observation was made on: the board, its links and latches at that time, and the number base of the job.
 */
final readonly class Moment
{
    public function __construct(
        public BoardProfile $board,
        public Settings $settings,
        public Radix $radix,
    ) {
    }
}
