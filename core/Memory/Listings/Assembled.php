<?php

declare(strict_types=1);

namespace ZapTrace\Memory\Listings;

/**
 * Machine code with the symbols it was put together by.
 */
final readonly class Assembled
{
    /**
     * @param  list<ListingLine>  $lines
     * @param  array<string, int>  $symbols
     */
    public function __construct(public array $lines, public array $symbols)
    {
    }

    public function bytes(): string
    {
        $bytes = '';
        foreach ($this->lines as $line) {
            $bytes .= implode('', array_map(chr(...), $line->bytes));
        }

        return $bytes;
    }
}
