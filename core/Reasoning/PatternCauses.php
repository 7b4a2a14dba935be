<?php

declare(strict_types=1);

namespace ZapTrace\Reasoning;

use ZapTrace\Formats\JsonNode;
use ZapTrace\Memory\PatternFinding;

/**
 * How strongly each pattern points at each kind of cause, as read from its data file.
 */
final readonly class PatternCauses
{
    /**
     * @param  array<string, array<string, float>>  $weights  "pattern/scope" => cause => weight
     */
    private function __construct(private array $weights)
    {
    }

    /**
     * @throws \JsonException when the file is damaged
     */
    public static function fromJson(string $json): self
    {
        $weights = [];
        foreach (JsonNode::decode($json)->each('patterns') as $entry) {
            foreach ($entry->each('causes') as $cause) {
                $weights["{$entry->string('pattern')}/{$entry->string('scope')}"][$cause->string('cause')] = $cause->number('weight');
            }
        }

        return new self($weights);
    }

    /**
     * @return array<string, float> cause => weight
     */
    public function of(PatternFinding $finding): array
    {
        return $this->weights["{$finding->pattern->value}/{$finding->scope->value}"] ?? [];
    }
}
