<?php

declare(strict_types=1);

namespace ZapTrace\Memory\Tests;

/**
 * A read of a memory test that did not give what was expected.
 */
final readonly class TestFailure
{
    public function __construct(public int $address, public int $expected, public int $read)
    {
    }
}
