<?php

declare(strict_types=1);

namespace Tests\Support;

use RuntimeException;

/**
 * Runs a command as a script does: a process with its standard streams and exit code.
 */
final class Artisan
{
    /**
     * @param  list<string>  $arguments
     * @param  array<string, string>|null  $environment  null for that of this process
     * @return array{int, string, string} exit code, standard output, standard error
     */
    public static function run(array $arguments, string $input = '', ?array $environment = null): array
    {
        $process = proc_open([PHP_BINARY, dirname(__DIR__, 2).'/artisan', ...$arguments], [['pipe', 'r'], ['pipe', 'w'], ['pipe', 'w']], $pipes, null, $environment === null ? null : [...getenv(), ...$environment]);
        if ($process === false) {
            throw new RuntimeException('artisan did not start.');
        }
        fwrite($pipes[0], $input);
        fclose($pipes[0]);
        $out = (string) stream_get_contents($pipes[1]);
        $err = (string) stream_get_contents($pipes[2]);

        return [proc_close($process), $out, $err];
    }
}
