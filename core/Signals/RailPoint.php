<?php

declare(strict_types=1);

namespace ZapTrace\Signals;

/**
 * A place where a rail can be measured, the limits there, and what was measured last.
 */
final readonly class RailPoint
{
    /**
     * @param  float  $min  volts the part there needs
     * @param  float  $max  volts the part there bears
     * @param  float|null  $volts  as measured; null when not yet
     * @param  float|null  $ripple  millivolts
     * @param  string|null  $observation  the observation it was measured in
     */
    public function __construct(
        public string $site,
        public ?int $pin,
        public float $min,
        public float $max,
        public ?float $volts,
        public ?float $ripple,
        public bool $unloaded,
        public ?string $observation,
    ) {
    }

    public function isOut(): bool
    {
        return $this->volts !== null && ($this->volts < $this->min - 1e-9 || $this->volts > $this->max + 1e-9);
    }

    public function name(): string
    {
        return $this->pin === null ? $this->site : "{$this->site}.{$this->pin}";
    }
}
