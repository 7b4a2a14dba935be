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
use Illuminate\Support\Carbon;
use ZapTrace\Problems\InputRejected;

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
            'radix' => $request->integer('radix') ?: ($this->workshop->settings()['radix'] ?? $this->boards->find($slug)->radix->value),
            'fitted' => $request->string('fitted')->trim()->toString(),
        ]);

        return $this->whole($job, 201);
    }

    public function show(Job $job): JsonResponse
    {
        return $this->whole($job);
    }

    public function update(JobRequest $request, Job $job): JsonResponse
    {
        $this->refuseStale($request, $job);
        foreach (['machine', 'symptom', 'state', 'radix', 'fitted'] as $field) {
            if ($request->has($field)) {
                $job->setAttribute($field, $field === 'radix' ? $request->integer($field) : $request->string($field)->trim()->toString());
            }
        }
        if ($request->filled('acknowledge')) {
            $job->acknowledged = json_encode(array_values(array_unique([...$job->acknowledged(), $request->string('acknowledge')->toString()])), JSON_THROW_ON_ERROR);
        }
        if ($request->has('timer')) {
            $job->timer = $request->input('timer') === null ? null : json_encode(['what' => $request->string('timer.what')->trim()->toString(), 'minutes' => $request->float('timer.minutes'), 'startedAt' => Carbon::now()->utc()->format('Y-m-d\TH:i:s.v\Z')], JSON_THROW_ON_ERROR);
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

    /** Whether anything has changed: asked often, and cheap to answer. */
    public function pulse(Job $job): JsonResponse
    {
        return response()->json(['changedAt' => $job->updated_at->utc()->format('Y-m-d\TH:i:s.v\Z'), 'observations' => $job->observations()->count()]);
    }

    /**
     * A text that was changed in another window since it was last seen here is not overwritten.
     *
     * @throws InputRejected
     */
    private function refuseStale(JobRequest $request, Job $job): void
    {
        foreach (['machine', 'symptom', 'fitted'] as $field) {
            if ($request->has($field) && $request->has("seen.{$field}") && $request->string("seen.{$field}")->trim()->toString() !== $job->getAttribute($field)) {
                throw InputRejected::of($field, 'It was changed in another window meanwhile, to: "'.mb_strimwidth(is_string($job->getAttribute($field)) ? $job->getAttribute($field) : '', 0, 120, '…').'". Nothing was overwritten; look at it and change it again.');
            }
        }
    }

    private function whole(Job $job, int $status = 200): JsonResponse
    {
        return response()->json(['job' => JobResource::whole($job, $this->boards->find($job->board_slug), $this->assessor->view($job))], $status);
    }
}
