<?php

declare(strict_types=1);

namespace ZapTrace\Parts;

use ZapTrace\Formats\JsonNode;

/**
 * The types of parts that are known, by generic number.
 */
final class PartLibrary
{
    /** @var array<string, Part> by name in capitals */
    private array $parts = [];

    /**
     * @param  iterable<string>  $files  contents of the library's JSON files
     *
     * @throws \JsonException when a library file is damaged
     */
    public static function fromJson(iterable $files): self
    {
        $library = new self;
        foreach ($files as $json) {
            foreach (JsonNode::decode($json)->each('parts') as $entry) {
                $library->add($entry);
            }
        }

        return $library;
    }

    public function find(string $name): ?Part
    {
        return $this->parts[strtoupper($name)] ?? null;
    }

    /**
     * @return list<Part> in order of name
     */
    public function all(): array
    {
        $parts = $this->parts;
        ksort($parts, SORT_NATURAL);

        return array_values($parts);
    }

    private function add(JsonNode $entry): void
    {
        $number = $entry->string('number');
        $families = $entry->strings('families');
        $names = $families === [] ? [$number] : array_map(static fn (string $family): string => "74{$family}{$number}", $families);
        $memory = $entry->has('memory') ? $entry->at('memory') : null;
        foreach ($names as $name) {
            $this->parts[strtoupper($name)] = new Part(
                $name,
                $entry->string('title'),
                $entry->string('kind'),
                $entry->integer('pins'),
                $entry->boolean('wide', false),
                $memory === null ? null : new MemoryGeometry(
                    $memory->integer('words'),
                    $memory->integer('bits'),
                    $memory->has('rowBits') ? $memory->integer('rowBits') : null,
                    $memory->has('columnBits') ? $memory->integer('columnBits') : null,
                    array_map(static fn (JsonNode $pin): int => $pin->asInteger(), $memory->each('dataPins')),
                ),
                $entry->string('source'),
            );
        }
    }
}
