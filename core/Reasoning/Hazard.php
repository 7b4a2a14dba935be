<?php

declare(strict_types=1);

namespace ZapTrace\Reasoning;

/**
 * Something that can have been born at an intervention, or since an over-voltage.
 */
final readonly class Hazard
{
    /**
     * @param  string  $cause  born-contact, born-trace, born-part or born-over-voltage
     * @param  string  $seat  the position that was worked on
     * @param  string|null  $part  the physical part that can have been damaged
     * @param  int  $moment  place in the log
     */
    public function __construct(
        public string $cause,
        public string $seat,
        public ?string $part,
        public int $moment,
    ) {
    }
}
