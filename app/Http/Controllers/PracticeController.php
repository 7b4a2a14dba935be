<?php

declare(strict_types=1);

namespace App\Http\Controllers;

use App\Bench\Assessor;
use App\Bench\BoardShelf;
use App\Bench\Practice;
use App\Http\Resources\JobResource;
use App\Models\Job;
use App\Models\PracticeRun;
use Illuminate\Http\JsonResponse;
use Illuminate\Http\Request;

final readonly class PracticeController
{
    public function __construct(private BoardShelf $boards, private Assessor $assessor, private Practice $practice)
    {
    }

    public function index(): JsonResponse
    {
        $runs = [];
        /** @var list<PracticeRun> $kept */
        $kept = PracticeRun::query()->orderByDesc('created_at')->limit(100)->get()->all();
        foreach ($kept as $run) {
            $job = Job::query()->where('id', $run->job_id)->first();
            if ($job !== null) {
                $runs[] = ['job' => $job->id, 'machine' => $job->machine, 'board' => $this->boards->find($job->board_slug)->name, ...JobResource::practice($run)];
            }
        }
        $boards = array_values(array_filter(array_map($this->boards->find(...), $this->boards->slugs()), static fn ($board): bool => ! $board->netlist->isEmpty() && $board->processor !== null));

        return response()->json(['runs' => $runs, 'boards' => array_map(static fn ($board): array => ['slug' => $board->slug, 'name' => $board->name], $boards)]);
    }

    public function store(Request $request): JsonResponse
    {
        $input = $request->validate(['board' => ['required', 'string', fn (string $attribute, mixed $value, \Closure $fail) => is_string($value) && $this->boards->has($value) ? null : $fail('There is no such board on the shelf.')], 'difficulty' => ['required', 'integer', 'between:1,3'], 'seed' => ['required', 'integer', 'between:1,999999']]);

        return $this->whole($this->practice->begin($request->string('board')->toString(), $request->integer('difficulty'), $request->integer('seed')), 201);
    }

    public function take(Request $request, Job $job): JsonResponse
    {
        $with = [];
        foreach (['pin', 'chip', 'site', 'from', 'to', 'rail', 'address', 'diagnostic', 'function', 'situation', 'position'] as $name) {
            if ($request->filled($name)) {
                $with[$name] = $request->string($name)->trim()->toString();
            }
        }
        $this->practice->take($job, Practice::run($job), $request->string('instrument')->toString(), $with);

        return $this->whole($job);
    }

    public function step(Request $request, Job $job): JsonResponse
    {
        $this->practice->step($job, Practice::run($job), $request->string('action')->toString(), $request->string('site')->toString(), $request->string('sentence')->toString());

        return $this->whole($job);
    }

    public function finish(Job $job): JsonResponse
    {
        $this->practice->finish($job, Practice::run($job));

        return $this->whole($job);
    }

    private function whole(Job $job, int $status = 200): JsonResponse
    {
        return response()->json(['job' => JobResource::whole($job, $this->boards->find($job->board_slug), $this->assessor->view($job))], $status);
    }
}
