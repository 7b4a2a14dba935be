<?php

declare(strict_types=1);

namespace Tests\App;

use App\Models\Job;
use App\Models\Observation;

final class JobApiTest extends TestCase
{
    public function test_a_new_job_takes_the_base_of_its_board(): void
    {
        $response = $this->postJson('api/jobs', ['machine' => ' Ferry log ', 'board' => 'tamarisk-two', 'symptom' => 'Silent'])->assertCreated();

        $this->assertAnswers('JobResponse', $response);
        self::assertSame(['Ferry log', 16, 'open'], [$response->json('job.machine'), $response->json('job.radix'), $response->json('job.state')]);
        $this->assertAnswers('JobsResponse', $this->getJson('api/jobs')->assertOk());
    }

    public function test_everything_wrong_with_a_new_job_is_told_at_once(): void
    {
        $response = $this->postJson('api/jobs', ['machine' => '', 'board' => 'nothing', 'radix' => 7])->assertUnprocessable();

        self::assertSame(['machine', 'board', 'radix'], array_column($response->json('problems'), 'place'));
        self::assertSame(0, Job::query()->count());
    }

    public function test_a_reading_names_the_chip_in_the_same_answer(): void
    {
        $response = $this->readings($this->newJob(), '6C00 00>20')->assertCreated();

        $this->assertAnswers('JobResponse', $response);
        self::assertSame('U14', $response->json('job.suspects.0.site'));
        self::assertSame('6C00: wrote 00, read 20', $response->json('job.log.0.title'));
    }

    public function test_bad_readings_are_told_by_line_and_nothing_of_them_is_stored(): void
    {
        $response = $this->readings($this->newJob(), "6C00 00 20\n6C0x 00 20\nE000 00 20")->assertUnprocessable();

        $this->assertAnswers('Problems', $response);
        self::assertSame(['line 2', 'line 3'], array_column($response->json('problems'), 'place'));
        self::assertSame(0, Observation::query()->count());
    }

    public function test_an_observation_is_withdrawn_and_restored_and_the_answer_follows(): void
    {
        $job = $this->newJob();
        $this->readings($job, '6C00 00 20');
        $entry = $this->readings($job, '6C00 00 01')->json('job.log.1.id');

        $withdrawn = $this->postJson("api/jobs/{$job->id}/observations/{$entry}/withdraw")->assertOk();
        self::assertSame(1, $withdrawn->json('job.memory.readings'));
        self::assertNotNull($withdrawn->json('job.log.1.withdrawnAt'));
        self::assertSame('6C00 00 01', $withdrawn->json('job.log.1.title'));
        $this->assertAnswers('JobResponse', $withdrawn);

        $restored = $this->postJson("api/jobs/{$job->id}/observations/{$entry}/restore")->assertOk();
        self::assertSame(2, $restored->json('job.memory.readings'));
        self::assertNull($restored->json('job.log.1.withdrawnAt'));
    }

    public function test_withdrawing_gives_exactly_the_answer_of_never_having_made_it(): void
    {
        $one = $this->newJob('tamarisk-two');
        $before = $this->readings($one, "4000 00 20\n8000 00 00")->json('job');
        $this->record($one, 'setting', ['ref' => 'LK1', 'position' => 'swapped', 'since' => 'start']);
        $after = $this->postJson("api/jobs/{$one->id}/observations/".Observation::query()->where('kind', 'setting')->sole()->id.'/withdraw')->json('job');

        self::assertSame($before['memory'], $after['memory']);
        self::assertSame($before['suspects'], $after['suspects']);
    }

    public function test_an_observation_of_another_job_cannot_be_withdrawn_here(): void
    {
        $entry = $this->readings($this->newJob(), '6C00 00 20')->json('job.log.0.id');

        $this->postJson("api/jobs/{$this->newJob()->id}/observations/{$entry}/withdraw")->assertNotFound();
        self::assertNull(Observation::query()->sole()->withdrawn_at);
    }

    public function test_a_link_moved_now_leaves_earlier_readings_on_their_bank(): void
    {
        $job = $this->newJob('tamarisk-two');
        $this->readings($job, '4000 00 20');
        $this->record($job, 'setting', ['ref' => 'LK1', 'position' => 'swapped', 'since' => 'now'])->assertCreated();
        $response = $this->readings($job, '8000 00 20');

        self::assertSame('swapped', $response->json('job.settings.LK1'));
        self::assertSame('U26', $response->json('job.suspects.0.site'));
        self::assertSame([[], ['LK1 at swapped']], [$response->json('job.log.0.context'), $response->json('job.log.2.context')]);
    }

    public function test_a_link_that_stood_so_all_along_moves_earlier_readings_to_the_other_bank(): void
    {
        $job = $this->newJob('tamarisk-two');
        self::assertSame('U26', $this->readings($job, '4000 00 20')->json('job.suspects.0.site'));
        $response = $this->record($job, 'setting', ['ref' => 'lk1', 'position' => 'SWAPPED', 'since' => 'start']);

        self::assertSame('U36', $response->json('job.suspects.0.site'));
    }

    public function test_a_correction_reaches_back_to_the_last_move_and_no_further(): void
    {
        $job = $this->newJob('tamarisk-two');
        $this->readings($job, '4000 00 20');
        $this->record($job, 'setting', ['ref' => 'LK1', 'position' => 'swapped', 'since' => 'now']);
        $this->readings($job, '8000 00 20');
        $response = $this->record($job, 'setting', ['ref' => 'LK1', 'position' => '32K', 'since' => 'start']);

        self::assertSame([[], []], [$response->json('job.log.0.context'), $response->json('job.log.2.context')]);
        self::assertSame('32K', $response->json('job.settings.LK1'));
    }

    public function test_a_reading_whose_ground_a_link_took_away_is_set_aside_with_the_reason(): void
    {
        $job = $this->newJob('tamarisk-two');
        $this->readings($job, '8000 00 20');
        $response = $this->record($job, 'setting', ['ref' => 'LK1', 'position' => '16K', 'since' => 'start'])->assertCreated();

        self::assertStringContainsString('outside memory', (string) $response->json('job.log.0.unreadable'));
        self::assertSame([], $response->json('job.suspects'));
        $this->assertAnswers('JobResponse', $response);
    }

    public function test_an_unknown_position_or_kind_is_refused(): void
    {
        $job = $this->newJob('tamarisk-two');

        self::assertStringContainsString('32K, 16K, swapped', $this->sentences($this->record($job, 'setting', ['ref' => 'LK1', 'position' => '48K', 'since' => 'now'])->assertUnprocessable())[0]);
        self::assertStringContainsString('not a kind of observation', $this->sentences($this->record($job, 'guess', ['x' => 1])->assertUnprocessable())[0]);
        self::assertStringContainsString('Missing', $this->sentences($this->record($job, 'setting', ['ref' => 'LK1'])->assertUnprocessable())[0]);
        $this->postJson("api/jobs/{$job->id}/observations", [])->assertUnprocessable();
        self::assertSame(0, Observation::query()->count());
    }

    public function test_screen_and_free_memory_are_recorded(): void
    {
        $job = $this->newJob();
        self::assertSame('U14', $this->record($job, 'screen-character', ['seen' => 'a', 'expected' => 'A', 'column' => 0, 'row' => 0])->assertCreated()->json('job.suspects.0.site'));
        $response = $this->record($job, 'free-memory', ['figures' => [30718, 30718]])->assertCreated();
        self::assertSame([0x8000], $response->json('job.memory.ruler.firstFailing'));
        self::assertStringContainsString('8000, in bank 0', $response->json('job.log.1.notes.0'));

        self::assertStringContainsString('off the screen', $this->sentences($this->record($job, 'screen-character', ['seen' => 'a', 'column' => 99, 'row' => 0])->assertUnprocessable())[0]);
    }

    public function test_the_way_suspicion_moved_is_told_observation_by_observation(): void
    {
        $job = $this->newJob();
        $this->readings($job, '6C00 00 20');
        $this->readings($job, "6C01 00 20\n6C02 00 20");
        $last = $this->record($job, 'intervention', ['action' => 'exchange', 'site' => 'U14', 'result' => 'cured']);
        $response = $this->getJson("api/jobs/{$job->id}/history")->assertOk();

        $this->assertAnswers('HistoryResponse', $response);
        $shares = array_map(static fn (array $move): float => $move['shares']['U14'] ?? 0.0, $response->json('history'));
        self::assertCount(3, $shares);
        self::assertGreaterThan($shares[0], $shares[1]);
        self::assertSame(0.0, $shares[2] ?? null);
        self::assertGreaterThan(0.9, $last->json('job.nothingLeft'));
    }

    public function test_the_base_of_a_job_changes_how_bare_numbers_are_read_and_shown(): void
    {
        $job = $this->newJob();
        $this->patchJson("api/jobs/{$job->id}", ['radix' => 8])->assertOk();
        $response = $this->postJson("api/jobs/{$job->id}/bench-line", ['line' => '66000 0>40'])->assertCreated();

        self::assertStringContainsString('read 040 at 066000', $response->json('words'));
        self::assertSame('U14', $response->json('job.suspects.0.site'));
    }

    public function test_a_job_ends_in_one_of_the_ways_jobs_end(): void
    {
        $job = $this->newJob();
        self::assertSame('repaired', $this->patchJson("api/jobs/{$job->id}", ['state' => 'repaired'])->json('job.state'));
        foreach (['no-fault-found', 'waiting-for-parts', 'parked', 'given-up', 'cured-unexplained', 'open'] as $state) {
            self::assertSame($state, $this->patchJson("api/jobs/{$job->id}", ['state' => $state])->json('job.state'));
        }
        $this->patchJson("api/jobs/{$job->id}", ['state' => 'exploded'])->assertUnprocessable();
        $this->patchJson("api/jobs/{$job->id}", ['board' => 'halyard-16'])->assertUnprocessable();
    }

    public function test_an_unknown_job_is_told_in_words(): void
    {
        self::assertStringContainsString('no such job', $this->sentences($this->getJson('api/jobs/nothing')->assertNotFound())[0]);
        self::assertStringContainsString('nothing at this address', $this->sentences($this->getJson('api/nowhere')->assertNotFound())[0]);
    }
}
