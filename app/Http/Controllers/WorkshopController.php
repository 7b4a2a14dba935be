<?php

declare(strict_types=1);

namespace App\Http\Controllers;

use App\Bench\Assessor;
use App\Bench\BoardShelf;
use App\Bench\Workshop;
use App\Models\Job;
use Illuminate\Http\JsonResponse;
use Illuminate\Http\Request;
use ZapTrace\Parts\PartLibrary;
use ZapTrace\Problems\InputRejected;
use ZapTrace\Reasoning\Equipment;
use ZapTrace\Reasoning\School;

/**
 * What the workshop owns and how it prefers to work.
 */
final readonly class WorkshopController
{
    /** So many types of part are asked about. */
    private const PARTS = 8;

    public function __construct(private Workshop $workshop, private PartLibrary $parts)
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

    /** What the drawers hold for the parts that are suspected on this job's board, and for its memory. */
    public function stock(Job $job, BoardShelf $boards, Assessor $assessor): JsonResponse
    {
        $board = $boards->find($job->board_slug);
        $stock = Workshop::stock($this->workshop->settings(), $this->parts);
        $needed = [];
        foreach ($assessor->view($job)['suspects'] as $suspect) {
            $chip = $board->chips[(string) strtok($suspect['seat'] ?? $suspect['site'], '.')] ?? null;
            if ($chip !== null && count($needed) < self::PARTS && ! in_array($chip->ref, $needed[$chip->part] ?? [], true)) {
                $needed[$chip->part][] = $chip->ref;
            }
        }
        foreach ($board->banks as $bank) {
            foreach ($bank->chips() as $ref) {
                $needed[$board->chips[$ref]->part] ??= $bank->chips();
            }
        }

        return response()->json(['for' => array_map(static fn (string $part, array $refs): array => [
            'part' => $part, 'needed' => $refs,
            'matches' => array_map(static fn (array $match): array => [
                'part' => $match['spare']->part, 'count' => $match['spare']->count, 'drawer' => $match['spare']->drawer, 'nanoseconds' => $match['spare']->nanoseconds, 'works' => $match['works'], 'but' => $match['but'],
            ], $stock->for($part)),
        ], array_map(strval(...), array_keys($needed)), array_values($needed))]);
    }

    public function update(Request $request): JsonResponse
    {
        $changes = json_decode($request->getContent(), false, 16);
        $this->workshop->change(is_object($changes) ? $changes : throw InputRejected::of('', 'Give the settings to change as an object.'));

        return $this->show();
    }
}
