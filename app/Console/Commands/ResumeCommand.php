<?php

declare(strict_types=1);

namespace App\Console\Commands;

use App\Bench\Unfinished;
use Illuminate\Console\Command;

/**
 * Begins anew what was under way when the server was stopped.
 */
final class ResumeCommand extends Command
{
    protected $signature = 'zap:resume';

    protected $description = 'Begin anew what was under way when the server was stopped';

    public function handle(): int
    {
        Unfinished::begin();

        return self::SUCCESS;
    }
}
