<?php

declare(strict_types=1);

namespace App\Bench;

use App\Models\ImportedBoard;
use App\Models\Job;
use App\Models\Observation;
use Illuminate\Support\Carbon;
use Illuminate\Support\Facades\DB;
use Illuminate\Support\Str;
use JsonException;
use ZapTrace\Board\BoardReader;
use ZapTrace\Formats\JsonNode;
use ZapTrace\Formats\SchemaValidator;
use ZapTrace\Problems\InputRejected;
use ZapTrace\Problems\ProblemList;

/**
 * A whole job as one open JSON file, and back.
 */
final readonly class JobFiles
{
    public const MAX_BYTES = 64 * 1024 * 1024;

    public function __construct(
        private BoardShelf $boards,
        private BoardReader $reader,
        private FileStore $files,
        private Schemas $schemas,
        private Workshop $workshop,
    ) {
    }

    public function export(Job $job): string
    {
        $observations = $job->log();
        $files = [];
        foreach ($observations as $observation) {
            foreach ($this->filesOf(JsonNode::decode($observation->payload)) as $sha1) {
                $files[$sha1] = base64_encode($this->files->bytes($sha1));
            }
        }
        ksort($files);

        return json_encode([
            'format' => 'zap-trace-job/1',
            'machine' => $job->machine,
            'symptom' => $job->symptom,
            'state' => $job->state,
            'radix' => $job->radix,
            ...($job->fitted === '' ? [] : ['fitted' => $job->fitted]),
            ...($job->acknowledged() === [] ? [] : ['acknowledged' => $job->acknowledged()]),
            ...($job->workshop === null ? [] : ['workshop' => json_decode($job->workshop, false, 16, JSON_THROW_ON_ERROR)]),
            'openedAt' => $this->time($job->created_at),
            'board' => json_decode($this->boards->content($job->board_slug), false, 64, JSON_THROW_ON_ERROR),
            'observations' => array_map(fn (Observation $observation): array => [
                'id' => $observation->id,
                'kind' => $observation->kind,
                'madeAt' => $this->time($observation->made_at),
                'withdrawnAt' => $observation->withdrawn_at === null ? null : $this->time($observation->withdrawn_at),
                'payload' => json_decode($observation->payload, false, 64, JSON_THROW_ON_ERROR),
            ], $observations),
            'files' => (object) $files,
        ], JSON_THROW_ON_ERROR | JSON_PRETTY_PRINT | JSON_UNESCAPED_UNICODE | JSON_UNESCAPED_SLASHES)."\n";
    }

    /**
     * Opens a job from its file, beside any that is here already.
     *
     * @throws InputRejected with every problem of the file; then nothing of it is stored
     */
    public function import(string $content): Job
    {
        $node = $this->checked($content);

        return DB::transaction(function () use ($node): Job {
            foreach ($node->members('files') as $file) {
                $this->files->put((string) base64_decode($file->asString(), true));
            }
            $job = new Job([
                'machine' => $node->string('machine'),
                'board_slug' => $this->boardOf($node),
                'symptom' => $node->string('symptom'),
                'state' => $node->string('state'),
                'radix' => $node->integer('radix'),
                'fitted' => $node->string('fitted', ''),
                'acknowledged' => json_encode($node->strings('acknowledged'), JSON_THROW_ON_ERROR),
            ]);
            $workshop = $node->has('workshop') ? $node->at('workshop')->raw() : null;
            $this->workshop->override($job, is_object($workshop) ? $workshop : null);
            $job->created_at = Carbon::parse($node->string('openedAt'))->utc();
            $job->save();
            foreach ($node->each('observations') as $sequence => $observation) {
                $withdrawn = $observation->has('withdrawnAt') ? $observation->at('withdrawnAt')->raw() : null;
                $id = $observation->string('id');
                $job->observations()->create([
                    // The same file may be opened twice; an observation keeps its identity where that is free.
                    'id' => Observation::query()->whereKey($id)->exists() ? strtolower((string) Str::ulid()) : $id,
                    'sequence' => $sequence + 1,
                    'kind' => $observation->string('kind'),
                    'payload' => json_encode($observation->at('payload')->raw(), JSON_THROW_ON_ERROR | JSON_UNESCAPED_UNICODE | JSON_UNESCAPED_SLASHES),
                    'made_at' => Carbon::parse($observation->string('madeAt'))->utc(),
                    'withdrawn_at' => is_string($withdrawn) ? Carbon::parse($withdrawn)->utc() : null,
                ]);
            }

            return $job;
        });
    }

    private function checked(string $content): JsonNode
    {
        if (strlen($content) > self::MAX_BYTES) {
            throw InputRejected::of('', sprintf('The job file has %.1f MiB; at most %d MiB are read.', strlen($content) / 1048576, self::MAX_BYTES >> 20));
        }
        if (str_starts_with($content, "\xEF\xBB\xBF")) {
            $content = substr($content, 3);
        }
        try {
            $value = json_decode($content, false, 128, JSON_THROW_ON_ERROR);
        } catch (JsonException $reason) {
            throw InputRejected::of('', trim($content) === '' ? 'The job file is empty.' : "This is not a JSON file: {$reason->getMessage()}.");
        }
        $problems = new ProblemList;
        $validator = new SchemaValidator;
        $validator->validate($value, $this->schemas->get('job'), $problems);
        $problems->throwIfAny();

        $node = JsonNode::of($value);
        $board = $node->at('board')->raw();
        try {
            $this->reader->read(json_encode($board, JSON_THROW_ON_ERROR));
        } catch (InputRejected $rejected) {
            foreach ($rejected->problems as $problem) {
                $problems->add('/board'.($problem->place === '/' ? '' : $problem->place), $problem->sentence);
            }
        }
        $workshop = $node->has('workshop') ? $node->at('workshop')->raw() : null;
        if (is_object($workshop)) {
            $found = new ProblemList;
            $validator->validate($workshop, $this->schemas->get('workshop'), $found);
            foreach ($found->all() as $problem) {
                $problems->add('/workshop'.($problem->place === '/' ? '' : $problem->place), $problem->sentence);
            }
        }
        $files = $node->members('files');
        foreach ($files as $sha1 => $file) {
            $bytes = base64_decode($file->asString(), true);
            if ($bytes === false || sha1($bytes) !== (string) $sha1) {
                $problems->add($file->pointer, 'The content of this file does not have the SHA-1 it is named by: it was damaged.');
            }
        }
        foreach ($node->each('observations') as $observation) {
            $payload = $observation->at('payload');
            $found = new ProblemList;
            $validator->validate($payload->raw(), $this->schemas->get("observations/{$observation->string('kind')}"), $found);
            foreach ($found->all() as $problem) {
                $problems->add($payload->pointer.($problem->place === '/' ? '' : $problem->place), $problem->sentence);
            }
            foreach ($found->isEmpty() ? $this->filesOf($payload) : [] as $sha1) {
                if (! isset($files[$sha1])) {
                    $problems->add($payload->pointer, "This observation needs the file {$sha1}, which is not among \"files\".");
                }
            }
        }
        $problems->throwIfAny();

        return $node;
    }

    /** The slug under which the job's board is on the shelf; a board that differs from the one there is put beside it. */
    private function boardOf(JsonNode $node): string
    {
        $raw = $node->at('board')->raw();
        $slug = $node->at('board')->string('slug');
        $same = fn (string $slug): bool => json_decode($this->boards->content($slug), false) == $raw;
        if ($this->boards->has($slug) && $same($slug)) {
            return $slug;
        }
        if ($this->boards->has($slug)) {
            $slug = substr($slug, 0, 51).'-'.substr(sha1((string) json_encode($raw)), 0, 8);
            $raw = (object) [...(array) $raw, 'slug' => $slug];
        }
        ImportedBoard::query()->updateOrCreate(['slug' => $slug], ['content' => json_encode($raw, JSON_THROW_ON_ERROR | JSON_PRETTY_PRINT | JSON_UNESCAPED_UNICODE | JSON_UNESCAPED_SLASHES)."\n"]);

        return $slug;
    }

    /**
     * @return list<string> SHA-1 of the files a payload refers to
     */
    private function filesOf(JsonNode $payload): array
    {
        $files = [];
        if ($payload->has('sha1')) {
            $files[] = $payload->string('sha1');
        }
        foreach (['second', 'good'] as $other) {
            if ($payload->has($other)) {
                $files[] = $payload->at($other)->string('sha1');
            }
        }
        foreach ($payload->each('reads') as $read) {
            $files[] = $read->string('sha1');
        }

        return $files;
    }

    private function time(Carbon $time): string
    {
        return $time->utc()->format('Y-m-d\TH:i:s.v\Z');
    }
}
