<?php

declare(strict_types=1);

namespace Tests\App;

use Tests\Support\Artisan;

final class AssessCommandTest extends TestCase
{
    public function test_an_exported_job_gives_suspects_diagnoses_and_the_next_step(): void
    {
        $job = $this->newJob();
        $entry = $this->readings($job, "6C00 00 20\n6C01 0F 2F\n7000 00 20")->json('job.log.0.id');
        $shown = $this->record($job, 'intervention', ['action' => 'piggyback', 'site' => 'u14', 'result' => 'as-before'])->assertCreated();
        [$code, $out, $err] = Artisan::run(['zap:assess', '-', '--json'], (string) $this->get("api/jobs/{$job->id}/file")->getContent());
        $answer = json_decode($out, true, 32, JSON_THROW_ON_ERROR);

        self::assertSame([0, ''], [$code, $err]);
        self::assertSame('U14', $answer['suspects'][0]['site']);
        self::assertEqualsWithDelta($shown->json('job.suspects.0.share'), $answer['suspects'][0]['share'], 1e-6);
        self::assertSame(['observation', 'decibans', 'text'], array_keys($answer['suspects'][0]['because'][0]));
        self::assertContains($shown->json('job.log.1.id'), array_column($answer['suspects'][0]['because'], 'observation'));
        self::assertSame(['site' => 'U14', 'mode' => 'output stuck high'], $answer['diagnoses'][0]['faults'][0]);
        self::assertSame(['action', 'site', 'tells', 'minutes', 'risk', 'bits'], array_keys($answer['next']));
        self::assertNotSame('', $entry);
    }

    public function test_a_bad_job_file_ends_with_2(): void
    {
        foreach (['' => 'empty', '{"format":"zap-trace-job/1"}' => 'Missing'] as $content => $says) {
            [$code, $out, $err] = Artisan::run(['zap:assess', '-', '--json'], $content);
            self::assertSame([2, ''], [$code, $out]);
            self::assertStringContainsString($says, $err);
        }
    }
}
