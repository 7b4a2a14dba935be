<?php

declare(strict_types=1);

namespace App\Bench;

use Illuminate\Contracts\Cache\Repository;
use stdClass;
use ZapTrace\Bench\LogicShelf;
use ZapTrace\Board\BoardProfile;
use ZapTrace\Observations\PinProbed;
use ZapTrace\Problems\ProblemList;
use ZapTrace\Reasoning\MachineState;
use ZapTrace\Signals\Expectations;
use ZapTrace\Signals\Situation;

/**
 * What the pins of a board should show, kept by board and situation, since simulating it takes a moment.
 */
final readonly class Prober
{
    /** Goes up when the simulation gives other answers. */
    private const VERSION = 2;

    public function __construct(private Repository $cache, private BoardShelf $boards)
    {
    }

    /**
     * @return array<string, array{state: string|null, hz: float|null, by: string}> by pin
     */
    public function expected(BoardProfile $board, MachineState $state, Situation $situation): array
    {
        if ($board->netlist->isEmpty()) {
            return [];
        }
        $positions = $state->settings->positions;
        $absent = [];
        foreach ($board->chips as $chip) {
            if (! $state->isIn($chip)) {
                $absent[$chip->ref] = true;
            }
        }
        $key = 'expected.'.self::VERSION.'.'.sha1($this->boards->content($board->slug).json_encode([$positions, $absent, $situation->value]));
        $kept = $this->cache->get($key);
        if (is_array($kept)) {
            /** @var array<string, array{state: string|null, hz: float|null, by: string}> $kept */
            return $kept;
        }
        $expectations = new Expectations($board, $positions, $absent, new LogicShelf);
        $expected = [];
        foreach ($board->netlist->nets as $net) {
            foreach ($net->pins as $pin) {
                $at = $expectations->at($pin, $situation);
                $expected[$pin] = ['state' => $at['state']?->value, 'hz' => $at['hz'], 'by' => $at['source']];
            }
        }
        $this->cache->forever($key, $expected);

        return $expected;
    }

    /** All pins of a chip are kept with which of them should move or stand at a level, and of which nothing can be said. */
    public function completeWalk(object $payload, BoardProfile $board, MachineState $state): object
    {
        $chip = is_string($payload->chip ?? null) ? $board->findChip($payload->chip) : null;
        $situation = Situation::tryFrom(is_string($payload->situation ?? null) ? $payload->situation : Situation::Running->value);
        if ($chip === null || $situation === null || isset($payload->pulsing)) {
            return $payload;
        }
        $expected = $this->expected($board, $state, $situation);
        $unknown = [];
        $levels = ['pulsing' => [], 'high' => [], 'low' => []];
        foreach ($chip->type?->pinList() ?? [] as $pin) {
            $at = $expected["{$chip->ref}.{$pin->number}"] ?? null;
            if ($at !== null && $at['state'] === null) {
                $unknown[] = "{$chip->ref}.{$pin->number}";
            } elseif ($at !== null && isset($levels[$at['state']])) {
                $levels[$at['state']][] = "{$chip->ref}.{$pin->number}";
            }
        }
        $whole = (object) get_object_vars($payload);
        foreach ($levels as $level => $pins) {
            $whole->{$level} = $pins;
        }
        $whole->unknown ??= $unknown;

        return $whole;
    }

    /** A reading is kept with what it should have been, as it is known now. */
    public function complete(object $payload, BoardProfile $board, MachineState $state): object
    {
        $text = $payload->pin ?? null;
        $pin = is_string($text) ? PinProbed::pin($text, $board, 'pin', new ProblemList) : null;
        $situation = Situation::tryFrom(is_string($payload->situation ?? null) ? $payload->situation : Situation::Running->value);
        if ($pin === null || $situation === null || $situation === Situation::Selecting || isset($payload->expected)) {
            return $payload;
        }
        $at = $this->expected($board, $state, $situation)[$pin] ?? ['state' => null, 'hz' => null, 'by' => Expectations::BY_PROFILE];
        $whole = new stdClass;
        foreach (get_object_vars($payload) as $name => $value) {
            $whole->{$name} = $value;
        }
        $whole->expected = $at['state'] ?? 'any';
        $whole->by = $at['by'];
        if ($at['hz'] !== null) {
            $whole->expectedHz = $at['hz'];
        }
        if (($whole->result ?? '') === 'right' && ! isset($whole->state) && $at['state'] !== null) {
            $whole->state = $at['state'];
        }

        return $whole;
    }
}
