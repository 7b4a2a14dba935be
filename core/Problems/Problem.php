<?php

declare(strict_types=1);

namespace ZapTrace\Problems;

/**
 * One thing that is wrong with an input: where it is and what to do about it.
 */
final readonly class Problem
{
    /**
     * @param  string  $place  a JSON pointer ("/banks/0/bits"), a line ("line 12") or the name of the input; "" for the whole
     * @param  string  $sentence  what is wrong and what was expected, for a technician
     */
    public function __construct(public string $place, public string $sentence)
    {
    }

    public static function atLine(int $line, string $sentence): self
    {
        return new self("line {$line}", $sentence);
    }

    public function __toString(): string
    {
        return $this->place === '' ? $this->sentence : "{$this->place}: {$this->sentence}";
    }
}
