<?php

declare(strict_types=1);

namespace ZapTrace\Signals;

/**
 * One part in the picture of warmth.
 */
final readonly class WarmPart
{
    /**
     * @param  float  $rise  degrees Celsius over the room
     * @param  float|null  $overLike  degrees over the middle of like parts; null when none was felt
     * @param  'hot'|'cold'|''  $verdict  far above like parts or what is usual; stone cold among warm ones
     * @param  string  $words  the verdict as a sentence, "" when none
     */
    public function __construct(
        public string $site,
        public float $rise,
        public ?float $overLike,
        public string $verdict,
        public string $words,
        public bool $felt,
        public bool $onlyWithFault,
        public string $observation,
    ) {
    }
}
