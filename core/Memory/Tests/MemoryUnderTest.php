<?php

declare(strict_types=1);

namespace ZapTrace\Memory\Tests;

/**
 * Memory that a test is run against.
 */
interface MemoryUnderTest
{
    /**
     * @param  int  $value  0 to 255
     */
    public function write(int $address, int $value): void;

    /**
     * @return int 0 to 255
     */
    public function read(int $address): int;

    /**
     * @param  float  $seconds  without anything being refreshed by use
     */
    public function wait(float $seconds): void;
}
