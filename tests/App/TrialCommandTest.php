<?php

declare(strict_types=1);

namespace Tests\App;

use Symfony\Component\Process\Process;

final class TrialCommandTest extends TestCase
{
    /**
     * @return array{int|null, string, string}
     */
    private function trial(string ...$arguments): array
    {
        $process = new Process([PHP_BINARY, '-d', 'memory_limit=1G', 'artisan', 'zap:trial', ...$arguments], base_path(), timeout: 280);
        $process->run();

        return [$process->getExitCode(), $process->getOutput(), $process->getErrorOutput()];
    }

    public function test_a_trial_reports_as_json_and_the_same_for_the_same_seed(): void
    {
        [$code, $output] = $this->trial('--board=larkspur-64', '--cases=2', '--seed=11', '--faults=1', '--strategy=ram-first', '--json');
        $report = json_decode($output, true);

        self::assertSame(0, $code);
        self::assertIsArray($report);
        self::assertSame(['cases', 'revived', 'firstActedRight', 'steps', 'minutes', 'goodPartsRemoved', 'worst'], array_keys($report));
        self::assertSame(2, $report['cases']);
        self::assertSame($output, $this->trial('--board=larkspur-64', '--cases=2', '--seed=11', '--faults=1', '--strategy=ram-first', '--json')[1]);
    }

    public function test_every_wrong_option_is_told_with_exit_code_2(): void
    {
        [$code, , $errors] = $this->trial('--board=nowhere', '--strategy=luck', '--faults=9', '--school=none', '--cases=0');

        self::assertSame(2, $code);
        self::assertSame(5, substr_count($errors, "\n"));
    }
}
