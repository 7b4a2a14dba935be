<?php

declare(strict_types=1);

namespace App\Http\Controllers;

use App\Bench\JobFiles;
use App\Http\Requests\FileRequest;
use App\Models\Job;
use Illuminate\Http\JsonResponse;
use Illuminate\Http\Response;
use Illuminate\Support\Str;

final readonly class JobFileController
{
    public function __construct(private JobFiles $files)
    {
    }

    public function show(Job $job): Response
    {
        $name = Str::slug($job->machine) ?: 'job';

        return response($this->files->export($job), 200, [
            'Content-Type' => 'application/json',
            'Content-Disposition' => "attachment; filename=\"{$name}.job.json\"",
        ]);
    }

    public function store(FileRequest $request): JsonResponse
    {
        return response()->json(['id' => $this->files->import($request->content('file'))->id], 201);
    }
}
