<?php

declare(strict_types=1);

namespace ZapTrace\Parts;

/**
 * A part that can stand in for another, or nearly so.
 */
final readonly class Equivalent
{
    /**
     * @param  string  $number  generic type number
     * @param  bool  $works  false for a near miss that needs more than to be plugged in
     * @param  int|null  $nanoseconds  works only when it is at least so fast; null when any will do
     * @param  string  $but  under which condition, or what is missing
     */
    public function __construct(public string $number, public bool $works, public string $but, public ?int $nanoseconds = null)
    {
    }
}
