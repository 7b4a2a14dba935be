<?php

declare(strict_types=1);

namespace App\Http\Controllers;

use App\Bench\Assessor;
use App\Bench\BoardShelf;
use App\Bench\Recorder;
use App\Http\Resources\JobResource;
use App\Models\Job;
use Illuminate\Http\JsonResponse;
use Illuminate\Http\Request;
use ZapTrace\Observations\BenchLine;
use ZapTrace\Problems\InputRejected;

final readonly class BenchLineController
{
    public function __construct(private BoardShelf $boards, private Assessor $assessor, private Recorder $recorder)
    {
    }

    /** What the bench line takes, for its card. */
    public function forms(): JsonResponse
    {
        return response()->json(['forms' => BenchLine::FORMS]);
    }

    /** How a line would be understood; nothing is stored. */
    public function understand(Request $request, Job $job): JsonResponse
    {
        try {
            $understanding = (new BenchLine($this->recorder->moment($job)))->understand($request->string('line')->toString());
        } catch (InputRejected $rejected) {
            return response()->json(['understood' => false, 'words' => $rejected->problems[0]->sentence]);
        }

        return response()->json(['understood' => true, 'words' => $understanding->words]);
    }

    public function store(Request $request, Job $job): JsonResponse
    {
        $understanding = (new BenchLine($this->recorder->moment($job)))->understand($request->string('line')->toString());
        $this->recorder->record($job, $understanding->kind, (object) $understanding->payload);

        return response()->json([
            'words' => $understanding->words,
            'job' => JobResource::whole($job, $this->boards->find($job->board_slug), $this->assessor->view($job)),
        ], 201);
    }
}
