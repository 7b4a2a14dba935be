<?php

declare(strict_types=1);

namespace App\Http\Controllers;

use App\Http\Resources\PartResource;
use Illuminate\Http\JsonResponse;
use ZapTrace\Parts\Part;
use ZapTrace\Parts\PartLibrary;

/**
 * The part library.
 */
final readonly class PartController
{
    public function __construct(private PartLibrary $parts)
    {
    }

    public function index(): JsonResponse
    {
        return response()->json(['parts' => array_map(static fn (Part $part): array => PartResource::of($part), $this->parts->all())]);
    }
}
