<?php

declare(strict_types=1);

namespace App\Bench;

use App\Models\StoredFile;
use OutOfBoundsException;
use ZapTrace\Observations\Attachments;

/**
 * Files that observations refer to, kept in the database by SHA-1 so that they are stored with them or not at all.
 */
final class FileStore implements Attachments
{
    public function put(string $bytes): string
    {
        $sha1 = sha1($bytes);
        if (StoredFile::query()->whereKey($sha1)->doesntExist()) {
            StoredFile::query()->create(['sha1' => $sha1, 'size' => strlen($bytes), 'content' => $bytes]);
        }

        return $sha1;
    }

    public function has(string $sha1): bool
    {
        return StoredFile::query()->whereKey($sha1)->exists();
    }

    public function bytes(string $sha1): string
    {
        return StoredFile::query()->find($sha1)->content ?? throw new OutOfBoundsException("There is no file {$sha1}.");
    }
}
