<?php

declare(strict_types=1);

namespace ZapTrace\Reasoning;

/**
 * What a suspect is: a memory chip, a pin or trace, a part by the service it does for the memory, or something outside
 * the board.
 */
enum SiteKind: string
{
    case Chip = 'chip';
    case Net = 'net';
    case Buffer = 'buffer';
    case Multiplexer = 'multiplexer';
    case Select = 'select';
    case Strobe = 'strobe';
    case Refresh = 'refresh';
    case Supply = 'supply';
    case Link = 'link';
    case Elsewhere = 'elsewhere';
    case Setup = 'setup';
    case SecondMachine = 'second-machine';
    case Pin = 'pin';
    case Assembly = 'assembly';
    case Part = 'part';
}
