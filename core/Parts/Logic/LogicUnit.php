<?php

declare(strict_types=1);

namespace ZapTrace\Parts\Logic;

/**
 * A piece of a part that stands by itself: one gate of four, a counter. What it gives follows from the levels at its
 * inputs and from what it keeps; each case is worked out once and then looked up.
 */
final class LogicUnit
{
    public const LOW = 0;

    public const HIGH = 1;

    /** It does not drive. */
    public const FLOATING = 2;

    private const REMEMBERED = 65536;

    /** Inputs up to which channels are made one unit. */
    private const WIDE = 10;

    /** Bits of inputs and state up to which all cases are gone through. */
    private const SMALL = 8;

    /** In a case: the bits of the new state; what it gives lies above them. */
    public const STATE_BITS = 32;

    public const STATES = (1 << self::STATE_BITS) - 1;

    /** @var array<int, int> cases that were worked out, by levels and, above them, state: see case() */
    public array $cases = [];

    /** @var array<int, 'always'|'never'|array{int, int}> */
    private array $ignored = [];

    /** @var array<string, int|null> */
    private array $noted = [];

    /** @var list<list<int>>|null of each channel: the places of its inputs among all */
    private ?array $placed = null;

    /**
     * @param  list<int>  $inputs  pins it listens to
     * @param  list<string>  $inputNames
     * @param  list<Output>  $outputs
     * @param  list<Register>  $registers
     * @param  list<self>  $channels  what it is made of, where it is several; they keep nothing
     */
    public function __construct(public readonly array $inputs, private readonly array $inputNames, public readonly array $outputs, private readonly array $registers, private readonly array $channels = [])
    {
    }

    /**
     * The channels of a part that keep nothing and stand behind the same controls, as those of a buffer or a
     * multiplexer, made one unit: a control, or a word at its inputs, is answered once and not once for each channel.
     *
     * @param  list<self>  $units
     * @return array<int, self> by the place of the first that each is made of
     */
    public static function together(array $units): array
    {
        $uses = array_count_values(array_merge([], ...array_map(static fn (self $unit): array => $unit->inputs, $units)));
        $groups = [];
        foreach ($units as $place => $unit) {
            $controls = array_values(array_filter($unit->inputs, static fn (int $pin): bool => $uses[$pin] > 1));
            sort($controls);
            $key = $unit->keeps() || $controls === [] ? "{$place}" : implode(' ', $controls).serialize(array_map(static fn (Output $output): ?Expression => $output->when, $unit->outputs));
            $groups[$key][$place] = $unit;
        }
        $together = [];
        foreach ($groups as $group) {
            foreach (self::parted($group) as $place => $members) {
                $together[$place] = count($members) === 1 ? $members[0] : self::of($members);
            }
        }
        ksort($together);

        return $together;
    }

    /**
     * @param  array<int, self>  $group
     * @return array<int, non-empty-list<self>> as many together as have all their cases remembered
     */
    private static function parted(array $group): array
    {
        $parts = [];
        $first = null;
        foreach ($group as $place => $unit) {
            if ($first === null || count(array_unique(array_merge($unit->inputs, ...array_map(static fn (self $member): array => $member->inputs, $parts[$first])))) > self::WIDE) {
                $first = $place;
            }
            $parts[$first][] = $unit;
        }

        return $parts;
    }

    /**
     * @param  non-empty-list<self>  $channels
     */
    private static function of(array $channels): self
    {
        $names = [];
        foreach ($channels as $channel) {
            $names += array_combine($channel->inputs, $channel->inputNames);
        }

        return new self(array_keys($names), array_values($names), array_merge(...array_map(static fn (self $channel): array => $channel->outputs, $channels)), [], $channels);
    }

    /** Bits of its state: what it keeps, then the levels its clocks had. */
    public function stateBits(): int
    {
        return 2 * count($this->registers);
    }

    public function keeps(): bool
    {
        return $this->registers !== [];
    }

    /** Whether it takes what comes in as long as it is open, and not at an edge. */
    public function isLatch(): bool
    {
        return array_filter($this->registers, static fn (Register $register): bool => $register->when === 'while') !== [];
    }

    /**
     * Whether these levels hold all that it keeps, as long as they last: each of its registers is reset or set.
     */
    public function isForced(int $levels): bool
    {
        $named = $this->named($levels, 0);

        return $this->registers !== [] && array_filter($this->registers, static fn (Register $register): bool => $register->reset?->value($named) !== 1 && $register->set?->value($named) !== 1) === [];
    }

    /**
     * What it keeps, without the memory of its clocks: for a state to begin with.
     */
    public function stateOf(int $kept, int $levels): int
    {
        $named = $this->named($levels, $kept);
        $state = $kept;
        foreach ($this->registers as $bit => $register) {
            $state |= $register->clock->value($named) << (count($this->registers) + $bit);
        }

        return $state;
    }

    /**
     * Whether a unit only takes note of an input's going to a level, as a flip-flop of the clock edge at which it does
     * nothing: neither what it keeps nor what it gives changes, and of its state these bits are cleared.
     *
     * @param  array<int, int>  $fixed  levels that never change, by place
     * @return int|null the bits of its state that are cleared; null where more happens
     */
    public function notes(int $place, int $level, array $fixed = []): ?int
    {
        $key = "{$place} {$level} ".json_encode($fixed);
        if (! array_key_exists($key, $this->noted)) {
            $this->noted[$key] = count($this->inputs) + $this->stateBits() > self::SMALL ? $this->notingClocks($place, $level, $fixed) : $this->noting($place, $level);
        }

        return $this->noted[$key];
    }

    /**
     * The same of a large one: by what its clocks make of the input, where it is in nothing else.
     *
     * @param  array<int, int>  $fixed
     */
    private function notingClocks(int $place, int $level, array $fixed): ?int
    {
        $kept = array_map(static fn (Register $register): string => $register->name, $this->registers);
        $matters = array_merge($kept, ...array_map(static fn (Output $output): array => $output->names(), $this->outputs));
        foreach ($this->registers as $register) {
            array_push($matters, ...$register->next->names(), ...($register->reset?->names() ?? []), ...($register->set?->names() ?? []));
        }
        if ($this->registers === [] || in_array($this->inputNames[$place], $matters, true)) {
            return null;
        }
        $cleared = 0;
        foreach ($this->registers as $bit => $register) {
            $names = $register->clock->names();
            $others = array_keys(array_intersect(array_diff_key($this->inputNames, [$place => '']), $names));
            if ($register->when !== 'rise' || count($others) > self::SMALL || array_intersect($names, $kept) !== []) {
                return null;
            }
            $before = $after = [];
            for ($case = 0; $case < 1 << count($others); $case++) {
                $named = [];
                foreach ($others as $number => $other) {
                    $named[$this->inputNames[$other]] = $fixed[$other] ?? $case >> $number & 1;
                }
                $before[] = $register->clock->value([$this->inputNames[$place] => 1 - $level] + $named);
                $after[] = $register->clock->value([$this->inputNames[$place] => $level] + $named);
            }
            if (array_sum($after) === 0) {
                $cleared |= 1 << count($this->registers) + $bit;
            } elseif ($after !== $before) {
                return null;
            }
        }

        return $cleared;
    }

    private function noting(int $place, int $level): ?int
    {
        if ($this->registers === []) {
            return null;
        }
        $changes = [];
        $cleared = 0;
        for ($levels = 0; $levels < 1 << count($this->inputs); $levels++) {
            for ($kept = 0; ($levels >> $place & 1) !== $level && $kept < 1 << count($this->registers); $kept++) {
                $state = $this->stateOf($kept, $levels);
                [$same, $gives] = $this->settle($levels, $state);
                if ($same !== $state) {
                    continue; // It is not at rest like that.
                }
                [$next, $drives] = $this->settle($levels ^ 1 << $place, $state);
                if ($drives !== $gives) {
                    return null;
                }
                $changes[] = [$state, $next];
                $cleared |= $state & ~$next;
            }
        }
        foreach ($changes as [$state, $next]) {
            if (($state & ~$cleared) !== $next) {
                return null;
            }
        }

        return $cleared;
    }

    /**
     * When a change at an input cannot make a difference: never for a clock, always for the data of a flip-flop, and for
     * other inputs as long as another one has a certain level, as behind an enable that is not given.
     *
     * @return 'always'|'never'|array{int, int} place of that other input, and its level
     */
    public function ignores(int $place): string|array
    {
        return $this->ignored[$place] ??= $this->ignoring($place);
    }

    /**
     * @return 'always'|'never'|array{int, int}
     */
    private function ignoring(int $place): string|array
    {
        if ($this->registers !== []) {
            $matters = [];
            foreach ($this->registers as $register) {
                array_push($matters, ...$register->clock->names(), ...($register->reset?->names() ?? []), ...($register->set?->names() ?? []));
            }
            foreach ($this->outputs as $output) {
                array_push($matters, ...$output->names());
            }
            if (in_array($this->inputNames[$place], $matters, true)) {
                return 'never';
            }
            if (! $this->isLatch()) {
                return 'always';
            }
            if (count($this->registers) !== 1) {
                return 'never';
            }
        }
        if ($this->channels !== []) {
            return $this->ignoredByAll($place);
        }
        $count = count($this->inputs);
        if ($count > 6) {
            return 'never';
        }
        $states = $this->registers === [] ? [0] : [0, 1, 2, 3];
        for ($other = 0; $other < $count; $other++) {
            foreach ($other === $place ? [] : [0, 1] as $level) {
                $idle = true;
                for ($levels = 0; $levels < 1 << $count && $idle; $levels++) {
                    if (($levels >> $other & 1) !== $level || ($levels >> $place & 1) === 1) {
                        continue;
                    }
                    foreach ($states as $state) {
                        $idle = $idle && $this->settle($levels, $state) === $this->settle($levels | 1 << $place, $state);
                    }
                }
                if ($idle) {
                    return [$other, $level];
                }
            }
        }

        return 'never';
    }

    /**
     * @return 'never'|array{int, int}
     */
    private function ignoredByAll(int $place): string|array
    {
        $all = [];
        foreach ($this->channels as $channel) {
            $there = array_search($this->inputs[$place], $channel->inputs, true);
            if ($there !== false) {
                $ignores = $channel->ignores($there);
                $all[] = is_array($ignores) ? [(int) array_search($channel->inputs[$ignores[0]], $this->inputs, true), $ignores[1]] : 'never';
            }
        }

        return $all !== [] && $all === array_fill(0, count($all), $all[0]) ? $all[0] : 'never';
    }

    /**
     * @param  int  $levels  bit n is the level at the nth input
     * @param  int  $state  as it was returned the last time
     * @return array{int, int} the new state; and of each output two bits: LOW, HIGH or FLOATING
     */
    public function settle(int $levels, int $state): array
    {
        $case = $this->case($state << count($this->inputs) | $levels);

        return [$case & self::STATES, $case >> self::STATE_BITS];
    }

    /**
     * The same in two numbers, remembered: for those who ask often.
     *
     * @param  int  $key  the levels, and above them the state
     * @return int the new state, and above its bits what it gives
     */
    public function case(int $key): int
    {
        if (isset($this->cases[$key])) {
            return $this->cases[$key];
        }
        if (count($this->cases) >= self::REMEMBERED) {
            $this->cases = [];
        }
        $inputs = count($this->inputs);
        [$state, $drives] = $this->work($key & ((1 << $inputs) - 1), $key >> $inputs);

        return $this->cases[$key] = $drives << self::STATE_BITS | $state;
    }

    /**
     * @return array{int, int}
     */
    private function work(int $levels, int $state): array
    {
        if ($this->channels !== []) {
            return [0, $this->channelled($levels)];
        }
        $count = count($this->registers);
        $kept = $state & ((1 << $count) - 1);
        $clocks = $state >> $count;
        // A register may be the clock of the next: once for each is enough.
        for ($round = 0; $round <= $count; $round++) {
            $named = $this->named($levels, $kept);
            $next = $kept;
            $nowClocks = 0;
            foreach ($this->registers as $bit => $register) {
                $clock = $register->clock->value($named);
                $nowClocks |= $clock << $bit;
                $before = $clocks >> $bit & 1;
                $takes = match ($register->when) {
                    'while' => $clock === 1,
                    'rise' => $before === 0 && $clock === 1,
                    'fall' => $before === 1 && $clock === 0,
                };
                $value = $takes ? $register->next->value($named) : $kept >> $bit & 1;
                if ($register->reset !== null && $register->reset->value($named) === 1) {
                    $value = 0;
                }
                if ($register->set !== null && $register->set->value($named) === 1) {
                    $value = 1;
                }
                $next = $next & ~(1 << $bit) | $value << $bit;
            }
            $settled = $next === $kept && $nowClocks === $clocks;
            $kept = $next;
            $clocks = $nowClocks;
            if ($settled) {
                break;
            }
        }
        $named = $this->named($levels, $kept);
        $drives = 0;
        foreach ($this->outputs as $place => $output) {
            $value = $output->value->value($named);
            if ($output->when !== null && $output->when->value($named) === 0 || $output->open && $value === 1) {
                $value = self::FLOATING;
            }
            $drives |= $value << 2 * $place;
        }

        return [$kept | $clocks << $count, $drives];
    }

    private function channelled(int $levels): int
    {
        $this->placed ??= array_map(fn (self $channel): array => array_map(fn (int $pin): int => (int) array_search($pin, $this->inputs, true), $channel->inputs), $this->channels);
        $drives = 0;
        $above = 0;
        foreach ($this->channels as $number => $channel) {
            $key = 0;
            foreach ($this->placed[$number] as $bit => $place) {
                $key |= ($levels >> $place & 1) << $bit;
            }
            $drives |= $channel->case($key) >> self::STATE_BITS << $above;
            $above += 2 * count($channel->outputs);
        }

        return $drives;
    }

    /**
     * @return array<string, int>
     */
    private function named(int $levels, int $kept): array
    {
        $named = [];
        foreach ($this->inputNames as $place => $name) {
            $named[$name] = $levels >> $place & 1;
        }
        foreach ($this->registers as $bit => $register) {
            $named[$register->name] = $kept >> $bit & 1;
        }

        return $named;
    }
}
