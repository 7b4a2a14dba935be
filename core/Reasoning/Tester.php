<?php

declare(strict_types=1);

namespace ZapTrace\Reasoning;

/**
 * A way of testing a part by itself, and how far it can be believed.
 */
final readonly class Tester
{
    /**
     * @param  list<string>  $kinds  kinds of part it takes
     * @param  float  $falseAlarm  chance that it fails a good part
     * @param  float  $miss  chance that it passes a part although the fault would show
     * @param  float  $blind  chance that it is blind to this type of part altogether
     */
    public function __construct(
        public string $method,
        public array $kinds,
        public float $falseAlarm,
        public float $miss,
        public float $blind,
    ) {
    }
}
