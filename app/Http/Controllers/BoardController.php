<?php

declare(strict_types=1);

namespace App\Http\Controllers;

use App\Bench\BoardShelf;
use App\Http\Requests\FileRequest;
use App\Http\Resources\BoardResource;
use Illuminate\Http\JsonResponse;
use Illuminate\Http\Response;
use ZapTrace\Parts\PartLibrary;

final readonly class BoardController
{
    public function __construct(private BoardShelf $boards, private PartLibrary $parts)
    {
    }

    public function index(): JsonResponse
    {
        return response()->json(['boards' => array_map(
            fn (string $slug): array => BoardResource::summary($this->boards->find($slug), $this->boards->isShipped($slug)),
            $this->boards->slugs(),
        )]);
    }

    public function show(string $slug): JsonResponse
    {
        return response()->json(['board' => BoardResource::whole($this->boards->find($slug), $this->parts, $this->boards->isShipped($slug))]);
    }

    public function file(string $slug): Response
    {
        return response($this->boards->content($slug), 200, [
            'Content-Type' => 'application/json',
            'Content-Disposition' => "attachment; filename=\"{$slug}.board.json\"",
        ]);
    }

    public function store(FileRequest $request): JsonResponse
    {
        $board = $this->boards->import($request->content('file'));

        return response()->json(['board' => BoardResource::summary($board, false)], 201);
    }
}
