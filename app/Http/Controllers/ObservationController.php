<?php

declare(strict_types=1);

namespace App\Http\Controllers;

use App\Bench\Assessor;
use App\Bench\BoardShelf;
use App\Bench\FileStore;
use App\Bench\Recorder;
use App\Http\Requests\FileRequest;
use App\Http\Resources\JobResource;
use App\Models\Job;
use App\Models\Observation;
use Illuminate\Http\JsonResponse;
use Illuminate\Http\Request;
use Illuminate\Support\Carbon;
use Illuminate\Support\Facades\DB;
use ZapTrace\Numbers\Notation;
use ZapTrace\Numbers\Radix;
use ZapTrace\Numbers\UnreadableNumber;
use ZapTrace\Problems\InputRejected;

final readonly class ObservationController
{
    public function __construct(
        private BoardShelf $boards,
        private Assessor $assessor,
        private Recorder $recorder,
        private FileStore $files,
    ) {
    }

    public function store(Request $request, Job $job): JsonResponse
    {
        $body = json_decode($request->getContent(), false, 64);
        if (! is_object($body) || ! isset($body->kind, $body->payload) || ! is_string($body->kind) || ! is_object($body->payload)) {
            throw InputRejected::of('', 'An observation has a kind and a payload.');
        }
        $this->recorder->record($job, $body->kind, $body->payload);

        return $this->job($job, 201);
    }

    /** A file of readings or a dump, with what it should have held as a form or as a second file. */
    public function storeFile(FileRequest $request, Job $job): JsonResponse
    {
        $file = $request->upload('file');
        $second = $request->has('second') || $request->hasFile('second') ? $request->upload('second') : null;
        DB::transaction(function () use ($request, $job, $file, $second): void {
            $payload = [
                'sha1' => $this->files->put((string) file_get_contents($file->getPathname())),
                'name' => mb_strimwidth(mb_scrub($file->getClientOriginalName()), 0, 200),
                'radix' => $job->radix,
            ];
            if ($request->filled('base')) {
                $payload['base'] = $this->address($request->string('base')->toString(), $job);
            }
            foreach (['as', 'expect'] as $field) {
                if ($request->filled($field)) {
                    $payload[$field] = $request->string($field)->toString();
                }
            }
            foreach (['page' => 'intval', 'heldSeconds' => 'floatval'] as $field => $cast) {
                if ($request->filled($field)) {
                    $payload[$field] = $cast($request->string($field)->toString());
                }
            }
            if ($second !== null) {
                unset($payload['expect']);
                $payload['second'] = [
                    'sha1' => $this->files->put((string) file_get_contents($second->getPathname())),
                    'name' => mb_strimwidth(mb_scrub($second->getClientOriginalName()), 0, 200),
                ];
            }
            $this->recorder->record($job, 'memory-file', (object) json_decode((string) json_encode($payload), false));
        });

        return $this->job($job, 201);
    }

    public function withdraw(Job $job, Observation $observation): JsonResponse
    {
        $this->setWithdrawn($job, $observation, $observation->withdrawn_at ?? Carbon::now());

        return $this->job($job);
    }

    public function restore(Job $job, Observation $observation): JsonResponse
    {
        $this->setWithdrawn($job, $observation, null);

        return $this->job($job);
    }

    private function setWithdrawn(Job $job, Observation $observation, ?Carbon $at): void
    {
        DB::transaction(static function () use ($job, $observation, $at): void {
            $observation->withdrawn_at = $at;
            $observation->save();
            $job->touch();
        });
    }

    /**
     * @throws InputRejected
     */
    private function address(string $text, Job $job): int
    {
        try {
            return Notation::parse($text, Radix::from($job->radix));
        } catch (UnreadableNumber $reason) {
            throw InputRejected::of('base', 'Start address: '.$reason->getMessage());
        }
    }

    private function job(Job $job, int $status = 200): JsonResponse
    {
        return response()->json(['job' => JobResource::whole($job, $this->boards->find($job->board_slug), $this->assessor->view($job))], $status);
    }
}
