<?php

declare(strict_types=1);

namespace Tests\Support;

use ZapTrace\Board\BoardProfile;
use ZapTrace\Formats\JsonNode;
use ZapTrace\Numbers\Radix;
use ZapTrace\Observations\Assessment;
use ZapTrace\Observations\BenchLine;
use ZapTrace\Observations\ContextHistory;
use ZapTrace\Observations\Interpreters;
use ZapTrace\Observations\Moment;
use ZapTrace\Observations\NoAttachments;
use ZapTrace\Observations\Observation;
use ZapTrace\Reasoning\Step;
use ZapTrace\Reasoning\StepAdvisor;
use ZapTrace\Reasoning\Suspect;
use ZapTrace\Reasoning\Verdicts;
use ZapTrace\Reasoning\Workbench;

/**
 * A machine on the bench, told in notes as a technician types them.
 */
final class Bench
{
    /** What the log comes to, once it was asked for. */
    private ?Assessment $assessment = null;

    /** @var list<Step>|null what the usual workbench would do next */
    private ?array $steps = null;

    /**
     * @param  list<Observation>  $log
     */
    private function __construct(private readonly BoardProfile $board, private readonly array $log = [])
    {
    }

    public static function with(string $slug): self
    {
        return new self(Boards::shipped($slug));
    }

    public static function on(BoardProfile $board): self
    {
        return new self($board);
    }

    public function board(): BoardProfile
    {
        return $this->board;
    }

    public function note(string ...$lines): self
    {
        $bench = $this;
        foreach ($lines as $line) {
            $moment = new Moment($bench->board, ContextHistory::of($bench->board, $bench->log, Interpreters::all())->now, Radix::Hexadecimal, Boards::modes());
            $understood = (new BenchLine($moment))->understand($line);
            $bench = $bench->record($understood->kind, $understood->payload);
        }

        return $bench;
    }

    /** Readings pasted together. */
    public function read(string $text): self
    {
        return $this->record('memory-readings', ['text' => $text, 'radix' => 16]);
    }

    /**
     * @param  array<string, mixed>  $payload
     */
    public function record(string $kind, array $payload): self
    {
        return new self($this->board, [...$this->log, new Observation('o'.(count($this->log) + 1), $kind, JsonNode::of(json_decode((string) json_encode((object) $payload))))]);
    }

    /** The same, with nothing known yet of what the log comes to. */
    public function afresh(): self
    {
        return new self($this->board, $this->log);
    }

    /** Without the observation at this place. */
    public function without(int $place): self
    {
        $log = $this->log;
        unset($log[$place]);

        return new self($this->board, array_values($log));
    }

    /**
     * @param  array<string, float>  $experience  by position
     */
    public function assess(array $experience = []): Assessment
    {
        $assess = fn (): Assessment => Assessment::of($this->board, Radix::Hexadecimal, $this->log, Interpreters::all(), new NoAttachments, Boards::modes(), $experience);

        return $experience === [] ? $this->assessment ??= $assess() : $assess();
    }

    public function leading(): string
    {
        return $this->assess()->conclusion->suspects()[0]->site ?? '';
    }

    public function share(string $site): float
    {
        $suspects = array_values(array_filter($this->assess()->conclusion->suspects(), static fn (Suspect $suspect): bool => $suspect->site === $site));

        return $suspects[0]->share ?? 0.0;
    }

    public function cured(string $site): float
    {
        return $this->assess()->conclusion->cured()[$site] ?? 0.0;
    }

    public function nothingLeft(): float
    {
        return $this->assess()->conclusion->nothingLeft();
    }

    public function verdicts(): string
    {
        return implode(' ', (new Verdicts($this->assess()->conclusion))->sentences());
    }

    /**
     * @return list<Step>
     */
    public function steps(?Workbench $workbench = null): array
    {
        $on = fn (Workbench $workbench): array => StepAdvisor::usual(Boards::modes(), Boards::parts(), Boards::steps())->steps($this->assess()->conclusion, $workbench, $this->assess()->outlook($this->board, $workbench->confidence));

        return $workbench === null ? $this->steps ??= $on(Workbench::usual()) : $on($workbench);
    }

    /**
     * @return list<string> action and site of each step, the best first
     */
    public function proposed(?Workbench $workbench = null): array
    {
        return array_map(static fn (Step $step): string => trim($step->key()), $this->steps($workbench));
    }
}
