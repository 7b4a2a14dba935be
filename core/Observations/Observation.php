<?php

declare(strict_types=1);

namespace ZapTrace\Observations;

use ZapTrace\Formats\JsonNode;

/**
 * What the technician saw, measured or did. Never changed; it can be withdrawn.
 */
final readonly class Observation
{
    /**
     * @param  JsonNode  $payload  checked against the schema of its kind
     */
    public function __construct(
        public string $id,
        public string $kind,
        public JsonNode $payload,
    ) {
    }
}
