<?php

declare(strict_types=1);

namespace App\Jobs;

use App\Bench\BoardShelf;
use App\Models\Capture;
use Illuminate\Bus\Queueable;
use Illuminate\Contracts\Queue\ShouldQueue;
use Illuminate\Foundation\Bus\Dispatchable;
use Illuminate\Queue\InteractsWithQueue;
use Throwable;
use ZapTrace\Bus\CycleDecoder;
use ZapTrace\Bus\LineWatch;
use ZapTrace\Bus\SignalMap;
use ZapTrace\Bus\Sinks;
use ZapTrace\Formats\Capture as CaptureFile;
use ZapTrace\Problems\InputRejected;
use ZapTrace\Problems\Problem;

/**
 * Makes cycles of a recording, beside the server.
 */
final class DecodeCapture implements ShouldQueue
{
    use Dispatchable;
    use InteractsWithQueue;
    use Queueable;

    /** Bytes after which the progress is told and a wish to stop is heard. */
    private const STRETCH = 1 << 20;

    public int $tries = 1;

    public int $timeout = 600;

    public function __construct(private readonly string $capture)
    {
    }

    public function handle(BoardShelf $boards): void
    {
        $capture = Capture::query()->find($this->capture);
        if ($capture === null || $capture->state !== 'waiting') {
            return;
        }
        $capture->update(['state' => 'decoding', 'progress' => 0.0, 'problems' => null]);
        try {
            $board = $boards->find($capture->board_slug);
            $bus = $board->chips[$board->processor->chip ?? '']->type->bus ?? throw InputRejected::of($capture->name, "The library does not know the bus of the processor of {$board->name}.");
            $stream = fopen($capture->file(), 'r');
            assert($stream !== false);
            $file = CaptureFile::open($stream, $capture->name);
            $capture->update(['channels' => json_encode($file->channels(), JSON_THROW_ON_ERROR)]);
            $map = SignalMap::byName($file->channels(), $bus)->with($capture->mapped(), $file->channels(), $bus);
            $decoder = new CycleDecoder($bus, $map, $file->unit());
            $lines = new LineWatch($bus, $map);
            $told = 0;
            $whole = $file->read(new Sinks($decoder, $lines), static function (int $read) use ($capture, &$told): bool {
                if ($read - $told < self::STRETCH) {
                    return true;
                }
                $told = $read;
                Capture::query()->whereKey($capture->id)->where('state', 'decoding')->update(['progress' => min(1.0, $read / max(1, $capture->size))]);

                return Capture::query()->whereKey($capture->id)->value('state') === 'decoding';
            });
            if (! $whole) {
                return; // It was cancelled; what is there says so.
            }
            $cycles = $decoder->cycles($file->end());
            file_put_contents($capture->cyclesFile(), $cycles->packed());
            // Cancelled in the last moment stays cancelled.
            Capture::query()->whereKey($capture->id)->where('state', 'decoding')->update([
                'state' => 'decoded', 'progress' => 1.0, 'cycles' => $cycles->count(),
                'map' => json_encode((object) $map->written($file->channels()), JSON_THROW_ON_ERROR | JSON_UNESCAPED_SLASHES),
                'lines' => json_encode($lines->summary($file->unit(), $file->end()), JSON_THROW_ON_ERROR | JSON_UNESCAPED_UNICODE | JSON_UNESCAPED_SLASHES),
            ]);
        } catch (InputRejected $rejected) {
            $capture->update(['state' => 'failed', 'problems' => json_encode(array_map(static fn (Problem $problem): array => ['place' => $problem->place, 'sentence' => $problem->sentence], $rejected->problems), JSON_THROW_ON_ERROR | JSON_UNESCAPED_UNICODE)]);
        }
    }

    public function failed(?Throwable $reason): void
    {
        Capture::query()->whereKey($this->capture)->update(['state' => 'failed', 'problems' => json_encode([['place' => '', 'sentence' => 'The decoding broke off. Try it again; if it breaks off again, record a shorter stretch.']])]);
    }
}
