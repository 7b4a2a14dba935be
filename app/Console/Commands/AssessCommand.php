<?php

declare(strict_types=1);

namespace App\Console\Commands;

use App\Bench\Assessor;
use App\Bench\JobFiles;
use App\Http\Resources\AssessmentView;
use App\Models\Job;
use Illuminate\Console\Command;
use Illuminate\Support\Facades\DB;
use ZapTrace\Problems\InputRejected;

/**
 * Weighs an exported job, for scripts. Nothing of it is kept.
 *
 * @phpstan-import-type View from AssessmentView
 */
final class AssessCommand extends Command
{
    protected $signature = 'zap:assess
        {job : An exported job file; - for standard input}
        {--json : Print one JSON object}';

    protected $description = 'Weigh everything observed in an exported job, and propose the next step';

    public function handle(JobFiles $files, Assessor $assessor): int
    {
        $name = $this->argument('job');
        $name = is_string($name) ? $name : '';
        try {
            if ($name !== '-' && ! is_file($name)) {
                throw InputRejected::of($name, 'There is no such file.');
            }
            $content = (string) ($name === '-' ? stream_get_contents(STDIN) : file_get_contents($name));
            $answer = $this->answer($content, $files, $assessor);
        } catch (InputRejected $rejected) {
            foreach ($rejected->problems as $problem) {
                fwrite(STDERR, "{$problem}\n");
            }

            return 2;
        }
        $this->option('json')
            ? $this->output->writeln(json_encode($answer, JSON_THROW_ON_ERROR | JSON_PRETTY_PRINT | JSON_UNESCAPED_UNICODE | JSON_UNESCAPED_SLASHES))
            : $this->printWords($answer);

        return self::SUCCESS;
    }

    /**
     * @return array{suspects: list<array<string, mixed>>, diagnoses: list<array<string, mixed>>, next: array<string, mixed>|null}
     *
     * @throws InputRejected
     */
    private function answer(string $content, JobFiles $files, Assessor $assessor): array
    {
        // The job is opened as the page would open it, in a database of its own that ends with this process.
        config(['database.connections.sqlite.database' => ':memory:', 'database.connections.sqlite.journal_mode' => null]);
        DB::purge('sqlite');
        $this->callSilently('migrate', ['--force' => true]);
        $job = $files->import($content);
        $conclusion = $assessor->assess($job)->conclusion;
        $view = $assessor->view($job);
        $next = $view['steps'][0] ?? null;

        return [
            'suspects' => array_map(static fn (array $suspect): array => [
                'site' => $suspect['site'], 'kind' => $suspect['kind'], 'share' => $suspect['share'],
                'because' => array_map(static fn (array $reason): array => ['observation' => $reason['observation'], 'decibans' => $reason['decibans'], 'text' => $reason['words']], $suspect['reasons']),
            ], $view['suspects']),
            'diagnoses' => array_map(static fn ($diagnosis): array => [
                'faults' => array_map(static fn ($fault): array => ['site' => explode('/', $fault->id)[0], 'mode' => $fault->mode], $diagnosis->faults),
                'share' => $diagnosis->share,
            ], array_slice($conclusion->leading(), 0, 20)),
            'next' => $next === null ? null : ['action' => $next['action'], 'site' => $next['site'], 'tells' => $next['tells'], 'minutes' => $next['minutes'], 'risk' => $next['risk'], 'bits' => $next['bits']],
        ];
    }

    /**
     * @param  array{suspects: list<array<string, mixed>>, diagnoses: list<array<string, mixed>>, next: array<string, mixed>|null}  $answer
     */
    private function printWords(array $answer): void
    {
        foreach ($answer['suspects'] as $suspect) {
            $share = is_float($suspect['share']) ? $suspect['share'] : 0.0;
            $this->line(sprintf('%5.1f %%  %s', 100 * $share, is_string($suspect['site']) ? $suspect['site'] : ''));
        }
        if ($answer['next'] !== null) {
            $this->line('Next: '.(is_string($answer['next']['action']) ? $answer['next']['action'] : '').' '.(is_string($answer['next']['site']) ? $answer['next']['site'] : ''));
        }
    }
}
