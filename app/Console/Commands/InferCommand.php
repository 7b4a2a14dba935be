<?php

declare(strict_types=1);

namespace App\Console\Commands;

use App\Bench\Schemas;
use Illuminate\Console\Command;
use ZapTrace\Problems\InputRejected;
use ZapTrace\Reasoning\Diagnosis;
use ZapTrace\Reasoning\DiagnosisSearch;
use ZapTrace\Reasoning\Fault;
use ZapTrace\Reasoning\NetworkReader;
use ZapTrace\Reasoning\Posterior;

/**
 * Weighs a bare network of faults and findings, for scripts and for checking.
 */
final class InferCommand extends Command
{
    protected $signature = 'zap:infer
        {network : A JSON file with faults and findings; - for standard input}
        {--json : Print one JSON object}';

    protected $description = 'Weigh the diagnoses of a bare network';

    public function handle(Schemas $schemas): int
    {
        $name = $this->argument('network');
        $name = is_string($name) ? $name : '';
        try {
            if ($name !== '-' && ! is_file($name)) {
                throw InputRejected::of($name, 'There is no such file.');
            }
            $content = (string) ($name === '-' ? stream_get_contents(STDIN) : file_get_contents($name));
            $network = (new NetworkReader($schemas->get('network')))->read($content);
        } catch (InputRejected $rejected) {
            foreach ($rejected->problems as $problem) {
                fwrite(STDERR, "{$problem}\n");
            }

            return 2;
        }
        $posterior = (new DiagnosisSearch)->search($network);
        $this->option('json') ? $this->printJson($posterior) : $this->printWords($posterior);

        return self::SUCCESS;
    }

    private function printJson(Posterior $posterior): void
    {
        $suspects = [];
        foreach ($posterior->sites as $site => $share) {
            $suspects[] = ['site' => (string) $site, 'share' => $share];
        }
        $this->output->writeln(json_encode([
            'suspects' => $suspects,
            'diagnoses' => array_map(static fn (Diagnosis $diagnosis): array => [
                'faults' => array_map(static fn (Fault $fault): string => $fault->id, $diagnosis->faults),
                'share' => $diagnosis->share,
            ], $posterior->diagnoses),
        ], JSON_THROW_ON_ERROR | JSON_PRETTY_PRINT | JSON_UNESCAPED_UNICODE | JSON_UNESCAPED_SLASHES));
    }

    private function printWords(Posterior $posterior): void
    {
        foreach ($posterior->sites as $site => $share) {
            $this->line(sprintf('%6.2f %%  %s', 100 * $share, $site));
        }
        foreach (array_slice($posterior->diagnoses, 0, 10) as $diagnosis) {
            $faults = array_map(static fn (Fault $fault): string => $fault->id, $diagnosis->faults);
            $this->line(sprintf('%6.2f %%  %s', 100 * $diagnosis->share, $faults === [] ? 'nothing is faulty' : implode(' and ', $faults)));
        }
    }
}
