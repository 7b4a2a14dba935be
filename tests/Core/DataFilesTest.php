<?php

declare(strict_types=1);

namespace Tests\Core;

use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;
use Tests\Support\Boards;
use ZapTrace\Formats\SchemaValidator;
use ZapTrace\Observations\Interpreters;
use ZapTrace\Problems\Problem;
use ZapTrace\Problems\ProblemList;

final class DataFilesTest extends TestCase
{
    /**
     * @return iterable<string, array{string, string}>
     */
    public static function files(): iterable
    {
        foreach (['parts/memory.json', 'parts/logic.json', 'parts/large.json'] as $file) {
            yield $file => [$file, 'parts'];
        }
        yield 'knowledge' => ['knowledge/memory-reasoning.json', 'memory-reasoning'];
        yield 'signs' => ['knowledge/signs.json', 'signs'];
        yield 'steps' => ['knowledge/steps.json', 'steps'];
    }

    #[DataProvider('files')]
    public function test_a_data_file_keeps_to_its_schema(string $file, string $schema): void
    {
        $problems = new ProblemList;
        (new SchemaValidator)->validate(json_decode(Boards::file($file)), json_decode(Boards::file("schemas/{$schema}.schema.json")), $problems);

        self::assertSame([], array_map(static fn (Problem $problem): string => (string) $problem, $problems->all()));
    }

    public function test_every_kind_of_observation_has_a_payload_and_a_place_in_a_job_file(): void
    {
        $inJob = json_decode(Boards::file('schemas/job.schema.json'))->properties->observations->items->properties->kind->enum;
        foreach (Interpreters::all()->kinds() as $kind) {
            self::assertSame("urn:zap-trace:observation:{$kind}", json_decode(Boards::file("schemas/observations/{$kind}.schema.json"), true)['$id'] ?? null);
            self::assertContains($kind, $inJob);
        }
    }

    public function test_the_library_knows_a_part_in_each_of_its_families(): void
    {
        $parts = Boards::parts();

        self::assertSame($parts->find('74LS257')?->title, $parts->find('74hct257')?->title);
        self::assertNull($parts->find('74257'), 'Not made in plain TTL.');
        self::assertSame([16384, 1, 7, 7], [$parts->find('4116')->memory->words, $parts->find('4116')->memory->bits, $parts->find('4116')->memory->rowBits, $parts->find('4116')->memory->columnBits]);
    }
}
