<?php

declare(strict_types=1);

namespace App\Models;

use Illuminate\Database\Eloquent\Model;

/**
 * A board file that was brought in.
 *
 * @property string $slug
 * @property string $content the board file, as it came
 */
final class ImportedBoard extends Model
{
    public $incrementing = false;

    protected $table = 'boards';

    protected $primaryKey = 'slug';

    protected $keyType = 'string';

    protected $fillable = ['slug', 'content'];
}
