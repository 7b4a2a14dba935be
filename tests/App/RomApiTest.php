<?php

declare(strict_types=1);

namespace Tests\App;

use App\Models\Job;
use App\Models\StoredFile;
use Illuminate\Http\UploadedFile;
use Illuminate\Testing\TestResponse;
use Symfony\Component\Process\Process;
use Tests\Support\Boards;
use ZapTrace\Bench\Machine;

final class RomApiTest extends TestCase
{
    public function test_a_read_beside_a_good_image_is_recorded_with_what_it_says(): void
    {
        $job = $this->newJob();
        $sick = self::image() | str_repeat("\x08", 8192);
        $answer = $this->read($job, ['reads' => [self::file($sick, 'read.bin')], 'good' => self::file(self::image(), 'good.bin'), 'where' => 'board'])->assertCreated();
        $this->assertAnswers('JobResponse', $answer);

        self::assertSame('U2 read on the board: data bits that never change', $answer->json('job.log.0.title'));
        self::assertSame('D3 reads 1 at every address: its output, or its data line between here and the reader.', $answer->json('job.log.0.notes.0'));
        $sites = array_column($answer->json('job.suspects'), 'share', 'site');
        self::assertGreaterThan(0.15, $sites['U2'] ?? 0.0);
        self::assertArrayHasKey('D3', $sites, 'The data line between.');
        $view = $this->getJson("api/jobs/{$job->id}/rom?chip=U2")->assertOk();
        $this->assertAnswers('RomResponse', $view);
        self::assertSame(['constant-bits', [['bit' => 3, 'value' => 1]], 57344], [$view->json('rom.last.verdict'), $view->json('rom.last.bits'), $view->json('rom.from')]);
        self::assertSame($sick, $this->get('api/rom/'.sha1($sick))->assertOk()->getContent());
    }

    public function test_in_a_reader_the_chip_alone_is_to_blame_and_a_match_clears_it(): void
    {
        $job = $this->newJob();
        $bad = self::image();
        $bad[100] = chr(ord($bad[100]) | 0x40);
        $bad[100] = $bad[100] === self::image()[100] ? chr(ord($bad[100]) ^ 0x40) : $bad[100];
        $answer = $this->read($job, ['reads' => [self::file($bad, 'a.bin'), self::file($bad, 'b.bin')], 'good' => self::file(self::image(), 'good.bin')])->assertCreated();
        self::assertSame('U2', $answer->json('job.suspects.0.site'));
        self::assertGreaterThan(0.7, $answer->json('job.suspects.0.share'));

        $well = $this->newJob();
        $answer = $this->read($well, ['reads' => [self::file(self::image(), 'a.bin')], 'good' => self::file(self::image(), 'good.bin')])->assertCreated();
        self::assertSame('U2 read in a reader: matches', $answer->json('job.log.0.title'));
        self::assertLessThan(0.02, array_column($answer->json('job.suspects'), 'share', 'site')['U2'] ?? 0.0);
    }

    public function test_without_a_good_image_the_firmwares_own_checksum_speaks(): void
    {
        $image = (new Machine(Boards::shipped('larkspur-64'), [], 1))->image('U2');
        $well = $this->newJob();
        $answer = $this->read($well, ['reads' => [self::file($image, 'a.bin')]])->assertCreated();
        self::assertStringContainsString('is F887, as it should be.', implode(' ', $answer->json('job.log.0.notes')));
        self::assertLessThan(0.02, array_column($answer->json('job.suspects'), 'share', 'site')['U2'] ?? 0.0);

        $image[0x300] = chr(ord($image[0x300]) ^ 0x10);
        $sick = $this->read($this->newJob(), ['reads' => [self::file($image, 'a.bin')]])->assertCreated();
        self::assertStringContainsString('it should be F887', implode(' ', $sick->json('job.log.0.notes')));
        self::assertSame('U2', $sick->json('job.suspects.0.site'));
    }

    public function test_good_images_are_shared_between_jobs_and_kept_once(): void
    {
        $this->read($this->newJob(), ['reads' => [self::file(self::image(), 'a.bin')], 'good' => self::file(self::image(), 'good.bin')])->assertCreated();
        $other = $this->newJob();
        self::assertSame([['sha1' => sha1(self::image()), 'name' => 'good.bin']], $this->getJson("api/jobs/{$other->id}/rom")->json('rom.goods'));
        $this->read($other, ['reads' => [self::file(self::image(), 'b.bin')], 'goodSha1' => sha1(self::image())])->assertCreated();

        self::assertSame(1, StoredFile::query()->count());
        self::assertSame('match', $this->getJson("api/jobs/{$other->id}/rom")->json('rom.last.verdict'));
    }

    public function test_what_cannot_be_taken_is_refused_whole(): void
    {
        $job = $this->newJob();
        $answer = $this->read($job, ['reads' => [self::file('', 'empty.bin'), self::file(":10010000214601360121470136007EFE09D2190141\n", 'broken.hex')]])->assertUnprocessable();

        self::assertSame(['empty.bin', 'line 1'], array_column($answer->json('problems'), 'place'));
        self::assertSame(0, $job->observations()->count());
        self::assertSame(0, StoredFile::query()->count());
        self::assertStringContainsString('no ROM', $this->read($job, ['chip' => 'U9', 'reads' => [self::file('x', 'x')]])->assertUnprocessable()->json('problems.0.sentence'));
        self::assertSame(0, StoredFile::query()->count());
        self::assertSame('Choose at least one read of the chip.', $this->read($job, [])->assertUnprocessable()->json('problems.0.sentence'));
    }

    public function test_a_job_with_reads_goes_out_and_comes_back_whole(): void
    {
        $job = $this->newJob();
        $this->read($job, ['reads' => [self::file(self::image(), 'a.bin')], 'good' => self::file(strrev(self::image()), 'good.bin')])->assertCreated();
        $file = (string) $this->get("api/jobs/{$job->id}/file")->assertOk()->getContent();
        StoredFile::query()->delete();
        $back = $this->post('api/jobs/import', ['file' => UploadedFile::fake()->createWithContent('job.json', $file)], ['Accept' => 'application/json'])->assertCreated();

        self::assertSame(2, StoredFile::query()->count());
        self::assertSame('differs', $this->getJson("api/jobs/{$back->json('id')}/rom")->json('rom.last.verdict'));
    }

    public function test_images_are_built_looked_at_and_saved(): void
    {
        $this->read($this->newJob(), ['reads' => [self::file('AaBbCcDd', 'a.bin')]])->assertCreated();
        $request = ['sources' => [sha1('AaBbCcDd')], 'steps' => [['do' => 'even'], ['do' => 'repeat', 'size' => '10']]];
        $built = $this->postJson('api/rom/build', $request)->assertOk();
        $this->assertAnswers('BuiltResponse', $built);

        self::assertSame([16, bin2hex('ABCDABCDABCDABCD')], [$built->json('built.bytes'), $built->json('built.head')]);
        self::assertSame('ABCDABCDABCDABCD', $this->postJson('api/rom/build', [...$request, 'format' => 'binary'])->getContent());
        self::assertStringStartsWith(':10000000', (string) $this->postJson('api/rom/build', [...$request, 'format' => 'intel-hex'])->getContent());
        self::assertStringContainsString('whole number of times', $this->postJson('api/rom/build', ['sources' => [sha1('AaBbCcDd')], 'steps' => [['do' => 'repeat', 'size' => '9']]])->assertUnprocessable()->json('problems.0.sentence'));
    }

    public function test_an_adapter_and_what_is_none(): void
    {
        $answer = $this->getJson('api/adapter?chip=2764&socket=2364&selects[CS]=high')->assertOk();
        $this->assertAnswers('AdapterResponse', $answer);

        self::assertStringContainsString('inverter', implode(' ', $answer->json('adapter.notes')));
        self::assertStringContainsString('no ROM with a pinout', $this->getJson('api/adapter?chip=6502&socket=2364')->assertUnprocessable()->json('problems.0.sentence'));
    }

    public function test_on_the_command_line_all_problems_are_told_and_the_code_is_2(): void
    {
        $folder = sys_get_temp_dir().'/zap-rom-'.bin2hex(random_bytes(4));
        mkdir($folder);
        file_put_contents("{$folder}/read.bin", self::image() & str_repeat("\x7F", 8192));
        file_put_contents("{$folder}/good.bin", self::image());
        [$code, $out] = self::command('zap:rom', 'compare', "{$folder}/read.bin", "--good={$folder}/good.bin", '--json');
        self::assertSame(0, $code);
        self::assertSame(['constant-bits', [['bit' => 7, 'value' => 0]]], [json_decode($out, true)['verdict'], json_decode($out, true)['bits']]);

        [$code] = self::command('zap:rom', 'build', "{$folder}/good.bin", '--split', '-o', "{$folder}/half.bin");
        self::assertSame(0, $code);
        [$code] = self::command('zap:rom', 'build', "{$folder}/half-even.bin", "{$folder}/half-odd.bin", '--interleave', '-o', "{$folder}/whole.bin");
        self::assertSame([0, self::image()], [$code, file_get_contents("{$folder}/whole.bin")]);

        [$code, $out, $problems] = self::command('zap:rom', 'build', "{$folder}/none.bin");
        self::assertSame([2, ''], [$code, $out]);
        self::assertStringContainsString('no such file', $problems);
        [$code, , $problems] = self::command('zap:rom', 'build', "{$folder}/good.bin", '--format=wax');
        self::assertSame(2, $code);
        foreach (['where to write', 'what to build', 'no format "wax"'] as $words) {
            self::assertStringContainsString($words, $problems);
        }
        foreach ((array) glob("{$folder}/*") as $file) {
            unlink((string) $file);
        }
        rmdir($folder);
    }

    /**
     * @return array{int, string, string}
     */
    private static function command(string ...$arguments): array
    {
        $process = new Process([PHP_BINARY, base_path('artisan'), ...$arguments], base_path());

        return [$process->run(), $process->getOutput(), $process->getErrorOutput()];
    }

    /**
     * @param  array<string, mixed>  $fields
     */
    private function read(Job $job, array $fields): TestResponse
    {
        return $this->post("api/jobs/{$job->id}/rom", ['chip' => 'U2', ...$fields], ['Accept' => 'application/json']);
    }

    private static function file(string $content, string $name): UploadedFile
    {
        return UploadedFile::fake()->createWithContent($name, $content);
    }

    /** 8 KiB without a pattern, with a start that leads into the ROM of the board. */
    private static function image(): string
    {
        $bytes = '';
        for ($block = 0; $block < 256; $block++) {
            $bytes .= hash('sha256', "image {$block}", true);
        }

        return substr_replace($bytes, "\x00\xF0", 0x1FFC, 2);
    }
}
