<?php

declare(strict_types=1);

namespace Tests\App;

use App\Bench\Practice;
use App\Jobs\CompareWithAdvice;
use App\Models\PracticeRun;
use Illuminate\Support\Facades\Queue;

final class PracticeTest extends TestCase
{
    private function begin(int $seed = 2, int $difficulty = 1): string
    {
        $answer = $this->postJson('api/practice', ['board' => 'larkspur-64', 'difficulty' => $difficulty, 'seed' => $seed])->assertCreated();
        $id = $answer->json('job.id');
        assert(is_string($id));

        return $id;
    }

    public function test_a_dead_machine_answers_to_its_instruments_and_keeps_its_secret(): void
    {
        $id = $this->begin();
        $job = $this->postJson("api/jobs/{$id}/practice/take", ['instrument' => 'watch'])->assertOk();
        $this->assertAnswers('JobResponse', $job);
        $this->postJson("api/jobs/{$id}/practice/take", ['instrument' => 'run', 'diagnostic' => 'test-rom'])->assertOk();
        $this->postJson("api/jobs/{$id}/practice/take", ['instrument' => 'walk', 'chip' => 'U18', 'situation' => 'free-run'])->assertOk();
        $job = $this->postJson("api/jobs/{$id}/practice/take", ['instrument' => 'continuity', 'from' => 'U5.4', 'to' => 'U9.5'])->assertOk();

        $job = $this->postJson("api/jobs/{$id}/practice/take", ['instrument' => 'pins', 'chip' => 'U18'])->assertOk();

        self::assertSame(['sign', 'diagnostic-run', 'pin-walk', 'continuity', 'pins-measured'], array_column($job->json('job.log'), 'kind'));
        self::assertSame(5, $job->json('job.practice.steps'));
        self::assertNull($job->json('job.practice.result'));
        $run = PracticeRun::query()->where('job_id', $id)->firstOrFail();
        foreach (['', '/file', '/record.json', '/history'] as $path) {
            self::assertStringNotContainsString('"kind":"'.json_decode($run->faults, true)[0]['kind'].'"', (string) $this->get("api/jobs/{$id}{$path}")->getContent());
        }
    }

    public function test_the_analyser_records_the_dead_machine_and_a_good_one(): void
    {
        $other = $this->begin(3);
        $this->postJson("api/jobs/{$other}/practice/capture", ['role' => 'good'])->assertCreated();
        $theirs = $this->getJson("api/jobs/{$other}/bus")->json('bus.captures.0.id');
        $id = $this->begin();
        $run = PracticeRun::query()->where('job_id', $id)->firstOrFail();
        $run->faults = (string) json_encode([['kind' => 'bad-contact', 'at' => 'U2.20', 'detail' => '', 'rate' => 1.0]]);
        $run->save();
        $this->assertAnswers('JobResponse', $this->postJson("api/jobs/{$id}/practice/capture", ['role' => 'good'])->assertCreated());
        $job = $this->postJson("api/jobs/{$id}/practice/capture", ['role' => 'sick'])->assertCreated();
        self::assertSame([2, 16], [$job->json('job.practice.steps'), $job->json('job.practice.minutes')]);

        $bus = $this->getJson("api/jobs/{$id}/bus")->assertOk();
        $this->assertAnswers('BusResponse', $bus);
        self::assertSame([['simulated good machine 1', 'good', 'decoded'], ['simulated start 1', 'sick', 'decoded']], array_map(static fn (array $each): array => [$each['name'], $each['role'], $each['state']], $bus->json('bus.captures')));
        [$good, $sick] = array_column($bus->json('bus.captures'), 'id');
        self::assertSame([$good, $theirs], array_column($bus->json('bus.against'), 'id'), 'Its own good one comes first.');
        $ladder = $this->getJson("api/captures/{$sick}/ladder?against={$good}")->assertOk();
        self::assertLessThan(16, $ladder->json('ladder.distance'), 'The ROM that does not touch is met at the reset vector.');
        $file = $this->get("api/captures/{$sick}/file")->assertOk();
        self::assertStringContainsString('simulated-start-1.vcd', (string) $file->headers->get('Content-Disposition'));
        self::assertStringStartsWith('$', (string) file_get_contents($file->baseResponse->getFile()->getPathname()));

        // What was done to the machine is done to what is recorded.
        $this->postJson("api/jobs/{$id}/practice/take", ['instrument' => 'reseat', 'site' => 'u2'])->assertOk();
        $this->postJson("api/jobs/{$id}/practice/capture", ['role' => 'sick'])->assertCreated();
        $again = last(array_column($this->getJson("api/jobs/{$id}/bus")->json('bus.captures'), 'id'));
        self::assertNull($this->getJson("api/captures/{$again}/ladder?against={$good}")->json('ladder.divergence'));
    }

    public function test_a_real_job_has_no_simulated_analyser(): void
    {
        $real = $this->postJson('api/jobs', ['machine' => 'Real', 'board' => 'larkspur-64', 'symptom' => 'Dead.'])->json('job.id');
        self::assertStringContainsString('real job', $this->postJson("api/jobs/{$real}/practice/capture")->assertUnprocessable()->json('problems.0.sentence'));
        self::assertSame([], $this->getJson("api/jobs/{$real}/bus")->json('bus.captures'));
    }

    public function test_it_ends_with_what_was_wrong_and_how_the_advice_does(): void
    {
        $id = $this->begin();
        $run = PracticeRun::query()->where('job_id', $id)->firstOrFail();
        $run->faults = (string) json_encode([['kind' => 'reads-high', 'at' => 'U14', 'detail' => '', 'rate' => 1.0]]);
        $run->save();
        $this->postJson("api/jobs/{$id}/practice/take", ['instrument' => 'replace', 'site' => 'U13'])->assertOk();
        $job = $this->postJson("api/jobs/{$id}/practice/take", ['instrument' => 'replace', 'site' => 'u14'])->assertOk();
        self::assertStringContainsString('cured', last($job->json('job.log'))['title']);
        $ended = $this->postJson("api/jobs/{$id}/practice/finish")->assertOk();
        $this->assertAnswers('JobResponse', $ended);

        self::assertSame([['U14: reads ones'], [], 1], [$ended->json('job.practice.result.faults'), $ended->json('job.practice.result.left'), $ended->json('job.practice.result.goodSoldered')]);
        self::assertSame([1, 0], [$ended->json('job.practice.result.goodSoldered'), $ended->json('job.practice.result.advice.goodPulled')]);
        $told = $ended->json('job.practice.result.advice.told');
        self::assertCount($ended->json('job.practice.result.advice.steps'), $told);
        self::assertContains('replace U14 cured', $told, 'It works on the same faults.');
        self::assertStringContainsString('finished', $this->postJson("api/jobs/{$id}/practice/take", ['instrument' => 'watch'])->assertUnprocessable()->json('problems.0.sentence'));
        $list = $this->getJson('api/practice')->assertOk();
        $this->assertAnswers('PracticeResponse', $list);
        self::assertSame(['Halyard 16', 'Larkspur 64', 'Tamarisk Two'], array_column($list->json('boards'), 'name'));
    }

    public function test_step_by_step_as_it_is_advised_it_comes_to_a_proof(): void
    {
        $id = $this->begin();
        $run = PracticeRun::query()->where('job_id', $id)->firstOrFail();
        $run->faults = (string) json_encode([['kind' => 'reads-high', 'at' => 'U14', 'detail' => '', 'rate' => 1.0], ['kind' => 'bad-contact', 'at' => 'U2.20', 'detail' => '', 'rate' => 1.0]]);
        $run->save();
        $job = $this->getJson("api/jobs/{$id}")->json('job');
        $taken = [];
        for ($step = 0; $step < 40 && ! $job['round']['proof']['proved']; $step++) {
            $next = $job['steps'][0];
            $taken[] = trim("{$next['action']} {$next['site']}");
            $answer = $this->postJson("api/jobs/{$id}/practice/step", ['action' => $next['action'], 'site' => $next['site'], 'sentence' => $next['sentence']])->assertOk();
            $job = $answer->json('job');
        }
        $this->assertAnswers('JobResponse', $answer ?? self::fail('Nothing was advised.'));

        self::assertTrue($job['round']['proof']['proved'], implode(', ', $taken));
        foreach (['look-over', 'read bank 0', 'replace U14', 'pins U14', 'prove'] as $key) {
            self::assertContains($key, $taken);
        }
        // Nothing comes out but the bad chip; the leg that does not touch is cured in its socket before a wire is laid past it.
        self::assertSame(['replace U14'], array_values(preg_grep('/^(replace|exchange|wire|fix) /', $taken) ?: []), implode(', ', $taken));
        self::assertContains('reseat U2', $taken);

        // Who did all that was advised is told that the advice alone does the same, with the same instruments.
        $practice = $this->postJson("api/jobs/{$id}/practice/finish")->assertOk()->json('job.practice');
        self::assertSame([], $practice['result']['left']);
        self::assertSame([count($taken), round($practice['minutes'])], [$practice['result']['advice']['steps'], (float) $practice['result']['advice']['minutes']], implode("\n", [...$taken, '', ...$practice['result']['advice']['told']]));
    }

    public function test_how_the_advice_does_is_worked_out_beside_and_what_was_wrong_told_at_once(): void
    {
        Queue::fake();
        $id = $this->begin();
        $ended = $this->postJson("api/jobs/{$id}/practice/finish")->assertOk();
        $this->assertAnswers('JobResponse', $ended);
        Queue::assertPushed(CompareWithAdvice::class, 1);
        self::assertSame([true, null, 1], [$ended->json('job.practice.result.comparing'), $ended->json('job.practice.result.advice'), count($ended->json('job.practice.result.faults'))]);
        $this->postJson("api/jobs/{$id}/practice/finish")->assertOk();
        Queue::assertPushed(CompareWithAdvice::class, 1);

        // It broke off: what was told stays, and nobody waits.
        $run = PracticeRun::query()->where('job_id', $id)->firstOrFail();
        (new CompareWithAdvice($run->id))->failed(null);
        $after = $this->getJson("api/jobs/{$id}")->assertOk();
        $this->assertAnswers('JobResponse', $after);
        self::assertSame([false, null, $ended->json('job.practice.result.faults')], [$after->json('job.practice.result.comparing'), $after->json('job.practice.result.advice'), $after->json('job.practice.result.faults')]);
        self::assertGreaterThan($ended->json('job.changedAt'), $after->json('job.changedAt'), 'Who looks at it hears of it.');

        (new CompareWithAdvice('no-such'))->handle(app(Practice::class));
        (new CompareWithAdvice('no-such'))->failed(null);
        (new CompareWithAdvice($run->id))->handle(app(Practice::class));
        self::assertTrue($this->getJson("api/jobs/{$id}")->json('job.practice.result.advice.revived'));
    }

    public function test_what_comes_and_goes_is_kept_on_between_instruments_while_it_shows(): void
    {
        $id = $this->begin();
        $run = PracticeRun::query()->where('job_id', $id)->firstOrFail();
        $run->faults = (string) json_encode([['kind' => 'holds-low', 'at' => 'U30.13', 'detail' => '', 'rate' => 0.5]]);
        $run->save();
        $take = fn (string $instrument, array $with = []) => $this->postJson("api/jobs/{$id}/practice/take", ['instrument' => $instrument, ...$with])->assertOk()->json('job');
        do {
            $job = $take('power-ons');
        } while ($job['practice']['failingIn'] === null);
        self::assertSame('running', $job['practice']['failingIn']);
        for ($time = 0; $time < 6; $time++) {
            $job = $take('probe', ['pin' => 'U30.13', 'situation' => 'running']);
            self::assertStringNotContainsString('pulsing', last($job['log'])['title']);
        }
        $this->assertAnswers('JobResponse', $this->getJson("api/jobs/{$id}"));

        // A good look after a new start: drawn anew each time, it is gone sooner or later.
        $seen = [];
        for ($time = 0; $time < 8; $time++) {
            $seen[] = preg_match('/cured|works/', last($take('try')['log'])['title']);
        }
        self::assertEqualsCanonicalizing([0, 1], array_unique($seen));
        self::assertNull($this->getJson("api/jobs/{$id}")->json('job.practice.failingIn'));
    }

    public function test_a_run_that_was_finished_before_steps_were_kept_is_shown(): void
    {
        $id = $this->begin();
        $run = PracticeRun::query()->where('job_id', $id)->firstOrFail();
        $run->result = (string) json_encode(['faults' => ['U14: reads ones'], 'left' => [], 'goodSoldered' => 0, 'goodPulled' => 0, 'advice' => ['revived' => true, 'steps' => 9, 'minutes' => 61.0, 'goodSoldered' => 0]]);
        $run->save();
        $job = $this->getJson("api/jobs/{$id}")->assertOk();
        $this->assertAnswers('JobResponse', $job);

        self::assertSame([9, [], null], [$job->json('job.practice.result.advice.steps'), $job->json('job.practice.result.advice.told'), $job->json('job.practice.result.advice.goodPulled')]);
    }

    public function test_of_several_steps_at_one_place_the_one_that_was_read_is_taken(): void
    {
        $id = $this->begin();
        $next = $this->getJson("api/jobs/{$id}")->json('job.steps.0');
        $step = ['action' => $next['action'], 'site' => $next['site']];

        // Of one place several things may be asked; what reads otherwise is another step.
        $this->postJson("api/jobs/{$id}/practice/step", [...$step, 'sentence' => "{$next['sentence']} Then again."])->assertUnprocessable();
        self::assertSame(0, PracticeRun::query()->where('job_id', $id)->firstOrFail()->steps);
        $this->postJson("api/jobs/{$id}/practice/step", [...$step, 'sentence' => $next['sentence']])->assertOk();
        self::assertSame(1, PracticeRun::query()->where('job_id', $id)->firstOrFail()->steps);
    }

    public function test_a_step_that_is_not_advised_is_not_taken(): void
    {
        $id = $this->begin();
        $refused = $this->postJson("api/jobs/{$id}/practice/step", ['action' => 'replace', 'site' => 'U14', 'sentence' => ''])->assertUnprocessable();

        self::assertStringContainsString('not advised any more', (string) $refused->json('problems.0.sentence'));
        self::assertSame(0, PracticeRun::query()->where('job_id', $id)->firstOrFail()->steps);
    }

    public function test_a_machine_can_be_let_run_until_it_is_warm_and_a_chip_cooled(): void
    {
        $id = $this->begin();
        $run = PracticeRun::query()->where('job_id', $id)->firstOrFail();
        $run->faults = (string) json_encode([['kind' => 'reads-high', 'at' => 'U14', 'detail' => '', 'rate' => 1.0, 'whenWarm' => true]]);
        $run->save();
        $looked = $this->postJson("api/jobs/{$id}/practice/take", ['instrument' => 'look-over'])->assertOk();
        self::assertStringContainsString('nothing wrong', $looked->json('job.log.0.title'));
        foreach ([['try'], ['warm-up'], ['try'], ['cool', 'U13'], ['cool', 'U14'], ['let-cool'], ['try'], ['warm', 'U14']] as $step) {
            $job = $this->postJson("api/jobs/{$id}/practice/take", ['instrument' => $step[0], 'site' => $step[1] ?? ''])->assertOk();
        }
        $this->assertAnswers('JobResponse', $job);

        self::assertSame(['', 'cured', 'Now', '', '', 'cured', 'Now', 'cured', ''], array_map(static fn (array $entry): string => preg_match('/^Now|cured$|works$/', $entry['title'], $found) === 1 ? $found[0] : '', $job->json('job.log')));
        $this->postJson("api/jobs/{$id}/practice/take", ['instrument' => 'cool', 'site' => 'MA3'])->assertUnprocessable();
    }

    public function test_a_line_that_an_input_pulls_is_measured_along(): void
    {
        $id = $this->begin();
        $run = PracticeRun::query()->where('job_id', $id)->firstOrFail();
        $run->faults = (string) json_encode([['kind' => 'holds-low', 'at' => 'U5.2', 'detail' => '', 'rate' => 1.0]]);
        $run->save();
        $measured = $this->postJson("api/jobs/{$id}/practice/take", ['instrument' => 'drop', 'pin' => 'u30.4'])->assertOk();
        $this->assertAnswers('JobResponse', $measured);

        self::assertSame('VA0 measured to the millivolt: U5.2 pulls it', last($measured->json('job.log'))['title']);
        self::assertSame('U5', $measured->json('job.suspects.0.site'));
        self::assertSame('wrong', $measured->json('job.round.marks.traces'));
        self::assertSame('pin', $this->postJson("api/jobs/{$id}/practice/take", ['instrument' => 'drop', 'pin' => 'U30.16'])->assertUnprocessable()->json('problems.0.place'), 'A supply pin.');
        self::assertCount(1, $this->getJson("api/jobs/{$id}")->json('job.log'));
    }

    public function test_what_is_not_on_the_bench_is_refused_and_nothing_is_noted(): void
    {
        $id = $this->begin();
        foreach ([['instrument' => 'crystal ball'], ['instrument' => 'probe', 'pin' => 'U9'], ['instrument' => 'rail', 'rail' => '+99'], ['instrument' => 'set', 'site' => 'LK1', 'position' => 'sideways'], ['instrument' => 'read', 'address' => 'zz']] as $wrong) {
            $this->postJson("api/jobs/{$id}/practice/take", $wrong)->assertUnprocessable();
        }
        self::assertSame([[], 0], [$this->getJson("api/jobs/{$id}")->json('job.log'), PracticeRun::query()->where('job_id', $id)->firstOrFail()->steps]);
        $real = $this->newJob();
        self::assertStringContainsString('real job', $this->postJson("api/jobs/{$real->id}/practice/take", ['instrument' => 'watch'])->assertUnprocessable()->json('problems.0.sentence'));
        $this->postJson('api/practice', ['board' => 'no-such', 'difficulty' => 9, 'seed' => 0])->assertUnprocessable();
    }
}
