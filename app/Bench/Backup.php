<?php

declare(strict_types=1);

namespace App\Bench;

use App\Models\Capture;
use Illuminate\Contracts\Cache\Repository;
use Illuminate\Support\Carbon;
use Illuminate\Support\Facades\DB;
use PDO;
use PDOException;
use RuntimeException;
use ZapTrace\Problems\InputRejected;

/**
 * Everything that was recorded in one file - jobs, photographs, board files, the workshop, practice runs, recordings of
 * the bus - and back. The file is an SQLite database with a page of its own that says what it is; the files that lie
 * beside the database are in it piece by piece.
 *
 * A restore happens within one transaction of the database that is there: interrupted at any moment, it leaves the old
 * data as they were.
 */
final readonly class Backup
{
    public const MAX_BYTES = 2 * 1024 * 1024 * 1024;

    private const FORMAT = 'zap-trace-backup/1';

    /** Parents before their children. */
    private const TABLES = ['boards', 'files', 'workshop', 'repair_jobs', 'observations', 'practice_runs', 'captures'];

    /** Without these a back-up is none; the others came later. */
    private const NEEDED = ['boards', 'files', 'workshop', 'repair_jobs', 'observations'];

    /** A piece of a file beside the database, in bytes. */
    private const PIECE = 1024 * 1024;

    public function __construct(private Repository $cache)
    {
    }

    /**
     * Writes the file.
     *
     * @throws RuntimeException when it cannot be written
     */
    public function write(string $path): void
    {
        $part = "{$path}.part";
        @unlink($part);
        DB::connection()->getPdo()->exec('VACUUM INTO '.DB::connection()->getPdo()->quote($part));
        $copy = new PDO("sqlite:{$part}", null, null, [PDO::ATTR_ERRMODE => PDO::ERRMODE_EXCEPTION]);
        $copy->exec('CREATE TABLE zap_backup (format TEXT NOT NULL, made_at TEXT NOT NULL)');
        $copy->prepare('INSERT INTO zap_backup VALUES (?, ?)')->execute([self::FORMAT, Carbon::now()->utc()->format('Y-m-d\TH:i:s\Z')]);
        foreach (self::rows($copy, "SELECT name FROM sqlite_master WHERE type = 'table'", PDO::FETCH_COLUMN) as $table) {
            if (is_string($table) && ! in_array($table, [...self::TABLES, 'migrations', 'zap_backup'], true) && ! str_starts_with($table, 'sqlite_')) {
                $copy->exec("DROP TABLE \"{$table}\"");
            }
        }
        self::putFilesIn($copy);
        $copy = null;
        if (! rename($part, $path)) {
            throw new RuntimeException("The back-up cannot be written to {$path}.");
        }
    }

    /**
     * Puts everything back as the file has it; what is there now is gone then.
     *
     * @return array{jobs: int, observations: int, madeAt: string}
     *
     * @throws InputRejected when the file is not a whole back-up; then nothing was changed
     */
    public function restore(string $path, string $name): array
    {
        $madeAt = $this->check($path, $name);
        /** @var list<string> $old */
        $old = Capture::query()->pluck('id')->all();
        $pdo = DB::connection()->getPdo();
        $pdo->exec('ATTACH DATABASE '.$pdo->quote($path).' AS incoming');
        $written = [];
        try {
            DB::transaction(function () use ($pdo, &$written): void {
                foreach (array_reverse(self::TABLES) as $table) {
                    $pdo->exec("DELETE FROM main.{$table}");
                }
                $comes = self::rows($pdo, "SELECT name FROM incoming.sqlite_master WHERE type = 'table'", PDO::FETCH_COLUMN);
                foreach (array_intersect(self::TABLES, $comes) as $table) {
                    $columns = implode(', ', array_map(static fn (string $column): string => "\"{$column}\"", array_intersect($this->columns($pdo, 'incoming', $table), $this->columns($pdo, 'main', $table))));
                    $pdo->exec("INSERT INTO main.{$table} ({$columns}) SELECT {$columns} FROM incoming.{$table}");
                }
                if (in_array('zap_pieces', $comes, true)) {
                    self::takeFilesOut($pdo, $written);
                }
            });
        } catch (PDOException|RuntimeException $reason) {
            array_map(unlink(...), array_keys($written));
            throw InputRejected::of($name, "The back-up does not fit together: {$reason->getMessage()}. Nothing was changed.");
        } finally {
            $pdo->exec('DETACH DATABASE incoming');
        }
        foreach ($old as $id) {
            array_map(static fn (string $file): bool => ! is_file($file) || unlink($file), Capture::filesOf($id));
        }
        foreach ($written as $from => $to) {
            rename($from, $to);
        }
        // Those that were on their way: one that has come is decoded, one that has not will not go on coming.
        Capture::query()->where('state', 'uploading')->update(['state' => 'cancelled']);
        Unfinished::begin();
        $this->cache->clear();

        return ['jobs' => DB::table('repair_jobs')->count(), 'observations' => DB::table('observations')->count(), 'madeAt' => $madeAt];
    }

    /** The files of the recordings go into the copy. */
    private static function putFilesIn(PDO $copy): void
    {
        $copy->exec('CREATE TABLE zap_pieces (capture TEXT NOT NULL, file INTEGER NOT NULL, piece INTEGER NOT NULL, bytes BLOB NOT NULL)');
        $insert = $copy->prepare('INSERT INTO zap_pieces VALUES (?, ?, ?, ?)');
        $copy->beginTransaction();
        /** @var Capture $capture */
        foreach (Capture::query()->get()->all() as $capture) {
            foreach (Capture::filesOf($capture->id) as $number => $file) {
                $stream = is_file($file) ? fopen($file, 'r') : false;
                for ($piece = 0; $stream !== false && ($bytes = (string) fread($stream, self::PIECE)) !== ''; $piece++) {
                    foreach ([[1, $capture->id, PDO::PARAM_STR], [2, $number, PDO::PARAM_INT], [3, $piece, PDO::PARAM_INT], [4, $bytes, PDO::PARAM_LOB]] as [$place, $value, $type]) {
                        $insert->bindValue($place, $value, $type);
                    }
                    $insert->execute();
                }
            }
        }
        $copy->commit();
    }

    /**
     * Writes the files of the incoming recordings beside where they belong: they are moved there once all is well.
     *
     * @param  array<string, string>  $written  what was written => where it belongs
     *
     * @throws RuntimeException when there is no room
     */
    private static function takeFilesOut(PDO $pdo, array &$written): void
    {
        $pieces = $pdo->query('SELECT p.capture, p.file, p.bytes FROM incoming.zap_pieces p JOIN main.captures c ON c.id = p.capture ORDER BY p.capture, p.file, p.piece');
        while ($pieces !== false && is_array($row = $pieces->fetch(PDO::FETCH_NUM))) {
            [$id, $number, $bytes] = $row;
            if (! is_string($id) || ! is_int($number) || ! is_string($bytes)) {
                throw new RuntimeException('a recording in it has no name or no contents');
            }
            $files = Capture::filesOf($id);
            $file = $files[$number] ?? throw new RuntimeException('a recording in it is of a kind that is not known here');
            $to = "{$file}.incoming";
            if (@file_put_contents($to, $bytes, isset($written[$to]) ? FILE_APPEND : 0) !== strlen($bytes)) {
                throw new RuntimeException('its recordings cannot be written beside the database: look whether there is room');
            }
            $written[$to] = $file;
        }
    }

    /**
     * @return string when it was made
     */
    private function check(string $path, string $name): string
    {
        if (! is_file($path) || file_get_contents($path, false, null, 0, 16) !== "SQLite format 3\0") {
            throw InputRejected::of($name, 'This is not a back-up of Zap Trace. Choose a file that "Write a back-up" made.');
        }
        try {
            $copy = new PDO("sqlite:{$path}", null, null, [PDO::ATTR_ERRMODE => PDO::ERRMODE_EXCEPTION]);
            $whole = self::rows($copy, 'PRAGMA integrity_check', PDO::FETCH_COLUMN)[0] ?? '';
            $tables = self::rows($copy, "SELECT name FROM sqlite_master WHERE type = 'table'", PDO::FETCH_COLUMN);
            $row = in_array('zap_backup', $tables, true) ? self::rows($copy, 'SELECT format, made_at FROM zap_backup', PDO::FETCH_ASSOC)[0] ?? null : null;
        } catch (PDOException) {
            throw InputRejected::of($name, 'The back-up is damaged: it cannot be opened. Nothing was changed.');
        }
        if (! is_array($row) || ($row['format'] ?? '') !== self::FORMAT) {
            throw InputRejected::of($name, is_array($row) && is_string($row['format'] ?? null) ? "The back-up is in the format {$row['format']}, which this version does not read. Nothing was changed." : 'This is a database, but not a back-up of Zap Trace. Nothing was changed.');
        }
        if ($whole !== 'ok' || array_diff(self::NEEDED, $tables) !== []) {
            throw InputRejected::of($name, 'The back-up is damaged or was cut off. Nothing was changed.');
        }

        return is_string($row['made_at'] ?? null) ? $row['made_at'] : '';
    }

    /**
     * @return list<string>
     */
    private function columns(PDO $pdo, string $schema, string $table): array
    {
        $columns = [];
        foreach (self::rows($pdo, "PRAGMA {$schema}.table_info({$table})", PDO::FETCH_ASSOC) as $column) {
            if (is_array($column) && is_string($column['name'] ?? null)) {
                $columns[] = $column['name'];
            }
        }

        return $columns;
    }

    /**
     * @return array<mixed>
     */
    private static function rows(PDO $pdo, string $sql, int $mode): array
    {
        $statement = $pdo->query($sql);

        return $statement === false ? [] : $statement->fetchAll($mode);
    }
}
