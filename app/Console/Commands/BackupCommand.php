<?php

declare(strict_types=1);

namespace App\Console\Commands;

use App\Bench\Backup;
use Illuminate\Console\Command;
use Throwable;

final class BackupCommand extends Command
{
    protected $signature = 'zap:backup
        {file : Where to write it}';

    protected $description = 'Write everything - jobs, photographs, board files, the workshop - to a single file';

    public function handle(Backup $backup): int
    {
        $file = $this->argument('file');
        $file = is_string($file) ? $file : '';
        try {
            $backup->write($file);
        } catch (Throwable $reason) {
            fwrite(STDERR, "The back-up could not be written to {$file}: {$reason->getMessage()}\n");

            return 2;
        }
        $this->line(sprintf('Written to %s, %.1f KiB.', $file, (int) filesize($file) / 1024));

        return self::SUCCESS;
    }
}
