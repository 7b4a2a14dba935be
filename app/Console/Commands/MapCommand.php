<?php

declare(strict_types=1);

namespace App\Console\Commands;

use App\Bench\BoardShelf;
use App\Http\Resources\AssessmentView;
use Illuminate\Console\Command;
use ZapTrace\Board\BoardProfile;
use ZapTrace\Board\BoardReader;
use ZapTrace\Board\Settings;
use ZapTrace\Memory\Expectation;
use ZapTrace\Memory\MemoryMapper;
use ZapTrace\Memory\MemoryMapping;
use ZapTrace\Memory\ReadingsFile;
use ZapTrace\Numbers\Notation;
use ZapTrace\Numbers\Radix;
use ZapTrace\Numbers\UnreadableNumber;
use ZapTrace\Problems\InputRejected;
use ZapTrace\Problems\Problem;
use ZapTrace\Reasoning\Circumstances;
use ZapTrace\Reasoning\FailureModes;
use ZapTrace\Reasoning\MachineState;
use ZapTrace\Reasoning\MemoryEvidence;
use ZapTrace\Reasoning\Reasoner;
use ZapTrace\Reasoning\Suspect;

/**
 * Memory readings to chips, for scripts.
 */
final class MapCommand extends Command
{
    protected $signature = 'zap:map
        {board : A board file, or the name of a shipped board (larkspur-64, tamarisk-two, halyard-16)}
        {readings : A file of readings or a dump, told by its content; - for standard input}
        {--expect= : What a dump should hold: fill:00, alternate:55AA, address, address:high, or a second file}
        {--base= : Address of the first byte of a binary dump, such as 0x2000}
        {--link=* : A link or latch and its position, such as LK1=16K; may be given several times}
        {--radix=16 : The base of bare numbers: 16, 8 or 10}
        {--json : Print one JSON object}';

    protected $description = 'Map memory readings to the chips of a board';

    /** @var list<Problem> */
    private array $problems = [];

    public function handle(BoardShelf $boards, BoardReader $reader, FailureModes $modes): int
    {
        $radix = Radix::tryFrom((int) $this->text('radix'));
        if ($radix === null) {
            $this->problems[] = new Problem('--radix', 'The number base is 16, 8 or 10.');
        }
        $board = $this->attempt(fn (): BoardProfile => $this->board($boards, $reader));
        $settings = $board === null ? null : $this->attempt(fn (): Settings => Settings::of($board, $this->links()));
        $base = $this->attempt(fn (): ?int => $this->base($radix ?? Radix::Hexadecimal));
        $expectation = $this->attempt(fn (): ?Expectation => $this->expectation($base));
        $name = $this->stringArgument('readings');
        $content = $this->attempt(fn (): string => $this->contentOf($name));
        // What cannot be compared as asked is read all the same, so that its own problems are told too.
        $expectation ??= $this->text('expect') === '' ? null : Expectation::repeating("\0");
        $file = $board === null || $content === null ? null : $this->attempt(static fn (): ReadingsFile => ReadingsFile::read(
            $content, $name === '-' ? 'standard input' : basename($name), $board, $radix ?? Radix::Hexadecimal, $expectation, $base, settings: $settings,
        ));

        if ($this->problems !== [] || $board === null || $settings === null || $file === null) {
            foreach ($this->problems as $problem) {
                fwrite(STDERR, "{$problem}\n");
            }

            return 2;
        }
        foreach ($file->notes as $note) {
            fwrite(STDERR, "Note: {$note}\n");
        }
        $mapping = (new MemoryMapper($board))->map([[$settings, $file->readings]]);
        $state = new MachineState($settings);
        $suspects = (new Reasoner($board, $modes))->conclude((new MemoryEvidence($board, $modes))->of($mapping, $state), Circumstances::plain($state))->suspects();
        $this->option('json') ? $this->printJson($board, $settings, $mapping, $suspects) : $this->printWords($board, $mapping, $suspects);

        return self::SUCCESS;
    }

    /**
     * @template T
     *
     * @param  callable(): T  $read
     * @return T|null
     */
    private function attempt(callable $read): mixed
    {
        try {
            return $read();
        } catch (InputRejected $rejected) {
            array_push($this->problems, ...$rejected->problems);

            return null;
        }
    }

    private function board(BoardShelf $boards, BoardReader $reader): BoardProfile
    {
        $board = $this->stringArgument('board');
        if ($boards->isShipped($board)) {
            return $boards->find($board);
        }
        if (! is_file($board)) {
            throw InputRejected::of($board, "There is no board file \"{$board}\", and no shipped board of that name. Shipped are ".implode(', ', $boards->shipped()).'.');
        }

        return $reader->read((string) file_get_contents($board));
    }

    /**
     * @return array<string, string>
     */
    private function links(): array
    {
        $links = [];
        foreach ((array) $this->option('link') as $link) {
            $parts = explode('=', is_string($link) ? $link : '', 2);
            if (count($parts) === 2 && $parts[0] !== '') {
                $links[trim($parts[0])] = trim($parts[1]);
            } else {
                $this->problems[] = new Problem('--link', 'A link is given as name=position, such as LK1=16K.');
            }
        }

        return $links;
    }

    private function base(Radix $radix): ?int
    {
        if ($this->text('base') === '') {
            return null;
        }
        try {
            return Notation::parse($this->text('base'), $radix);
        } catch (UnreadableNumber $reason) {
            throw InputRejected::of('--base', $reason->getMessage());
        }
    }

    private function expectation(?int $base): ?Expectation
    {
        $text = $this->text('expect');
        if ($text === '') {
            return null;
        }
        if (! is_file($text)) {
            return Expectation::parse($text);
        }

        return Expectation::image(ReadingsFile::image($this->contentOf($text), basename($text), $base ?? 0), basename($text));
    }

    private function contentOf(string $name): string
    {
        if ($name === '-') {
            $content = (string) stream_get_contents(STDIN, ReadingsFile::MAX_BYTES + 1);
            ReadingsFile::refuseSize(strlen($content), 'standard input');

            return $content;
        }
        if (! is_file($name) || ! is_readable($name)) {
            throw InputRejected::of($name, is_file($name) ? 'This file cannot be read.' : 'There is no such file.');
        }
        ReadingsFile::refuseSize((int) filesize($name), basename($name));

        return (string) file_get_contents($name);
    }

    /**
     * @param  list<Suspect>  $suspects
     */
    private function printJson(BoardProfile $board, Settings $settings, MemoryMapping $mapping, array $suspects): void
    {
        $this->output->writeln((string) json_encode([
            'board' => $board->slug,
            'readings' => $mapping->readings,
            'failed' => $mapping->failed,
            'outside' => $mapping->outside,
            'banks' => AssessmentView::banks($mapping, $settings, $board),
            'suspects' => array_map(AssessmentView::suspect(...), $suspects),
        ], JSON_THROW_ON_ERROR | JSON_UNESCAPED_UNICODE | JSON_UNESCAPED_SLASHES | JSON_PRETTY_PRINT));
    }

    /**
     * @param  list<Suspect>  $suspects
     */
    private function printWords(BoardProfile $board, MemoryMapping $mapping, array $suspects): void
    {
        $this->line("{$board->name}, {$board->revision}: {$mapping->readings} readings, {$mapping->failed} failed".($mapping->outside > 0 ? ", {$mapping->outside} outside memory" : ''));
        foreach ($mapping->findings as $finding) {
            $this->line("  {$finding->sentence}");
        }
        if ($suspects === []) {
            $this->line('Nothing that was read is wrong.');
        }
        foreach ($suspects as $suspect) {
            $chip = $board->chips[$suspect->site] ?? null;
            $this->line(sprintf('%5.1f %%  %-8s %s', 100 * $suspect->share, $suspect->site, trim(($chip->part ?? '').' '.$suspect->kind->value)));
        }
    }

    private function text(string $option): string
    {
        $value = $this->option($option);

        return is_string($value) ? trim($value) : '';
    }

    private function stringArgument(string $name): string
    {
        $value = $this->argument($name);

        return is_string($value) ? $value : '';
    }
}
