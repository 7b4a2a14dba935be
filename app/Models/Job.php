<?php

declare(strict_types=1);

namespace App\Models;

use Illuminate\Database\Eloquent\Concerns\HasUlids;
use Illuminate\Database\Eloquent\Model;
use Illuminate\Database\Eloquent\Relations\HasMany;
use Illuminate\Support\Carbon;
use ZapTrace\Formats\JsonNode;
use ZapTrace\Observations\Observation as CoreObservation;

/**
 * One machine on the bench.
 *
 * @property string $id
 * @property string $machine
 * @property string $board_slug
 * @property string $symptom
 * @property string $state open, repaired, no-fault-found, waiting-for-parts, parked, given-up or cured-unexplained
 * @property int $radix
 * @property string $fitted what it came with and what is missing, in words
 * @property string $acknowledged kinds of caution that were read for this job, as JSON
 * @property string|null $timer a long run that is under way, as JSON: what, startedAt, minutes
 * @property string|null $workshop settings of the workshop that are otherwise for this job, as JSON
 * @property Carbon $created_at
 * @property Carbon $updated_at
 */
final class Job extends Model
{
    use HasUlids;

    protected $table = 'repair_jobs';

    protected $fillable = ['machine', 'board_slug', 'symptom', 'state', 'radix', 'workshop', 'fitted', 'acknowledged', 'timer', 'created_at'];

    /** @var array<string, string> */
    protected $casts = ['radix' => 'integer'];

    protected $dateFormat = 'Y-m-d H:i:s.v';

    /** @var array<string, string> */
    protected $attributes = ['fitted' => '', 'acknowledged' => '[]'];

    /**
     * @return list<string> kinds of caution that were read for this job
     */
    public function acknowledged(): array
    {
        $kinds = json_decode($this->acknowledged, true);

        return is_array($kinds) ? array_values(array_filter($kinds, is_string(...))) : [];
    }

    /**
     * @return HasMany<Observation, $this>
     */
    public function observations(): HasMany
    {
        return $this->hasMany(Observation::class);
    }

    /**
     * @return list<Observation> in the order they were made, withdrawn ones included
     */
    public function log(): array
    {
        /** @var array<int, Observation> $log */
        $log = Observation::query()->where('job_id', $this->id)->orderBy('sequence')->get()->all();

        return array_values($log);
    }

    /**
     * @param  list<string>|null  $kinds  only of these kinds
     * @return list<CoreObservation> those that stand, in the order they were made
     */
    public function standing(?array $kinds = null): array
    {
        $standing = array_filter($this->log(), static fn (Observation $entry): bool => $entry->withdrawn_at === null && ($kinds === null || in_array($entry->kind, $kinds, true)));

        return array_values(array_map(
            static fn (Observation $entry): CoreObservation => new CoreObservation($entry->id, $entry->kind, JsonNode::decode($entry->payload)),
            $standing,
        ));
    }
}
