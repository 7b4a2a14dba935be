<?php

declare(strict_types=1);

namespace App\Models;

use Illuminate\Database\Eloquent\Concerns\HasUlids;
use Illuminate\Database\Eloquent\Model;
use Illuminate\Support\Carbon;

/**
 * A recording of a bus: its file and its cycles lie beside the database, what is known of them here.
 *
 * @property string $id
 * @property string $job_id
 * @property string $board_slug
 * @property string $name
 * @property string $role sick or good
 * @property string $state uploading, waiting, decoding, decoded, failed or cancelled
 * @property int $size bytes of its file
 * @property int $received bytes that have come
 * @property float $progress 0 to 1, of the decoding
 * @property string|null $channels names, as JSON
 * @property string|null $map signal to channel, as JSON
 * @property string|null $lines what the lines beside the bus did, as JSON
 * @property string|null $problems why it could not be decoded, as JSON
 * @property string|null $setup the last check of its channels, as JSON
 * @property int|null $cycles
 * @property Carbon $created_at
 */
final class Capture extends Model
{
    use HasUlids;

    protected $dateFormat = 'Y-m-d H:i:s.v';

    protected $fillable = ['job_id', 'board_slug', 'name', 'role', 'state', 'size', 'received', 'progress', 'channels', 'map', 'lines', 'problems', 'setup', 'cycles'];

    /** @var array<string, string> */
    protected $casts = ['size' => 'integer', 'received' => 'integer', 'progress' => 'float', 'cycles' => 'integer'];

    /** A recording that is there already, whole, and waits to be decoded. */
    public static function whole(Job $job, string $name, string $role, string $content): self
    {
        $capture = self::query()->create(['job_id' => $job->id, 'board_slug' => $job->board_slug, 'name' => $name, 'role' => $role, 'size' => strlen($content), 'received' => strlen($content), 'state' => 'waiting']);
        file_put_contents($capture->file(), $content);

        return $capture;
    }

    public function file(): string
    {
        return self::filesOf($this->id)[0];
    }

    public function cyclesFile(): string
    {
        return self::filesOf($this->id)[1];
    }

    /**
     * @return array{string, string} its file, and that of its cycles
     */
    public static function filesOf(string $id): array
    {
        return [self::folder()."/{$id}.capture", self::folder()."/{$id}.cycles"];
    }

    /** @return list<string> */
    public function channelNames(): array
    {
        $names = json_decode($this->channels ?? '[]', true);

        return is_array($names) ? array_values(array_filter($names, is_string(...))) : [];
    }

    /** @return array<string, string> signal => channel, "!" before an inverted one */
    public function mapped(): array
    {
        $map = json_decode($this->map ?? '[]', true);

        return is_array($map) ? array_filter($map, is_string(...)) : [];
    }

    private static function folder(): string
    {
        $database = config('database.connections.sqlite.database');
        // Beside the database they belong to, so that two benches do not share them.
        $folder = is_string($database) && $database !== ':memory:' ? dirname($database).'/captures' : storage_path('framework/captures');
        if (! is_dir($folder)) {
            mkdir($folder, 0o775, true);
        }

        return $folder;
    }
}
