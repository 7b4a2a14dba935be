<?php

declare(strict_types=1);

namespace ZapTrace\Reasoning;

/**
 * A set of faults that the search for diagnoses has come to, with what is needed to grow it.
 */
final readonly class GrownSet
{
    /**
     * @param  list<int>  $members  places of the faults; only later ones than the last join
     * @param  array<string, true>  $sites  of the members
     * @param  float  $weight  logarithm, relative to the empty set
     * @param  array<int, float>  $gain  logarithm of what each further fault would multiply the weight by
     * @param  array<int, float>  $q  finding => chance that no member shows in it
     * @param  array<int, string>  $sets  outcome => classes of the members that touch it, with commas between
     * @param  int  $live  how many members are live
     */
    public function __construct(
        public array $members,
        public array $sites,
        public float $weight,
        public array $gain,
        public array $q,
        public array $sets,
        public int $live,
    ) {
    }

    public function last(): int
    {
        return $this->members === [] ? -1 : $this->members[count($this->members) - 1];
    }
}
