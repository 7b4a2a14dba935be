<?php

declare(strict_types=1);

namespace ZapTrace\Memory;

/**
 * Which way a bit fails: it reads 1 where 0 was expected (high), 0 where 1 was (low), both, or not at all.
 */
enum Stuck: string
{
    case High = 'high';
    case Low = 'low';
    case Either = 'either';
    case None = 'none';
}
