<?php

declare(strict_types=1);

namespace ZapTrace\Observations;

use ZapTrace\Board\RangeKind;
use ZapTrace\Formats\JsonNode;
use ZapTrace\Problems\InputRejected;
use ZapTrace\Reasoning\Evidence;
use ZapTrace\Rom\RomComparer;
use ZapTrace\Rom\RomEvidence;
use ZapTrace\Rom\RomImage;
use ZapTrace\Rom\RomVerdict;
use ZapTrace\Rom\StartUp;
use ZapTrace\Signals\Structure;

/**
 * A ROM chip was read, once or several times, in a reader or in its place on the board.
 */
final class RomRead implements Completes, Interpreter
{
    public const KIND = 'rom-read';

    public function kind(): string
    {
        return self::KIND;
    }

    public function complete(object $payload, Moment $moment, Attachments $attachments): object
    {
        $node = JsonNode::of($payload);
        $ref = $this->chip($node, $moment);
        $load = static fn (JsonNode $file): RomImage => RomImage::fromFile($attachments->bytes($file->string('sha1')), $file->string('name'));
        $reads = array_map($load, $node->each('reads'));
        if ($reads === []) {
            if (! $node->has('result')) {
                throw InputRejected::of('reads', 'Bring at least one read of the chip, or say whether it matched.');
            }

            return $payload;
        }
        $found = (new RomComparer)->compare($reads, $node->has('good') ? $load($node->at('good')) : null);
        $last = $reads[count($reads) - 1];
        $because = $found->because;
        $odd = [];
        foreach ($this->places($ref, $moment) as $from) {
            $bus = $moment->board->chips[$moment->board->processor->chip ?? '']->type->bus ?? null;
            $roms = [];
            foreach ($moment->board->map->ranges as $range) {
                if ($range->kind === RangeKind::Rom) {
                    $roms[] = [$range->from, $range->to];
                }
            }
            $odd = $bus === null || $moment->board->bus->dataWidth !== 8 ? [] : (new StartUp($bus, $roms))->problems($last, $from);
        }
        $checksum = $moment->board->chips[$ref]->checksum;
        $sum = $checksum?->check($last);
        $words = $moment->board->chips[$ref]->type->memory->words ?? $last->size();
        if ($words !== $last->size()) {
            $because[] = sprintf('%s is a %s and holds %d bytes; this read has %d.', $ref, $moment->board->chips[$ref]->part, $words, $last->size());
        }
        $result = [
            'verdict' => $found->verdict->value,
            'bits' => $found->bits === [] ? array_map(static fn (array $bit): array => ['bit' => $bit['bit'], 'value' => $bit['toOnes'] >= $bit['toZeros'] ? 1 : 0], in_array($found->verdict, [RomVerdict::Differs, RomVerdict::Unstable], true) ? $found->byBit : []) : $found->bits,
            'tied' => array_map(static fn (array $pair): array => $pair['bits'], $found->tied),
            'addressLines' => $found->addressLines,
            'differences' => $found->differences,
            'toOnes' => array_sum(array_column($found->byBit, 'toOnes')),
            'toZeros' => array_sum(array_column($found->byBit, 'toZeros')),
            'size' => $last->size(),
            'crc32' => $last->crc32(),
            'because' => [...$because, ...$odd, ...($checksum === null ? [] : [$checksum->sentence($last)])],
            'startsWrong' => $odd !== [],
            ...($sum === null ? [] : ['checksumRight' => $sum]),
        ];

        return (object) json_decode((string) json_encode([...get_object_vars($payload), 'found' => $result]), false);
    }

    public function interpret(Observation $observation, Moment $moment, Attachments $attachments): Contribution
    {
        $payload = $observation->payload;
        $ref = $this->chip($payload, $moment);
        $found = $payload->has('result') && ! $payload->has('found') ? JsonNode::of((object) ['verdict' => $payload->string('result'), 'toOnes' => 0, 'toZeros' => 0]) : ($payload->has('found') ? $payload->at('found') : JsonNode::of($this->complete((object) $payload->raw(), $moment, $attachments))->at('found'));
        $verdict = RomVerdict::from($found->string('verdict'));
        $abnormal = $verdict->isAbnormal();
        // Without an image to hold it against, a start that leads nowhere or a wrong sum speaks; a right sum clears.
        if ($abnormal === null) {
            $abnormal = match (true) {
                $found->boolean('startsWrong', false) => true,
                $found->has('checksumRight') => ! $found->boolean('checksumRight', true),
                default => null,
            };
            $verdict = $abnormal === true ? RomVerdict::Differs : $verdict;
        }
        $where = $payload->string('where', 'reader');
        $bits = [...array_map(static fn (JsonNode $bit): int => $bit->integer('bit'), $found->each('bits'))];
        foreach ($found->each('tied') as $pair) {
            array_push($bits, ...array_map(static fn (JsonNode $bit): int => $bit->asInteger(), $pair->elements()));
        }
        $lines = array_map(static fn (JsonNode $line): int => $line->asInteger(), $found->each('addressLines'));
        $title = "{$ref} read ".($where === 'board' ? 'on the board' : 'in a reader').": {$verdict->words()}";
        if ($abnormal === null) {
            return new Contribution($title, notes: $found->strings('because'));
        }
        $strengths = $where === 'board' && ! $moment->board->netlist->isEmpty()
            ? (new RomEvidence(Structure::of($moment->board)))->onBoard($ref, $verdict, array_values(array_unique($bits)), $lines, $found->integer('toZeros') === 0)
            : RomEvidence::inReader($ref);
        $kind = $where === 'board' ? Evidence::ROM : Evidence::ROM_OUT;
        $repeated = count($payload->each('reads')) > 1;

        return new Contribution($title, notes: $found->strings('because'), evidence: [new Evidence(
            "rom {$ref} {$where} {$verdict->value} {$moment->state->key()}", $kind, $abnormal,
            // Bits that differ both ways may be another version of the contents.
            $moment->modes->rate(match (true) {
                $verdict === RomVerdict::Differs && $found->integer('toOnes') > 0 && $found->integer('toZeros') > 0 => 'romVersionFalseAlarm',
                $repeated => 'romTwiceFalseAlarm',
                default => 'romFalseAlarm',
            }), $moment->modes->rate('romMiss'),
            [], [], [], 1.0, $moment->state, "{$ref} reads ".($abnormal ? "wrong: {$verdict->words()}" : 'as it should'), $observation->id, strengths: $strengths,
        )]);
    }

    private function chip(JsonNode $payload, Moment $moment): string
    {
        $chip = $moment->chip($payload->string('chip'), 'chip');
        if (! in_array($chip->kind(), ['rom', 'eprom', ''], true)) {
            throw InputRejected::of('chip', "{$chip->ref} is a {$chip->part}, no ROM. Give the chip that was read.");
        }

        return $chip->ref;
    }

    /**
     * @return list<int> addresses of the machine at which the chip begins
     */
    private function places(string $ref, Moment $moment): array
    {
        $places = [];
        foreach ($moment->board->map->ranges as $range) {
            if ($range->kind === RangeKind::Rom && $range->chip === $ref) {
                $places[] = $range->from;
            }
        }

        return $places;
    }
}
