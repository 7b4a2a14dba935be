<?php

declare(strict_types=1);

namespace ZapTrace\Observations;

use OutOfBoundsException;

/**
 * For observations that bring no file.
 */
final class NoAttachments implements Attachments
{
    public function bytes(string $sha1): string
    {
        throw new OutOfBoundsException("There is no file {$sha1}.");
    }

    public function has(string $sha1): bool
    {
        return false;
    }
}
