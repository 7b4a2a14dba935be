<?php

declare(strict_types=1);

namespace Tests\App;

use App\Models\Job;
use App\Models\WorkshopSetting;
use Illuminate\Http\JsonResponse;
use Illuminate\Http\UploadedFile;
use Illuminate\Testing\TestResponse;
use Tests\Support\Boards;

/**
 * What the workshop owns and prefers, over HTTP, and the observations that came with it.
 */
final class WorkshopTest extends TestCase
{
    public function test_a_workshop_has_the_usual_things_until_told_otherwise(): void
    {
        $response = $this->getJson('/api/workshop')->assertOk();

        self::assertSame('measure-first', $response->json('workshop.school'));
        self::assertContains('tester', $response->json('workshop.equipment'));
        self::assertNull($response->json('workshop.spares'));
        self::assertCount(4, $response->json('schools'));
    }

    public function test_what_is_left_out_stays_as_it_is(): void
    {
        $this->change(['school' => 'swap-first'])->assertOk();
        $response = $this->change(['spares' => ['4164', '6502']])->assertOk();

        self::assertSame(['swap-first', ['4164', '6502']], [$response->json('workshop.school'), $response->json('workshop.spares')]);
    }

    public function test_every_mistake_is_told_at_once_and_nothing_is_stored(): void
    {
        $problems = $this->change(['school' => 'luck-first', 'equipment' => ['hammer']])->assertUnprocessable()->json('problems');

        self::assertCount(2, $problems);
        self::assertSame(0, WorkshopSetting::query()->count());
    }

    public function test_the_workshop_decides_what_a_job_is_told_and_a_job_can_have_it_otherwise(): void
    {
        $job = $this->newJob('tamarisk-two');
        $this->readings($job, "8000 00 04\n8001 FF FF\n8100 00 04\n4000 00 00");
        $actions = fn (): array => array_column((array) $this->getJson("/api/jobs/{$job->id}")->json('job.steps'), 'action');
        self::assertContains('run', $actions());

        $this->change(['equipment' => ['meter']])->assertOk();
        self::assertNotContains('run', $actions());

        $this->patchJson("/api/jobs/{$job->id}", ['workshop' => ['equipment' => ['meter', 'diagnostic']]])->assertOk();
        self::assertContains('run', $actions());

        $response = $this->patchJson("/api/jobs/{$job->id}", ['workshop' => null])->assertOk();
        self::assertNull($response->json('job.workshop'));
        self::assertNotContains('run', $actions());
    }

    public function test_a_job_that_asks_for_what_there_is_not_is_refused_whole(): void
    {
        $job = $this->newJob('tamarisk-two');
        $this->patchJson("/api/jobs/{$job->id}", ['symptom' => 'Changed', 'workshop' => ['school' => 'luck-first']])->assertUnprocessable();

        self::assertSame('Stops', Job::query()->findOrFail($job->id)->symptom);
    }

    public function test_a_job_takes_its_bench_along_in_its_file(): void
    {
        $job = $this->newJob('tamarisk-two');
        $this->patchJson("/api/jobs/{$job->id}", ['workshop' => ['school' => 'clean-first']])->assertOk();
        $file = json_decode((string) $this->get("/api/jobs/{$job->id}/file")->getContent(), true);

        self::assertSame(['school' => 'clean-first'], $file['workshop']);
    }

    public function test_a_swap_a_second_machine_a_condition_and_history_are_kept_with_their_context(): void
    {
        $job = $this->newJob('tamarisk-two');
        $this->record($job, 'history', ['fact' => 'leak', 'sites' => ['U33']])->assertCreated();
        $this->record($job, 'condition', ['condition' => 'warm', 'on' => true])->assertCreated();
        $this->readings($job, "8000 00 04\n8001 FF FF\n8100 00 04");
        $this->record($job, 'second-machine', ['result' => 'works'])->assertCreated();
        $this->record($job, 'intervention', ['action' => 'exchange-second', 'site' => 'U33', 'result' => 'cured', 'secondResult' => 'fails'])->assertCreated();
        $this->record($job, 'set-aside', ['action' => 'prove', 'site' => '', 'reason' => 'later'])->assertCreated();
        $this->record($job, 'setup-check', ['setup' => 'table of the plug-in tester', 'result' => 'right'])->assertCreated();
        $answer = $this->getJson("/api/jobs/{$job->id}")->assertOk()->json('job');

        self::assertSame(['U33 exchanged with the second machine', 'warmed up'], $answer['context']);
        self::assertSame(['warmed up'], $answer['log'][2]['context']);
        self::assertSame([['part' => 'U33', 'seat' => 'U33 of the second machine', 'borrowed' => false], ['part' => 'U33 of the second machine', 'seat' => 'U33', 'borrowed' => true]], $answer['displaced']);
        self::assertStringContainsString('The fault travels with U33', implode(' ', $answer['verdicts']));
        self::assertSame('later', $answer['setAside'][0]['reason']);
    }

    public function test_a_swap_of_unlike_parts_is_refused_with_the_reason(): void
    {
        $job = $this->newJob('tamarisk-two');
        $problems = $this->record($job, 'intervention', ['action' => 'swap', 'site' => 'U33', 'with' => 'U14'])->assertUnprocessable()->json('problems');

        self::assertStringContainsString('only like parts can change places', $problems[0]['sentence']);
    }

    public function test_suspicion_is_told_by_assembly_where_there_are_several(): void
    {
        $job = $this->newJob('halyard-16');
        $answer = $this->readings($job, "80000 0000 00F0\n80002 0000 00F0")->json('job.assemblies');

        self::assertSame('riser', $answer[0]['id']);
        self::assertGreaterThan(0.9, $answer[0]['share']);
    }

    public function test_a_board_that_overrides_what_is_not_there_is_not_taken(): void
    {
        $board = Boards::plain(['reasoning' => ['modes' => [['cause' => 'net', 'mode' => 'held sideways', 'source' => 'x']]]]);
        $file = UploadedFile::fake()->createWithContent('plain.board.json', (string) json_encode($board));
        $problems = $this->post('/api/boards', ['file' => $file], ['Accept' => 'application/json'])->assertUnprocessable()->json('problems');

        self::assertStringContainsString('A net has no mode "held sideways"', $problems[0]['sentence']);
    }

    /**
     * @param  array<string, mixed>  $changes
     * @return TestResponse<JsonResponse>
     */
    private function change(array $changes): TestResponse
    {
        return $this->patchJson('/api/workshop', $changes);
    }
}
