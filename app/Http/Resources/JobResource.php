<?php

declare(strict_types=1);

namespace App\Http\Resources;

use App\Models\Job;
use App\Models\Observation;
use App\Models\PracticeRun;
use Illuminate\Support\Carbon;
use ZapTrace\Board\BoardProfile;

/**
 * A job as JSON for the page.
 *
 * @phpstan-import-type View from AssessmentView
 */
final class JobResource
{
    /**
     * @param  View  $assessment
     * @return array<string, mixed>
     */
    public static function summary(Job $job, BoardProfile $board, array $assessment): array
    {
        return [
            'id' => $job->id,
            'machine' => $job->machine,
            'symptom' => $job->symptom,
            'state' => $job->state,
            'radix' => $job->radix,
            'board' => ['slug' => $board->slug, 'name' => $board->name, 'revision' => $board->revision],
            'openedAt' => self::time($job->created_at),
            'changedAt' => self::time($job->updated_at),
            'observations' => count($assessment['observations']),
            'readings' => $assessment['memory']['readings'],
            'leading' => $assessment['nothingLeft'] > 0.5 ? null : ($assessment['suspects'][0] ?? null),
        ];
    }

    /**
     * @param  View  $assessment
     * @return array<string, mixed>
     */
    public static function whole(Job $job, BoardProfile $board, array $assessment): array
    {
        $log = array_map(static fn (Observation $observation): array => [
            'id' => $observation->id,
            'sequence' => $observation->sequence,
            'kind' => $observation->kind,
            'madeAt' => self::time($observation->made_at),
            'withdrawnAt' => self::time($observation->withdrawn_at),
            ...($assessment['observations'][$observation->id] ?? ['title' => self::withdrawnTitle($observation), 'notes' => [], 'unreadable' => null, 'context' => []]),
        ], $job->log());

        return [
            ...self::summary($job, $board, $assessment),
            'settings' => (object) $assessment['settings'],
            'done' => (object) $assessment['done'],
            'log' => $log,
            'context' => $assessment['context'],
            'conditions' => $assessment['conditions'],
            'unplugged' => $assessment['unplugged'],
            'displaced' => $assessment['displaced'],
            'workshop' => $job->workshop === null ? null : json_decode($job->workshop, false, 16, JSON_THROW_ON_ERROR),
            'memory' => $assessment['memory'],
            'suspects' => $assessment['suspects'],
            'assemblies' => $assessment['assemblies'],
            'verdicts' => $assessment['verdicts'],
            'setAside' => $assessment['setAside'],
            'rivals' => $assessment['rivals'],
            'cured' => $assessment['cured'],
            'notices' => $assessment['notices'],
            'comparison' => $assessment['comparison'],
            'nothingLeft' => $assessment['nothingLeft'],
            'steps' => $assessment['steps'],
            'held' => $assessment['held'],
            'round' => $assessment['round'],
            'fitted' => $job->fitted,
            'acknowledged' => $job->acknowledged(),
            'practice' => ($run = PracticeRun::query()->where('job_id', $job->id)->first()) === null ? null : self::practice($run),
            'timer' => $job->timer === null ? null : json_decode($job->timer, true, 4, JSON_THROW_ON_ERROR),
        ];
    }

    /**
     * A practice run; what was wrong is told only when it is finished.
     *
     * @return array<string, mixed>
     */
    public static function practice(PracticeRun $run): array
    {
        $result = $run->result === null ? null : (array) json_decode($run->result, true, 8, JSON_THROW_ON_ERROR);
        if ($result !== null) {
            // Of runs that were finished earlier only how many steps there were was kept.
            $result['advice'] = ($result['advice'] ?? null) === null ? null : (array) $result['advice'] + ['told' => [], 'goodPulled' => null];
            $result += ['comparing' => false];
        }

        return ['seed' => $run->seed, 'difficulty' => $run->difficulty, 'minutes' => $run->minutes, 'steps' => $run->steps, 'failingIn' => $run->failing_in, 'result' => $result];
    }

    /** What was withdrawn is not interpreted any more; its own words will do. */
    private static function withdrawnTitle(Observation $observation): string
    {
        $payload = (array) json_decode($observation->payload, true);
        $text = $payload['text'] ?? $payload['name'] ?? null;

        return match (true) {
            is_string($text) => mb_strimwidth(trim(strtok($text, "\r\n") ?: ''), 0, 60, '…'),
            $observation->kind === 'intervention' => implode(' ', array_filter([$payload['action'] ?? null, $payload['site'] ?? null], is_string(...))),
            $observation->kind === 'setting' => implode(' ', array_filter([$payload['ref'] ?? null, $payload['position'] ?? null], is_string(...))),
            isset($payload['figures']) && is_array($payload['figures']) => 'Free memory '.implode(', ', array_filter($payload['figures'], is_int(...))),
            $observation->kind === 'set-aside' => 'Not now: '.implode(' ', array_filter([$payload['action'] ?? null, $payload['site'] ?? null], is_string(...))),
            $observation->kind === 'tried' => 'Tried it: '.(is_string($payload['result'] ?? null) ? str_replace('-', ' ', $payload['result']) : ''),
            isset($payload['condition']) && is_string($payload['condition']) => "Condition: {$payload['condition']}",
            isset($payload['fact']) && is_string($payload['fact']) => "History: {$payload['fact']}",
            $observation->kind === 'chip-test' => 'Chip tester: '.implode(' ', array_filter([$payload['site'] ?? null, $payload['result'] ?? null], is_string(...))),
            isset($payload['result'], $payload['diagnostic']) && is_string($payload['result']) => "Diagnostic: {$payload['result']}",
            isset($payload['finding']) && is_string($payload['finding']) => implode(' ', array_filter((array) ($payload['sites'] ?? []), is_string(...)))." {$payload['finding']}",
            $observation->kind === 'rail' => implode(' ', array_filter([$payload['rail'] ?? null, 'V', $payload['site'] ?? null], is_string(...))),
            isset($payload['sign']) && is_string($payload['sign']) => "Sign: {$payload['sign']}",
            isset($payload['function']) && is_string($payload['function']) => "Test: {$payload['function']}",
            isset($payload['seen']) && is_string($payload['seen']) => "Screen: \"{$payload['seen']}\"",
            default => str_replace('-', ' ', $observation->kind),
        };
    }

    private static function time(?Carbon $time): ?string
    {
        return $time?->utc()->format('Y-m-d\TH:i:s.v\Z');
    }
}
