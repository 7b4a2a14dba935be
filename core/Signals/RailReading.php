<?php

declare(strict_types=1);

namespace ZapTrace\Signals;

use ZapTrace\Observations\Measured;

/**
 * One measurement on a supply rail.
 */
final readonly class RailReading implements Measured
{
    /**
     * @param  string  $rail  +5, -5, +12
     * @param  string  $site  where: a chip, or the regulator
     * @param  int|null  $pin  the pin of the chip; null for its supply pin
     * @param  float|null  $volts  mean
     * @param  float|null  $ripple  millivolts, peak to peak
     * @param  float|null  $amps  what the whole rail draws
     * @param  float|null  $input  volts before the regulator
     * @param  bool  $unloaded  the regulator alone, or with the chips out
     */
    public function __construct(
        public string $rail,
        public string $site,
        public ?int $pin,
        public ?float $volts,
        public ?float $ripple,
        public ?float $amps,
        public ?float $input,
        public bool $unloaded,
    ) {
    }
}
