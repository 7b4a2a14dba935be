<?php

declare(strict_types=1);

namespace App\Models;

use Illuminate\Database\Eloquent\Concerns\HasUlids;
use Illuminate\Database\Eloquent\Model;
use Illuminate\Support\Carbon;

/**
 * What was seen, measured or done, in the order of the log. Only withdrawn_at ever changes.
 *
 * @property string $id
 * @property string $job_id
 * @property int $sequence
 * @property string $kind
 * @property string $payload JSON
 * @property Carbon $made_at
 * @property Carbon|null $withdrawn_at
 */
final class Observation extends Model
{
    use HasUlids;

    public $timestamps = false;

    protected $fillable = ['id', 'job_id', 'sequence', 'kind', 'payload', 'made_at', 'withdrawn_at'];

    /** @var array<string, string> */
    protected $casts = ['made_at' => 'datetime', 'withdrawn_at' => 'datetime', 'sequence' => 'integer'];

    protected $dateFormat = 'Y-m-d H:i:s.v';
}
