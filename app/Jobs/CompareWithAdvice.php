<?php

declare(strict_types=1);

namespace App\Jobs;

use App\Bench\Practice;
use App\Models\PracticeRun;
use Illuminate\Bus\Queueable;
use Illuminate\Contracts\Queue\ShouldQueue;
use Illuminate\Foundation\Bus\Dispatchable;
use Illuminate\Queue\InteractsWithQueue;
use Throwable;

/**
 * Lets the advice work on the machine of a practice run that is over, beside the server.
 */
final class CompareWithAdvice implements ShouldQueue
{
    use Dispatchable;
    use InteractsWithQueue;
    use Queueable;

    public int $tries = 1;

    public int $timeout = 3600;

    public function __construct(private readonly string $run)
    {
    }

    public function handle(Practice $practice): void
    {
        $run = PracticeRun::query()->find($this->run);
        if ($run !== null) {
            $practice->compare($run);
        }
    }

    public function failed(?Throwable $reason): void
    {
        $run = PracticeRun::query()->find($this->run);
        if ($run !== null) {
            resolve(Practice::class)->compared($run, null);
        }
    }
}
