<?php

declare(strict_types=1);

namespace App\Bench;

use App\Models\Capture;
use App\Models\Job;
use App\Models\Observation;
use ZapTrace\Bench\Machine;
use ZapTrace\Board\BoardProfile;
use ZapTrace\Board\RangeKind;
use ZapTrace\Board\Settings;
use ZapTrace\Bus\BusEvidence;
use ZapTrace\Bus\Cycle;
use ZapTrace\Bus\CycleKind;
use ZapTrace\Bus\CycleList;
use ZapTrace\Bus\Disassembler;
use ZapTrace\Bus\Divergence;
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
use ZapTrace\Signals\SelectCheck;
use ZapTrace\Signals\Structure;

/**
 * The captures of a job: what they are, and what is made of two of them.
 */
final readonly class BusBench
{
    /** Pins that are named at once. */
    private const MEASURED = 5;

    public function __construct(private BoardShelf $boards, private FileStore $files, private Disassembler $disassembler)
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
        $plan = $this->plan($capture, $board);
        $step = static fn (?Cycle $cycle): ?array => $cycle === null ? null : ['kind' => $cycle->kind->value, 'address' => $cycle->address, 'data' => $cycle->data];
        $rungs = [];
        foreach ($ladder->rungs as $rung) {
            $is = $rung['sick'] === null || $rung['sick'] >= $sick->count() ? null : $sick->at($rung['sick']);
            $rungs[] = [
                'number' => $rung['sick'], 'is' => $step($is), 'should' => $step($rung['expected']),
                'named' => $is === null || ! in_array($is->kind, [CycleKind::Fetch], true) ? null : $this->named($board, $plan, $sick, (int) $rung['sick']),
                'same' => $is === null || $rung['expected'] === null ? null : $sick->agrees($is, $rung['expected']),
                'parts' => $found !== null && $rung['sick'] === $found->cycle,
            ];
        }

        return [
            'capture' => $capture->id, 'against' => $this->nameOf($capture, $board, $against), 'cycles' => $ladder->cycles, 'distance' => $ladder->distance, 'skipped' => $ladder->skipped,
            'addressDigits' => (int) ceil($board->bus->addressWidth / 4), 'dataDigits' => intdiv($board->bus->dataWidth, 4),
            'addressBits' => $board->bus->addressWidth, 'dataBits' => $board->bus->dataWidth,
            'partly' => $sick->addressMask !== (1 << $board->bus->addressWidth) - 1 || $sick->dataMask !== (1 << $board->bus->dataWidth) - 1,
            'divergence' => $found === null ? null : ['cycle' => $found->cycle, 'kind' => $found->kind, 'title' => $found->title(), 'address' => $found->address, 'expected' => $found->expected, 'seen' => $found->seen, 'bits' => $found->bits, 'words' => $found->words, 'next' => $this->next($board, $found)],
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

    private function named(BoardProfile $board, MemoryPlan $plan, CycleList $sick, int $number): string
    {
        $at = $sick->at($number);
        $bytes = [$at->data];
        for ($offset = 1; $offset < 4; $offset++) {
            $byte = $plan->romByte($at->address + $offset);
            for ($later = $number + 1; $byte === null && $later < min($sick->count(), $number + 6); $later++) {
                $byte = $sick->at($later)->address === $at->address + $offset ? $sick->at($later)->data : null;
            }
            if ($byte === null) {
                break;
            }
            $bytes[] = $byte;
        }

        return $this->disassembler->knows($board->processor->part ?? '') ? $this->disassembler->name($board->processor->part ?? '', $bytes)[0] : '';
    }

    /**
     * Where to measure next: the chip that should answer, with the outputs that select it in the order to measure.
     *
     * @return array{chip: string, address: int, words: string}|null
     */
    private function next(BoardProfile $board, Divergence $found): ?array
    {
        if (! in_array($found->kind, [Divergence::NOTHING_SELECTED, Divergence::WRONG_TARGET, Divergence::DATA_BITS], true) || $found->address === null || $found->kind === Divergence::DATA_BITS && count($found->bits) < 4 || $board->netlist->isEmpty()) {
            return null;
        }
        $structure = new Structure($board);
        $chip = (new BusEvidence($structure, Settings::of($board)))->chipAt($found->address);
        $check = $chip === '' ? null : SelectCheck::of(new Machine($board, [], 1), $structure, $chip, $found->address);
        if ($check === null) {
            return null;
        }

        return ['chip' => $chip, 'address' => $found->address, 'words' => sprintf('%s should answer at %04X. Measure %s.', $chip, $found->address, implode(', then ', array_slice($check->inOrder(), 0, self::MEASURED)))];
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
        foreach (Capture::query()->where('board_slug', $job->board_slug)->where('role', 'good')->where('state', 'decoded')->orderBy('created_at')->get() as $capture) {
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
        return MemoryPlan::of($board, $this->images($capture->job_id, $board));
    }

    private function cycles(Capture $capture): CycleList
    {
        $bytes = is_file($capture->cyclesFile()) ? (string) file_get_contents($capture->cyclesFile()) : '';

        return $bytes === '' ? throw InputRejected::of($capture->name, 'Its cycles are not here any more: bring the recording again.') : CycleList::unpacked($bytes);
    }

    private function open(Capture $capture): CaptureFile
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
