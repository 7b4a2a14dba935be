<?php

declare(strict_types=1);

namespace ZapTrace\Reasoning;

use JsonException;
use ZapTrace\Formats\JsonNode;
use ZapTrace\Formats\SchemaValidator;
use ZapTrace\Problems\InputRejected;
use ZapTrace\Problems\ProblemList;

/**
 * Reads a bare network from JSON.
 */
final readonly class NetworkReader
{
    /**
     * @param  object|bool  $schema  the decoded network schema
     */
    public function __construct(private object|bool $schema, private SchemaValidator $validator = new SchemaValidator)
    {
    }

    /**
     * @throws InputRejected with every problem, each with its JSON pointer
     */
    public function read(string $json): Network
    {
        try {
            $value = json_decode($json, false, 64, JSON_THROW_ON_ERROR);
        } catch (JsonException $reason) {
            throw InputRejected::of('', trim($json) === '' ? 'The network is empty.' : "This is not JSON: {$reason->getMessage()}.");
        }
        $problems = new ProblemList;
        $this->validator->validate($value, $this->schema, $problems);
        // What the schema found may make the rest unreadable; what can still be read is checked all the same.
        $this->check($value, $problems);
        $problems->throwIfAny();

        return $this->build(JsonNode::of($value));
    }

    private function check(mixed $value, ProblemList $problems): void
    {
        if (! is_object($value)) {
            return;
        }
        $known = [];
        foreach (['faults', 'findings'] as $list) {
            $seen = [];
            $entries = $value->{$list} ?? null;
            foreach (is_array($entries) ? $entries : [] as $place => $entry) {
                $id = is_object($entry) ? ($entry->id ?? null) : null;
                if (! is_string($id)) {
                    continue;
                }
                if (isset($seen[$id])) {
                    $problems->add("/{$list}/{$place}/id", "\"{$id}\" is used twice; the first is /{$list}/{$seen[$id]}.");
                }
                $seen[$id] ??= $place;
                if ($list === 'faults') {
                    $known[$id] = true;
                }
            }
        }
        $findings = $value->findings ?? null;
        foreach (is_array($findings) ? $findings : [] as $place => $finding) {
            foreach (['explains', 'cured'] as $member) {
                $strengths = is_object($finding) ? ($finding->{$member} ?? null) : null;
                foreach (is_object($strengths) ? array_keys(get_object_vars($strengths)) : [] as $fault) {
                    if (! isset($known[$fault])) {
                        $problems->add("/findings/{$place}/{$member}/{$fault}", "There is no fault \"{$fault}\".");
                    }
                }
            }
        }
    }

    private function build(JsonNode $node): Network
    {
        $strengths = static fn (JsonNode $finding, string $member): array => array_map(static fn (JsonNode $value): float => $value->asNumber(), $finding->members($member));

        return new Network(
            array_map(static fn (JsonNode $fault): Fault => new Fault($fault->string('id'), $fault->string('site'), $fault->number('prior'), $fault->string('mode', '')), $node->each('faults')),
            array_map(static fn (JsonNode $finding): Finding => new Finding(
                $finding->string('id'),
                $finding->string('reported') === 'abnormal',
                $finding->number('falseAlarm'),
                $finding->number('miss'),
                $strengths($finding, 'explains'),
                $strengths($finding, 'cured'),
            ), $node->each('findings')),
            $node->integer('maxFaults', 4),
        );
    }
}
