<?php

declare(strict_types=1);

namespace ZapTrace\Memory;

/**
 * What the failing places of a pattern have in common: one chip, a whole bank (or a lane of it), or a line that
 * runs to every bank.
 */
enum Scope: string
{
    case Chip = 'chip';
    case Bank = 'bank';
    case Line = 'line';
}
