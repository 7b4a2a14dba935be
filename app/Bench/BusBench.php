<?php

declare(strict_types=1);

namespace App\Bench;

use App\Models\Capture;
use App\Models\Job;
use App\Models\Observation;
use ZapTrace\Board\BoardProfile;
use ZapTrace\Board\RangeKind;
use ZapTrace\Board\Settings;
use ZapTrace\Bus\Cycle;
use ZapTrace\Bus\CycleList;
use ZapTrace\Bus\Disassembler;
use ZapTrace\Bus\HandOver;
use ZapTrace\Bus\Ladder;
use ZapTrace\Bus\LadderBuilder;
use ZapTrace\Bus\MemoryPlan;
use ZapTrace\Bus\SetupCheck;
use ZapTrace\Bus\SignalMap;
use ZapTrace\Bus\StartUpRun;
use ZapTrace\Formats\Capture as CaptureFile;
use ZapTrace\Observations\RomRead;
use ZapTrace\Parts\ProcessorBus;
use ZapTrace\Problems\InputRejected;
use ZapTrace\Rom\RomImage;

/**
 * The captures of a job: what they are, and what is made of two of them.
 */
final readonly class BusBench
{
    public function __construct(private BoardShelf $boards, private FileStore $files, private Disassembler $disassembler, private Recorder $recorder)
    {
    }

    /**
     * @return array<string, mixed>
     */
    public function of(Job $job): array
    {
        $board = $this->boards->find($job->board_slug);
        $processor = $board->chips[$board->processor->chip ?? ''] ?? null;
        $bus = $processor->type->bus ?? null;
        $distances = [];
        foreach ($job->log() as $entry) {
            $payload = json_decode($entry->payload, true);
            if ($entry->kind === 'bus-capture' && $entry->withdrawn_at === null && is_array($payload) && is_string($payload['capture'] ?? null)) {
                $distances[$payload['capture']] = ['distance' => $payload['distance'] ?? 0, 'parted' => isset($payload['divergence'])];
            }
        }
        $captures = [];
        /** @var Capture $capture */
        foreach (Capture::query()->where('job_id', $job->id)->orderBy('created_at')->orderBy('id')->get()->all() as $capture) {
            $captures[] = [
                'id' => $capture->id, 'name' => $capture->name, 'role' => $capture->role, 'state' => $capture->state, 'size' => $capture->size,
                'progress' => $capture->state === 'uploading' ? $capture->received / max(1, $capture->size) : $capture->progress,
                'cycles' => $capture->cycles, 'channels' => $capture->channelNames(), 'map' => (object) $capture->mapped(),
                'lines' => array_map(static fn (mixed $line): array => ['signal' => is_array($line) && is_string($line['signal'] ?? null) ? $line['signal'] : '', 'words' => is_array($line) && is_string($line['words'] ?? null) ? $line['words'] : ''], self::list($capture->lines)),
                'problems' => self::list($capture->problems),
                'setup' => $capture->setup === null ? null : json_decode($capture->setup, true),
                'proof' => $this->proofOf($capture),
                'distance' => $distances[$capture->id]['distance'] ?? null,
                'parted' => $distances[$capture->id]['parted'] ?? null,
            ];
        }

        return [
            'processor' => $processor?->part,
            'signals' => $bus === null ? [] : array_map(static fn (string $signal): array => ['signal' => $signal, 'group' => in_array($signal, $bus->address, true) ? 'address' : (in_array($signal, $bus->data, true) ? 'data' : 'control')], $bus->signals()),
            'named' => $this->disassembler->knows($board->processor->part ?? ''),
            'captures' => $captures,
            'against' => $this->references($job, $board),
        ];
    }

    /**
     * @return array<string, mixed>
     */
    public function check(Capture $capture, string $against): array
    {
        $board = $this->boards->find($capture->board_slug);
        $bus = $this->busOf($board);
        $this->needs($capture, $capture->channelNames() !== []);
        $reference = $against === 'rom'
            ? StartUpRun::of($bus, $this->plan($capture, $board)) ?? throw InputRejected::of('against', 'The start-up cannot be followed from the ROM alone: bring the good image of the ROM on its page, or hold it against a good recording.')
            : $this->cycles($this->other($capture, $against));
        $map = SignalMap::of([])->with($capture->mapped(), $capture->channelNames(), $bus);
        $check = SetupCheck::of(fn (): CaptureFile => $this->open($capture), $bus, $map, $reference);
        $setup = ['right' => $check->right, 'sure' => $check->sure, 'because' => $check->because, 'doubt' => $check->doubt, 'channels' => $check->channels, 'map' => (object) $check->map->written($capture->channelNames()), 'against' => $this->nameOf($capture, $board, $against)];
        $capture->update(['setup' => json_encode($setup, JSON_THROW_ON_ERROR | JSON_UNESCAPED_UNICODE | JSON_UNESCAPED_SLASHES)]);

        return $setup;
    }

    /**
     * @return array<string, mixed>
     */
    public function ladder(Capture $capture, string $against): array
    {
        $board = $this->boards->find($capture->board_slug);
        [$ladder, $sick] = $this->build($capture, $board, $against);
        $found = $ladder->divergence;
        $next = $found === null ? null : HandOver::of($found, $board, $this->settings($capture));
        $plan = $this->plan($capture, $board);
        $step = static fn (?Cycle $cycle): ?array => $cycle === null ? null : ['kind' => $cycle->kind->value, 'address' => $cycle->address, 'data' => $cycle->data];
        $rungs = [];
        foreach ($ladder->rungs as $rung) {
            $is = $rung['sick'] === null || $rung['sick'] >= $sick->count() ? null : $sick->at($rung['sick']);
            $rungs[] = [
                'number' => $rung['sick'], 'is' => $step($is), 'should' => $step($rung['expected']),
                'named' => $is === null ? '' : $this->disassembler->fetched($board->processor->part ?? '', $sick, (int) $rung['sick'], $plan),
                'same' => $is === null || $rung['expected'] === null ? null : $sick->agrees($is, $rung['expected']),
                'parts' => $found !== null && $rung['sick'] === $found->cycle,
            ];
        }

        return [
            'capture' => $capture->id, 'against' => $this->nameOf($capture, $board, $against), 'cycles' => $ladder->cycles, 'distance' => $ladder->distance, 'skipped' => $ladder->skipped,
            'addressBits' => $board->bus->addressWidth, 'dataBits' => $board->bus->dataWidth,
            'partly' => $sick->addressMask !== (1 << $board->bus->addressWidth) - 1 || $sick->dataMask !== (1 << $board->bus->dataWidth) - 1,
            'divergence' => $found === null ? null : ['cycle' => $found->cycle, 'kind' => $found->kind, 'title' => $found->title(), 'address' => $found->address, 'expected' => $found->expected, 'seen' => $found->seen, 'bits' => $found->bits, 'words' => $found->words, 'next' => $next === null ? null : ['chip' => $next->chip, 'address' => $next->address, 'words' => $next->words]],
            'rungs' => $rungs,
        ];
    }

    /** What is kept of it in the log. */
    public function payload(Capture $capture, string $against): object
    {
        $board = $this->boards->find($capture->board_slug);
        [$ladder] = $this->build($capture, $board, $against);

        return (object) json_decode((string) json_encode(['capture' => $capture->id] + $ladder->noted($capture->name, $this->nameOf($capture, $board, $against), $this->proofOf($capture))), false);
    }

    /**
     * Whether the channels were checked: by themselves, or with the same clips on a good machine.
     *
     * @return 'right'|'wrong'|'unchecked'
     */
    private function proofOf(Capture $capture): string
    {
        $proof = $capture->setup ?? Capture::query()->where('job_id', $capture->job_id)->where('role', 'good')->where('map', $capture->map)->whereNotNull('setup')->latest()->value('setup');
        $setup = is_string($proof) ? json_decode($proof, true) : null;

        return ! is_array($setup) ? 'unchecked' : (($setup['right'] ?? false) === true ? 'right' : 'wrong');
    }

    /**
     * @throws InputRejected when the library does not know it
     */
    public function busOf(BoardProfile $board): ProcessorBus
    {
        return $board->chips[$board->processor->chip ?? '']->type->bus ?? throw InputRejected::of('board', "The profile of {$board->name} names no processor whose bus the library knows.");
    }

    /**
     * @return array{Ladder, CycleList}
     */
    private function build(Capture $capture, BoardProfile $board, string $against): array
    {
        $this->needs($capture, $capture->state === 'decoded');
        $sick = $this->cycles($capture);
        $builder = new LadderBuilder($this->busOf($board), $this->plan($capture, $board));
        if ($against === 'rom' && $this->images($capture->job_id, $board) === []) {
            throw InputRejected::of('against', 'No good image of a ROM is kept for this board: bring one on the page of the ROM, or choose a good recording.');
        }

        return [$against === 'rom' ? $builder->againstRom($sick) : $builder->against($sick, $this->cycles($this->other($capture, $against))), $sick];
    }

    /**
     * What a capture can be held against.
     *
     * @return list<array{id: string, name: string}>
     */
    private function references(Job $job, BoardProfile $board): array
    {
        $references = [];
        $images = $this->images($job->id, $board);
        if ($images !== []) {
            $references[] = ['id' => 'rom', 'name' => 'the ROM: '.implode(', ', array_map(static fn (string $chip): string => "{$chip} as in {$images[$chip]->name}", array_keys($images)))];
        }
        foreach (Capture::query()->where('board_slug', $job->board_slug)->where('role', 'good')->where('state', 'decoded')->orderByRaw('job_id = ? desc', [$job->id])->orderBy('created_at')->get() as $capture) {
            $references[] = ['id' => $capture->id, 'name' => $capture->name.($capture->job_id === $job->id ? '' : ' (another job)')];
        }

        return $references;
    }

    /**
     * Good images of the ROMs of a board, from this job or another with the same board.
     *
     * @return array<string, RomImage> by chip
     */
    private function images(string $job, BoardProfile $board): array
    {
        $images = [];
        $jobs = Job::query()->where('board_slug', $board->slug)->pluck('id')->all();
        foreach (Observation::query()->where('kind', RomRead::KIND)->whereNull('withdrawn_at')->whereIn('job_id', $jobs)->orderByRaw('job_id = ? desc', [$job])->orderByDesc('made_at')->get() as $read) {
            $payload = json_decode($read->payload, true);
            $chip = is_array($payload) && is_string($payload['chip'] ?? null) ? $board->findChip($payload['chip'])?->ref : null;
            $good = is_array($payload) ? $payload['good'] ?? null : null;
            if ($chip !== null && ! isset($images[$chip]) && is_array($good) && is_string($good['sha1'] ?? null) && is_string($good['name'] ?? null) && $this->files->has($good['sha1']) && $this->isMapped($board, $chip)) {
                $images[$chip] = RomImage::fromFile($this->files->bytes($good['sha1']), $good['name']);
            }
        }

        return $images;
    }

    private function isMapped(BoardProfile $board, string $chip): bool
    {
        foreach ($board->map->ranges as $range) {
            if ($range->kind === RangeKind::Rom && $range->chip === $chip) {
                return true;
            }
        }

        return false;
    }

    private function plan(Capture $capture, BoardProfile $board): MemoryPlan
    {
        return MemoryPlan::of($board, $this->images($capture->job_id, $board), $this->settings($capture));
    }

    /** The links of the machine as they stand now. */
    private function settings(Capture $capture): Settings
    {
        return $this->recorder->moment(Job::query()->findOrFail($capture->job_id))->state->settings;
    }

    private function cycles(Capture $capture): CycleList
    {
        $bytes = is_file($capture->cyclesFile()) ? (string) file_get_contents($capture->cyclesFile()) : '';

        return $bytes === '' ? throw InputRejected::of($capture->name, 'Its cycles are not here any more: bring the recording again.') : CycleList::unpacked($bytes);
    }

    /**
     * @throws InputRejected when its file is not here, or cannot be read
     */
    public function open(Capture $capture): CaptureFile
    {
        $stream = is_file($capture->file()) ? fopen($capture->file(), 'r') : false;

        return $stream === false ? throw InputRejected::of($capture->name, 'Its file is not here any more: bring the recording again.') : CaptureFile::open($stream, $capture->name);
    }

    private function other(Capture $capture, string $id): Capture
    {
        $other = Capture::query()->where('board_slug', $capture->board_slug)->find($id) ?? throw InputRejected::of('against', 'That recording is not kept here any more.');
        $this->needs($other, $other->state === 'decoded');

        return $other;
    }

    private function nameOf(Capture $capture, BoardProfile $board, string $against): string
    {
        return $against === 'rom' ? 'the ROM' : $this->other($capture, $against)->name;
    }

    private function needs(Capture $capture, bool $ready): void
    {
        if (! $ready) {
            throw InputRejected::of($capture->name, 'It is not decoded yet. Wait until it is, or see why it could not be.');
        }
    }

    /**
     * @return list<mixed>
     */
    private static function list(?string $json): array
    {
        $list = json_decode($json ?? '[]', true);

        return is_array($list) ? array_values($list) : [];
    }
}
