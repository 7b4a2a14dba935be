<?php

declare(strict_types=1);

namespace Tests\Browser;

use PHPUnit\Framework\TestCase;

/**
 * What a person runs: bin/start, with a database of its own.
 */
final class StartTest extends TestCase
{
    private string $database;

    protected function setUp(): void
    {
        $this->database = sys_get_temp_dir().'/zap-start-'.bin2hex(random_bytes(6)).'.sqlite';
    }

    protected function tearDown(): void
    {
        array_map(unlink(...), glob($this->database.'*') ?: []);
    }

    public function test_it_sets_up_serves_the_demo_keeps_what_was_recorded_and_says_when_its_port_is_taken(): void
    {
        $port = $this->freePort();
        [$server, $output] = $this->start('--port', (string) $port);
        $this->waitFor($port, $output);
        self::assertStringContainsString("http://127.0.0.1:{$port}", (string) file_get_contents($output));
        $jobs = $this->jobs($port);
        self::assertCount(8, $jobs);

        [$second, $complaint] = $this->start('--port', (string) $port);
        self::assertSame(1, $this->end($second));
        self::assertStringContainsString("Port {$port} is taken", (string) file_get_contents($complaint));

        $context = stream_context_create(['http' => ['method' => 'POST', 'header' => "X-Zap-Trace: 1\r\nContent-Type: application/json", 'content' => '{"line":"6c00 00>20"}']]);
        self::assertNotFalse(file_get_contents("http://127.0.0.1:{$port}/api/jobs/{$jobs[0]['id']}/bench-line", false, $context));
        proc_terminate($server, 9);
        proc_close($server);

        [$again, $output] = $this->start('--port', (string) $port);
        $this->waitFor($port, $output);
        $kept = array_column($this->jobs($port), null, 'id')[$jobs[0]['id']];
        self::assertSame($jobs[0]['observations'] + 1, $kept['observations'], 'Still there after kill -9.');
        proc_terminate($again, 9);
        proc_close($again);
    }

    public function test_without_the_demo_the_bench_is_empty(): void
    {
        $port = $this->freePort();
        [$server, $output] = $this->start("--port={$port}", '--no-demo');
        $this->waitFor($port, $output);
        self::assertSame([], $this->jobs($port));
        proc_terminate($server, 9);
        proc_close($server);
    }

    public function test_help_and_mistakes_are_told_in_words(): void
    {
        foreach (['--help' => [0, '--no-demo'], '--port=abc' => [2, 'number from 1 to 65535'], '--frish' => [2, 'does not know "--frish"']] as $argument => [$code, $says]) {
            [$process, $output] = $this->start((string) $argument);
            self::assertSame($code, $this->end($process));
            self::assertStringContainsString($says, (string) file_get_contents($output));
        }
    }

    /**
     * @return array{resource, string} the process, and the file with what it says
     */
    private function start(string ...$arguments): array
    {
        $output = $this->database.'.'.bin2hex(random_bytes(3)).'.log';
        $process = proc_open([dirname(__DIR__, 2).'/bin/start', ...$arguments], [['file', '/dev/null', 'r'], ['file', $output, 'w'], ['file', $output, 'a']], $pipes, null, [...getenv(), 'DB_DATABASE' => $this->database, 'APP_ENV' => 'production']);
        self::assertIsResource($process);

        return [$process, $output];
    }

    /**
     * @param  resource  $process
     */
    private function end($process): int
    {
        // The exit code is told once only, by the first look after the end.
        while (($status = proc_get_status($process))['running']) {
            usleep(50_000);
        }

        return $status['exitcode'];
    }

    private function waitFor(int $port, string $output): void
    {
        for ($i = 0; $i < 300; $i++) {
            if (@file_get_contents("http://127.0.0.1:{$port}/up") !== false) {
                return;
            }
            usleep(200_000);
        }
        self::fail('It does not serve: '.file_get_contents($output));
    }

    /**
     * @return list<array{id: string, observations: int}>
     */
    private function jobs(int $port): array
    {
        return json_decode((string) file_get_contents("http://127.0.0.1:{$port}/api/jobs"), true)['jobs'];
    }

    private function freePort(): int
    {
        $socket = stream_socket_server('tcp://127.0.0.1:0');
        $port = (int) substr((string) strrchr((string) stream_socket_get_name($socket, false), ':'), 1);
        fclose($socket);

        return $port;
    }
}
