<?php

declare(strict_types=1);

namespace ZapTrace\Reasoning;

/**
 * A set of faults that together explain the findings, and its share of the probability.
 */
final readonly class Diagnosis
{
    /**
     * @param  list<Fault>  $faults  empty when nothing is faulty
     */
    public function __construct(public array $faults, public float $share)
    {
    }
}
