<?php

declare(strict_types=1);

namespace App\Http\Controllers;

use App\Bench\BoardShelf;
use App\Http\Requests\FileRequest;
use App\Http\Resources\BoardResource;
use Illuminate\Http\JsonResponse;
use Illuminate\Http\Request;
use Illuminate\Http\Response;
use Illuminate\Support\Str;
use stdClass;
use ZapTrace\Board\BoardEditor;
use ZapTrace\Board\Net;
use ZapTrace\Board\NetlistCheck;
use ZapTrace\Parts\PartLibrary;
use ZapTrace\Problems\InputRejected;

final readonly class BoardController
{
    public function __construct(private BoardShelf $boards, private PartLibrary $parts)
    {
    }

    public function index(): JsonResponse
    {
        return response()->json(['boards' => array_map(
            fn (string $slug): array => BoardResource::summary($this->boards->find($slug), $this->boards->isShipped($slug)),
            $this->boards->slugs(),
        )]);
    }

    public function show(string $slug): JsonResponse
    {
        return response()->json(['board' => BoardResource::whole($this->boards->find($slug), $this->parts, $this->boards->isShipped($slug))]);
    }

    public function file(string $slug): Response
    {
        return response($this->boards->content($slug), 200, [
            'Content-Type' => 'application/json',
            'Content-Disposition' => "attachment; filename=\"{$slug}.board.json\"",
        ]);
    }

    /** A board with nothing on it yet, or a copy of one that comes with the application. */
    public function begin(Request $request): JsonResponse
    {
        $request->validate(['name' => ['required', 'string', 'max:60'], 'dataWidth' => ['sometimes', 'in:8,16,32'], 'addressWidth' => ['sometimes', 'integer', 'between:8,32'], 'from' => ['sometimes', 'string']]);
        $name = $request->string('name')->trim()->toString();
        $slug = Str::slug($name) === '' ? 'board' : Str::slug($name);
        for ($number = 2, $free = $slug; $this->boards->has($free); $number++) {
            $free = "{$slug}-{$number}";
        }
        if ($request->filled('from')) {
            $file = $this->decoded($request->string('from')->toString());
            $file->slug = $free;
            $file->name = $name;
        } else {
            $file = BoardEditor::blank($free, $name, $request->integer('dataWidth', 8), $request->integer('addressWidth', 16));
        }
        $this->boards->import($this->encoded($file));

        return $this->drawn($free, 201);
    }

    /** What is drawn so far, and what to look at twice. */
    public function drawing(string $slug): JsonResponse
    {
        return $this->drawn($slug);
    }

    /** A line is carried out, a netlist is taken in, or an earlier state is put back. */
    public function draw(Request $request, string $slug): JsonResponse
    {
        if ($this->boards->isShipped($slug)) {
            throw InputRejected::of('', 'This board comes with Zap Trace and stays as it is. Make a copy of it and draw on that.');
        }
        $before = $this->boards->content($slug);
        $file = $this->decoded($slug);
        $editor = new BoardEditor($this->parts);
        $changed = match (true) {
            $request->filled('content') => json_decode($request->string('content')->toString(), false),
            $request->filled('text') => $editor->import($file, $request->string('text')->toString()),
            default => $editor->change($file, $request->string('line')->toString()),
        };
        if (! $changed instanceof stdClass || ($changed->slug ?? '') !== $slug) {
            throw InputRejected::of('content', 'That is no state of this board.');
        }
        $this->boards->import($this->encoded($changed));

        return $this->drawn($slug, before: $before, said: $request->filled('content') ? [] : BoardEditor::moved($file, $changed));
    }

    /**
     * @param  list<string>  $said  what else came of it
     */
    private function drawn(string $slug, int $status = 200, ?string $before = null, array $said = []): JsonResponse
    {
        $board = $this->boards->find($slug);

        return response()->json([
            'board' => BoardResource::whole($board, $this->parts, $this->boards->isShipped($slug)),
            'nets' => array_values(array_map(static fn (Net $net): array => ['name' => $net->name, 'kind' => $net->kind, 'pins' => $net->pins], $board->netlist->nets)),
            'notices' => array_slice((new NetlistCheck)->notices($board), 0, 60),
            'forms' => BoardEditor::FORMS,
            'before' => $before,
            'said' => $said,
        ], $status);
    }

    private function decoded(string $slug): stdClass
    {
        $file = json_decode($this->boards->content($slug), false, 64, JSON_THROW_ON_ERROR);
        assert($file instanceof stdClass);

        return $file;
    }

    private function encoded(stdClass $file): string
    {
        return json_encode($file, JSON_THROW_ON_ERROR | JSON_PRETTY_PRINT | JSON_UNESCAPED_UNICODE | JSON_UNESCAPED_SLASHES);
    }

    public function store(FileRequest $request): JsonResponse
    {
        $board = $this->boards->import($request->content('file'));

        return response()->json(['board' => BoardResource::summary($board, false)], 201);
    }
}
