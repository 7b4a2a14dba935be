<?php

declare(strict_types=1);

namespace ZapTrace\Problems;

use RuntimeException;

/**
 * An input that cannot be taken, with all its problems at once. Nothing of such an input is kept.
 */
final class InputRejected extends RuntimeException
{
    /**
     * @param  non-empty-list<Problem>  $problems
     */
    private function __construct(public readonly array $problems)
    {
        parent::__construct(implode("\n", array_map(strval(...), $problems)));
    }

    /**
     * @param  non-empty-list<Problem>  $problems
     */
    public static function because(array $problems): self
    {
        return new self($problems);
    }

    public static function of(string $place, string $sentence): self
    {
        return new self([new Problem($place, $sentence)]);
    }
}
