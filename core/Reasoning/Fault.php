<?php

declare(strict_types=1);

namespace ZapTrace\Reasoning;

/**
 * A site with a mode in which it can be faulty, and how likely that is before anything was observed.
 */
final readonly class Fault
{
    /**
     * @param  string  $id  unique within a network
     * @param  string  $site  U12, LK1, D5; several faults may share a site
     * @param  float  $prior  more than 0, less than 1
     * @param  string  $mode  "output stuck high", "wrong setting"; "" when unsaid
     * @param  bool  $live  false when what was done has taken it out of play: it is conditioned on and not counted
     * @param  bool  $grows  false when sets are not grown from it; it is added once to the leading sets
     * @param  string|null  $growsWith  sets with this other fault are grown from it all the same
     * @param  string  $remedy  what cures it and not its like, as a contact that is seated again; "" when nothing does
     */
    public function __construct(
        public string $id,
        public string $site,
        public float $prior,
        public string $mode = '',
        public bool $live = true,
        public bool $grows = true,
        public ?string $growsWith = null,
        public string $remedy = '',
    ) {
    }
}
