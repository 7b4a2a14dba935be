<?php

declare(strict_types=1);

namespace Tests\App;

use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase as PhpUnitTestCase;
use Tests\Support\Artisan;

/**
 * The command as a script runs it: a process with its standard streams and exit code.
 */
final class MapCommandTest extends PhpUnitTestCase
{
    private string $folder;

    protected function setUp(): void
    {
        $this->folder = sys_get_temp_dir().'/zap-map-'.bin2hex(random_bytes(6));
        mkdir($this->folder);
    }

    protected function tearDown(): void
    {
        array_map(unlink(...), glob($this->folder.'/*') ?: []);
        rmdir($this->folder);
    }

    public function test_readings_on_standard_input_give_one_json_object(): void
    {
        [$code, $out, $err] = Artisan::run(['zap:map', 'larkspur-64', '-', '--json'], "6c00 00>20\n6c01 0f>2f\n");
        $answer = json_decode($out, true, 64, JSON_THROW_ON_ERROR);

        self::assertSame([0, ''], [$code, $err]);
        self::assertSame(['larkspur-64', 2, 2], [$answer['board'], $answer['readings'], $answer['failed']]);
        self::assertSame(['bit' => 5, 'chip' => 'U14', 'tested' => 2, 'able' => 2, 'failed' => 2, 'stuck' => 'high', 'pattern' => 'every-address'], array_slice($answer['banks'][0]['bits'][5], 0, 7));
        self::assertSame(['U14', 'chip'], [$answer['suspects'][0]['site'], $answer['suspects'][0]['kind']]);
        $shares = array_column($answer['suspects'], 'share');
        $falling = $shares;
        rsort($falling);
        self::assertSame($falling, $shares);
        self::assertNotSame([], $answer['suspects'][0]['because']);
    }

    public function test_a_dump_a_comparison_a_base_and_a_link(): void
    {
        $dump = $this->file('dump.bin', str_repeat("\x20", 64));
        [$code, $out] = Artisan::run(['zap:map', 'tamarisk-two', $dump, '--expect=fill:00', '--base=0x4000', '--link=LK1=swapped', '--json']);

        self::assertSame(0, $code);
        self::assertSame('U36', json_decode($out, true)['suspects'][0]['site']);
    }

    public function test_a_second_file_as_the_comparison(): void
    {
        $written = $this->file('written.bin', "\x01\x02\x03\x04\x05\x06\x00\xFF");
        $dump = $this->file('dump.bin', "\x03\x02\x03\x06\x07\x06\x02\xFF");
        [$code, $out] = Artisan::run(['zap:map', 'larkspur-64', $dump, "--expect={$written}", '--base=2000', '--json']);

        self::assertSame([0, 'U10'], [$code, json_decode($out, true)['suspects'][0]['site']]);
    }

    public function test_another_radix_and_a_board_file(): void
    {
        [$code, $out] = Artisan::run(['zap:map', dirname(__DIR__, 2).'/resources/boards/larkspur-64.board.json', '-', '--radix=8', '--json'], '66000 000 040');

        self::assertSame([0, 'U14'], [$code, json_decode($out, true)['suspects'][0]['site']]);
    }

    public function test_healthy_memory_gives_no_suspect(): void
    {
        [$code, $out] = Artisan::run(['zap:map', 'larkspur-64', '-', '--json'], "6c00 00 00\n6c00 ff ff");

        self::assertSame([0, []], [$code, json_decode($out, true)['suspects']]);
    }

    /**
     * @return iterable<string, array{list<string>, string, list<string>}>
     */
    public static function bad(): iterable
    {
        yield 'bad lines' => [['larkspur-64', '-'], "6c00 00\n6c0x 00 20\n1ffff 00 20\n", ['line 1', 'line 2', 'line 3']];
        yield 'everything at once' => [['larkspur-64', '-', '--link=LK9=1', '--link=odd', '--radix=7', '--expect=ramp'], "zz 0 0\n", ['LK9', '--link', '--radix', 'expect', 'line 1']];
        yield 'an unknown position' => [['tamarisk-two', '-', '--link=LK1=48K'], "4000 00 20\n", ['32K, 16K, swapped']];
        yield 'an unknown board' => [['nothing', '-'], "4000 00 20\n", ['no board file "nothing"', 'larkspur-64']];
        yield 'a missing file' => [['larkspur-64', '/nowhere/at/all'], '', ['There is no such file']];
        yield 'nothing' => [['larkspur-64', '-'], '', ['empty']];
        yield 'a dump without a comparison' => [['larkspur-64', '-'], "\0\1\2", ['say what it should have held']];
    }

    /**
     * @param  list<string>  $arguments
     * @param  list<string>  $says
     */
    #[DataProvider('bad')]
    public function test_bad_input_ends_with_2_and_all_problems_on_standard_error(array $arguments, string $input, array $says): void
    {
        [$code, $out, $err] = Artisan::run(['zap:map', ...$arguments, '--json'], $input);

        self::assertSame([2, ''], [$code, $out]);
        foreach ($says as $sentence) {
            self::assertStringContainsString($sentence, $err);
        }
    }

    public function test_a_file_of_100_MB_is_refused_with_the_limit(): void
    {
        $path = $this->file('huge.bin', '');
        $handle = fopen($path, 'r+b');
        ftruncate($handle, 100_000_000);
        fclose($handle);
        [$code, , $err] = Artisan::run(['zap:map', 'larkspur-64', $path, '--expect=fill:00']);

        self::assertSame(2, $code);
        self::assertStringContainsString('at most 32 MiB', $err);
    }

    private function file(string $name, string $content): string
    {
        file_put_contents("{$this->folder}/{$name}", $content);

        return "{$this->folder}/{$name}";
    }
}
