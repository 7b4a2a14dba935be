<?php

declare(strict_types=1);

namespace ZapTrace\Reasoning;

use ZapTrace\Board\BoardProfile;
use ZapTrace\Board\Netlist;
use ZapTrace\Board\TestedFunction;
use ZapTrace\Numbers\WilsonInterval;
use ZapTrace\Observations\FunctionTested;
use ZapTrace\Observations\PowerOnCount;
use ZapTrace\Observations\Sample;
use ZapTrace\Signals\ContinuityPlan;
use ZapTrace\Signals\ContinuitySeen;
use ZapTrace\Signals\PinsChecked;

/**
 * What still has to be done before a repair is proved: the pins of what was unsoldered, clean runs for the lower bound of
 * the rate at which the fault showed, and the functions that something was done for; every function where it is not as sure
 * as is wanted that no fault is left.
 *
 * n clean runs are enough when (1 - rate)^n is no more than 1 - confidence, with the lower bound of Wilson's interval as
 * the rate.
 */
final readonly class ProofPlan
{
    /**
     * A fault of which nobody counted how often it shows counts as seen three times in three; one that was counted fewer times,
     * and showed each time, is no rarer. Common practice.
     */
    private const UNCOUNTED = 3;

    /**
     * @param  float  $confidence  wanted, 0 to 1
     * @param  int  $shown  power-ons in which the fault showed before what was repaired last
     * @param  int  $of  power-ons that were counted then
     * @param  float  $rate  lower bound of the rate
     * @param  int  $needed  clean runs wanted
     * @param  int  $clean  clean runs since, without a failure after them
     * @param  float  $minutes  of long runs since
     * @param  array<string, bool|null>  $functions  by id: works, does not work, or null when not tested with the parts that are in now
     * @param  list<string>  $unmeasured  places a part was unsoldered from whose pins nobody has measured since
     * @param  array<string, list<array{pin: string, to: string, net: string}>>  $open  place a part was unsoldered from => pins found open there that nobody has mended
     * @param  list<string>  $wanted  ids of the functions that the proof needs; the others are tried before it goes back
     * @param  bool  $shows  it showed with the parts that are in now: however often it is well afterwards, nothing has cured it
     */
    private function __construct(
        public float $confidence,
        public int $shown,
        public int $of,
        public WilsonInterval $interval,
        public float $rate,
        public int $needed,
        public int $clean,
        public float $minutes,
        public array $functions,
        public array $unmeasured,
        public array $open,
        public bool $shows,
        public array $wanted,
    ) {
    }

    /**
     * @param  list<Sample>  $samples
     * @param  float  $nothingLeft  0 to 1: how likely it is that no fault is left
     */
    public static function of(BoardProfile $board, array $samples, MachineState $now, float $confidence, float $nothingLeft): self
    {
        $failing = null;
        /** @var list<array{state: MachineState, shown: int, of: int, after: int}> $groups */
        $groups = [];
        $clean = 0;
        $minutes = 0.0;
        $runs = Sample::of($samples, PowerOnCount::class);
        $shows = $with = $here = [];
        foreach ($runs as ['what' => $count]) {
            $shows[$count->diagnostic] = ($shows[$count->diagnostic] ?? false) || $count->failed > 0;
        }
        $set = $now->settings->key();
        foreach ($runs as ['state' => $state, 'what' => $count]) {
            if ($count->diagnostic !== '' && ! $shows[$count->diagnostic]) {
                continue; // It never showed this fault: that it passes counts for nothing.
            }
            $group = array_pop($groups);
            if ($group !== null && ! $group['state']->sameParts($state)) {
                $groups[] = $group;
                $group = null;
                $here = [];
            }
            $group ??= ['state' => $state, 'shown' => 0, 'of' => 0, 'after' => 0];
            $settings = $state->settings->key();
            $with[$settings] = ($with[$settings] ?? false) || $count->failed > 0;
            $here[$count->diagnostic] = ($here[$count->diagnostic] ?? false) || $count->failed > 0;
            // A diagnostic that passes since a part is another may have shown the fault that went with it, and not the one that is left.
            $counts = $with[$settings] && ($count->diagnostic === '' || $here[$count->diagnostic]);
            $groups[] = [
                'state' => $group['state'], 'shown' => $group['shown'] + $count->failed,
                'of' => $group['of'] + ($count->failed > 0 ? $count->failed + $count->clean + $group['after'] : 0),
                // With a link moved the fault may be out of play: that it does not show then is no sign that it comes and goes.
                'after' => $count->failed > 0 ? 0 : $group['after'] + ($counts ? $count->clean : 0),
            ];
            $failing = $count->failed > 0 ? $state : $failing;
            if ($count->failed > 0 || ! $state->sameParts($now)) {
                $clean = 0;
                $minutes = 0.0;
            } elseif ($settings === $set) {
                $clean += $count->clean;
                $minutes += $count->minutes;
            }
        }
        [$shown, $of] = self::counted($groups, $now);
        $interval = $shown < self::UNCOUNTED && ($shown === 0 || $shown === $of) ? WilsonInterval::of(self::UNCOUNTED, self::UNCOUNTED) : WilsonInterval::of($shown, $of);
        $functions = array_fill_keys(array_map(static fn (TestedFunction $function): string => $function->id, $board->functions), null);
        foreach (Sample::of($samples, FunctionTested::class) as ['state' => $state, 'what' => $tested]) {
            if ($state->sameParts($now) && $state->settings->key() === $set && array_key_exists($tested->function, $functions)) {
                $functions[$tested->function] = $tested->works;
            }
        }

        return new self($confidence, $shown, $shown === 0 ? 0 : $of, $interval, $interval->lower, self::cleanRuns($interval->lower, $confidence), $clean, $minutes, $functions, self::notMeasured($board, $samples, $now), self::notMended($board, $samples, $now), $failing?->sameParts($now) === true, $nothingLeft < $confidence ? array_map(strval(...), array_keys($functions)) : self::changed($board, $now));
    }

    /**
     * The functions that exercise something that was exchanged, mended or disturbed.
     *
     * @return list<string> ids
     */
    private static function changed(BoardProfile $board, MachineState $now): array
    {
        $touched = [];
        foreach (array_map(strval(...), array_keys($now->done + $now->mended + $now->fitted)) as $site) {
            $touched[(string) strtok($site, '.')] = true;
            $touched += array_fill_keys(array_map(Netlist::chipOf(...), $board->netlist->nets[$site]->pins ?? []), true);
        }
        $reached = (new ReachedBanks($board))->of($now->settings);

        return array_values(array_map(static fn (TestedFunction $function): string => $function->id, array_filter($board->functions, static fn (TestedFunction $function): bool => array_intersect_key($function->strengths($board, $reached), $touched) !== [])));
    }

    /**
     * How often the fault showed. Where that which showed last comes and goes, what failed each time before was another one, and
     * tells nothing of how often this one shows.
     *
     * @param  list<array{state: MachineState, shown: int, of: int, after: int}>  $groups  power-ons with the same parts in: how often it showed, of how many until it showed last, and how many after that
     * @return array{int, int} how often, and of how many
     */
    private static function counted(array $groups, MachineState $now): array
    {
        $all = $coming = [0, 0];
        $goes = false;
        $between = 0;
        $failing = null;
        foreach ($groups as ['state' => $state, 'shown' => $shown, 'of' => $of, 'after' => $after]) {
            $failing = $shown > 0 ? $state : $failing;
            // Once something else is in, those after it showed last were with the fault in there, too; others tell when it shows again.
            $still = $failing?->sameParts($state) === true && ! $state->sameParts($now) ? $after : 0;
            if ($shown > 0) {
                $goes = $of + $still > $shown;
                $all = [$all[0] + $shown, $all[1] + $between + $of];
                $coming = $goes ? [$coming[0] + $shown, $coming[1] + $of + $still] : $coming;
                $between = 0;
            }
            $all[1] += $still;
            $between += $after - $still;
        }

        return $goes ? $coming : $all;
    }

    /**
     * A trace that the iron tore off may show in nothing that is tested: each pin is measured once.
     *
     * @param  list<Sample>  $samples
     * @return list<string>
     */
    private static function notMeasured(BoardProfile $board, array $samples, MachineState $now): array
    {
        $places = [];
        foreach ($now->fitted as $ref => $times) {
            $chip = $board->chips[$ref] ?? null;
            $list = $chip === null || $chip->socketed ? [] : ContinuityPlan::afterRemoval($board, $chip->ref);
            // Where there is nothing but supply, what is open shows at once.
            if ($chip !== null && array_filter($list, static fn (array $each): bool => $board->netlist->nets[$each['net']]->isPower() === false) !== []) {
                $places[$chip->ref] = array_column($list, 'to', 'pin');
            }
        }
        foreach (Sample::of($samples, ContinuitySeen::class) as ['state' => $state, 'what' => $seen]) {
            foreach ([[$seen->from, $seen->to], [$seen->to, $seen->from]] as [$pin, $to]) {
                $ref = Netlist::chipOf($pin);
                if (($places[$ref][$pin] ?? '') === $to && isset($state->fitted[$ref])) {
                    unset($places[$ref][$pin]);
                }
            }
        }

        return array_map(strval(...), array_keys(array_filter($places)));
    }

    /**
     * @param  list<Sample>  $samples
     * @return array<string, list<array{pin: string, to: string, net: string}>>
     */
    private static function notMended(BoardProfile $board, array $samples, MachineState $now): array
    {
        $open = [];
        foreach (Sample::of($samples, PinsChecked::class) as ['what' => $checked]) {
            $list = isset($now->mended[$checked->chip]) ? [] : ContinuityPlan::afterRemoval($board, $checked->chip);
            $open[$checked->chip] = array_values(array_filter($list, static fn (array $each): bool => in_array($each['pin'], $checked->open, true) && ! isset($now->mended[$each['net']])));
        }

        return array_filter($open);
    }

    /**
     * How many clean runs show that a fault is gone that showed at this rate.
     *
     * @param  float  $rate  0 to 1, without 0
     * @param  float  $confidence  0 to 1, without 1
     */
    public static function cleanRuns(float $rate, float $confidence): int
    {
        return $rate >= 1.0 ? 1 : max(1, (int) ceil(log(1.0 - $confidence) / log(1.0 - $rate) - 1e-9));
    }

    public function cleanRunsLeft(): int
    {
        return $this->shows ? $this->needed : max(0, $this->needed - $this->clean);
    }

    /**
     * The upper bound of the rate that the clean runs since leave.
     */
    public function rateLeft(): ?float
    {
        return $this->clean === 0 ? null : WilsonInterval::of(0, $this->clean)->upper;
    }

    /**
     * @return list<string> ids of the functions that were not tested with the parts that are in now
     */
    public function untested(): array
    {
        return array_map(strval(...), array_keys(array_filter($this->functions, static fn (?bool $works): bool => $works === null)));
    }

    /**
     * @return list<string> ids of those of them that the proof needs
     */
    public function wanting(): array
    {
        return array_values(array_intersect($this->untested(), $this->wanted));
    }

    public function isProved(): bool
    {
        return $this->unmeasured === [] && $this->open === [] && $this->cleanRunsLeft() === 0 && ! in_array(false, $this->functions, true) && $this->wanting() === [];
    }

    /** How many clean runs, and why so many. */
    public function words(): string
    {
        $percent = rtrim(rtrim(number_format($this->confidence * 100.0, 1, '.', ''), '0'), '.');
        $seen = match (true) {
            $this->of === 0 => 'Nobody counted how often the fault shows; as if it had shown three times in three',
            $this->shown < self::UNCOUNTED && $this->shown === $this->of => "The fault showed each time it was counted, {$this->of} in all; as if it had shown three times in three",
            default => "The fault showed in {$this->shown} of {$this->of} power-ons, so in at least ".number_format($this->rate * 100.0, 1).' % of them',
        };

        if ($this->shows) {
            return "{$seen}. It showed with the parts that are in now, so clean ones prove nothing before something is repaired.";
        }

        return "{$seen}: {$this->needed} clean ones in a row make {$percent} % sure that it is gone.";
    }
}
