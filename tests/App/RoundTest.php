<?php

declare(strict_types=1);

namespace Tests\App;

use App\Models\Job;
use App\Models\Observation;
use App\Models\StoredFile;
use Illuminate\Http\UploadedFile;
use Illuminate\Testing\TestResponse;
use PHPUnit\Framework\Attributes\DataProvider;
use Tests\Support\Artisan;

/**
 * The whole round over HTTP: check-in to record, and what surrounds a repair.
 */
final class RoundTest extends TestCase
{
    public function test_every_stage_answers_in_the_words_of_the_schema(): void
    {
        $job = $this->newJob();
        foreach (['leak u14 u15', 'u2 unseated', '+5 vr1 4.95', '+5 u16 4.9', 'room 20', 'u14 hot', 'sign blank', 'keys works', 'power-ons 3 failed 1', 'count 6 x2', 'fit u14 new cured', 'mark u14 bad in tin'] as $line) {
            $answer = $this->postJson("/api/jobs/{$job->id}/bench-line", ['line' => $line])->assertCreated();
        }
        $this->assertAnswers('BenchLineResponse', $answer);
        $round = $answer->json('job.round');

        self::assertSame([['U2', 'unseated']], array_map(static fn (array $look): array => [$look['site'], $look['finding']], $round['looks']));
        self::assertTrue($round['supply']['rails'][0]['measured']);
        self::assertSame('bad', collect($round['ledger'])->firstWhere('part', 'U14')['label']);
        self::assertSame('U14', $round['record']['done'][0]['site']);
        self::assertSame([1, 3], [$round['proof']['shown'] - 2, $round['proof']['of'] - 2], 'Two runs of the diagnostic count as well.');
    }

    /**
     * @return iterable<string, array{string, array<string, mixed>, string}>
     */
    public static function refused(): iterable
    {
        yield 'a chip that is not there' => ['look', ['sites' => ['U99'], 'finding' => 'corroded'], '/no chip "U99"/'];
        yield 'a finding that there is not' => ['look', ['sites' => ['U1'], 'finding' => 'sad'], '/but only "corroded"/'];
        yield 'no measurement' => ['rail', ['rail' => '+5'], '/What was measured/'];
        yield 'a rail that there is not' => ['rail', ['rail' => '-12', 'volts' => 1], '/has no rail -12/'];
        yield 'warm, but how' => ['heat', ['site' => 'U1'], '/How warm is U1/'];
        yield 'an unknown sign' => ['sign', ['sign' => 'sparks'], '/There is no sign "sparks"/'];
        yield 'an unknown function' => ['function-test', ['function' => 'fly', 'result' => 'works'], '/no function "fly" to test/'];
        yield 'no power-ons' => ['power-ons', ['clean' => 0], '/How many power-ons/'];
        yield 'a photograph that is not here' => ['photo', ['sha1' => str_repeat('0', 40), 'width' => 1, 'height' => 1], '/picture itself is not here/'];
        yield 'a label without words' => ['label', ['part' => 'U14'], '/What is written on U14/'];
        yield 'a test that there is not' => ['memory-test', ['test' => 'x', 'language' => 'z80', 'from' => 0, 'to' => 1, 'results' => '00'], '/no memory test "x"/'];
        yield 'a test beyond the board' => ['memory-test', ['test' => 'mats+', 'language' => 'z80', 'from' => 0, 'to' => 0x10000, 'results' => '00'], '/does not lie on this board/'];
        yield 'an over-voltage of no rail' => ['history', ['fact' => 'over-voltage', 'rail' => '+12'], '/no rail \+12/'];
    }

    /**
     * @param  array<string, mixed>  $payload
     */
    #[DataProvider('refused')]
    public function test_what_cannot_be_is_refused_in_words_and_not_stored(string $kind, array $payload, string $sentence): void
    {
        $job = $this->newJob();
        $response = $this->record($job, $kind, $payload)->assertUnprocessable();

        self::assertMatchesRegularExpression($sentence, implode(' ', $this->sentences($response)));
        self::assertSame(0, Observation::query()->count());
    }

    public function test_a_photograph_is_made_smaller_and_loses_where_it_was_taken(): void
    {
        $job = $this->newJob();
        $response = $this->photo($job, $this->picture(2400, 1200, 'GPS 51.5 N, CAMERA 7'), 'Corner by the battery')->assertCreated();
        $this->assertAnswers('JobResponse', $response);
        $photo = $response->json('job.round.photos.0');
        $bytes = (string) StoredFile::query()->find($photo['sha1'])?->content;

        self::assertSame([1600, 800, 'Corner by the battery'], [$photo['width'], $photo['height'], $photo['caption']]);
        self::assertStringNotContainsString('GPS', $bytes);
        self::assertStringNotContainsString('CAMERA', $bytes);
        $shown = $this->get("/api/photos/{$photo['sha1']}")->assertOk();
        self::assertSame('image/jpeg', $shown->headers->get('Content-Type'));

        $marked = $this->record($job, 'photo-mark', ['sha1' => $photo['sha1'], 'x' => 0.25, 'y' => 0.5, 'site' => 'u14', 'note' => 'green legs'])->assertCreated();
        self::assertSame(['U14', 'green legs', 0.25], [$marked->json('job.round.photos.0.marks.0.site'), $marked->json('job.round.photos.0.marks.0.note'), $marked->json('job.round.photos.0.marks.0.x')]);
    }

    public function test_what_is_no_picture_is_refused(): void
    {
        $job = $this->newJob();

        self::assertStringContainsString('not a picture', $this->sentences($this->photo($job, UploadedFile::fake()->createWithContent('x.jpg', 'hello'), ''))[0]);
        self::assertSame(0, StoredFile::query()->count());
        $this->get('/api/photos/'.str_repeat('a', 40))->assertNotFound();
    }

    public function test_only_pictures_are_shown_as_pictures(): void
    {
        StoredFile::query()->create(['sha1' => sha1('secret'), 'size' => 6, 'content' => 'secret']);

        $this->get('/api/photos/'.sha1('secret'))->assertNotFound();
    }

    public function test_a_job_with_photographs_goes_out_and_comes_back_whole(): void
    {
        $job = $this->newJob();
        $this->patchJson("/api/jobs/{$job->id}", ['fitted' => 'no lead', 'acknowledge' => 'static'])->assertOk();
        $this->photo($job, $this->picture(80, 60), 'Legs')->assertCreated();
        $this->postJson("/api/jobs/{$job->id}/bench-line", ['line' => 'u14 corroded'])->assertCreated();
        $file = (string) $this->get("/api/jobs/{$job->id}/file")->getContent();
        $photo = $this->getJson("/api/jobs/{$job->id}")->json('job.round.photos.0.sha1');
        StoredFile::query()->delete();

        $id = $this->post('/api/jobs/import', ['file' => UploadedFile::fake()->createWithContent('job.json', $file)])->assertCreated()->json('id');
        $opened = $this->getJson("/api/jobs/{$id}")->assertOk();

        self::assertSame(['no lead', ['static'], $photo], [$opened->json('job.fitted'), $opened->json('job.acknowledged'), $opened->json('job.round.photos.0.sha1')]);
        $this->get("/api/photos/{$photo}")->assertOk();
    }

    public function test_the_record_goes_out_as_markdown_json_and_csv(): void
    {
        $job = $this->newJob();
        foreach (['count 6 x2', '6c00 00>20', 'fit u14 tested cured', 'keys works'] as $line) {
            $this->postJson("/api/jobs/{$job->id}/bench-line", ['line' => $line])->assertCreated();
        }
        $markdown = $this->get("/api/jobs/{$job->id}/record.md")->assertOk();
        self::assertStringContainsString('# Tide gauge', (string) $markdown->getContent());
        self::assertStringContainsString('- U14 (4164) replaced, because', (string) $markdown->getContent());
        self::assertStringContainsString('tide-gauge.record.md', (string) $markdown->headers->get('Content-Disposition'));

        $json = $this->get("/api/jobs/{$job->id}/record.json")->assertOk();
        self::assertSame(['Tide gauge', 'U14', 'Larkspur 64', 'issue 3', 'open'], [$json->json('machine'), $json->json('done.0.site'), $json->json('board'), $json->json('revision'), $json->json('state')]);
        self::assertSame([], array_filter(array_keys((array) $json->json()), static fn (int|string $name): bool => preg_match('/^[a-z][A-Za-z]*$/', (string) $name) !== 1), 'Names are written as everywhere.');

        $lines = explode("\n", trim((string) $this->get("/api/jobs/{$job->id}/log.csv")->assertOk()->getContent()));
        self::assertCount(5, $lines);
        self::assertSame(['1', 'diagnostic-run'], [str_getcsv($lines[1], ',', '"', '')[0], str_getcsv($lines[1], ',', '"', '')[3]]);
    }

    public function test_the_step_that_puts_a_rail_right_says_all_of_what_is_wrong(): void
    {
        $job = $this->newJob();
        $step = $this->record($job, 'rail', ['rail' => '+5', 'site' => 'U3', 'volts' => 4.71])->assertCreated()->json('job.steps.0');

        self::assertStringContainsString('+5 V at U3.16 measures 4.71 V; it needs 4.75 to 5.25 V there. Begin with '.$step['site'], $step['sentence']);
    }

    public function test_a_warmth_is_taken_as_the_figure_alone_and_an_address_is_none(): void
    {
        $job = $this->newJob();
        foreach (['u14 48' => 48, 'u13 39.5c' => 39.5] as $line => $degrees) {
            $last = $this->postJson("/api/jobs/{$job->id}/bench-line", ['line' => $line])->assertCreated()->json('job.round.heat.parts');
            self::assertEqualsWithDelta($degrees - 21.0, end($last)['rise'], 0.01, $line);
        }
        self::assertStringContainsString('not a note', $this->sentences($this->postJson("/api/jobs/{$job->id}/bench-line", ['line' => 'c000 48'])->assertStatus(422))[0]);
    }

    public function test_a_spreadsheet_does_not_take_a_note_for_a_formula(): void
    {
        $job = $this->newJob();
        $this->record($job, 'rail', ['rail' => '+5', 'volts' => 5.0])->assertCreated();
        $row = str_getcsv(explode("\n", (string) $this->get("/api/jobs/{$job->id}/log.csv")->getContent())[1], ',', '"', '');

        self::assertSame("'+5 V rail: 5 V at VR1", $row[4]);
    }

    public function test_search_finds_machine_symptom_chip_and_part_with_what_was_wrong(): void
    {
        $job = $this->newJob();
        $job->update(['machine' => 'Lock keeper', 'symptom' => 'Hums and stays dark']);
        foreach (['count 6 x2', '6c00 00>20', '6c01 ff>ff', 'fit u14 tested cured'] as $line) {
            $this->postJson("/api/jobs/{$job->id}/bench-line", ['line' => $line])->assertCreated();
        }
        $this->newJob('halyard-16');
        $find = fn (string $text): array => $this->getJson('/api/search?q='.urlencode($text))->assertOk()->json('found');

        foreach (['lock', 'stays dark', 'u14', '4164', 'lock 4164', 'larkspur'] as $text) {
            $found = array_column($find($text), 'machine');
            self::assertContains('Lock keeper', $found, $text);
        }
        self::assertSame([['site' => 'U14', 'part' => '4164']], $find('lock')[0]['wrong']);
        self::assertSame([], $find('lock 6502'));
        self::assertSame([], $find(''));
        $this->assertAnswers('SearchResponse', $this->getJson('/api/search?q=lock'));
    }

    public function test_what_earlier_jobs_failed_of_counts_until_it_is_switched_off(): void
    {
        $earlier = $this->newJob();
        foreach (['count 6 x2', '6c00 00>20', '6c01 ff>ff', 'fit u14 tested cured'] as $line) {
            $this->postJson("/api/jobs/{$earlier->id}/bench-line", ['line' => $line])->assertCreated();
        }
        $this->travel(1)->hours();
        $later = $this->newJob();
        $this->postJson("/api/jobs/{$later->id}/bench-line", ['line' => 'count 6'])->assertCreated();
        $share = fn (): float => (float) collect($this->getJson("/api/jobs/{$later->id}")->json('job.suspects'))->firstWhere('site', 'U14')['share'];
        $before = $share();

        $this->patchJson("/api/jobs/{$earlier->id}", ['state' => 'repaired'])->assertOk();
        $suspect = collect($this->getJson("/api/jobs/{$later->id}")->json('job.suspects'))->firstWhere('site', 'U14');
        self::assertGreaterThan($before, $suspect['share']);
        self::assertStringContainsString('U14 failed once on this board before', $suspect['experience']);

        $this->patchJson('/api/workshop', ['learns' => false])->assertOk();
        self::assertSame($before, $share());
    }

    public function test_a_text_that_was_changed_in_another_window_is_not_overwritten(): void
    {
        $job = $this->newJob();
        $this->patchJson("/api/jobs/{$job->id}", ['symptom' => 'Hums', 'seen' => ['symptom' => 'Stops']])->assertOk();
        $refused = $this->patchJson("/api/jobs/{$job->id}", ['symptom' => 'Whistles', 'seen' => ['symptom' => 'Stops']])->assertUnprocessable();

        self::assertStringContainsString('changed in another window meanwhile, to: "Hums"', $this->sentences($refused)[0]);
        self::assertSame('Hums', $job->fresh()?->symptom);
    }

    public function test_the_pulse_tells_that_something_was_recorded(): void
    {
        $job = $this->newJob();
        $before = $this->getJson("/api/jobs/{$job->id}/pulse")->assertOk();
        $this->assertAnswers('PulseResponse', $before);
        $this->travel(2)->seconds();
        $this->postJson("/api/jobs/{$job->id}/bench-line", ['line' => 'count 6'])->assertCreated();
        $after = $this->getJson("/api/jobs/{$job->id}/pulse");

        self::assertGreaterThan($before->json('changedAt'), $after->json('changedAt'));
        self::assertSame(1, $after->json('observations'));
    }

    public function test_a_long_run_is_kept_by_the_server_and_ends_when_it_is_told(): void
    {
        $job = $this->newJob();
        $started = $this->patchJson("/api/jobs/{$job->id}", ['timer' => ['what' => 'memory in a loop', 'minutes' => 60]])->assertOk();
        $this->assertAnswers('JobResponse', $started);
        $this->travel(30)->minutes();

        self::assertSame($started->json('job.timer'), $this->getJson("/api/jobs/{$job->id}")->json('job.timer'), 'It began when it began.');
        self::assertNull($this->patchJson("/api/jobs/{$job->id}", ['timer' => null])->assertOk()->json('job.timer'));
        $this->patchJson("/api/jobs/{$job->id}", ['timer' => ['what' => '', 'minutes' => 0]])->assertUnprocessable();
    }

    public function test_cautions_stand_at_their_step_until_they_were_read(): void
    {
        $job = $this->newJob('tamarisk-two');
        foreach (['count 11 x2', 'swap u33 u34 moved'] as $line) {
            $answer = $this->postJson("/api/jobs/{$job->id}/bench-line", ['line' => $line])->assertCreated();
        }
        self::assertContains('static', array_column($answer->json('job.steps.0.cautions'), 'kind'));
        self::assertSame(['static'], $this->patchJson("/api/jobs/{$job->id}", ['acknowledge' => 'static'])->json('job.acknowledged'));
        self::assertSame(['static'], $this->patchJson("/api/jobs/{$job->id}", ['acknowledge' => 'static'])->json('job.acknowledged'), 'Once is enough.');
        self::assertSame([], $this->getJson("/api/jobs/{$this->newJob()->id}")->json('job.acknowledged'), 'For this job alone.');
    }

    public function test_a_listing_is_made_for_the_machine_of_the_job(): void
    {
        $job = $this->newJob('tamarisk-two');
        $this->assertAnswers('MemoryTestsResponse', $this->getJson('/api/memory-tests')->assertOk());
        $listing = $this->getJson("/api/jobs/{$job->id}/listing?test=march-x&for=z80&from=4000&to=7FFF")->assertOk();
        $this->assertAnswers('ListingResponse', $listing);

        self::assertStringContainsString('LD HL,4000H', $listing->json('listing.text'));
        self::assertSame(0x8000, $listing->json('listing.at'));
        self::assertMatchesRegularExpression('/test itself away/', implode($this->sentences($this->getJson("/api/jobs/{$job->id}/listing?test=march-x&for=z80&from=4000&to=7FFF&at=5000")->assertUnprocessable())));

        $found = $this->record($job, 'memory-test', ['test' => 'march-x', 'language' => 'z80', 'from' => 0x4000, 'to' => 0x7FFF, 'results' => '8000: 08 00 41 00 20 01 41 FF DF'])->assertCreated();
        self::assertSame(2, $found->json('job.memory.failed'));
    }

    public function test_the_part_library_is_told_whole(): void
    {
        $response = $this->getJson('/api/parts')->assertOk();
        $this->assertAnswers('PartsResponse', $response);
        $part = collect($response->json('parts'))->firstWhere('name', '74LS257');

        self::assertSame(['number' => 15, 'name' => 'G', 'activeLow' => true, 'direction' => 'in'], $part['pinList'][14]);
        self::assertSame(0.8, $part['levels']['inputLow']);
    }

    public function test_the_command_prints_a_listing_and_says_every_problem(): void
    {
        [$code, $out] = Artisan::run(['zap:listing', 'march-c-', '--for=6502', '--from=0200', '--to=0x3FFF', '--at=4000', '--format=hex']);
        self::assertSame(0, $code);
        self::assertMatchesRegularExpression('/^:10400000A9008D/', $out);

        [$code, $out, $err] = Artisan::run(['zap:listing', 'march-q', '--for=pdp', '--from=zz']);
        self::assertSame([2, ''], [$code, $out]);
        self::assertCount(4, explode("\n", trim($err)));
    }

    public function test_the_drawers_are_asked_for_what_the_board_needs(): void
    {
        $this->patchJson('/api/workshop', ['stock' => [['part' => '41256', 'count' => 3, 'drawer' => 'drawer 2', 'nanoseconds' => 150]]])->assertOk();
        $job = $this->newJob();
        $stock = $this->getJson("/api/jobs/{$job->id}/stock")->assertOk();
        $this->assertAnswers('StockResponse', $stock);
        $match = collect($stock->json('for'))->firstWhere('part', '4164')['matches'][0];

        self::assertSame(['41256', true], [$match['part'], $match['works']]);
        self::assertStringContainsString('200 ns or better', $match['but']);
    }

    public function test_the_demo_puts_eight_jobs_on_the_bench_each_of_another_kind(): void
    {
        $this->artisan('zap:demo');
        $jobs = Job::query()->get();

        self::assertCount(8, $jobs);
        self::assertCount(8, $jobs->unique('machine'));
        self::assertGreaterThanOrEqual(4, $jobs->unique('state')->count());
        foreach ($jobs as $job) {
            $this->assertAnswers('JobResponse', $this->getJson("/api/jobs/{$job->id}")->assertOk());
        }
        $three = $jobs->firstWhere('machine', 'Harbour scales');
        $cured = array_column($this->getJson("/api/jobs/{$three?->id}")->json('job.cured'), 'site');
        self::assertSame([], array_diff(['C1', 'U2', 'U13'], $cured), 'Three faults.');
    }

    private function photo(Job $job, UploadedFile $file, string $caption): TestResponse
    {
        return $this->post("/api/jobs/{$job->id}/photos", ['file' => $file, 'caption' => $caption], ['Accept' => 'application/json']);
    }

    private function picture(int $width, int $height, string $secret = ''): UploadedFile
    {
        $image = imagecreatetruecolor(max(1, $width), max(1, $height));
        ob_start();
        imagejpeg($image);
        $bytes = (string) ob_get_clean();
        // An APP1 segment, as cameras write their notes of where and when.
        $note = "Exif\0\0{$secret}";
        $bytes = substr($bytes, 0, 2)."\xFF\xE1".pack('n', strlen($note) + 2).$note.substr($bytes, 2);

        return UploadedFile::fake()->createWithContent('photo.jpg', $bytes);
    }
}
