<?php

declare(strict_types=1);

namespace App\Console\Commands;

use App\Bench\Backup;
use Illuminate\Console\Command;
use ZapTrace\Problems\InputRejected;

final class RestoreCommand extends Command
{
    protected $signature = 'zap:restore
        {file : A back-up}';

    protected $description = 'Put everything back as a back-up has it; what is there now is replaced';

    public function handle(Backup $backup): int
    {
        $file = $this->argument('file');
        $file = is_string($file) ? $file : '';
        try {
            $restored = $backup->restore($file, $file);
        } catch (InputRejected $rejected) {
            foreach ($rejected->problems as $problem) {
                fwrite(STDERR, "{$problem}\n");
            }

            return 2;
        }
        $this->line("Restored {$restored['jobs']} jobs with {$restored['observations']} observations, as of {$restored['madeAt']}.");

        return self::SUCCESS;
    }
}
