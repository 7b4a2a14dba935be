<?php

declare(strict_types=1);

namespace Tests\App;

final class SignalApiTest extends TestCase
{
    public function test_a_chip_comes_with_what_each_pin_should_show_and_how_that_is_known(): void
    {
        $job = $this->newJob();
        $answer = $this->getJson("api/jobs/{$job->id}/signals?situation=free-run&chip=U5&net=MA0")->assertOk();
        $this->assertAnswers('SignalsResponse', $answer);
        $pins = array_column($answer->json('signals.chip.pins'), null, 'number');

        self::assertSame(['pulsing', 'simulation', 'MA0'], [$pins[4]['expected'], $pins[4]['by'], $pins[4]['net']]);
        self::assertSame(['high', 'profile'], [$pins[16]['expected'], $pins[16]['by']]);
        self::assertSame('MA0', $answer->json('signals.path.net'));
        self::assertSame('U5', last($answer->json('signals.path.stages'))['chip']);
        self::assertNotEmpty($answer->json('signals.clocks'));
    }

    public function test_the_trace_that_is_suspected_most_is_followed_without_being_asked_for(): void
    {
        $job = $this->newJob();
        self::assertNull($this->getJson("api/jobs/{$job->id}/signals?chip=U9")->json('signals.path'));
        foreach (['u13.5' => 'silent', 'u14.5' => 'silent', 'u9.5' => 'pulsing', 'u5.4' => 'pulsing'] as $pin => $state) {
            $this->postJson("api/jobs/{$job->id}/observations", ['kind' => 'probe', 'payload' => ['pin' => $pin, 'situation' => 'free-run', 'state' => $state]])->assertCreated();
        }
        self::assertSame('MA0', $this->getJson("api/jobs/{$job->id}/signals?chip=U9")->json('signals.path.net'));
        self::assertSame('A5', $this->getJson("api/jobs/{$job->id}/signals?chip=U9&net=A5")->json('signals.path.net'));
    }

    public function test_a_reading_is_kept_with_what_it_should_have_been(): void
    {
        $job = $this->newJob();
        self::assertSame('running', $this->getJson("api/jobs/{$job->id}/signals?chip=U9")->json('signals.situation'), 'nothing was probed yet');
        $this->postJson("api/jobs/{$job->id}/observations", ['kind' => 'probe', 'payload' => ['pin' => 'u9.2', 'situation' => 'reset', 'state' => 'low']])->assertCreated();
        self::assertSame('reset', $this->getJson("api/jobs/{$job->id}/signals?chip=U9&situation=")->json('signals.situation'), 'as it was probed last');
        $this->postJson("api/jobs/{$job->id}/observations", ['kind' => 'probe', 'payload' => ['pin' => 'u9./ras', 'situation' => 'running', 'state' => 'silent']])->assertCreated();
        $entry = last($this->getJson("api/jobs/{$job->id}")->json('job.log'));

        self::assertSame('U9.4 (/RAS) silent, running its ROM', $entry['title']);
        self::assertSame(['It should be pulsing.'], $entry['notes']);
        $pins = array_column($this->getJson("api/jobs/{$job->id}/signals?situation=running&chip=U9")->json('signals.chip.pins'), null, 'number');
        self::assertSame(['silent', false], [$pins[4]['seen'], $pins[4]['right']]);
    }

    public function test_a_walk_is_kept_with_the_pins_that_should_move(): void
    {
        $job = $this->newJob();
        $this->postJson("api/jobs/{$job->id}/observations", ['kind' => 'pin-walk', 'payload' => ['chip' => 'U18', 'situation' => 'running']])->assertCreated();
        $kept = json_decode((string) $job->observations()->latest('sequence')->value('payload'), true);

        self::assertContains('U18.6', $kept['pulsing'] ?? []);
        self::assertNotContains('U18.14', $kept['pulsing'] ?? [], 'Its supply stands still.');
        self::assertSame([], array_intersect($kept['pulsing'], $kept['unknown']));
    }

    public function test_the_pins_of_a_place_are_measured_in_one_go(): void
    {
        $job = $this->newJob();
        $this->postJson("api/jobs/{$job->id}/observations", ['kind' => 'intervention', 'payload' => ['action' => 'replace', 'site' => 'U14', 'result' => 'as-before']])->assertCreated();
        $answer = $this->getJson("api/jobs/{$job->id}")->json('job');
        self::assertSame(['U14'], $answer['round']['proof']['unmeasured']);
        self::assertContains('The pins of U14 were not measured after it was unsoldered.', $answer['round']['record']['remains']);
        self::assertSame(['pins', 'U14', 'Power off.'], [$answer['steps'][0]['action'], $answer['steps'][0]['site'], $answer['steps'][0]['caution']]);

        $answer = $this->postJson("api/jobs/{$job->id}/observations", ['kind' => 'pins-measured', 'payload' => ['chip' => 'U14', 'open' => ['u14.14']]])->assertCreated();
        $this->assertAnswers('JobResponse', $answer);
        self::assertSame('Pins of U14 measured: U14.14 open', last($answer->json('job.log'))['title']);
        self::assertSame([], $answer->json('job.round.proof.unmeasured'));
        self::assertFalse($answer->json('job.round.proof.proved'));
        self::assertSame(['U14.14'], array_column($answer->json('job.round.proof.open'), 'pin'));
        self::assertContains('U14.14 is not connected to '.$answer->json('job.round.proof.open.0.to').'.', $answer->json('job.round.record.remains'));
        self::assertStringContainsString('Fit a wire from U14.14 to ', $answer->json('job.steps.0.sentence'));
    }

    public function test_pins_that_are_not_of_the_place_are_refused_all_at_once(): void
    {
        $job = $this->newJob();
        $refused = $this->postJson("api/jobs/{$job->id}/observations", ['kind' => 'pins-measured', 'payload' => ['chip' => 'U14', 'open' => ['U15.1', 'U14.99']]])->assertUnprocessable();

        self::assertCount(2, $refused->json('problems'));
        self::assertStringContainsString('U15.1 is not a pin of U14.', (string) $refused->getContent());
        $this->postJson("api/jobs/{$job->id}/observations", ['kind' => 'pins-measured', 'payload' => ['chip' => 'U14']])->assertUnprocessable();
        self::assertSame(0, $job->observations()->count());
    }

    public function test_a_line_unlike_its_neighbours_is_wrong(): void
    {
        $job = $this->newJob();
        $this->postJson("api/jobs/{$job->id}/observations", ['kind' => 'probe', 'payload' => ['pin' => 'U14.14', 'situation' => 'running', 'differs' => true]])->assertCreated();
        $answer = $this->getJson("api/jobs/{$job->id}")->json('job');

        self::assertSame('U14.14 (DO) unlike its neighbours, running its ROM', last($answer['log'])['title']);
        self::assertSame(['It should be like the lines beside it.'], last($answer['log'])['notes']);
        self::assertContains('U14', array_column($answer['suspects'], 'site'));
    }

    public function test_the_bench_line_takes_a_pin(): void
    {
        $job = $this->newJob();
        $this->postJson("api/jobs/{$job->id}/bench-line", ['line' => 'u18.6 pulsing'])->assertCreated();

        self::assertSame('U18.6 (/1Q) pulsing, running its ROM', last($this->getJson("api/jobs/{$job->id}")->json('job.log'))['title']);
    }

    public function test_a_select_check_and_its_refusals(): void
    {
        $job = $this->newJob();
        $answer = $this->getJson("api/jobs/{$job->id}/signals/select?chip=U2&address=E000")->assertOk();
        $this->assertAnswers('SelectResponse', $answer);

        self::assertTrue($answer->json('select.reached'));
        self::assertSame('There is no U99 on Larkspur 64.', $this->getJson("api/jobs/{$job->id}/signals/select?chip=U99&address=E000")->assertUnprocessable()->json('problems.0.sentence'));
        self::assertStringStartsWith('Address:', $this->getJson("api/jobs/{$job->id}/signals/select?chip=U2&address=zz")->assertUnprocessable()->json('problems.0.sentence'));
    }

    public function test_a_pin_and_a_net_that_are_not_there_are_refused(): void
    {
        $job = $this->newJob();

        self::assertSame('U9 is a 4164 and has no pin 40; its pins are 1 to 16.', $this->postJson("api/jobs/{$job->id}/observations", ['kind' => 'probe', 'payload' => ['pin' => 'U9.40', 'state' => 'high']])->assertUnprocessable()->json('problems.0.sentence'));
        self::assertSame('Larkspur 64 has no net "Q7".', $this->getJson("api/jobs/{$job->id}/signals?net=Q7")->assertUnprocessable()->json('problems.0.sentence'));
        self::assertStringContainsString('A situation is', $this->getJson("api/jobs/{$job->id}/signals?situation=upside-down")->assertUnprocessable()->json('problems.0.sentence'));
        self::assertSame([], $this->getJson("api/jobs/{$job->id}")->json('job.log'));
    }
}
