<?php

declare(strict_types=1);

namespace App\Http\Controllers;

use App\Bench\Assessor;
use App\Bench\BoardShelf;
use App\Bench\Workshop;
use App\Http\Resources\RoundView;
use App\Models\Job;
use App\Models\Observation;
use Illuminate\Http\JsonResponse;
use Illuminate\Http\Response;
use Illuminate\Support\Str;
use ZapTrace\Ledger\Ledger;
use ZapTrace\Record\JobState;
use ZapTrace\Record\MarkdownRecord;
use ZapTrace\Record\OwnerRecord;

/**
 * What is handed over: the record for the owner as Markdown and JSON, the log as CSV.
 */
final readonly class RecordController
{
    public function __construct(private BoardShelf $boards, private Assessor $assessor, private Workshop $workshop)
    {
    }

    public function json(Job $job): JsonResponse
    {
        $board = $this->boards->find($job->board_slug);

        return response()->json([
            'machine' => $job->machine, 'symptom' => $job->symptom, 'state' => $job->state, 'fitted' => $job->fitted,
            'board' => $board->name, 'revision' => $board->revision, 'openedAt' => $job->created_at->utc()->format('Y-m-d\TH:i:s\Z'), 'workshop' => $this->workshop->settings()['name'],
            ...RoundView::record($this->record($job)),
        ], 200, ['Content-Disposition' => $this->as($job, 'record.json')], JSON_PRETTY_PRINT | JSON_UNESCAPED_UNICODE | JSON_UNESCAPED_SLASHES);
    }

    public function markdown(Job $job): Response
    {
        $text = (new MarkdownRecord($this->record($job)))->text($job->machine, $job->symptom, $this->head($job));

        return response($text, 200, ['Content-Type' => 'text/markdown; charset=utf-8', 'Content-Disposition' => $this->as($job, 'record.md')]);
    }

    public function csv(Job $job): Response
    {
        $view = $this->assessor->view($job);
        $stream = fopen('php://temp', 'w+b');
        assert($stream !== false);
        fputcsv($stream, ['number', 'made at', 'withdrawn at', 'kind', 'observation', 'made with', 'notes', 'payload'], ',', '"', '');
        foreach ($job->log() as $entry) {
            fputcsv($stream, array_map(self::safe(...), $this->row($entry, $view['observations'][$entry->id] ?? null)), ',', '"', '');
        }
        rewind($stream);

        return response((string) stream_get_contents($stream), 200, ['Content-Type' => 'text/csv; charset=utf-8', 'Content-Disposition' => $this->as($job, 'log.csv')]);
    }

    /**
     * @param  array{title: string, notes: list<string>, unreadable: string|null, context: list<string>}|null  $view
     * @return list<string>
     */
    private function row(Observation $entry, ?array $view): array
    {
        $time = static fn ($time): string => $time === null ? '' : $time->utc()->format('Y-m-d\TH:i:s\Z');

        return [
            (string) $entry->sequence, $time($entry->made_at), $time($entry->withdrawn_at), $entry->kind, $view['title'] ?? '',
            implode(', ', $view['context'] ?? []), implode(' ', $view['notes'] ?? []), $entry->payload,
        ];
    }

    /** A spreadsheet must not take what a person typed for a formula. */
    private static function safe(string $cell): string
    {
        return $cell !== '' && str_contains('=+-@', $cell[0]) ? "'{$cell}" : $cell;
    }

    private function record(Job $job): OwnerRecord
    {
        $board = $this->boards->find($job->board_slug);
        $assessment = $this->assessor->assess($job);

        return OwnerRecord::of($assessment, $board, Ledger::of($assessment, $board, Ledger::prefix($job->machine)), $assessment->proof($board, $this->workshop->benchOf($job)->confidence));
    }

    /**
     * @return array<string, string>
     */
    private function head(Job $job): array
    {
        $board = $this->boards->find($job->board_slug);
        $workshop = $this->workshop->settings()['name'];

        return [
            'Board' => "{$board->name}, {$board->revision}",
            'State' => JobState::from($job->state)->words(),
            'Opened' => $job->created_at->utc()->format('Y-m-d'),
            ...($job->fitted === '' ? [] : ['Came with' => $job->fitted]),
            ...($workshop === '' ? [] : ['Workshop' => $workshop]),
        ];
    }

    private function as(Job $job, string $ending): string
    {
        return 'attachment; filename="'.(Str::slug($job->machine) ?: 'job').".{$ending}\"";
    }
}
