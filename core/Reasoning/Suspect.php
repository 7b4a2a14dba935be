<?php

declare(strict_types=1);

namespace ZapTrace\Reasoning;

/**
 * A site with the probability that it is faulty. These are marginals: they need not add up to one.
 */
final readonly class Suspect
{
    /**
     * @param  string  $site  U12, LK1, or a line such as D5
     * @param  float  $share  0 to 1
     * @param  list<string>  $because  what speaks for it, the weightiest first
     * @param  list<Reason>  $reasons  what speaks for and against it, the weightiest first
     * @param  string|null  $seat  the position on the board it sits in now; null when it is not in one
     */
    public function __construct(
        public string $site,
        public SiteKind $kind,
        public float $share,
        public array $because,
        public array $reasons = [],
        public ?string $seat = null,
    ) {
    }
}
