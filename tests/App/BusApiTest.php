<?php

declare(strict_types=1);

namespace Tests\App;

use App\Models\Capture;
use App\Models\Job;
use Illuminate\Http\UploadedFile;
use Illuminate\Testing\TestResponse;
use Symfony\Component\Process\Process;
use Tests\Support\Boards;
use Tests\Support\Captures;
use ZapTrace\Bench\FaultKind;
use ZapTrace\Bench\InjectedFault;
use ZapTrace\Bench\Machine;

final class BusApiTest extends TestCase
{
    protected function tearDown(): void
    {
        foreach (Capture::query()->get() as $capture) {
            @unlink($capture->file());
            @unlink($capture->cyclesFile());
        }
        parent::tearDown();
    }

    public function test_a_capture_sent_in_pieces_is_decoded_and_a_good_one_shows_where_the_sick_one_parts(): void
    {
        $job = $this->newJob();
        $good = $this->send($job, self::captured(), 'good.vcd', 'good');
        $sick = $this->send($job, self::captured(new InjectedFault(FaultKind::ReadsLow, 'U14')), 'sick.vcd', 'sick', 10_000);
        $bus = $this->getJson("api/jobs/{$job->id}/bus")->assertOk();
        $this->assertAnswers('BusResponse', $bus);

        self::assertSame(['decoded', 'decoded'], array_column($bus->json('bus.captures'), 'state'));
        self::assertSame([['id' => $good, 'name' => 'good.vcd']], $bus->json('bus.against'));
        $ladder = $this->getJson("api/captures/{$sick}/ladder?against={$good}")->assertOk();
        $this->assertAnswers('LadderResponse', $ladder);
        self::assertSame(['data-bits', [5], 27], [$ladder->json('ladder.divergence.kind'), $ladder->json('ladder.divergence.bits'), $ladder->json('ladder.distance')]);
        self::assertContains('CMP 00', array_column($ladder->json('ladder.rungs'), 'named'));

        $answer = $this->postJson("api/captures/{$sick}/record", ['against' => $good])->assertCreated();
        self::assertSame('sick.vcd beside good.vcd: parts after 27 cycles, data bits', $answer->json('job.log.0.title'));
        self::assertSame('U14', $answer->json('job.suspects.0.site'));
        self::assertSame(27, $this->getJson("api/jobs/{$job->id}/bus")->json('bus.captures.1.distance'));
    }

    public function test_beside_the_rom_nothing_selected_hands_over_to_the_select_check(): void
    {
        $job = $this->newJob();
        $image = (new Machine(Boards::shipped('larkspur-64'), [], 1))->image('U2');
        $sick = $this->send($job, self::captured(new InjectedFault(FaultKind::Dead, 'U2')), 'sick.vcd');
        self::assertStringContainsString('No good image', $this->getJson("api/captures/{$sick}/ladder?against=rom")->assertUnprocessable()->json('problems.0.sentence'));
        $this->post("api/jobs/{$job->id}/rom", ['chip' => 'U2', 'reads' => [UploadedFile::fake()->createWithContent('a', $image)], 'good' => UploadedFile::fake()->createWithContent('g', $image)], ['Accept' => 'application/json'])->assertCreated();
        $ladder = $this->getJson("api/captures/{$sick}/ladder?against=rom")->assertOk();

        self::assertSame(['nothing-selected', 'U2', 0xFFFC], [$ladder->json('ladder.divergence.kind'), $ladder->json('ladder.divergence.next.chip'), $ladder->json('ladder.divergence.next.address')]);
        self::assertMatchesRegularExpression('/^U2 should answer at FFFC\. Measure U2\.\d+, then U/', $ladder->json('ladder.divergence.next.words'));
    }

    public function test_swapped_channels_are_found_and_the_corrected_assignment_is_taken(): void
    {
        $job = $this->newJob();
        $good = $this->send($job, self::captured(), 'good.vcd', 'good');
        $swapped = $this->send($job, strtr(self::captured(), [' A0 $end' => ' A1 $end', ' A1 $end' => ' A0 $end']), 'clips.vcd');
        $check = $this->postJson("api/captures/{$swapped}/check", ['against' => $good])->assertOk();
        $this->assertAnswers('SetupResponse', $check);
        self::assertFalse($check->json('setup.right'));
        self::assertSame('A1', $check->json('setup.map.A0'));

        $this->patchJson("api/captures/{$swapped}", ['map' => $check->json('setup.map')])->assertOk();
        self::assertNull($this->getJson("api/captures/{$swapped}/ladder?against={$good}")->json('ladder.divergence'));
        self::assertTrue($this->postJson("api/captures/{$swapped}/check", ['against' => $good])->json('setup.right'));
    }

    public function test_what_cannot_be_decoded_says_why_and_what_is_too_large_is_not_begun(): void
    {
        $job = $this->newJob();
        $this->send($job, "\$timescale 1 ns \$end\n\$var wire 1 ! PHI2 \$end\n\$var wire 1 \" A0 \$end\n\$enddefinitions \$end\n#5\n1!\n#4\n0%\n", 'odd.vcd');
        $capture = $this->getJson("api/jobs/{$job->id}/bus")->json('bus.captures.0');
        self::assertSame('failed', $capture['state']);
        self::assertCount(2, $capture['problems']);
        self::assertStringContainsString('not decoded yet', $this->getJson("api/captures/{$capture['id']}/ladder?against=rom")->assertUnprocessable()->json('problems.0.sentence'));

        self::assertStringContainsString('100 MB', $this->postJson("api/jobs/{$job->id}/captures", ['name' => 'big.vcd', 'size' => 100_000_000])->assertUnprocessable()->json('problems.0.sentence'));
        self::assertStringContainsString('0 bytes', $this->postJson("api/jobs/{$job->id}/captures", ['name' => 'none.vcd', 'size' => 0])->assertUnprocessable()->json('problems.0.sentence'));
        $begun = $this->postJson("api/jobs/{$job->id}/captures", ['name' => 'a.vcd', 'size' => 10])->json('capture');
        self::assertStringContainsString('begin at byte 0', $this->piece($begun, 4, 'xx')->assertUnprocessable()->json('problems.0.sentence'));
        $this->postJson("api/captures/{$begun}/cancel")->assertOk();
        self::assertSame('cancelled', Capture::query()->find($begun)?->state);
        $this->postJson("api/captures/{$begun}/remove")->assertOk();
        self::assertNull(Capture::query()->find($begun));
    }

    public function test_a_channel_that_is_not_there_is_refused_before_anything_is_decoded_again(): void
    {
        $job = $this->newJob();
        $capture = $this->send($job, self::captured(), 'good.vcd', 'good');
        $answer = $this->patchJson("api/captures/{$capture}", ['map' => ['A0' => 'CH1', 'A99' => 'A1']])->assertUnprocessable();

        self::assertCount(2, $answer->json('problems'));
        self::assertSame('decoded', Capture::query()->find($capture)?->state);
    }

    public function test_on_the_command_line(): void
    {
        $folder = sys_get_temp_dir().'/zap-bus-'.bin2hex(random_bytes(4));
        mkdir($folder);
        file_put_contents("{$folder}/good.vcd", self::captured());
        file_put_contents("{$folder}/sick.vcd", self::captured(new InjectedFault(FaultKind::ReadsLow, 'U14')));
        file_put_contents("{$folder}/rom.bin", (new Machine(Boards::shipped('larkspur-64'), [], 1))->image('U2'));
        foreach (["--good={$folder}/good.vcd", "--rom={$folder}/rom.bin"] as $against) {
            [$code, $out] = self::command('diff', "{$folder}/sick.vcd", $against, '--board=larkspur-64', '--json');
            $found = json_decode($out, true);
            self::assertSame([0, 27, 'data-bits', 'U14'], [$code, $found['distance'], $found['divergence']['kind'], $found['suspects'][0]['site']]);
        }
        [$code, $out] = self::command('check', "{$folder}/good.vcd", "--rom={$folder}/rom.bin", '--json');
        self::assertSame(0, $code);
        self::assertContains(['channel' => 'A9', 'is' => 'A9', 'inverted' => false, 'state' => 'live'], json_decode($out, true)['channels']);

        file_put_contents("{$folder}/map.json", '{"A77": "x"}');
        [$code, $out, $problems] = self::command('diff', "{$folder}/none.vcd", "--rom={$folder}/none.bin", '--board=larkspur-64', "--map={$folder}/map.json");
        self::assertSame([2, ''], [$code, $out]);
        self::assertSame(2, substr_count($problems, 'no such file'));
        [$code, , $problems] = self::command('diff', "{$folder}/sick.vcd", "--rom={$folder}/rom.bin", "--map={$folder}/map.json");
        self::assertSame(2, $code);
        self::assertStringContainsString('no signal "A77"', $problems);
        foreach ((array) glob("{$folder}/*") as $file) {
            unlink((string) $file);
        }
        rmdir($folder);
    }

    public function test_memory_while_a_large_capture_is_read_stays_small(): void
    {
        // Not how fast, but how much: what is kept while reading does not grow with the file.
        $file = (string) tempnam(sys_get_temp_dir(), 'zap');
        $one = Captures::vcd(Captures::run(), Captures::plainChannels());
        $at = (int) strpos($one, "\n#") + 1;
        $body = substr($one, $at);
        $stream = fopen($file, 'w');
        assert($stream !== false);
        fwrite($stream, substr($one, 0, $at));
        for ($turn = 0; $turn < 60; $turn++) {
            fwrite($stream, (string) preg_replace_callback('/^#(\d+)/m', static fn (array $match): string => '#'.((int) $match[1] + 1_000_000 * $turn), $body));
        }
        fclose($stream);
        $process = new Process([PHP_BINARY, '-d', 'memory_limit=32M', '-r', 'require "vendor/autoload.php"; $bus = Tests\Support\Captures::bus("6502"); $capture = ZapTrace\Formats\Capture::open(fopen($argv[1], "r"), "x"); $decoder = new ZapTrace\Bus\CycleDecoder($bus, ZapTrace\Bus\SignalMap::byName($capture->channels(), $bus)); $capture->read($decoder); echo $decoder->cycles()->count();', $file], base_path());
        $process->run();
        unlink($file);

        self::assertSame((string) (60 * Captures::run()->count()), $process->getOutput(), $process->getErrorOutput());
    }

    private function send(Job $job, string $content, string $name, string $role = 'sick', int $piece = 1_000_000): string
    {
        $id = $this->postJson("api/jobs/{$job->id}/captures", ['name' => $name, 'size' => strlen($content), 'role' => $role])->assertCreated()->json('capture');
        foreach (str_split($content, $piece) as $number => $part) {
            $this->piece($id, $number * $piece, $part)->assertOk();
        }

        return $id;
    }

    private function piece(string $id, int $from, string $content): TestResponse
    {
        return $this->call('POST', "api/captures/{$id}/piece?from={$from}", server: ['CONTENT_TYPE' => 'application/octet-stream', 'HTTP_X_ZAP_TRACE' => '1', 'HTTP_HOST' => '127.0.0.1', 'HTTP_ACCEPT' => 'application/json'], content: $content);
    }

    private static function captured(InjectedFault ...$faults): string
    {
        return (new Machine(Boards::shipped('larkspur-64'), array_values($faults), 3))->capture(500);
    }

    /**
     * @return array{int, string, string}
     */
    private static function command(string ...$arguments): array
    {
        $process = new Process([PHP_BINARY, base_path('artisan'), 'zap:bus', ...$arguments], base_path());

        return [$process->run(), $process->getOutput(), $process->getErrorOutput()];
    }
}
