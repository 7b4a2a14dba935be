<?php

declare(strict_types=1);

namespace Tests\Core\Formats;

use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;
use Tests\Support\Captures;
use ZapTrace\Formats\CaptureSink;
use ZapTrace\Formats\VcdWriter;
use ZapTrace\Problems\InputRejected;

/**
 * Source: IEEE Std 1364-2005, clause 18, Value change dump files.
 */
final class CaptureTest extends TestCase
{
    private const HEAD = "\$date today \$end\n\$version any \$end\n\$timescale 10 ns \$end\n\$scope module top \$end\n\$var wire 1 ! clk \$end\n\$var reg 4 \" bus [3:0] \$end\n\$scope module inner \$end\n\$var wire 1 # q [2] \$end\n\$upscope \$end\n\$upscope \$end\n\$enddefinitions \$end\n";

    public function test_scopes_vectors_dumpvars_x_and_z_are_read(): void
    {
        $capture = Captures::open(self::HEAD."#0\n\$dumpvars\n0!\nbxz01 \"\nx#\n\$end\n#5\n1!\nb1010 \"\n#7\nb1 \"\n1#\n#9\n");
        $moments = self::moments($capture->channels(), $capture);

        self::assertSame(['clk', 'bus0', 'bus1', 'bus2', 'bus3', 'q2'], $capture->channels());
        self::assertSame(1e-8, $capture->unit());
        self::assertSame(9, $capture->end());
        self::assertSame([[0, 'clk=0 bus0=1 bus1=0'], [5, 'clk=1 bus0=0 bus1=1 bus2=0 bus3=1'], [7, 'bus0=1 bus1=0 bus3=0 q2=1']], $moments);
    }

    public function test_a_shorter_vector_is_filled_up_with_zeros_or_with_its_x(): void
    {
        $capture = Captures::open(self::HEAD."#1\nb1111 \"\n#2\nbx1 \"\n#3\nb1 \"\n");

        self::assertSame([[1, 'bus0=1 bus1=1 bus2=1 bus3=1'], [2, 'bus1=2 bus2=2 bus3=2'], [3, 'bus1=0 bus2=0 bus3=0']], self::moments($capture->channels(), $capture));
    }

    /**
     * @param  string  $words  of the sentence
     */
    #[DataProvider('damaged')]
    public function test_a_damaged_dump_is_refused_with_a_sentence(string $content, string $words): void
    {
        try {
            $capture = Captures::open($content);
            $capture->read(self::sink($capture->channels(), $seen));
            self::fail("Nothing said: {$words}");
        } catch (InputRejected $rejected) {
            self::assertStringContainsString($words, $rejected->getMessage());
        }
    }

    /**
     * @return iterable<string, array{string, string}>
     */
    public static function damaged(): iterable
    {
        yield 'cut off in its header' => [substr(self::HEAD, 0, 120), 'cut off in its header'];
        yield 'cut off in a change' => [self::HEAD."#0\n0!\n#5\n1", 'in the middle of a line'];
        yield 'cut off in dumpvars' => [self::HEAD."#0\n\$dumpvars\n0!\n", 'inside a $dumpvars'];
        yield 'an identifier nobody declared' => [self::HEAD."#0\n0!\n1%\n", 'line 14: A change of "%"'];
        yield 'times that go backwards' => [self::HEAD."#5\n0!\n#4\n1!\n", 'goes back from 5 to 4'];
        yield 'no variables' => ["\$timescale 1 ns \$end\n\$enddefinitions \$end\n#0\n", 'declares no variable'];
        yield 'a timescale that is none' => ["\$timescale 3 ns \$end\n\$var wire 1 ! a \$end\n\$enddefinitions \$end\n", 'The timescale'];
        yield 'nonsense' => [self::HEAD."#0\nhello\n", '"hello" is no change'];
        yield 'nothing' => ['', '0 bytes'];
        yield 'a table with changing columns' => ["time,a,b\n0,0,1\n1,1\n2,0,0,1\n", 'It has 2 columns and the first row 3'];
        yield 'a table that goes back' => ["time,a\n5,0\n4,1\n", 'The time goes back'];
        yield 'a table with other levels' => ["time,a\n5,0\n6,7\n", '"7" in column a is no level'];
        yield 'a table with a head alone' => ["time,a\n", 'nothing was recorded'];
        yield 'no table' => ["1,2\n3,4\n", 'This is no recording'];
    }

    public function test_all_problems_are_told_at_once(): void
    {
        try {
            $capture = Captures::open(self::HEAD."#5\n1%\n#4\nhello\n");
            $capture->read(self::sink($capture->channels(), $seen));
            self::fail('Nothing said.');
        } catch (InputRejected $rejected) {
            self::assertCount(3, $rejected->problems);
        }
    }

    public function test_a_file_that_is_too_large_is_refused_before_it_is_read(): void
    {
        $file = (string) tempnam(sys_get_temp_dir(), 'zap');
        $stream = fopen($file, 'w+');
        assert($stream !== false);
        fwrite($stream, self::HEAD);
        ftruncate($stream, 100_000_000);
        rewind($stream);
        try {
            $this->expectExceptionMessage('The recording has 100 MB; at most 64 MiB are read');
            \ZapTrace\Formats\Capture::open($stream, 'large.vcd');
        } finally {
            unlink($file);
        }
    }

    public function test_tables_with_times_in_any_unit_or_none(): void
    {
        $timed = Captures::open("Time [us];A;B\n0,5;0;1\n1,5;1;1\n");
        self::assertSame([[500000, 'A=0 B=1'], [1500000, 'A=1']], self::moments($timed->channels(), $timed));
        self::assertSame(1e-12, $timed->unit());

        $plain = Captures::open("A,B\n0,1\n1,1\n1,0\n");
        self::assertSame([[0, 'A=0 B=1'], [1, 'A=1'], [2, 'B=0']], self::moments($plain->channels(), $plain));
    }

    public function test_what_is_written_is_read_back(): void
    {
        $writer = new VcdWriter(array_map(static fn (int $number): string => "c{$number}", range(0, 199)));
        $writer->at(0, array_fill(0, 200, 0));
        $writer->at(7, [3 => 1, 150 => 2]);
        $writer->at(9, [150 => 1, 3 => 1]);
        $capture = Captures::open($writer->finish(12));
        $moments = self::moments($capture->channels(), $capture);

        self::assertSame([[7, 'c3=1 c150=2'], [9, 'c150=1']], array_slice($moments, 1));
        self::assertSame(12, $capture->end());
        self::assertSame(203, $capture->changes());
    }

    public function test_reading_can_be_stopped(): void
    {
        $capture = Captures::open(self::HEAD."#0\n0!\n#5\n1!\n");

        self::assertFalse($capture->read(self::sink($capture->channels(), $seen), static fn (int $bytes): bool => false));
    }

    /**
     * @param  list<string>  $channels
     * @return list<array{int, string}>
     */
    private static function moments(array $channels, \ZapTrace\Formats\Capture $capture): array
    {
        $capture->read(self::sink($channels, $seen));

        return $seen ?? [];
    }

    /**
     * @param  list<string>  $channels
     * @param  list<array{int, string}>|null  $seen
     */
    private static function sink(array $channels, ?array &$seen): CaptureSink
    {
        $seen = [];

        return new class($channels, $seen) implements CaptureSink
        {
            /**
             * @param  list<string>  $channels
             * @param  list<array{int, string}>  $seen
             */
            public function __construct(private array $channels, private ?array &$seen)
            {
            }

            public function watches(): array
            {
                return array_keys($this->channels);
            }

            public function moment(int $time, array $changes, array $levels): void
            {
                ksort($changes);
                $changes = array_filter($changes, static fn (int $level, int $channel): bool => $levels[$channel] !== $level, ARRAY_FILTER_USE_BOTH);
                $this->seen[] = [$time, implode(' ', array_map(fn (int $channel, int $level): string => "{$this->channels[$channel]}={$level}", array_keys($changes), $changes))];
            }
        };
    }
}
