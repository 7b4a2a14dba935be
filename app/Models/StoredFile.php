<?php

declare(strict_types=1);

namespace App\Models;

use Illuminate\Database\Eloquent\Model;

/**
 * @property string $sha1
 * @property int $size
 * @property string $content
 */
final class StoredFile extends Model
{
    public $incrementing = false;

    public $timestamps = false;

    protected $table = 'files';

    protected $primaryKey = 'sha1';

    protected $keyType = 'string';

    protected $fillable = ['sha1', 'size', 'content'];
}
