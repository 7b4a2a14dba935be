<?php

declare(strict_types=1);

namespace App\Http\Controllers;

use App\Models\Job;
use Illuminate\Http\JsonResponse;
use Throwable;

/**
 * Answers 200 when the database and the built page are there.
 */
final class HealthController
{
    public function __invoke(): JsonResponse
    {
        try {
            Job::query()->count();
        } catch (Throwable) {
            return response()->json(['healthy' => false, 'sentence' => 'The database does not answer. Run bin/start again.'], 503);
        }
        if (! is_file(public_path('build/manifest.json'))) {
            return response()->json(['healthy' => false, 'sentence' => 'The page has not been built. Run bin/start again.'], 503);
        }

        return response()->json(['healthy' => true]);
    }
}
