<?php

declare(strict_types=1);

namespace App\Models;

use Illuminate\Database\Eloquent\Concerns\HasUlids;
use Illuminate\Database\Eloquent\Model;
use Illuminate\Support\Carbon;

/**
 * A machine that was broken for practice: the job it is worked on as, and what is wrong with it.
 *
 * @property string $id
 * @property string $job_id
 * @property int $seed
 * @property int $difficulty how many faults there are at most
 * @property string $faults as JSON; told only at the end
 * @property string $acts what was done to the machine so far, as JSON
 * @property float $minutes
 * @property int $steps
 * @property int $powered how often it was switched on
 * @property string|null $failing_in situation in which something was seen wrong, and it is on yet
 * @property string|null $result how it ended, as JSON; null while it is worked on
 * @property Carbon $created_at
 */
final class PracticeRun extends Model
{
    use HasUlids;

    protected $dateFormat = 'Y-m-d H:i:s.v';

    protected $fillable = ['job_id', 'seed', 'difficulty', 'faults', 'acts', 'minutes', 'steps', 'powered', 'failing_in', 'result'];

    /** @var array<string, string> */
    protected $casts = ['seed' => 'integer', 'difficulty' => 'integer', 'minutes' => 'float', 'steps' => 'integer', 'powered' => 'integer'];
}
