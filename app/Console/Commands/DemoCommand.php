<?php

declare(strict_types=1);

namespace App\Console\Commands;

use App\Bench\Assessor;
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

    public function handle(DemoBench $demo, Assessor $assessor): int
    {
        if ($this->option('if-empty') && Job::query()->exists()) {
            return self::SUCCESS;
        }
        $this->line($demo->set().' demonstration jobs are on the bench.');
        // Weighed here, so that the first page need not wait for it.
        Job::query()->get()->each($assessor->view(...));

        return self::SUCCESS;
    }
}
