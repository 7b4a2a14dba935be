<?php

declare(strict_types=1);

namespace App\Bench;

use App\Models\Job;
use App\Models\Observation;
use Illuminate\Support\Carbon;
use Illuminate\Support\Facades\DB;
use ZapTrace\Formats\JsonNode;
use ZapTrace\Formats\SchemaValidator;
use ZapTrace\Numbers\Radix;
use ZapTrace\Observations\Attachments;
use ZapTrace\Observations\Completes;
use ZapTrace\Observations\ContextHistory;
use ZapTrace\Observations\Interpreters;
use ZapTrace\Observations\Moment;
use ZapTrace\Observations\Observation as CoreObservation;
use ZapTrace\Observations\PinProbed;
use ZapTrace\Observations\PinsWalked;
use ZapTrace\Problems\InputRejected;
use ZapTrace\Problems\ProblemList;
use ZapTrace\Reasoning\FailureModes;

/**
 * Writes observations into the log of a job: whole or not at all.
 */
final readonly class Recorder
{
    public function __construct(
        private BoardShelf $boards,
        private Interpreters $interpreters,
        private Schemas $schemas,
        private Attachments $attachments,
        private FailureModes $modes,
        private Prober $prober,
    ) {
    }

    /**
     * @param  object  $payload  decoded JSON
     *
     * @throws InputRejected with everything that is wrong with it
     */
    public function record(Job $job, string $kind, object $payload): Observation
    {
        $interpreter = $this->interpreters->find($kind);
        if ($interpreter === null) {
            throw InputRejected::of('kind', "\"{$kind}\" is not a kind of observation. Known are ".implode(', ', $this->interpreters->kinds()).'.');
        }
        $problems = new ProblemList;
        (new SchemaValidator)->validate($payload, $this->schemas->get("observations/{$kind}"), $problems);
        $problems->throwIfAny();

        return DB::transaction(function () use ($job, $kind, $payload, $interpreter): Observation {
            $moment = $this->moment($job);
            $payload = match ($kind) {
                PinProbed::KIND => $this->prober->complete($payload, $moment->board, $moment->state),
                PinsWalked::KIND => $this->prober->completeWalk($payload, $moment->board, $moment->state),
                default => $payload,
            };
            $payload = $interpreter instanceof Completes ? $interpreter->complete($payload, $moment, $this->attachments) : $payload;
            $interpreter->interpret(new CoreObservation('', $kind, JsonNode::of($payload)), $moment, $this->attachments);
            $last = $job->observations()->max('sequence');
            $observation = $job->observations()->create([
                'sequence' => (is_numeric($last) ? (int) $last : 0) + 1,
                'kind' => $kind,
                'payload' => json_encode($payload, JSON_THROW_ON_ERROR | JSON_UNESCAPED_UNICODE | JSON_UNESCAPED_SLASHES),
                'made_at' => Carbon::now(),
            ]);
            $job->touch();

            return $observation;
        });
    }

    /** What an observation made now would be made on. */
    public function moment(Job $job): Moment
    {
        $board = $this->boards->find($job->board_slug);

        return new Moment(
            $board,
            ContextHistory::of($board, $job->standing($this->interpreters->changing()), $this->interpreters)->now,
            Radix::from($job->radix),
            $this->modes->overriddenBy($board->reasoning),
        );
    }
}
