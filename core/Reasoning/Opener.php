<?php

declare(strict_types=1);

namespace ZapTrace\Reasoning;

/**
 * A proposer whose steps are worth taking before anything is suspected: cheap openers come first whatever the school.
 */
interface Opener extends Proposer
{
}
