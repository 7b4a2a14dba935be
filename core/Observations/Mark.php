<?php

declare(strict_types=1);

namespace ZapTrace\Observations;

/**
 * A mark on a photograph.
 */
final readonly class Mark implements Measured
{
    /**
     * @param  float  $x  0 to 1 from the left
     * @param  float  $y  0 to 1 from the top
     */
    public function __construct(public string $sha1, public float $x, public float $y, public string $site, public string $note)
    {
    }
}
