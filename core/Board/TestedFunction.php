<?php

declare(strict_types=1);

namespace ZapTrace\Board;

/**
 * Something that has to be tested before the machine goes back to its owner.
 */
final readonly class TestedFunction
{
    /**
     * @param  string  $how  in a sentence, "" when the name says it
     * @param  list<string>  $sites  parts it exercises
     */
    public function __construct(public string $id, public string $name, public string $how, public array $sites)
    {
    }
}
