<?php

declare(strict_types=1);

namespace App\Http\Controllers;

use App\Bench\Assessor;
use App\Bench\BoardShelf;
use App\Bench\FileStore;
use App\Bench\Photographs;
use App\Http\Requests\FileRequest;
use App\Http\Resources\JobResource;
use App\Models\Job;
use Illuminate\Http\JsonResponse;
use Illuminate\Http\Response;
use Symfony\Component\HttpKernel\Exception\NotFoundHttpException;

final readonly class PhotoController
{
    private const JPEG = "\xFF\xD8\xFF";

    public function __construct(private FileStore $files, private Photographs $photographs, private BoardShelf $boards, private Assessor $assessor)
    {
    }

    public function store(FileRequest $request, Job $job): JsonResponse
    {
        $file = $request->upload('file');
        $this->photographs->add($job, $file->getPathname(), $file->getClientOriginalName(), $request->string('caption')->toString());

        return response()->json(['job' => JobResource::whole($job, $this->boards->find($job->board_slug), $this->assessor->view($job))], 201);
    }

    public function show(string $sha1): Response
    {
        $bytes = $this->files->has($sha1) ? $this->files->bytes($sha1) : '';
        if (! str_starts_with($bytes, self::JPEG)) {
            throw new NotFoundHttpException('There is no such picture.');
        }

        return response($bytes, 200, ['Content-Type' => 'image/jpeg', 'Cache-Control' => 'private, max-age=31536000, immutable']);
    }
}
