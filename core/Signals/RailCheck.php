<?php

declare(strict_types=1);

namespace ZapTrace\Signals;

use ZapTrace\Board\Rail;

/**
 * One rail against the limits of what hangs on it.
 */
final readonly class RailCheck
{
    /**
     * @param  non-empty-list<RailPoint>  $points  the regulator first, then every supply pin
     * @param  float  $budget  milliamps that the fitted parts should draw
     * @param  float|null  $amps  as measured
     * @param  float|null  $input  volts before the regulator, as measured
     * @param  float|null  $drop  millivolts lost between the regulator and the lowest chip
     * @param  float|null  $watts  burnt in the regulator
     * @param  list<string>  $problems  sentences; empty when nothing measured is wrong
     * @param  list<string>  $notices  what should be watched
     */
    public function __construct(
        public Rail $rail,
        public array $points,
        public float $budget,
        public ?float $amps,
        public ?float $input,
        public ?float $drop,
        public ?float $watts,
        public array $problems,
        public array $notices,
    ) {
    }

    /**
     * The limits of the strictest part on the rail; those of the regulator when nothing else hangs on it.
     *
     * @return array{float, float} volts, from and to
     */
    public function limits(): array
    {
        $chips = array_slice($this->points, 1);
        $points = $chips === [] ? $this->points : $chips;
        $lows = array_map(static fn (RailPoint $point): float => $point->min, $points);
        $highs = array_map(static fn (RailPoint $point): float => $point->max, $points);

        return [max($lows), min($highs)];
    }

    public function isMeasured(): bool
    {
        return array_filter($this->points, static fn (RailPoint $point): bool => $point->volts !== null) !== [];
    }

    public function isOut(): bool
    {
        return $this->problems !== [];
    }
}
