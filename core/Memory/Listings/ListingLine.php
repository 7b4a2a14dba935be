<?php

declare(strict_types=1);

namespace ZapTrace\Memory\Listings;

/**
 * One line of a machine code listing.
 */
final readonly class ListingLine
{
    /**
     * @param  list<int>  $bytes
     */
    public function __construct(public int $address, public array $bytes, public string $label, public string $text, public string $comment)
    {
    }
}
