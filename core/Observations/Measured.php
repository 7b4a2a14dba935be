<?php

declare(strict_types=1);

namespace ZapTrace\Observations;

/**
 * Something that was measured or seen and is weighed or shown together with others like it.
 */
interface Measured
{
}
