<?php

declare(strict_types=1);

namespace Tests\App;

use App\Http\Middleware\SameOriginWrites;
use App\Models\Job;
use Illuminate\Contracts\Console\Kernel;
use Illuminate\Foundation\Application;
use Illuminate\Foundation\Testing\RefreshDatabase;
use Illuminate\Foundation\Testing\TestCase as LaravelTestCase;
use Illuminate\Testing\TestResponse;
use Opis\JsonSchema\Validator;

abstract class TestCase extends LaravelTestCase
{
    use RefreshDatabase;

    /** Console output is not mocked: that would want a package for it. */
    public $mockConsoleOutput = false;

    public function createApplication(): Application
    {
        $app = require dirname(__DIR__, 2).'/bootstrap/app.php';
        $app->make(Kernel::class)->bootstrap();

        return $app;
    }

    protected function setUp(): void
    {
        parent::setUp();
        self::assertSame(':memory:', config('database.connections.sqlite.database'), 'Tests never touch the bench that is served.');
        $this->withHeader(SameOriginWrites::HEADER, '1');
        $this->withServerVariables(['HTTP_HOST' => '127.0.0.1']);
        config(['app.url' => 'http://127.0.0.1']);
        url()->forceRootUrl('http://127.0.0.1');
    }

    protected function newJob(string $board = 'larkspur-64', int $radix = 16): Job
    {
        return Job::query()->create(['machine' => 'Tide gauge', 'board_slug' => $board, 'symptom' => 'Stops', 'state' => 'open', 'radix' => $radix]);
    }

    /**
     * @param  array<string, mixed>  $payload
     */
    protected function record(Job $job, string $kind, array $payload): TestResponse
    {
        return $this->postJson("api/jobs/{$job->id}/observations", ['kind' => $kind, 'payload' => $payload]);
    }

    protected function readings(Job $job, string $text): TestResponse
    {
        return $this->record($job, 'memory-readings', ['text' => $text, 'radix' => 16]);
    }

    /** The answer is what the API's schema says. */
    protected function assertAnswers(string $definition, TestResponse $response): void
    {
        $schema = json_decode((string) file_get_contents(resource_path('schemas/api.schema.json')), false);
        $schema->{'$ref'} = "#/\$defs/{$definition}";
        unset($schema->properties, $schema->additionalProperties, $schema->{'$id'}, $schema->type);
        $error = (new Validator)->validate(json_decode((string) $response->getContent(), false), $schema)->error();
        self::assertNull($error, $error === null ? '' : json_encode($error->args()).' at '.json_encode((new \Opis\JsonSchema\Errors\ErrorFormatter)->format($error)));
    }

    /**
     * @return list<string>
     */
    protected function sentences(TestResponse $response): array
    {
        return array_column($response->json('problems') ?? [], 'sentence');
    }
}
