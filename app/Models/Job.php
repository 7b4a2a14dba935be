<?php

declare(strict_types=1);

namespace App\Models;

use Illuminate\Database\Eloquent\Concerns\HasUlids;
use Illuminate\Database\Eloquent\Model;
use Illuminate\Database\Eloquent\Relations\HasMany;
use Illuminate\Support\Carbon;

/**
 * One machine on the bench.
 *
 * @property string $id
 * @property string $machine
 * @property string $board_slug
 * @property string $symptom
 * @property string $state open or repaired
 * @property int $radix
 * @property Carbon $created_at
 * @property Carbon $updated_at
 */
final class Job extends Model
{
    use HasUlids;

    protected $table = 'repair_jobs';

    protected $fillable = ['machine', 'board_slug', 'symptom', 'state', 'radix', 'created_at'];

    protected $casts = ['radix' => 'integer'];

    protected $dateFormat = 'Y-m-d H:i:s.v';

    /**
     * @return HasMany<Observation, $this>
     */
    public function observations(): HasMany
    {
        return $this->hasMany(Observation::class)->orderBy('sequence');
    }
}
