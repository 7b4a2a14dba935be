<?php

declare(strict_types=1);

namespace App\Http\Controllers;

use App\Bench\Assessor;
use App\Bench\BoardShelf;
use App\Bench\Workshop;
use App\Http\Requests\JobRequest;
use App\Http\Resources\JobResource;
use App\Models\Job;
use Illuminate\Http\JsonResponse;

final readonly class JobController
{
    public function __construct(private BoardShelf $boards, private Assessor $assessor, private Workshop $workshop)
    {
    }

    public function index(): JsonResponse
    {
        $jobs = Job::query()->latest('updated_at')->latest('id')->get();

        return response()->json(['jobs' => array_map(
            fn (Job $job): array => JobResource::summary($job, $this->boards->find($job->board_slug), $this->assessor->view($job)),
            array_values($jobs->all()),
        )]);
    }

    public function store(JobRequest $request): JsonResponse
    {
        $slug = $request->string('board')->toString();
        $job = Job::query()->create([
            'machine' => $request->string('machine')->trim()->toString(),
            'board_slug' => $slug,
            'symptom' => $request->string('symptom')->trim()->toString(),
            'state' => 'open',
            'radix' => $request->integer('radix') ?: $this->boards->find($slug)->radix->value,
        ]);

        return $this->whole($job, 201);
    }

    public function show(Job $job): JsonResponse
    {
        return $this->whole($job);
    }

    public function update(JobRequest $request, Job $job): JsonResponse
    {
        foreach (['machine', 'symptom', 'state', 'radix'] as $field) {
            if ($request->has($field)) {
                $job->setAttribute($field, $field === 'radix' ? $request->integer($field) : $request->string($field)->trim()->toString());
            }
        }
        if ($request->has('workshop')) {
            $body = json_decode($request->getContent(), false, 16);
            $changes = is_object($body) ? $body->workshop ?? null : null;
            $this->workshop->override($job, is_object($changes) ? $changes : null);
        }
        $job->save();

        return $this->whole($job);
    }

    /** How suspicion moved over the job. */
    public function history(Job $job): JsonResponse
    {
        return response()->json(['history' => array_map(
            static fn (array $move): array => [...$move, 'shares' => (object) $move['shares']],
            $this->assessor->history($job),
        )]);
    }

    private function whole(Job $job, int $status = 200): JsonResponse
    {
        return response()->json(['job' => JobResource::whole($job, $this->boards->find($job->board_slug), $this->assessor->view($job))], $status);
    }
}
