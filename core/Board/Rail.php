<?php

declare(strict_types=1);

namespace ZapTrace\Board;

/**
 * A supply rail of the board.
 */
final readonly class Rail
{
    /**
     * @param  string  $name  as the part library calls it: +5, -5, +12
     * @param  string  $regulator  reference of its regulator
     * @param  float|null  $input  volts before the regulator at nominal mains; null when unsaid
     * @param  list<string>  $feeds  what it comes through before the regulator
     * @param  float  $rippleMillivolts  allowed on it, peak to peak
     */
    public function __construct(
        public string $name,
        public float $volts,
        public string $regulator,
        public ?float $input,
        public array $feeds,
        public float $rippleMillivolts,
    ) {
    }

    /**
     * @return list<string> all that can be at fault when the rail is out
     */
    public function sites(): array
    {
        return [$this->regulator, ...$this->feeds];
    }
}
