<?php

declare(strict_types=1);

namespace ZapTrace\Signals;

use ZapTrace\Observations\Measured;

/**
 * How warm a part is, or the room.
 */
final readonly class HeatReading implements Measured
{
    /** What a finger says, as degrees over the room: about so much. Common practice. */
    public const FEELS = ['cold' => 0.0, 'cool' => 3.0, 'warm' => 20.0, 'hot' => 45.0];

    /**
     * @param  string  $site  "" for the room
     * @param  float|null  $celsius  degrees Celsius
     * @param  string|null  $feel  cold, cool, warm or hot
     * @param  bool  $onlyWithFault  it is so only while the fault shows
     */
    public function __construct(public string $site, public ?float $celsius, public ?string $feel, public bool $onlyWithFault)
    {
    }
}
