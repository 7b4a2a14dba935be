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
            $file = JsonNode::decode($json);
            foreach ($file->each('parts') as $entry) {
                $library->add($entry, $file->members('families'));
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

    /**
     * @param  array<string, JsonNode>  $limits  of each family of logic
     */
    private function add(JsonNode $entry, array $limits): void
    {
        $number = $entry->string('number');
        $families = $entry->strings('families');
        $names = $families === [] ? [$number] : array_map(static fn (string $family): string => "74{$family}{$number}", $families);
        $pinout = $entry->has('pinout') ? explode(' ', $entry->string('pinout')) : [];
        $memory = $entry->has('memory') ? $entry->at('memory') : null;
        foreach ($names as $place => $name) {
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
                $pinout,
                $families === [] ? self::supply($entry) : self::supplyOfFamily($entry, $pinout, $limits[$families[$place]] ?? null),
                $entry->string('order', ''),
                $entry->has('regulator') ? new Regulator(
                    $entry->at('regulator')->string('rail'), $entry->at('regulator')->number('min'), $entry->at('regulator')->number('max'),
                    $entry->at('regulator')->number('dropout'), $entry->at('regulator')->number('amps'),
                ) : null,
                array_map(static fn (JsonNode $other): Equivalent => new Equivalent($other->string('number'), $other->boolean('works', false), $other->string('but'), $other->has('nanoseconds') ? $other->integer('nanoseconds') : null), $entry->each('equivalents')),
                levels: self::levels($families === [] ? ($entry->has('levels') ? $entry->at('levels') : null) : ($limits[$families[$place]] ?? null)),
                outputs: $entry->has('outputs') ? explode(' ', $entry->string('outputs')) : [],
                both: $entry->has('both') ? explode(' ', $entry->string('both')) : [],
                logic: $entry->string('logic', ''),
                bus: $entry->has('bus') ? ProcessorBus::read($entry->at('bus')) : null,
            );
        }
    }

    /**
     * @return list<Supply>
     */
    private static function supply(JsonNode $entry): array
    {
        $supply = [];
        foreach ($entry->each('supply') as $rail) {
            $pins = array_map(static fn (JsonNode $pin): int => $pin->asInteger(), $rail->each('pins'));
            if ($pins !== []) {
                $supply[] = new Supply($rail->string('rail'), $pins, $rail->number('min'), $rail->number('max'), $rail->number('milliamps'));
            }
        }

        return $supply;
    }

    private static function levels(?JsonNode $node): ?Levels
    {
        if ($node === null) {
            return null;
        }
        $highAt = [];
        foreach ($node->members('inputHighAt') as $pin => $volts) {
            $highAt[(int) $pin] = $volts->asNumber();
        }

        return new Levels($node->number('inputLow'), $node->number('inputHigh'), $node->number('outputLow'), $node->number('outputHigh'), $highAt);
    }

    /**
     * Logic has one rail of 5 V at the pin called VCC, with the limits of its family.
     *
     * @param  list<string>  $pinout
     * @return list<Supply>
     */
    private static function supplyOfFamily(JsonNode $entry, array $pinout, ?JsonNode $family): array
    {
        $pin = array_search('VCC', $pinout, true);

        return $pin === false || $family === null ? [] : [new Supply('+5', [$pin + 1], $family->number('min'), $family->number('max'), $entry->number('milliamps', 10.0) * $family->number('current'))];
    }
}
