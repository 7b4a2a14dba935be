<?php

declare(strict_types=1);

namespace ZapTrace\Reasoning;

use ZapTrace\Signals\Situation;

/**
 * A proposed next test or repair, weighed.
 */
final readonly class Step
{
    /** Actions that look at what it does without a new start. */
    public const WHILE_ON = ['read', 'function', 'watch', 'feel', 'rail'];

    /**
     * @param  string  $action  what is done, as it is recorded; or prove, widen
     * @param  string  $site  the site it concerns; "" when none
     * @param  string  $sentence  what to do
     * @param  string  $tells  what it tells apart
     * @param  float  $minutes  what it takes, with what has to be opened for it
     * @param  string  $risk  none, handling, borrowed, heat or irreversible
     * @param  string  $caution  what to mind at this step; "" when nothing
     * @param  float  $bits  expected drop in uncertainty over which sites are faulty now
     * @param  float  $saves  minutes of the expected repair that it saves, net of its own
     * @param  list<array{words: string, chance: float, means: string, observation: array{kind: string, payload: array<string, mixed>}|null}>  $outcomes
     * @param  string  $access  what has to be opened first, and what else can be reached then; "" when nothing
     * @param  string  $missing  what is still missing before something comes out; "" when nothing
     * @param  list<Caution>  $cautions  what can hurt there
     * @param  bool  $turns  one of its likelier outcomes would put another suspect first
     * @param  string  $kind  measure, contact, swap or repair
     * @param  float  $price  minutes as the school counts them, with those that are at risk
     */
    public function __construct(
        public string $action,
        public string $site,
        public string $sentence,
        public string $tells,
        public float $minutes,
        public string $risk,
        public string $caution,
        public float $bits,
        public float $saves,
        public array $outcomes,
        public string $access = '',
        public string $missing = '',
        public string $kind = 'measure',
        public array $cautions = [],
        public bool $turns = true,
        public float $price = 1.0,
    ) {
    }

    /** Whether it needs no new start, so that a fault that shows now stays as it is. */
    public function leavesItOn(): bool
    {
        $foreseen = array_values(array_filter(array_column($this->outcomes, 'observation')))[0]['payload']['situation'] ?? '';

        return in_array($this->action, self::WHILE_ON, true) || in_array($this->action, ['probe', 'walk'], true) && $foreseen === Situation::Running->value;
    }

    public function key(): string
    {
        return "{$this->action} {$this->site}";
    }

    /** What is done and noted: proposals for different reasons may ask for the same. */
    public function act(): string
    {
        $noted = array_map(static fn (?array $observation): string => json_encode($observation, JSON_THROW_ON_ERROR), array_column($this->outcomes, 'observation'));
        sort($noted);

        return "{$this->key()} ".implode(' ', $noted);
    }

    public function withMissing(string $missing): self
    {
        return new self($this->action, $this->site, $this->sentence, $this->tells, $this->minutes, $this->risk, $this->caution, $this->bits, $this->saves, $this->outcomes, $this->access, $missing, $this->kind, $this->cautions, $this->turns, $this->price);
    }
}
