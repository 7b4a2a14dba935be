<?php

declare(strict_types=1);

namespace App\Http\Controllers;

use App\Bench\Backup;
use Illuminate\Http\JsonResponse;
use Illuminate\Http\Request;
use Illuminate\Http\UploadedFile;
use Illuminate\Support\Carbon;
use Symfony\Component\HttpFoundation\BinaryFileResponse;
use ZapTrace\Problems\InputRejected;

final readonly class BackupController
{
    public function __construct(private Backup $backup)
    {
    }

    public function show(): BinaryFileResponse
    {
        $path = tempnam(sys_get_temp_dir(), 'zap-backup');
        $this->backup->write((string) $path);

        return response()->download((string) $path, 'zap-trace-'.Carbon::now()->format('Y-m-d-Hi').'.zapbackup', ['Content-Type' => 'application/octet-stream'])->deleteFileAfterSend();
    }

    public function restore(Request $request): JsonResponse
    {
        $file = $request->file('file');
        if (! $file instanceof UploadedFile) {
            throw InputRejected::of('file', 'Choose a back-up first.');
        }
        if (! $file->isValid()) {
            throw InputRejected::of($file->getClientOriginalName(), 'The back-up did not arrive whole, or is too large for the page; on the command line it is php artisan zap:restore FILE. Nothing was changed.');
        }

        return response()->json(['restored' => $this->backup->restore($file->getPathname(), $file->getClientOriginalName())]);
    }
}
