<?php

declare(strict_types=1);

namespace Tests\App;

use App\Bench\BoardShelf;
use App\Jobs\DecodeCapture;
use App\Models\Capture;
use Illuminate\Support\Facades\Artisan;
use Illuminate\Support\Facades\DB;
use Illuminate\Support\Facades\Queue;
use Tests\Support\Boards;
use ZapTrace\Bench\Machine;

/**
 * What is made of a recording beside the server, and what happens when that does not go well.
 */
final class DecodeCaptureTest extends TestCase
{
    protected function tearDown(): void
    {
        foreach (Capture::query()->get() as $capture) {
            @unlink($capture->file());
            @unlink($capture->cyclesFile());
        }
        parent::tearDown();
    }

    public function test_a_recording_becomes_cycles_and_its_lines_are_summed_up(): void
    {
        $capture = $this->decoded((new Machine(Boards::shipped('larkspur-64'), [], 1))->capture(80));

        self::assertSame(['decoded', 1.0, null], [$capture->state, $capture->progress, $capture->problems]);
        self::assertGreaterThan(60, $capture->cycles);
        self::assertFileExists($capture->cyclesFile());
        self::assertNotEmpty(json_decode((string) $capture->lines, true));
        self::assertArrayHasKey('PHI2', json_decode((string) $capture->map, true));
    }

    public function test_a_table_of_samples_is_taken_as_well(): void
    {
        $lines = ['time,PHI2,R//W,SYNC,'.implode(',', array_map(static fn (int $bit): string => "A{$bit}", range(0, 15))).','.implode(',', array_map(static fn (int $bit): string => "D{$bit}", range(0, 7)))];
        $bits = static fn (int $word, int $count): string => implode(',', array_map(static fn (int $bit): int => $word >> $bit & 1, range(0, $count - 1)));
        foreach ([0xFFFC, 0xFFFD, 0xF000] as $number => $address) {
            foreach ([0, 1] as $clock) {
                $lines[] = sprintf('%.1e,%d,1,%d,%s,%s', ($number * 2 + $clock) * 5e-7, $clock, $number === 2 ? 1 : 0, $bits($address, 16), $bits(0x40 + $number, 8));
            }
        }
        $capture = $this->decoded(implode("\n", [...$lines, '4e-6,0,1,0,'.$bits(0, 16).','.$bits(0, 8)])."\n", 'samples.csv');

        self::assertSame(['decoded', null], [$capture->state, $capture->problems]);
        self::assertGreaterThanOrEqual(3, $capture->cycles);
    }

    public function test_what_was_cancelled_stays_so_even_when_its_turn_comes_later(): void
    {
        $capture = $this->waiting('anything', 'a.vcd');
        $capture->update(['state' => 'cancelled']);
        $this->decode($capture);

        self::assertSame('cancelled', $capture->refresh()->state);
        self::assertFileDoesNotExist($capture->cyclesFile());
    }

    public function test_cancelled_while_it_is_read_it_leaves_nothing(): void
    {
        // More than one stretch, so that it hears of it on the way.
        $capture = $this->waiting(self::long(), 'long.vcd');
        $cancelled = false;
        DB::listen(static function ($query) use ($capture, &$cancelled): void {
            if (! $cancelled && str_contains($query->sql, 'progress') && in_array('decoding', $query->bindings, true) && Capture::query()->whereKey($capture->id)->value('progress') > 0) {
                $cancelled = true;
                Capture::query()->whereKey($capture->id)->update(['state' => 'cancelled']);
            }
        });
        $this->decode($capture);

        self::assertTrue($cancelled, 'It told how far it had come.');
        self::assertSame(['cancelled', null], [$capture->refresh()->state, $capture->cycles]);
        self::assertFileDoesNotExist($capture->cyclesFile());
    }

    public function test_what_is_no_recording_says_where_and_what_to_try(): void
    {
        foreach (['nothing.vcd' => '', 'letter.vcd' => "Dear bench,\nthe bus is dead.\n", 'half.vcd' => '$timescale 1 ns $end'."\n".'$scope module a $end'."\n"] as $name => $text) {
            $capture = $this->decoded($text, $name);
            self::assertSame('failed', $capture->state, $name);
            $problems = json_decode((string) $capture->problems, true);
            self::assertNotEmpty($problems, $name);
            self::assertGreaterThan(20, strlen($problems[0]['sentence']), $name);
            self::assertFileDoesNotExist($capture->cyclesFile());
        }
    }

    public function test_a_recording_that_is_gone_is_no_disaster(): void
    {
        (new DecodeCapture('no-such'))->handle(app(BoardShelf::class));
        $capture = $this->waiting('x', 'a.vcd');
        (new DecodeCapture($capture->id))->failed(null);

        self::assertSame('failed', $capture->refresh()->state);
        self::assertStringContainsString('Try it again', (string) $capture->problems);
    }

    public function test_what_was_under_way_when_the_server_was_stopped_is_begun_anew(): void
    {
        [$decoding, $waiting, $cancelled] = array_map(fn (string $state): Capture => tap($this->waiting('x', "{$state}.vcd"), static fn (Capture $capture) => $capture->update(['state' => $state])), ['decoding', 'waiting', 'cancelled']);
        DB::table('queued')->insert(['queue' => 'default', 'payload' => '{}', 'attempts' => 1, 'reserved_at' => time(), 'available_at' => time(), 'created_at' => time()]);
        Queue::fake();
        self::assertSame(0, Artisan::call('zap:resume'));

        Queue::assertPushed(DecodeCapture::class, 2);
        self::assertSame(['waiting', 'waiting', 'cancelled', 0], [$decoding->refresh()->state, $waiting->refresh()->state, $cancelled->refresh()->state, DB::table('queued')->count()]);
    }

    private function decoded(string $contents, string $name = 'a.vcd'): Capture
    {
        $capture = $this->waiting($contents, $name);
        $this->decode($capture);

        return $capture->refresh();
    }

    private function decode(Capture $capture): void
    {
        (new DecodeCapture($capture->id))->handle(app(BoardShelf::class));
    }

    private function waiting(string $contents, string $name): Capture
    {
        $job = $this->newJob();
        $begun = $this->postJson("api/jobs/{$job->id}/captures", ['name' => $name, 'size' => max(1, strlen($contents)), 'role' => 'sick'])->assertCreated();
        $id = $begun->json('capture.id') ?? $begun->json('capture');
        assert(is_string($id));
        $capture = Capture::query()->findOrFail($id);
        file_put_contents($capture->file(), $contents);
        $capture->update(['state' => 'waiting']);

        return $capture;
    }

    private static function long(): string
    {
        $text = "\$timescale 1 ns \$end\n\$scope module bus \$end\n";
        foreach (['PHI2', 'R//W', ...array_map(static fn (int $bit): string => "A{$bit}", range(0, 15)), ...array_map(static fn (int $bit): string => "D{$bit}", range(0, 7))] as $number => $name) {
            $text .= '$var wire 1 '.chr(40 + $number)." {$name} \$end\n";
        }
        $text .= "\$upscope \$end\n\$enddefinitions \$end\n";
        for ($cycle = 0; strlen($text) < 5 << 19; $cycle++) {
            $text .= sprintf("#%d\n0(\n%d*\n#%d\n1(\n", $cycle * 1000, $cycle & 1, $cycle * 1000 + 500);
        }

        return $text;
    }
}
