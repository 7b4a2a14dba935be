<?php

declare(strict_types=1);

namespace Tests\App;

use App\Models\ImportedBoard;
use App\Models\Job;
use App\Models\Observation;
use App\Models\StoredFile;
use Illuminate\Http\UploadedFile;
use Illuminate\Testing\TestResponse;
use PHPUnit\Framework\Attributes\DataProvider;

final class FilesTest extends TestCase
{
    public function test_a_dump_against_a_fill_names_the_chip(): void
    {
        $response = $this->upload($this->newJob(), str_repeat("\x20", 256), 'dump.bin', ['base' => '2000', 'expect' => 'fill:00'])->assertCreated();

        $this->assertAnswers('JobResponse', $response);
        self::assertSame([256, 'U14'], [$response->json('job.memory.readings'), $response->json('job.suspects.0.site')]);
        self::assertSame('dump.bin: 256 bytes against fill 00', $response->json('job.log.0.title'));
    }

    public function test_a_dump_against_a_second_file_names_the_chip(): void
    {
        $written = random_bytes(512);
        $response = $this->upload($this->newJob(), $written | str_repeat("\x01", 512), 'back.bin', ['base' => '2000', 'second' => UploadedFile::fake()->createWithContent('written.bin', $written)])->assertCreated();

        self::assertSame('U9', $response->json('job.suspects.0.site'));
        self::assertSame(2, StoredFile::query()->count());
    }

    public function test_the_blind_spot_of_addresses_as_data_is_said(): void
    {
        $dump = implode('', array_map(chr(...), range(0, 255)));
        $response = $this->upload($this->newJob(), $dump, 'dump.bin', ['base' => '2000', 'expect' => 'address'])->assertCreated();

        self::assertSame(0, $response->json('job.memory.failed'));
        self::assertStringContainsString('lost address line reads like a stuck data bit', implode(' ', $response->json('job.log.0.notes')));
    }

    public function test_a_csv_says_for_itself_what_was_expected(): void
    {
        $response = $this->upload($this->newJob(), "address,expected,read\r\n6C00,00,20\r\n6C01,FF,FF\n", 'readings.csv')->assertCreated();

        self::assertSame([2, 'U14'], [$response->json('job.memory.readings'), $response->json('job.suspects.0.site')]);
    }

    /**
     * @return iterable<string, array{string, string, array<string, string>, string}>
     */
    public static function bad(): iterable
    {
        yield 'empty' => ['', 'empty.bin', ['expect' => 'fill:00'], 'empty'];
        yield 'checksum' => [":0300300002337A1F\n:00000001FF", 'x.hex', ['expect' => 'fill:00'], 'checksum'];
        yield 'no comparison' => ["\0\1", 'x.bin', [], 'say what it should have held'];
        yield 'bad start' => ["\0\1", 'x.bin', ['expect' => 'fill:00', 'base' => 'zz'], 'Start address'];
        yield 'bad comparison' => ["\0\1", 'x.bin', ['expect' => 'ramp'], 'not a known comparison'];
        yield 'beyond memory' => ["\0\1", 'x.bin', ['expect' => 'fill:00', 'base' => 'FFFF'], 'outside memory'];
    }

    /**
     * @param  array<string, string>  $fields
     */
    #[DataProvider('bad')]
    public function test_a_bad_file_is_refused_and_nothing_of_it_is_kept(string $content, string $name, array $fields, string $says): void
    {
        $response = $this->upload($this->newJob(), $content, $name, $fields)->assertUnprocessable();

        self::assertStringContainsString($says, implode(' ', $this->sentences($response)));
        self::assertSame([0, 0], [Observation::query()->count(), StoredFile::query()->count()]);
    }

    public function test_a_binary_file_called_hex_is_taken_as_what_it_holds_and_said(): void
    {
        $response = $this->upload($this->newJob(), "\0\0\x20\0", 'dump.hex', ['expect' => 'fill:00', 'base' => '2000'])->assertCreated();

        self::assertStringContainsString('named like Intel HEX, but holds a binary dump', $response->json('job.log.0.notes.0'));
    }

    public function test_a_missing_and_a_huge_file_are_told_in_words(): void
    {
        $job = $this->newJob();
        self::assertSame(['Choose a file first.'], $this->sentences($this->post("api/jobs/{$job->id}/observations/file", [], ['Accept' => 'application/json'])->assertUnprocessable()));
        $huge = UploadedFile::fake()->create('huge.bin', 33 * 1024);
        self::assertStringContainsString('at most 32 MiB', $this->sentences($this->post("api/jobs/{$job->id}/observations/file", ['file' => $huge], ['Accept' => 'application/json'])->assertUnprocessable())[0]);
    }

    public function test_a_job_file_round_trips(): void
    {
        $job = $this->newJob('tamarisk-two');
        $this->readings($job, "4000 00 20\n4000 00 00");
        $this->upload($job, str_repeat("\x20", 64), 'dump.bin', ['base' => '4000', 'expect' => 'fill:00']);
        $this->record($job, 'setting', ['ref' => 'LK1', 'position' => 'swapped', 'since' => 'now']);
        $this->postJson("api/jobs/{$job->id}/observations/".$job->log()[0]->id.'/withdraw');
        $first = $this->get("api/jobs/{$job->id}/file")->assertOk()->getContent();
        $view = $this->getJson("api/jobs/{$job->id}")->json('job');

        Job::query()->delete();
        StoredFile::query()->delete();
        $response = $this->import('api/jobs/import', (string) $first)->assertCreated();
        $this->assertAnswers('ImportedJobResponse', $response);
        $again = $this->getJson("api/jobs/{$response->json('id')}")->json('job');

        self::assertSame($first, $this->get("api/jobs/{$response->json('id')}/file")->getContent());
        foreach (['log', 'memory', 'suspects', 'settings', 'machine', 'openedAt'] as $part) {
            self::assertSame($view[$part], $again[$part], $part);
        }
    }

    public function test_the_same_job_file_may_be_opened_twice(): void
    {
        $job = $this->newJob();
        $this->readings($job, '6C00 00 20');
        $file = (string) $this->get("api/jobs/{$job->id}/file")->getContent();
        $this->import('api/jobs/import', $file)->assertCreated();

        self::assertSame([2, 2], [Job::query()->count(), Observation::query()->count()]);
    }

    public function test_a_job_brings_its_own_board_and_puts_it_beside_one_that_differs(): void
    {
        $job = $this->newJob();
        $file = json_decode((string) $this->get("api/jobs/{$job->id}/file")->getContent(), false);
        $file->board->name = 'Larkspur 64 rebuilt';
        $id = $this->import('api/jobs/import', json_encode($file))->assertCreated()->json('id');

        $board = $this->getJson("api/jobs/{$id}")->json('job.board');
        self::assertSame('Larkspur 64 rebuilt', $board['name']);
        self::assertStringStartsWith('larkspur-64-', $board['slug']);
        self::assertSame('Larkspur 64', $this->getJson('api/boards/larkspur-64')->json('board.name'));
    }

    public function test_every_problem_of_a_bad_job_file_is_told_and_nothing_is_stored(): void
    {
        $job = $this->newJob();
        $this->readings($job, '6C00 00 20');
        $file = json_decode((string) $this->get("api/jobs/{$job->id}/file")->getContent(), false);
        Job::query()->delete();
        $file->observations[0]->payload->radix = 7;
        $file->board->chips[0]->part = '9999';
        $file->files = (object) [str_repeat('a', 40) => base64_encode('x')];
        $response = $this->import('api/jobs/import', json_encode($file))->assertUnprocessable();

        self::assertSame(['/board/chips/0/part', '/files/'.str_repeat('a', 40), '/observations/0/payload/radix'], array_column($response->json('problems'), 'place'));
        self::assertSame([0, 0, 0], [Job::query()->count(), StoredFile::query()->count(), ImportedBoard::query()->count()]);
    }

    public function test_a_job_that_names_what_its_board_does_not_have_is_opened_and_that_is_set_aside(): void
    {
        $job = $this->newJob('tamarisk-two');
        $this->record($job, 'setting', ['ref' => 'LK1', 'position' => 'swapped', 'since' => 'now']);
        $this->record($job, 'intervention', ['action' => 'exchange', 'site' => 'U26', 'result' => 'as-before']);
        $this->readings($job, '4000 00 20');
        $file = json_decode((string) $this->get("api/jobs/{$job->id}/file")->getContent(), false);
        $file->observations[0]->payload->ref = 'LK9';
        $file->observations[1]->payload->site = 'U99';
        $id = $this->import('api/jobs/import', json_encode($file))->assertCreated()->json('id');

        $opened = $this->getJson("api/jobs/{$id}")->assertOk();
        $this->assertAnswers('JobResponse', $opened);
        self::assertStringContainsString('LK9', (string) $opened->json('job.log.0.unreadable'));
        self::assertStringContainsString('U99', (string) $opened->json('job.log.1.unreadable'));
        self::assertSame('U26', $opened->json('job.suspects.0.site'));
        $this->getJson('api/jobs')->assertOk();
    }

    /**
     * @return iterable<string, array{string, string}>
     */
    public static function notJobs(): iterable
    {
        yield 'empty' => ['', 'empty'];
        yield 'no JSON' => ['{', 'not a JSON file'];
        yield 'another format' => ['{"format":"other"}', 'Missing'];
    }

    #[DataProvider('notJobs')]
    public function test_what_is_no_job_file_is_refused(string $content, string $says): void
    {
        self::assertStringContainsString($says, implode(' ', $this->sentences($this->import('api/jobs/import', $content)->assertUnprocessable())));
    }

    public function test_a_board_file_is_imported_and_comes_out_as_it_went_in(): void
    {
        $content = str_replace('"slug": "larkspur-64"', '"slug": "larkspur-mine"', (string) $this->get('api/boards/larkspur-64/file')->getContent());
        $this->assertAnswers('ImportedBoardResponse', $this->import('api/boards', $content)->assertCreated());

        self::assertSame($content, $this->get('api/boards/larkspur-mine/file')->getContent());
        $this->assertAnswers('BoardsResponse', $this->getJson('api/boards')->assertOk());
        foreach (['larkspur-mine', 'tamarisk-two', 'halyard-16'] as $slug) {
            $this->assertAnswers('BoardResponse', $this->getJson("api/boards/{$slug}")->assertOk());
        }
    }

    public function test_a_board_that_ships_cannot_be_replaced(): void
    {
        $content = (string) $this->get('api/boards/larkspur-64/file')->getContent();

        self::assertStringContainsString('comes with Zap Trace', $this->sentences($this->import('api/boards', $content)->assertUnprocessable())[0]);
    }

    /**
     * @param  array<string, mixed>  $fields
     */
    private function upload(Job $job, string $content, string $name, array $fields = []): TestResponse
    {
        return $this->post("api/jobs/{$job->id}/observations/file", ['file' => UploadedFile::fake()->createWithContent($name, $content), ...$fields], ['Accept' => 'application/json']);
    }

    private function import(string $path, string $content): TestResponse
    {
        return $this->post($path, ['file' => UploadedFile::fake()->createWithContent('file.json', $content)], ['Accept' => 'application/json']);
    }
}
