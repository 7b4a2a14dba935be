<?php

declare(strict_types=1);

namespace App\Models;

use Illuminate\Database\Eloquent\Model;

/**
 * One setting of the workshop.
 *
 * @property string $name
 * @property string $value as JSON
 */
final class WorkshopSetting extends Model
{
    protected $table = 'workshop';

    protected $primaryKey = 'name';

    protected $keyType = 'string';

    public $incrementing = false;

    public $timestamps = false;

    protected $fillable = ['name', 'value'];
}
