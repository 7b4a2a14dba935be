<?php

declare(strict_types=1);

namespace ZapTrace\Processors;

/**
 * A programme that knows whether its present access fetches an instruction.
 */
interface NamesFetches
{
    public function isFetching(): bool;
}
