<?php

declare(strict_types=1);

namespace App\Http\Controllers;

use App\Bench\Assessor;
use App\Bench\BoardShelf;
use App\Bench\BusBench;
use App\Bench\Practice;
use App\Bench\Recorder;
use App\Http\Resources\JobResource;
use App\Jobs\DecodeCapture;
use App\Models\Capture;
use App\Models\Job;
use Illuminate\Http\JsonResponse;
use Illuminate\Http\Request;
use Illuminate\Support\Str;
use Symfony\Component\HttpFoundation\BinaryFileResponse;
use ZapTrace\Formats\Capture as CaptureFile;
use ZapTrace\Formats\Vcd;
use ZapTrace\Observations\BusCaptured;
use ZapTrace\Problems\InputRejected;

/**
 * Recordings of the bus: brought in piece by piece, decoded beside the server, checked, and held against each other.
 */
final readonly class CaptureController
{
    /** A piece that is sent at once, at most. */
    private const PIECE = 8 * 1024 * 1024;

    public function __construct(private BoardShelf $boards, private BusBench $bench, private Recorder $recorder, private Assessor $assessor)
    {
    }

    public function index(Job $job): JsonResponse
    {
        return response()->json(['bus' => $this->bench->of($job)]);
    }

    public function store(Request $request, Job $job): JsonResponse
    {
        $name = mb_strimwidth(mb_scrub($request->string('name')->toString()), 0, 200);
        $size = $request->integer('size');
        if ($name === '' || $size < 1) {
            throw InputRejected::of($name === '' ? 'name' : $name, $name === '' ? 'Choose a recording first.' : 'The file is empty: 0 bytes. Save the recording again.');
        }
        if ($size > CaptureFile::MAX_BYTES) {
            throw InputRejected::of($name, sprintf('The recording has %d MB; at most %d MiB are read. Record a shorter stretch, from the reset on.', intdiv($size, 1000000), CaptureFile::MAX_BYTES >> 20));
        }
        $capture = Capture::query()->create(['job_id' => $job->id, 'board_slug' => $job->board_slug, 'name' => $name, 'role' => $this->role($request), 'size' => $size]);
        file_put_contents($capture->file(), '');

        return response()->json(['capture' => $capture->id], 201);
    }

    /** The analyser on the practice bench: nothing is sent, the simulated machine is recorded. */
    public function simulate(Request $request, Job $job, Practice $practice): JsonResponse
    {
        $board = $this->boards->find($job->board_slug);
        $this->bench->busOf($board);
        $this->decode($practice->capture($job, Practice::run($job), $this->role($request)));

        return response()->json(['job' => JobResource::whole($job, $board, $this->assessor->view($job))], 201);
    }

    /** The file as it came, or as the practice bench recorded it. */
    public function file(Capture $capture): BinaryFileResponse
    {
        $name = Str::slug(pathinfo($capture->name, PATHINFO_FILENAME)) ?: 'recording';

        return response()->download($capture->file(), $name.($this->bench->open($capture) instanceof Vcd ? '.vcd' : '.csv'), ['Content-Type' => 'text/plain']);
    }

    /** The next piece of the file; it has to begin where the last one ended. */
    public function piece(Request $request, Capture $capture): JsonResponse
    {
        $piece = $request->getContent();
        if ($capture->state !== 'uploading') {
            throw InputRejected::of($capture->name, 'It is not being sent any more.');
        }
        if ($request->integer('from') !== $capture->received || strlen($piece) > self::PIECE || $capture->received + strlen($piece) > $capture->size) {
            throw InputRejected::of($capture->name, "The next piece has to begin at byte {$capture->received}. Send the file again.");
        }
        file_put_contents($capture->file(), $piece, FILE_APPEND);
        $capture->update(['received' => $capture->received + strlen($piece)]);
        if ($capture->received === $capture->size) {
            $this->decode($capture);
        }

        return response()->json(['received' => $capture->received]);
    }

    public function cancel(Capture $capture): JsonResponse
    {
        if (in_array($capture->state, ['uploading', 'waiting', 'decoding'], true)) {
            $capture->update(['state' => 'cancelled']);
            @unlink($capture->file());
        }

        return $this->bus($capture);
    }

    public function destroy(Capture $capture): JsonResponse
    {
        @unlink($capture->file());
        @unlink($capture->cyclesFile());
        $capture->delete();

        return $this->bus($capture);
    }

    /** Another role, or other channels: then it is decoded again. */
    public function update(Request $request, Capture $capture): JsonResponse
    {
        if ($request->has('role')) {
            $capture->update(['role' => $this->role($request)]);
        }
        if ($request->has('map')) {
            $board = $this->boards->find($capture->board_slug);
            $bus = $this->bench->busOf($board);
            $given = array_map(static fn (mixed $channel): string => is_string($channel) ? $channel : '', array_filter((array) $request->input('map'), is_string(...), ARRAY_FILTER_USE_KEY));
            \ZapTrace\Bus\SignalMap::of([])->with($given, $capture->channelNames(), $bus);
            $capture->update(['map' => json_encode((object) $given, JSON_THROW_ON_ERROR | JSON_UNESCAPED_SLASHES), 'setup' => null]);
            $this->decode($capture);
        }

        return $this->bus($capture);
    }

    /** Whether its channels are on the lines they are taken for, by what it is held against. */
    public function check(Request $request, Capture $capture): JsonResponse
    {
        return response()->json(['setup' => $this->bench->check($capture, $request->string('against', 'rom')->toString())]);
    }

    public function ladder(Request $request, Capture $capture): JsonResponse
    {
        return response()->json(['ladder' => $this->bench->ladder($capture, $request->string('against', 'rom')->toString())]);
    }

    public function record(Request $request, Capture $capture): JsonResponse
    {
        $job = Job::query()->findOrFail($capture->job_id);
        $this->recorder->record($job, BusCaptured::KIND, $this->bench->payload($capture, $request->string('against', 'rom')->toString()));

        return response()->json(['job' => JobResource::whole($job, $this->boards->find($job->board_slug), $this->assessor->view($job))], 201);
    }

    private function decode(Capture $capture): void
    {
        $capture->update(['state' => 'waiting', 'progress' => 0.0]);
        DecodeCapture::dispatch($capture->id);
    }

    private function role(Request $request): string
    {
        $role = $request->string('role', 'sick')->toString();

        return in_array($role, ['sick', 'good'], true) ? $role : throw InputRejected::of('role', 'A recording is of the sick machine or of a good one: sick or good.');
    }

    private function bus(Capture $capture): JsonResponse
    {
        return response()->json(['bus' => $this->bench->of(Job::query()->findOrFail($capture->job_id))]);
    }
}
