<?php

declare(strict_types=1);

namespace App\Http\Controllers;

use App\Bench\Workshop;
use Illuminate\Http\JsonResponse;
use Illuminate\Http\Request;
use ZapTrace\Problems\InputRejected;
use ZapTrace\Reasoning\Equipment;
use ZapTrace\Reasoning\School;

/**
 * What the workshop owns and how it prefers to work.
 */
final readonly class WorkshopController
{
    public function __construct(private Workshop $workshop)
    {
    }

    public function show(): JsonResponse
    {
        return response()->json([
            'workshop' => $this->workshop->settings(),
            'schools' => array_map(static fn (School $school): array => ['value' => $school->value, 'words' => $school->words()], School::cases()),
            'equipment' => array_map(static fn (Equipment $equipment): array => ['value' => $equipment->value, 'words' => $equipment->words()], Equipment::cases()),
        ]);
    }

    public function update(Request $request): JsonResponse
    {
        $changes = json_decode($request->getContent(), false, 16);
        $this->workshop->change(is_object($changes) ? $changes : throw InputRejected::of('', 'Give the settings to change as an object.'));

        return $this->show();
    }
}
