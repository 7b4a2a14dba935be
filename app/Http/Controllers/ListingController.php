<?php

declare(strict_types=1);

namespace App\Http\Controllers;

use App\Bench\BoardShelf;
use App\Models\Job;
use Illuminate\Http\JsonResponse;
use Illuminate\Http\Request;
use ZapTrace\Memory\Listings\Language;
use ZapTrace\Memory\Listings\Lister;
use ZapTrace\Memory\Listings\ListingRequest;
use ZapTrace\Memory\Tests\MemoryTest;
use ZapTrace\Numbers\Notation;
use ZapTrace\Numbers\Radix;
use ZapTrace\Numbers\UnreadableNumber;
use ZapTrace\Problems\InputRejected;

/**
 * Memory tests as listings to type in on the machine of a job.
 */
final readonly class ListingController
{
    public function __construct(private Lister $lister, private BoardShelf $boards)
    {
    }

    public function tests(): JsonResponse
    {
        return response()->json([
            'tests' => array_values(array_map(static fn (MemoryTest $test): array => [
                'id' => $test->id, 'name' => $test->name, 'length' => $test->length(), 'words' => $test->words(), 'finds' => $test->finds, 'misses' => $test->misses, 'backgrounds' => $test->backgrounds(), 'source' => $test->source,
            ], MemoryTest::all())),
            'languages' => array_map(static fn (Language $language): array => ['value' => $language->value, 'words' => $language->words()], Language::cases()),
        ]);
    }

    public function show(Request $request, Job $job): JsonResponse
    {
        $board = $this->boards->find($job->board_slug);
        $language = Language::tryFrom($request->string('for')->toString()) ?? throw InputRejected::of('for', 'For which language?');
        $listing = $this->lister->list(ListingRequest::of(
            MemoryTest::named($request->string('test')->toString()), $language, $this->address($request, 'from', $job) ?? 0, $this->address($request, 'to', $job) ?? 0,
            $this->address($request, 'at', $job), $request->float('pause'),
        ), Language::ofPart($board->processor->part ?? '') === $language ? $board->processor?->clockHz : null, $board->processor->statementsPerSecond ?? 300.0);

        return response()->json(['listing' => [
            'text' => $listing->text, 'hex' => $listing->hex(), 'from' => $listing->request->from, 'to' => $listing->request->to, 'at' => $language->isBasic() ? null : $listing->request->at, 'results' => $listing->results,
            'duration' => $listing->duration(), 'seconds' => round($listing->seconds, 1), 'notes' => $listing->notes,
        ]]);
    }

    /**
     * @throws InputRejected
     */
    private function address(Request $request, string $field, Job $job): ?int
    {
        $text = $request->string($field)->trim()->toString();
        if ($text === '') {
            return null;
        }
        try {
            return Notation::parse($text, Radix::from($job->radix));
        } catch (UnreadableNumber $reason) {
            throw InputRejected::of($field, $reason->getMessage());
        }
    }
}
