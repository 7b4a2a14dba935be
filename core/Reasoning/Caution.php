<?php

declare(strict_types=1);

namespace ZapTrace\Reasoning;

/**
 * Something that can hurt, told at the steps and places where it applies.
 */
final readonly class Caution
{
    /**
     * @param  string  $kind  mains, tube, reservoir, cells, solder, solvent, hot-air or static
     * @param  string  $name  in a word or two
     * @param  string  $words  in plain words, deferring to local codes and licensed practice where that is due
     * @param  list<string>  $actions  steps it belongs to
     * @param  list<string>  $parts  type numbers or kinds of parts it belongs to, whatever is done to them
     */
    public function __construct(public string $kind, public string $name, public string $words, public array $actions, public array $parts)
    {
    }
}
