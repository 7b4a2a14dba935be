<?php

declare(strict_types=1);

namespace App\Http\Controllers;

use App\Bench\Assessor;
use App\Bench\BoardShelf;
use App\Bench\FileStore;
use App\Bench\Recorder;
use App\Http\Resources\JobResource;
use App\Http\Resources\RomView;
use App\Models\Job;
use App\Models\Observation;
use Illuminate\Http\JsonResponse;
use Illuminate\Http\Request;
use Illuminate\Http\Response;
use Illuminate\Http\UploadedFile;
use Illuminate\Support\Facades\DB;
use ZapTrace\Numbers\Notation;
use ZapTrace\Numbers\Radix;
use ZapTrace\Numbers\UnreadableNumber;
use ZapTrace\Observations\RomRead;
use ZapTrace\Parts\PartLibrary;
use ZapTrace\Problems\InputRejected;
use ZapTrace\Problems\Problem;
use ZapTrace\Problems\ProblemList;
use ZapTrace\Rom\Adapter;
use ZapTrace\Rom\RomBuild;
use ZapTrace\Rom\RomImage;

/**
 * ROM chips: reads brought in and compared, images looked into and built, adapters.
 */
final readonly class RomController
{
    public function __construct(private BoardShelf $boards, private FileStore $files, private Recorder $recorder, private Assessor $assessor, private PartLibrary $parts)
    {
    }

    public function show(Request $request, Job $job): JsonResponse
    {
        $board = $this->boards->find($job->board_slug);
        $chip = $board->findChip($request->string('chip')->toString());

        return response()->json(['rom' => (new RomView($board, $this->files))->of($job->standing([RomRead::KIND]), $chip, $this->goods())]);
    }

    public function store(Request $request, Job $job): JsonResponse
    {
        $problems = new ProblemList;
        $reads = [];
        $files = $request->file('reads');
        foreach (is_array($files) ? array_filter($files, is_object(...)) : [] as $file) {
            $kept = $this->kept($file, $problems);
            if ($kept !== null) {
                $reads[] = $kept;
            }
        }
        if ($reads === [] && $problems->isEmpty()) {
            $problems->add('reads', 'Choose at least one read of the chip.');
        }
        $good = null;
        if ($request->file('good') instanceof UploadedFile) {
            $good = $this->kept($request->file('good'), $problems);
        } elseif ($request->filled('goodSha1')) {
            $sha1 = $request->string('goodSha1')->toString();
            foreach ($this->goods() as $known) {
                $good = $known['sha1'] === $sha1 ? $known : $good;
            }
            if ($good === null) {
                $problems->add('good', 'That known-good image is not kept here any more. Bring the file again.');
            }
        }
        $problems->throwIfAny();
        DB::transaction(function () use ($request, $job, $reads, $good): void {
            $keep = fn (array $file): array => ['sha1' => isset($file['content']) ? $this->files->put($file['content']) : $file['sha1'], 'name' => $file['name']];
            $payload = ['chip' => $request->string('chip')->toString(), 'where' => $request->string('where', 'reader')->toString(), 'reads' => array_map($keep, $reads)];
            if ($good !== null) {
                $payload['good'] = $keep($good);
            }
            $this->recorder->record($job, RomRead::KIND, (object) json_decode((string) json_encode($payload), false));
        });

        return response()->json(['job' => JobResource::whole($job, $this->boards->find($job->board_slug), $this->assessor->view($job))], 201);
    }

    /** The bytes of an image, for the hex view. */
    public function bytes(string $sha1): Response
    {
        abort_unless($this->files->has($sha1), 404);

        return response(RomImage::fromFile($this->files->bytes($sha1), $sha1)->bytes, 200, ['Content-Type' => 'application/octet-stream', 'Cache-Control' => 'private, max-age=31536000, immutable']);
    }

    /** Builds an image: looked at first, or taken away as a file. */
    public function build(Request $request): JsonResponse|Response
    {
        $problems = new ProblemList;
        $images = [];
        foreach ((array) $request->input('sources') as $sha1) {
            if (is_string($sha1) && preg_match('/^[0-9a-f]{40}$/', $sha1) === 1 && $this->files->has($sha1)) {
                $images[] = RomImage::fromFile($this->files->bytes($sha1), 'image');
            } else {
                $problems->add('sources', 'One of the images is not kept here any more. Bring it again.');
            }
        }
        if ($images === []) {
            $problems->add('sources', 'Choose an image to build from.');
        }
        $problems->throwIfAny();
        assert($images !== []);
        $image = $images[0];
        $steps = (array) $request->input('steps');
        foreach ($steps as $step) {
            $step = is_array($step) ? $step : [];
            $number = fn (string $name): int => $this->number($step, $name);
            $image = match ($step['do'] ?? null) {
                'cut' => RomBuild::cut($image, $number('from'), $number('length')),
                'swap' => RomBuild::swap($image),
                'even' => RomBuild::split($image)[0],
                'odd' => RomBuild::split($image)[1],
                'interleave' => RomBuild::interleave($image, $images[1] ?? throw InputRejected::of('sources', 'Interleaving wants a second image: the odd bytes.')),
                'concatenate' => RomBuild::concatenate($images),
                'pad' => RomBuild::pad($image, $number('size'), $number('fill')),
                'repeat' => RomBuild::repeat($image, $number('size')),
                'correct' => RomBuild::correct($image, $number('at'), $number('sum')),
                default => throw InputRejected::of('steps', 'A step is cut, swap, even, odd, interleave, concatenate, pad, repeat or correct.'),
            };
        }
        $format = $request->string('format')->toString();
        if ($format === '') {
            return response()->json(['built' => ['bytes' => $image->size(), 'crc32' => $image->crc32(), 'sha1' => $image->sha1(), 'sum16' => $image->sum16(), 'head' => bin2hex(substr($image->bytes, 0, 64)), 'tail' => bin2hex(substr($image->bytes, -64))]]);
        }
        [$content, $ending] = match ($format) {
            'binary' => [$image->bytes, 'bin'],
            'intel-hex' => [$image->asIntelHex(), 'hex'],
            's-record' => [$image->asSRecords(), 's19'],
            default => throw InputRejected::of('format', 'It is saved as binary, intel-hex or s-record.'),
        };

        return response($content, 200, ['Content-Type' => 'application/octet-stream', 'Content-Disposition' => "attachment; filename=\"rom-{$image->crc32()}.{$ending}\""]);
    }

    public function adapter(Request $request): JsonResponse
    {
        $problems = new ProblemList;
        $chip = $this->parts->find($request->string('chip')->toString());
        $socket = $this->parts->find($request->string('socket')->toString());
        foreach (['chip' => $chip, 'socket' => $socket] as $place => $part) {
            if ($part === null) {
                $problems->add($place, "The library has no \"{$request->string($place)}\".");
            }
        }
        $problems->throwIfAny();
        assert($chip !== null && $socket !== null);
        $selects = [];
        foreach (is_array($request->input('selects')) ? $request->input('selects') : [] as $name => $level) {
            if (is_string($name) && in_array($level, ['high', 'low'], true)) {
                $selects[$name] = $level;
            }
        }

        return response()->json(['adapter' => RomView::adapter(Adapter::of($chip, $socket, $selects), $this->parts)]);
    }

    /**
     * @return array{content: string, sha1: string, name: string}|null
     */
    private function kept(UploadedFile $file, ProblemList $problems): ?array
    {
        $name = mb_strimwidth(mb_scrub($file->getClientOriginalName()), 0, 200);
        if (! $file->isValid() || (int) $file->getSize() > 4 * RomImage::MAX_BYTES) {
            $problems->add($name, $file->isValid() || in_array($file->getError(), [UPLOAD_ERR_INI_SIZE, UPLOAD_ERR_FORM_SIZE], true) ? sprintf('The file is too large for a ROM: at most %d MiB are read. Nothing was stored.', RomImage::MAX_BYTES >> 20) : 'The file did not arrive whole. Nothing was stored; try again.');

            return null;
        }
        $content = (string) file_get_contents($file->getPathname());
        try {
            RomImage::fromFile($content, $name);
        } catch (InputRejected $rejected) {
            array_map(static fn (Problem $problem) => $problems->add($problem->place, $problem->sentence), $rejected->problems);

            return null;
        }

        return ['content' => $content, 'sha1' => sha1($content), 'name' => $name];
    }

    /**
     * Known-good images of all jobs.
     *
     * @return list<array{sha1: string, name: string}>
     */
    private function goods(): array
    {
        $goods = [];
        foreach (Observation::query()->where('kind', RomRead::KIND)->pluck('payload') as $payload) {
            $good = json_decode(is_string($payload) ? $payload : '', true)['good'] ?? null;
            if (is_array($good) && is_string($good['sha1'] ?? null) && is_string($good['name'] ?? null)) {
                $goods[$good['sha1']] = ['sha1' => $good['sha1'], 'name' => $good['name']];
            }
        }

        return array_values($goods);
    }

    /**
     * @param  array<mixed>  $step
     */
    private function number(array $step, string $name): int
    {
        $text = $step[$name] ?? '';
        try {
            return Notation::parse(is_scalar($text) ? (string) $text : '', Radix::Hexadecimal);
        } catch (UnreadableNumber $reason) {
            throw InputRejected::of($name, ucfirst($name).': '.$reason->getMessage());
        }
    }
}
