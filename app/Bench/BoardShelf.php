<?php

declare(strict_types=1);

namespace App\Bench;

use App\Models\ImportedBoard;
use Illuminate\Database\Eloquent\ModelNotFoundException;
use ZapTrace\Board\BoardProfile;
use ZapTrace\Board\BoardReader;
use ZapTrace\Problems\InputRejected;
use ZapTrace\Reasoning\FailureModes;

/**
 * The board profiles at hand: those shipped with the application and those brought in.
 */
final class BoardShelf
{
    /** @var array<string, BoardProfile> */
    private array $read = [];

    public function __construct(private readonly BoardReader $reader, private readonly FailureModes $modes)
    {
    }

    /**
     * @return list<string> slugs, shipped ones first
     */
    public function slugs(): array
    {
        $imported = array_map(static fn (ImportedBoard $board): string => $board->slug, ImportedBoard::query()->get(['slug'])->all());
        sort($imported);

        return [...$this->shipped(), ...$imported];
    }

    public function isShipped(string $slug): bool
    {
        return in_array($slug, $this->shipped(), true);
    }

    public function has(string $slug): bool
    {
        return in_array($slug, $this->slugs(), true);
    }

    /**
     * @throws ModelNotFoundException<ImportedBoard>
     */
    public function find(string $slug): BoardProfile
    {
        return $this->read[$slug] ??= $this->reader->read($this->content($slug));
    }

    /**
     * The board file as it was written.
     *
     * @throws ModelNotFoundException<ImportedBoard>
     */
    public function content(string $slug): string
    {
        return $this->isShipped($slug)
            ? (string) file_get_contents(resource_path("boards/{$slug}.board.json"))
            : ImportedBoard::query()->findOrFail($slug)->content;
    }

    /**
     * Takes a board file in. A file with the slug of one brought in before takes its place.
     *
     * @throws InputRejected with every problem of the file
     */
    public function import(string $content): BoardProfile
    {
        $board = $this->reader->read($content);
        $this->modes->overriddenBy($board->reasoning);
        if ($this->isShipped($board->slug)) {
            throw InputRejected::of('/slug', "\"{$board->slug}\" is a board that comes with Zap Trace. Give yours another slug, such as \"{$board->slug}-mine\".");
        }
        ImportedBoard::query()->updateOrCreate(['slug' => $board->slug], ['content' => $content]);

        return $this->read[$board->slug] = $board;
    }

    /**
     * @return list<string> slugs of the boards that come with the application
     */
    public function shipped(): array
    {
        static $slugs = null;

        return $slugs ??= array_map(
            static fn (string $path): string => basename($path, '.board.json'),
            glob(resource_path('boards/*.board.json')) ?: [],
        );
    }
}
