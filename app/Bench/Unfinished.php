<?php

declare(strict_types=1);

namespace App\Bench;

use App\Jobs\CompareWithAdvice;
use App\Jobs\DecodeCapture;
use App\Models\Capture;
use App\Models\PracticeRun;
use Illuminate\Support\Facades\DB;

/**
 * What is worked out beside the server and was not through when it was stopped, or when a back-up was made.
 */
final class Unfinished
{
    /** All of it is begun anew. Nothing else may be at work on it. */
    public static function begin(): void
    {
        DB::table('queued')->delete();
        Capture::query()->where('state', 'decoding')->update(['state' => 'waiting']);
        foreach (Capture::query()->where('state', 'waiting')->pluck('id') as $capture) {
            DecodeCapture::dispatch($capture);
        }
        foreach (PracticeRun::query()->where('result', 'like', '%"comparing":true%')->pluck('id') as $run) {
            CompareWithAdvice::dispatch($run);
        }
    }
}
