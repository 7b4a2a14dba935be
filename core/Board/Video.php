<?php

declare(strict_types=1);

namespace ZapTrace\Board;

/**
 * The picture a board makes: whole lines to a field, and where its sync can be measured.
 */
final readonly class Video
{
    /**
     * @param  int  $lines  to a field; to two fields when it is interlaced
     * @param  int  $lineClocks  clocks of the screen address generator to a line
     * @param  float  $lineHz  lines in a second
     */
    public function __construct(public int $lines, public bool $interlaced, public string $lineNet, public string $fieldNet, public int $lineClocks, public float $lineHz)
    {
    }

    public function fieldHz(): float
    {
        return $this->lineHz / $this->lines * ($this->interlaced ? 2.0 : 1.0);
    }
}
