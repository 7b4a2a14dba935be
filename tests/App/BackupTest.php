<?php

declare(strict_types=1);

namespace Tests\App;

use Illuminate\Filesystem\Filesystem;
use PDO;
use PHPUnit\Framework\TestCase as PhpUnitTestCase;
use Tests\Support\Artisan;

/**
 * Back-up and restore on a database file, as the command line does it.
 */
final class BackupTest extends PhpUnitTestCase
{
    private static string $demo;

    private string $folder;

    public static function setUpBeforeClass(): void
    {
        self::$demo = sys_get_temp_dir().'/zap-backup-demo-'.bin2hex(random_bytes(6));
        mkdir(self::$demo);
        touch(self::$demo.'/bench.sqlite');
        self::on(self::$demo, 'migrate', '--force');
        self::on(self::$demo, 'zap:demo');
    }

    public static function tearDownAfterClass(): void
    {
        (new Filesystem)->deleteDirectory(self::$demo);
    }

    protected function setUp(): void
    {
        $this->folder = sys_get_temp_dir().'/zap-backup-'.bin2hex(random_bytes(6));
        (new Filesystem)->copyDirectory(self::$demo, $this->folder);
    }

    protected function tearDown(): void
    {
        (new Filesystem)->deleteDirectory($this->folder);
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

    public function test_recordings_and_practice_runs_come_back_with_their_files(): void
    {
        $recording = random_bytes(2_500_000);
        $this->keep('01J00000000000000000000001', 'decoded', $recording, 'cycles');
        $this->pdo()->exec("INSERT INTO practice_runs (id, job_id, seed, difficulty, faults, acts) SELECT '01J0000000000000000000000P', id, 7, 2, '[]', '[]' FROM repair_jobs LIMIT 1");
        $before = $this->content();
        $this->artisan('zap:backup', "{$this->folder}/all.zapbackup");

        $this->pdo()->exec("DELETE FROM captures WHERE name = 'start.vcd'");
        array_map(unlink(...), glob("{$this->folder}/captures/*") ?: []);
        $this->keep('01J00000000000000000000002', 'decoded', 'of another bench', 'more');
        [$code] = $this->artisan('zap:restore', "{$this->folder}/all.zapbackup");

        self::assertSame(0, $code);
        self::assertSame($before, $this->content());
        self::assertSame(md5($recording), $before['beside']['01J00000000000000000000001.capture']);
    }

    public function test_a_recording_that_was_on_its_way_does_not_wait_for_ever(): void
    {
        $this->keep('01J00000000000000000000001', 'uploading', 'half of i', '');
        $this->keep('01J00000000000000000000002', 'decoding', 'not a recording', '');
        $this->artisan('zap:backup', "{$this->folder}/all.zapbackup");

        $this->artisan('zap:restore', "{$this->folder}/all.zapbackup");

        self::assertSame(['cancelled', 'failed'], $this->pdo()->query("SELECT state FROM captures WHERE name = 'start.vcd' ORDER BY id")->fetchAll(PDO::FETCH_COLUMN));
    }

    public function test_a_comparison_that_was_under_way_is_begun_anew(): void
    {
        $this->pdo()->exec("INSERT INTO practice_runs (id, job_id, seed, difficulty, faults, acts, result) SELECT '01J0000000000000000000000P', id, 7, 1, '[]', '[]', '{\"faults\":[],\"left\":[],\"goodSoldered\":0,\"goodPulled\":0,\"comparing\":true,\"advice\":null}' FROM repair_jobs WHERE board_slug = 'larkspur-64' LIMIT 1");
        $this->artisan('zap:backup', "{$this->folder}/all.zapbackup");
        $this->artisan('zap:restore', "{$this->folder}/all.zapbackup");

        $result = json_decode((string) $this->pdo()->query('SELECT result FROM practice_runs')->fetchColumn(), true);
        self::assertSame([false, true], [$result['comparing'], is_array($result['advice'])]);
    }

    public function test_a_backup_from_before_there_were_recordings_is_read(): void
    {
        $this->artisan('zap:backup', "{$this->folder}/all.zapbackup");
        $old = new PDO("sqlite:{$this->folder}/all.zapbackup");
        foreach (['zap_pieces', 'captures', 'practice_runs'] as $table) {
            $old->exec("DROP TABLE {$table}");
        }
        $old = null;
        $this->keep('01J00000000000000000000002', 'decoded', 'of another bench', 'more');

        self::assertSame(0, $this->artisan('zap:restore', "{$this->folder}/all.zapbackup")[0]);
        $after = $this->content();
        self::assertNotSame([], $after['observations']);
        self::assertSame([[], [], []], [$after['captures'], $after['practice_runs'], $after['beside']]);
    }

    public function test_a_recording_that_cannot_be_written_changes_nothing(): void
    {
        $this->keep('01J00000000000000000000001', 'decoded', 'a recording', 'cycles');
        $this->artisan('zap:backup', "{$this->folder}/all.zapbackup");
        $copy = new PDO("sqlite:{$this->folder}/all.zapbackup");
        $copy->exec('UPDATE zap_pieces SET file = 7 WHERE file = 1');
        $copy = null;
        file_put_contents("{$this->folder}/captures/01J00000000000000000000001.capture", 'as it is now');
        $before = $this->content();

        [$code, , $err] = $this->artisan('zap:restore', "{$this->folder}/all.zapbackup");

        self::assertSame(2, $code);
        self::assertStringContainsString('Nothing was changed', $err);
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
        return self::on($this->folder, ...$arguments);
    }

    /**
     * @return array{int, string, string}
     */
    private static function on(string $folder, string ...$arguments): array
    {
        return Artisan::run(array_values($arguments), '', ['DB_DATABASE' => "{$folder}/bench.sqlite", 'CACHE_STORE' => 'array', 'QUEUE_CONNECTION' => 'sync']);
    }

    /** A recording of some job, with its files. */
    private function keep(string $id, string $state, string $file, string $cycles): void
    {
        $this->pdo()->prepare("INSERT INTO captures (id, job_id, board_slug, name, state, size) SELECT ?, id, board_slug, 'start.vcd', ?, ? FROM repair_jobs LIMIT 1")->execute([$id, $state, strlen($file)]);
        @mkdir("{$this->folder}/captures");
        file_put_contents("{$this->folder}/captures/{$id}.capture", $file);
        if ($cycles !== '') {
            file_put_contents("{$this->folder}/captures/{$id}.cycles", $cycles);
        }
    }

    private function pdo(): PDO
    {
        $pdo = new PDO("sqlite:{$this->folder}/bench.sqlite");
        $pdo->exec('PRAGMA foreign_keys = ON');

        return $pdo;
    }

    /**
     * @return array<string, array<mixed>> the tables, and the files beside the database
     */
    private function content(): array
    {
        $content = [];
        foreach (['boards', 'files', 'workshop', 'repair_jobs', 'observations', 'practice_runs', 'captures'] as $table) {
            $content[$table] = $this->pdo()->query("SELECT * FROM {$table} ORDER BY 1")->fetchAll(PDO::FETCH_ASSOC);
        }

        $content['beside'] = [];
        foreach (glob("{$this->folder}/captures/*") ?: [] as $file) {
            $content['beside'][basename($file)] = md5_file($file);
        }

        return $content;
    }
}
