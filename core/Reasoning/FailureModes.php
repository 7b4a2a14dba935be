<?php

declare(strict_types=1);

namespace ZapTrace\Reasoning;

use ZapTrace\Formats\JsonNode;

/**
 * The modes of failure that memory can show: how likely each is beforehand, how strongly it shows in each kind of
 * evidence, and what relieves it. Read from its data file.
 */
final readonly class FailureModes
{
    /**
     * @param  array<string, list<FailureMode>>  $byCause
     * @param  array<string, float>  $rates  error rates of the methods
     */
    private function __construct(private array $byCause, private array $rates)
    {
    }

    /**
     * @throws \JsonException when the file is damaged
     */
    public static function fromJson(string $json): self
    {
        $node = JsonNode::decode($json);
        $numbers = static fn (JsonNode $from, string $member): array => array_map(static fn (JsonNode $value): float => $value->asNumber(), $from->members($member));
        $byCause = [];
        foreach ($node->each('modes') as $mode) {
            $byCause[$mode->string('cause')][] = new FailureMode($mode->string('cause'), $mode->string('mode'), $mode->number('prior'), $numbers($mode, 'shows'), $numbers($mode, 'relief'));
        }

        return new self($byCause, $numbers($node, 'rates'));
    }

    /**
     * @return list<FailureMode>
     */
    public function of(string $cause): array
    {
        return $this->byCause[$cause] ?? [];
    }

    public function rate(string $name): float
    {
        return $this->rates[$name] ?? 0.0;
    }
}
