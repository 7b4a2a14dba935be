<?php

declare(strict_types=1);

namespace ZapTrace\Reasoning;

/**
 * Something that could be done, and the evidence it would bring.
 */
final readonly class Proposal
{
    /**
     * @param  Evidence  $evidence  as it would be reported if it came out abnormal
     * @param  array{string, string}  $results  names of the abnormal and the normal outcome
     * @param  array{string, string}  $words  the outcomes in words
     */
    public function __construct(
        public string $action,
        public string $site,
        public string $sentence,
        public string $tells,
        public float $minutes,
        public string $risk,
        public float $riskMinutes,
        public string $caution,
        public Evidence $evidence,
        public array $results,
        public array $words,
    ) {
    }
}
