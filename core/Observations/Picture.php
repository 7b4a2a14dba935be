<?php

declare(strict_types=1);

namespace ZapTrace\Observations;

/**
 * A photograph, by the SHA-1 of its file.
 */
final readonly class Picture implements Measured
{
    /**
     * @param  int  $width  pixels
     * @param  int  $height  pixels
     */
    public function __construct(public string $sha1, public int $width, public int $height, public string $caption)
    {
    }
}
