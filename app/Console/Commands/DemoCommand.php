<?php

declare(strict_types=1);

namespace App\Console\Commands;

use App\Bench\DemoBench;
use App\Models\Job;
use Illuminate\Console\Command;

/**
 * Puts the demonstration jobs on an empty bench.
 */
final class DemoCommand extends Command
{
    protected $signature = 'zap:demo {--if-empty : Do nothing when there is a job already}';

    protected $description = 'Put the demonstration jobs on the bench';

    public function handle(DemoBench $demo): int
    {
        if ($this->option('if-empty') && Job::query()->exists()) {
            return self::SUCCESS;
        }
        $this->line($demo->set().' demonstration jobs are on the bench.');

        return self::SUCCESS;
    }
}
