<?php

declare(strict_types=1);

namespace Tests\Core\Record;

use PHPUnit\Framework\TestCase;
use Tests\Support\Boards;
use ZapTrace\Record\JobState;

final class JobStateTest extends TestCase
{
    public function test_states_are_those_of_a_job_file_and_said_in_words(): void
    {
        /** @var array{properties: array{state: array{enum: list<string>}}} $schema */
        $schema = json_decode(Boards::file('schemas/job.schema.json'), true, 32, JSON_THROW_ON_ERROR);

        self::assertSame($schema['properties']['state']['enum'], array_column(JobState::cases(), 'value'));
        self::assertSame(['open', 'repaired', 'no fault found', 'waiting for parts', 'parked', 'given up', 'cured without knowing why'], array_map(static fn (JobState $state): string => $state->words(), JobState::cases()));
    }

    public function test_only_a_repair_that_is_explained_teaches_later_jobs(): void
    {
        self::assertSame(['repaired'], JobState::explained());
    }
}
