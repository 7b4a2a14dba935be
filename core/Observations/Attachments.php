<?php

declare(strict_types=1);

namespace ZapTrace\Observations;

/**
 * The files that observations refer to by SHA-1.
 */
interface Attachments
{
    /**
     * @throws \OutOfBoundsException when there is no such file
     */
    public function bytes(string $sha1): string;

    /** Whether there is such a file. */
    public function has(string $sha1): bool;
}
