<?php

declare(strict_types=1);

namespace ZapTrace\Reasoning;

/**
 * A proposed next test or repair.
 */
final readonly class Step
{
    /**
     * @param  string  $action  read, reseat, piggyback, exchange, replace, refit, bridge, set, widen or prove
     * @param  string  $site  the site it concerns; "" when none
     * @param  string  $sentence  what to do
     * @param  string  $tells  what it tells apart
     * @param  float  $minutes  what it takes
     * @param  string  $risk  none, handling, heat or irreversible
     * @param  string  $caution  what can hurt, where it applies; "" when nothing
     * @param  float  $bits  expected drop in uncertainty over which sites are faulty now
     * @param  float  $saves  minutes of the expected repair that it saves, net of its own
     * @param  list<array{result: string, words: string, chance: float, means: string}>  $outcomes
     */
    public function __construct(
        public string $action,
        public string $site,
        public string $sentence,
        public string $tells,
        public float $minutes,
        public string $risk,
        public string $caution,
        public float $bits,
        public float $saves,
        public array $outcomes,
    ) {
    }
}
