<?php

declare(strict_types=1);

namespace App\Http\Resources;

use ZapTrace\Board\BoardProfile;
use ZapTrace\Board\Chip;
use ZapTrace\Board\RangeKind;
use ZapTrace\Formats\JsonNode;
use ZapTrace\Observations\Attachments;
use ZapTrace\Observations\Observation;
use ZapTrace\Parts\Part;
use ZapTrace\Parts\PartLibrary;
use ZapTrace\Rom\Adapter;
use ZapTrace\Rom\AdapterPin;
use ZapTrace\Rom\RomComparer;
use ZapTrace\Rom\RomImage;
use ZapTrace\Rom\RomVerdict;

/**
 * The ROM stage as JSON for the page.
 */
final readonly class RomView
{
    public function __construct(private BoardProfile $board, private Attachments $files)
    {
    }

    /**
     * @param  list<Observation>  $observations  reads of this job that stand
     * @param  list<array{sha1: string, name: string}>  $goods
     * @return array<string, mixed>
     */
    public function of(array $observations, ?Chip $chip, array $goods): array
    {
        $reads = [];
        foreach ($observations as $observation) {
            $payload = $observation->payload;
            if (! $payload->has('found')) {
                continue; // A reader told the result, and no file was brought.
            }
            $reads[strtoupper($payload->string('chip'))][] = ['id' => $observation->id, 'payload' => $payload];
        }
        $roms = array_values(array_filter($this->board->chips, static fn (Chip $each): bool => in_array($each->kind(), ['rom', 'eprom'], true)));
        $chip ??= $roms[0] ?? null;
        $all = $chip === null ? [] : $reads[strtoupper($chip->ref)] ?? [];
        $last = $all === [] ? null : $all[count($all) - 1];

        return [
            'chips' => array_map(fn (Chip $each): array => [
                'ref' => $each->ref, 'part' => $each->part, 'role' => $each->role, 'bytes' => $each->type->memory->words ?? 0,
                'verdict' => ($reads[strtoupper($each->ref)] ?? []) === [] ? null : $this->verdict($reads[strtoupper($each->ref)]),
            ], $roms),
            'chip' => $chip?->ref,
            'from' => $chip === null ? 0 : $this->from($chip),
            'last' => $last === null ? null : $this->read($last['id'], $last['payload']),
            'earlier' => array_map(fn (array $each): array => ['id' => $each['id'], 'verdict' => RomVerdict::from($each['payload']->at('found')->string('verdict'))->words(), 'name' => $each['payload']->each('reads')[0]->string('name'), 'sha1' => $each['payload']->each('reads')[0]->string('sha1')], array_slice($all, 0, -1)),
            'goods' => $goods,
        ];
    }

    /**
     * @return array<string, mixed>
     */
    public static function adapter(Adapter $adapter, PartLibrary $parts): array
    {
        return [
            'chip' => $adapter->chip->name, 'socket' => $adapter->socket->name, 'chipPins' => $adapter->chip->pins, 'socketPins' => $adapter->socket->pins,
            'pins' => array_map(static fn (AdapterPin $pin): array => ['pin' => $pin->pin, 'name' => $pin->name, 'under' => $pin->under, 'to' => $pin->to, 'how' => $pin->how, 'goes' => $pin->goes(), 'why' => $pin->why, 'straight' => $pin->straight], $adapter->pins),
            'notes' => $adapter->notes,
            'types' => array_values(array_map(static fn (Part $part): string => $part->name, array_filter($parts->all(), static fn (Part $part): bool => in_array($part->kind, ['rom', 'eprom'], true) && $part->pinout !== []))),
            'selects' => array_values(array_filter(array_map(static fn ($pin): string => preg_match('/^CS\d?$/', $pin->name) === 1 && ! $pin->activeLow ? $pin->name : '', $adapter->socket->pinList()))),
        ];
    }

    /**
     * @return array<string, mixed>
     */
    private function read(string $id, JsonNode $payload): array
    {
        $file = static fn (JsonNode $node): array => ['sha1' => $node->string('sha1'), 'name' => $node->string('name')];
        $load = fn (JsonNode $node): RomImage => RomImage::fromFile($this->files->bytes($node->string('sha1')), $node->string('name'));
        $images = array_map($load, $payload->each('reads'));
        assert($images !== []);
        $found = (new RomComparer)->compare($images, $payload->has('good') ? $load($payload->at('good')) : null);
        $image = $images[count($images) - 1];

        return [
            'id' => $id,
            'where' => $payload->string('where', 'reader'),
            'reads' => array_map($file, $payload->each('reads')),
            'good' => $payload->has('good') ? $file($payload->at('good')) : null,
            'verdict' => $found->verdict->value,
            'words' => $found->verdict->words(),
            'bad' => $found->verdict->isAbnormal(),
            'because' => $payload->at('found')->strings('because'),
            'bits' => $found->bits,
            'byBit' => $found->byBit,
            'addressLines' => $found->addressLines,
            'differences' => $found->differences,
            'first' => $found->first,
            'map' => $found->map,
            'runs' => $found->runs,
            'size' => $image->size(),
            'crc32' => $image->crc32(),
            'sum16' => $image->sum16(),
        ];
    }

    /**
     * @param  non-empty-list<array{id: string, payload: JsonNode}>  $reads
     */
    private function verdict(array $reads): string
    {
        return $reads[count($reads) - 1]['payload']->at('found')->string('verdict');
    }

    private function from(Chip $chip): int
    {
        foreach ($this->board->map->ranges as $range) {
            if ($range->kind === RangeKind::Rom && $range->chip === $chip->ref) {
                return $range->from;
            }
        }

        return 0;
    }
}
