<?php

declare(strict_types=1);

namespace App\Bench;

use Illuminate\Contracts\Cache\Repository;
use Illuminate\Support\Carbon;
use Illuminate\Support\Facades\DB;
use PDO;
use PDOException;
use RuntimeException;
use ZapTrace\Problems\InputRejected;

/**
 * Everything that was recorded in one file - jobs, photographs, board files, the workshop - and back. The file is an
 * SQLite database with a page of its own that says what it is.
 *
 * A restore happens within one transaction of the database that is there: interrupted at any moment, it leaves the old
 * data as they were.
 */
final readonly class Backup
{
    public const MAX_BYTES = 2 * 1024 * 1024 * 1024;

    private const FORMAT = 'zap-trace-backup/1';

    /** Parents before their children. */
    private const TABLES = ['boards', 'files', 'workshop', 'repair_jobs', 'observations'];

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
        $pdo = DB::connection()->getPdo();
        $pdo->exec('ATTACH DATABASE '.$pdo->quote($path).' AS incoming');
        try {
            DB::transaction(function () use ($pdo): void {
                foreach (array_reverse(self::TABLES) as $table) {
                    $pdo->exec("DELETE FROM main.{$table}");
                }
                foreach (self::TABLES as $table) {
                    $columns = implode(', ', array_map(static fn (string $column): string => "\"{$column}\"", array_intersect($this->columns($pdo, 'incoming', $table), $this->columns($pdo, 'main', $table))));
                    $pdo->exec("INSERT INTO main.{$table} ({$columns}) SELECT {$columns} FROM incoming.{$table}");
                }
            });
        } catch (PDOException $reason) {
            throw InputRejected::of($name, "The back-up does not fit together: {$reason->getMessage()}. Nothing was changed.");
        } finally {
            $pdo->exec('DETACH DATABASE incoming');
        }
        $this->cache->clear();

        return ['jobs' => DB::table('repair_jobs')->count(), 'observations' => DB::table('observations')->count(), 'madeAt' => $madeAt];
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
        if ($whole !== 'ok' || array_diff(self::TABLES, $tables) !== []) {
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
