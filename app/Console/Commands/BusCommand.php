<?php

declare(strict_types=1);

namespace App\Console\Commands;

use App\Bench\BoardShelf;
use Illuminate\Console\Command;
use ZapTrace\Board\BoardProfile;
use ZapTrace\Bus\CycleDecoder;
use ZapTrace\Bus\CycleList;
use ZapTrace\Bus\LadderBuilder;
use ZapTrace\Bus\MemoryPlan;
use ZapTrace\Bus\SetupCheck;
use ZapTrace\Bus\SignalMap;
use ZapTrace\Bus\StartUpRun;
use ZapTrace\Formats\Capture;
use ZapTrace\Formats\JsonNode;
use ZapTrace\Observations\Assessment;
use ZapTrace\Observations\BusCaptured;
use ZapTrace\Observations\Interpreters;
use ZapTrace\Observations\NoAttachments;
use ZapTrace\Observations\Observation;
use ZapTrace\Parts\ProcessorBus;
use ZapTrace\Problems\InputRejected;
use ZapTrace\Problems\ProblemList;
use ZapTrace\Reasoning\FailureModes;
use ZapTrace\Reasoning\Suspect;
use ZapTrace\Rom\RomImage;

/**
 * Captures of a bus for scripts: where a sick one parts from a good one or from its ROM, and whether the channels are
 * where they are said to be.
 */
final class BusCommand extends Command
{
    private const SUSPECTS = 8;

    protected $signature = 'zap:bus
        {what : diff or check}
        {capture : The recording: Value Change Dump or CSV}
        {--good= : A capture of a working machine}
        {--rom= : What the ROM should hold}
        {--board= : The board: a slug; larkspur-64 when left out}
        {--map= : A JSON file with signals and the channels they are on: {"A0": "CH3", "R//W": "!CH7"}}
        {--json : Print one JSON object}';

    protected $description = 'Find where two boots part, or check which channel is which';

    public function handle(BoardShelf $boards, FailureModes $modes): int
    {
        $problems = new ProblemList;
        $attempt = static function (callable $of) use ($problems): mixed {
            try {
                return $of();
            } catch (InputRejected $rejected) {
                foreach ($rejected->problems as $problem) {
                    $problems->add($problem->place, $problem->sentence);
                }

                return null;
            }
        };
        $what = $this->text('what', true);
        if (! in_array($what, ['diff', 'check'], true)) {
            $problems->add('', 'Say diff or check: php artisan zap:bus diff SICK --good=CAPTURE, or zap:bus check CAPTURE --rom=FILE.');
        }
        if (($this->text('good') === '') === ($this->text('rom') === '')) {
            $problems->add('', 'Give one thing to hold it against: --good=CAPTURE or --rom=FILE.');
        }
        $board = $attempt(fn (): BoardProfile => $this->board($boards));
        $bus = $board instanceof BoardProfile ? $board->chips[$board->processor->chip ?? '']->type->bus ?? null : null;
        if ($board instanceof BoardProfile && $bus === null) {
            $problems->add('--board', "The library does not know the bus of the processor of {$board->name}.");
        }
        $given = $attempt(fn (): array => $this->given());
        $image = $this->text('rom') === '' ? null : $attempt(fn (): RomImage => RomImage::fromFile($this->content($this->text('rom')), basename($this->text('rom'))));
        $name = $this->text('capture', true);
        $sick = $bus === null ? null : $attempt(fn (): array => $this->decoded($name, $bus, is_array($given) ? $given : []));
        $good = $bus === null || $this->text('good') === '' ? null : $attempt(fn (): array => $this->decoded($this->text('good'), $bus, []));
        if ($problems->isEmpty() && $board instanceof BoardProfile && $bus !== null && is_array($sick)) {
            $plan = MemoryPlan::of($board, $image instanceof RomImage ? $this->placed($board, $image) : []);
            /** @var array{cycles: CycleList, map: SignalMap} $sick */
            $result = $attempt(fn (): array => $what === 'check'
                ? $this->check($name, $bus, $sick['map'], is_array($good) && $good['cycles'] instanceof CycleList ? $good['cycles'] : StartUpRun::of($bus, $plan) ?? throw InputRejected::of('--rom', 'The start-up of this processor cannot be followed from its ROM alone: give --good=CAPTURE.'))
                : $this->diff($board, $bus, $plan, $sick['cycles'], is_array($good) && $good['cycles'] instanceof CycleList ? $good['cycles'] : null, $modes));
            if (is_array($result)) {
                $this->output->writeln($this->option('json') ? json_encode($result['json'], JSON_THROW_ON_ERROR | JSON_UNESCAPED_UNICODE | JSON_UNESCAPED_SLASHES) : $result['words']);

                return self::SUCCESS;
            }
        }
        foreach ($problems->all() as $problem) {
            fwrite(STDERR, "{$problem}\n");
        }

        return 2;
    }

    /**
     * @return array{json: array<string, mixed>, words: string}
     */
    private function check(string $name, ProcessorBus $bus, SignalMap $map, CycleList $reference): array
    {
        $check = SetupCheck::of(fn (): Capture => Capture::open($this->stream($name), basename($name)), $bus, $map, $reference);

        return [
            'json' => ['channels' => $check->channels, 'sure' => $check->sure, 'because' => [...$check->because, ...($check->doubt === '' ? [] : [$check->doubt])]],
            'words' => ($check->right ? 'The channels are where they are said to be' : implode("\n", $check->because)).($check->doubt === '' ? '' : "\n{$check->doubt}")."\nsure: {$check->sure}",
        ];
    }

    /**
     * @return array{json: array<string, mixed>, words: string}
     */
    private function diff(BoardProfile $board, ProcessorBus $bus, MemoryPlan $plan, CycleList $sick, ?CycleList $good, FailureModes $modes): array
    {
        $builder = new LadderBuilder($bus, $plan);
        $ladder = $good === null ? $builder->againstRom($sick) : $builder->against($sick, $good);
        $found = $ladder->divergence;
        $suspects = [];
        if ($found !== null) {
            $payload = $ladder->noted('capture', 'reference', 'unchecked');
            $log = [new Observation('1', BusCaptured::KIND, JsonNode::of(json_decode((string) json_encode($payload), false)))];
            $suspects = array_map(static fn (Suspect $suspect): array => ['site' => $suspect->site, 'share' => round($suspect->share, 3)], array_slice(Assessment::of($board, $board->radix, $log, Interpreters::all(), new NoAttachments, $modes)->conclusion->suspects(), 0, self::SUSPECTS));
        }

        return [
            'json' => [
                'cycles' => $ladder->cycles, 'distance' => $ladder->distance,
                'divergence' => $found === null ? null : $found->toArray() + ['address' => null, 'expected' => null, 'seen' => null],
                'suspects' => $suspects,
            ],
            'words' => "{$ladder->distance} of {$ladder->cycles} cycles as they should be".($found === null ? '.' : "; cycle {$found->cycle}: {$found->words}").implode('', array_map(static fn (array $suspect): string => sprintf("\n%5.1f %%  %s", 100 * $suspect['share'], $suspect['site']), $suspects)),
        ];
    }

    /**
     * @param  array<string, string>  $given
     * @return array{cycles: CycleList, map: SignalMap}
     */
    private function decoded(string $file, ProcessorBus $bus, array $given): array
    {
        $capture = Capture::open($this->stream($file), basename($file));
        $map = SignalMap::byName($capture->channels(), $bus)->with($given, $capture->channels(), $bus);
        $decoder = new CycleDecoder($bus, $map, $capture->unit());
        $capture->read($decoder);

        return ['cycles' => $decoder->cycles($capture->end()), 'map' => $map];
    }

    /**
     * The image at its chip: the ROM of the board that has its size, or the first.
     *
     * @return array<string, RomImage>
     */
    private function placed(BoardProfile $board, RomImage $image): array
    {
        foreach ($board->map->ranges as $range) {
            if ($range->chip !== null && ($board->chips[$range->chip]->type->memory->words ?? 0) === $image->size() && in_array($board->chips[$range->chip]->kind(), ['rom', 'eprom'], true)) {
                return [$range->chip => $image];
            }
        }

        throw InputRejected::of('--rom', "No ROM of {$board->name} holds {$image->size()} bytes.");
    }

    private function board(BoardShelf $boards): BoardProfile
    {
        $slug = $this->text('board') === '' ? 'larkspur-64' : $this->text('board');
        $known = rescue(static fn (): array => $boards->slugs(), $boards->shipped(), false);
        if (! in_array($slug, $known, true)) {
            throw InputRejected::of('--board', "There is no board \"{$slug}\". There are ".implode(', ', $known).'.');
        }

        return $boards->find($slug);
    }

    /**
     * @return array<string, string>
     */
    private function given(): array
    {
        if ($this->text('map') === '') {
            return [];
        }
        $map = json_decode($this->content($this->text('map')), true);
        if (! is_array($map)) {
            throw InputRejected::of('--map', 'It is no JSON object of signals and channels, such as {"A0": "CH3"}.');
        }

        return array_map(static fn (mixed $channel): string => is_string($channel) ? $channel : '', array_filter($map, is_string(...), ARRAY_FILTER_USE_KEY));
    }

    /**
     * @return resource
     */
    private function stream(string $file)
    {
        $stream = is_file($file) ? @fopen($file, 'r') : false;

        return $stream === false ? throw InputRejected::of($file, 'There is no such file, or it cannot be read.') : $stream;
    }

    private function content(string $file): string
    {
        return (string) stream_get_contents($this->stream($file));
    }

    private function text(string $name, bool $argument = false): string
    {
        $value = $argument ? $this->argument($name) : $this->option($name);

        return is_string($value) ? $value : '';
    }
}
