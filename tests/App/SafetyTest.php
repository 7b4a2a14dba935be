<?php

declare(strict_types=1);

namespace Tests\App;

use App\Http\Middleware\SameOriginWrites;
use App\Models\Job;

final class SafetyTest extends TestCase
{
    public function test_every_answer_carries_the_security_headers(): void
    {
        foreach (['/', '/api/jobs', '/api/nowhere', '/up'] as $path) {
            $response = $this->get($path);
            self::assertStringContainsString("default-src 'none'; script-src 'self'", (string) $response->headers->get('Content-Security-Policy'), $path);
            self::assertStringNotContainsString('unsafe-eval', (string) $response->headers->get('Content-Security-Policy'));
            self::assertSame('nosniff', $response->headers->get('X-Content-Type-Options'));
            self::assertSame('DENY', $response->headers->get('X-Frame-Options'));
            self::assertSame([], $response->headers->getCookies());
        }
    }

    public function test_a_write_from_another_site_is_refused(): void
    {
        $body = ['machine' => 'x', 'board' => 'larkspur-64'];
        $this->withHeader('Origin', 'http://elsewhere.example')->postJson('/api/jobs', $body)->assertForbidden();
        $this->flushHeaders()->withHeader(SameOriginWrites::HEADER, '1')->withHeader('Sec-Fetch-Site', 'cross-site')->postJson('/api/jobs', $body)->assertForbidden();
        $this->flushHeaders()->postJson('/api/jobs', $body)->assertForbidden();
        self::assertSame(0, Job::query()->count());

        $this->flushHeaders()->withHeaders([SameOriginWrites::HEADER => '1', 'Origin' => 'http://127.0.0.1', 'Sec-Fetch-Site' => 'same-origin'])->postJson('/api/jobs', $body)->assertCreated();
    }

    public function test_it_answers_under_its_own_names_only(): void
    {
        url()->forceRootUrl('http://elsewhere.example');
        $this->get('http://elsewhere.example/api/jobs')->assertForbidden();
    }

    public function test_a_failure_inside_shows_a_sentence_and_no_trace(): void
    {
        Job::query()->create(['machine' => 'x', 'board_slug' => 'larkspur-64', 'symptom' => '', 'state' => 'open', 'radix' => 3]);
        $response = $this->getJson('/api/jobs');

        self::assertSame(500, $response->status());
        self::assertStringContainsString('Something went wrong inside Zap Trace', (string) $response->getContent());
        self::assertStringNotContainsString('.php', (string) $response->getContent());
    }

    public function test_up_tells_whether_it_is_healthy(): void
    {
        $this->get('/up')->assertOk()->assertExactJson(['healthy' => true]);
        Job::query()->getConnection()->getSchemaBuilder()->drop('observations');
        Job::query()->getConnection()->getSchemaBuilder()->drop('repair_jobs');
        $this->get('/up')->assertStatus(503);
    }

    public function test_every_page_address_gives_the_page(): void
    {
        foreach (['/', '/jobs/abc/memory', '/boards/x'] as $path) {
            $this->get($path)->assertOk()->assertSee('<div id="bench"></div>', false);
        }
    }
}
