<?php

declare(strict_types=1);

namespace App\Http\Controllers;

use App\Bench\Search;
use Illuminate\Http\JsonResponse;
use Illuminate\Http\Request;

final readonly class SearchController
{
    public function __construct(private Search $search)
    {
    }

    public function __invoke(Request $request): JsonResponse
    {
        return response()->json(['found' => $this->search->find($request->string('q')->limit(80, '')->toString())]);
    }
}
