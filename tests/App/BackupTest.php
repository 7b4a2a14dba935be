<?php

declare(strict_types=1);

namespace Tests\App;

use PDO;
use PHPUnit\Framework\TestCase as PhpUnitTestCase;
use Tests\Support\Artisan;

/**
 * Back-up and restore on a database file, as the command line does it.
 */
final class BackupTest extends PhpUnitTestCase
{
    private string $folder;

    protected function setUp(): void
    {
        $this->folder = sys_get_temp_dir().'/zap-backup-'.bin2hex(random_bytes(6));
        mkdir($this->folder);
        touch("{$this->folder}/bench.sqlite");
        $this->artisan('migrate', '--force');
        $this->artisan('zap:demo');
    }

    protected function tearDown(): void
    {
        (new \Illuminate\Filesystem\Filesystem)->deleteDirectory($this->folder);
    }

    public function test_everything_comes_back_from_a_single_file(): void
    {
        $before = $this->content();
        [$code, $out] = $this->artisan('zap:backup', "{$this->folder}/all.zapbackup");
        self::assertSame(0, $code);
        self::assertStringContainsString('Written to', $out);

        $this->pdo()->exec('DELETE FROM repair_jobs');
        $this->pdo()->exec("INSERT INTO boards (slug, content, created_at, updated_at) VALUES ('stray', '{}', '2026-01-01', '2026-01-01')");
        self::assertNotSame($before, $this->content());

        [$code, $out] = $this->artisan('zap:restore', "{$this->folder}/all.zapbackup");
        self::assertSame(0, $code);
        self::assertStringContainsString('Restored 8 jobs with', $out);
        self::assertSame($before, $this->content());
    }

    public function test_what_is_no_whole_backup_is_refused_and_changes_nothing(): void
    {
        $this->artisan('zap:backup', "{$this->folder}/all.zapbackup");
        $whole = (string) file_get_contents("{$this->folder}/all.zapbackup");
        $before = $this->content();
        foreach ([
            'text' => ['hello', '/not a back-up/'],
            'cut off' => [substr($whole, 0, intdiv(strlen($whole), 2)), '/damaged/'],
            'another database' => [(string) file_get_contents("{$this->folder}/bench.sqlite"), '/not a back-up|damaged/'],
        ] as $name => [$content, $sentence]) {
            file_put_contents("{$this->folder}/bad.zapbackup", $content);
            [$code, , $err] = $this->artisan('zap:restore', "{$this->folder}/bad.zapbackup");
            self::assertSame(2, $code, $name);
            self::assertMatchesRegularExpression($sentence, $err, $name);
            self::assertSame($before, $this->content(), $name);
        }
        self::assertSame(2, $this->artisan('zap:restore', "{$this->folder}/nowhere.zapbackup")[0]);
    }

    public function test_a_restore_that_breaks_off_in_the_middle_leaves_the_old_data(): void
    {
        $this->artisan('zap:backup', "{$this->folder}/all.zapbackup");
        $before = $this->content();
        // Its last table does not go in: by then everything else has been replaced.
        $copy = new PDO("sqlite:{$this->folder}/all.zapbackup");
        $copy->exec('ALTER TABLE observations RENAME TO whole');
        $copy->exec('CREATE TABLE observations AS SELECT * FROM whole');
        $copy->exec('UPDATE observations SET job_id = NULL');
        $copy = null;

        [$code, , $err] = $this->artisan('zap:restore', "{$this->folder}/all.zapbackup");

        self::assertSame(2, $code);
        self::assertStringContainsString('Nothing was changed', $err);
        self::assertSame($before, $this->content());
    }

    /**
     * @return array{int, string, string}
     */
    private function artisan(string ...$arguments): array
    {
        return Artisan::run(array_values($arguments), '', ['DB_DATABASE' => "{$this->folder}/bench.sqlite", 'CACHE_STORE' => 'array']);
    }

    private function pdo(): PDO
    {
        $pdo = new PDO("sqlite:{$this->folder}/bench.sqlite");
        $pdo->exec('PRAGMA foreign_keys = ON');

        return $pdo;
    }

    /**
     * @return array<string, list<array<string, mixed>>>
     */
    private function content(): array
    {
        $content = [];
        foreach (['boards', 'files', 'workshop', 'repair_jobs', 'observations'] as $table) {
            $content[$table] = $this->pdo()->query("SELECT * FROM {$table} ORDER BY 1")->fetchAll(PDO::FETCH_ASSOC);
        }

        return $content;
    }
}
