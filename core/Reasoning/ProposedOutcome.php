<?php

declare(strict_types=1);

namespace ZapTrace\Reasoning;

/**
 * One way in which a proposed step can come out.
 */
final readonly class ProposedOutcome
{
    /**
     * @param  string  $words  what is seen then
     * @param  list<Evidence>  $evidence  what that would be
     * @param  list<Evidence>  $given  what is known already and part of it: its chance is divided out
     * @param  list<Evidence>  $afresh  what it would be as if that was not known, for what is otherwise by now
     * @param  array<string, true>  $otherwise  faults of which less, or more, is in play than when that was seen
     * @param  array{kind: string, payload: array<string, mixed>}|null  $observation  what one click records; null when it has to be typed
     */
    public function __construct(
        public string $words,
        public array $evidence,
        public ?array $observation,
        public array $given = [],
        public array $afresh = [],
        public array $otherwise = [],
    ) {
    }
}
