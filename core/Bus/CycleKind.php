<?php

declare(strict_types=1);

namespace ZapTrace\Bus;

enum CycleKind: string
{
    case Fetch = 'fetch';
    case Read = 'read';
    case Write = 'write';
    case IoRead = 'io-read';
    case IoWrite = 'io-write';

    public function isRead(): bool
    {
        return $this !== self::Write && $this !== self::IoWrite;
    }

    public function isIo(): bool
    {
        return $this === self::IoRead || $this === self::IoWrite;
    }

    /** Whether both go the same way to the same place; a fetch is a read. */
    public function goesLike(self $other): bool
    {
        return $this->isRead() === $other->isRead() && $this->isIo() === $other->isIo();
    }
}
