<?php

declare(strict_types=1);

namespace App\Bench;

use App\Models\Job;
use App\Models\Observation;
use ZapTrace\Board\BoardProfile;

/**
 * Finds jobs by machine, board, symptom, chip or type of part, with what was wrong in the end.
 *
 * @phpstan-type Found array{id: string, machine: string, symptom: string, state: string, board: string, openedAt: string, wrong: list<array{site: string, part: string}>, matched: string}
 */
final readonly class Search
{
    private const MOST = 50;

    public function __construct(private BoardShelf $boards, private Assessor $assessor)
    {
    }

    /**
     * @return list<Found> the newest first; every word has to be found
     */
    public function find(string $text): array
    {
        $words = array_values(array_filter(preg_split('/\s+/', mb_strtolower(trim($text))) ?: []));
        $found = [];
        foreach ($words === [] ? [] : Job::query()->latest('created_at')->get()->all() as $job) {
            $board = $this->boards->find($job->board_slug);
            $wrong = array_map(static fn (array $failure): array => ['site' => $failure['site'], 'part' => $failure['part']], $this->assessor->outcome($job));
            $matched = $this->matched($job, $board, $wrong, $words);
            if ($matched === null) {
                continue;
            }
            $found[] = [
                'id' => $job->id, 'machine' => $job->machine, 'symptom' => $job->symptom, 'state' => $job->state, 'board' => "{$board->name}, {$board->revision}",
                'openedAt' => $job->created_at->utc()->format('Y-m-d\TH:i:s.v\Z'), 'wrong' => $wrong, 'matched' => $matched,
            ];
            if (count($found) >= self::MOST) {
                break;
            }
        }

        return $found;
    }

    /**
     * @param  list<array{site: string, part: string}>  $wrong
     * @param  list<string>  $words
     * @return string|null where it was found; null when a word is nowhere
     */
    private function matched(Job $job, BoardProfile $board, array $wrong, array $words): ?string
    {
        $touched = null;
        $where = [];
        foreach ($words as $word) {
            $place = match (true) {
                str_contains(mb_strtolower($job->machine), $word) => 'machine',
                str_contains(mb_strtolower("{$board->name} {$board->revision}"), $word) => 'board',
                str_contains(mb_strtolower($job->symptom), $word) => 'symptom',
                array_filter($wrong, static fn (array $failure): bool => strtolower($failure['site']) === $word || strtolower($failure['part']) === $word) !== [] => 'what was wrong',
                default => null,
            };
            if ($place === null) {
                $touched ??= $this->touched($job, $board);
                $place = isset($touched[$word]) ? 'what was looked at' : null;
            }
            if ($place === null) {
                return null;
            }
            $where[$place] = $place;
        }

        return implode(', ', $where);
    }

    /**
     * Chips that stand in the log, and their types.
     *
     * @return array<string, true>
     */
    private function touched(Job $job, BoardProfile $board): array
    {
        $touched = [];
        $payloads = implode(' ', array_filter(Observation::query()->where('job_id', $job->id)->whereNull('withdrawn_at')->pluck('payload')->all(), is_string(...)));
        foreach ($board->chips as $chip) {
            if (preg_match('/\b'.preg_quote($chip->ref, '/').'\b/i', $payloads) === 1) {
                $touched[strtolower($chip->ref)] = true;
                $touched[strtolower($chip->part)] = true;
            }
        }

        return $touched;
    }
}
