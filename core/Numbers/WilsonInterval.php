<?php

declare(strict_types=1);

namespace ZapTrace\Numbers;

/**
 * Between what bounds a rate lies after it was seen k times in n: Wilson's score interval.
 *
 * Source: E. B. Wilson, Journal of the American Statistical Association 22 (1927).
 */
final readonly class WilsonInterval
{
    /** Standard normal quantile for 95 %, two-sided. */
    private const Z95 = 1.959963985;

    private function __construct(public float $lower, public float $upper)
    {
    }

    /**
     * @param  int  $seen  0 to $of
     * @param  int  $of  1 or more
     */
    public static function of(int $seen, int $of): self
    {
        $z = self::Z95;
        $rate = $seen / $of;
        $scale = 1.0 + $z * $z / $of;
        $centre = ($rate + $z * $z / (2 * $of)) / $scale;
        $half = $z * sqrt($rate * (1.0 - $rate) / $of + $z * $z / (4 * $of * $of)) / $scale;

        return new self(max(0.0, $centre - $half), min(1.0, $centre + $half));
    }
}
