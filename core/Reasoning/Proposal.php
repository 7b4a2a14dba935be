<?php

declare(strict_types=1);

namespace ZapTrace\Reasoning;

/**
 * Something that could be done, and the ways it could come out.
 */
final readonly class Proposal
{
    /**
     * @param  string  $action  as it is recorded: reseat, exchange, read, run ...
     * @param  string  $site  what it is done to; "" when nothing in particular
     * @param  string  $price  its entry among the prices of steps
     * @param  list<ProposedOutcome>  $outcomes  exclusive
     * @param  float|null  $minutes  when they are not those of its price
     * @param  string  $spareFor  position it takes a spare for; "" when none
     * @param  string  $settles  a site that is no more to do after it
     */
    public function __construct(
        public string $action,
        public string $site,
        public string $sentence,
        public string $tells,
        public string $price,
        public array $outcomes,
        public ?float $minutes = null,
        public ?Equipment $needs = null,
        public string $spareFor = '',
        public string $settles = '',
    ) {
    }
}
