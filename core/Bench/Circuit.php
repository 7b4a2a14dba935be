<?php

declare(strict_types=1);

namespace ZapTrace\Bench;

use ZapTrace\Board\BoardProfile;
use ZapTrace\Board\Netlist;
use ZapTrace\Parts\Logic\LogicUnit;

/**
 * The nets and parts of one board with what is wrong with it, as nodes that carry levels. A level is LOW, HIGH or
 * FLOATING; what floats reads as high, as it does at TTL inputs. Where outputs fight, the low one wins, and the fight
 * is remembered. A part answers one step after its inputs, so that paths of different length can race as they do.
 *
 * The clock chain runs by itself: its course is worked out once and then played back.
 */
final class Circuit
{
    // The levels of LogicUnit, written out: so they are compiled in where they are compared most.
    private const LOW = 0;

    private const HIGH = 1;

    private const FLOATING = 2;

    /** So many steps without rest are an oscillation; it is left as it is. */
    private const RESTLESS = 400;

    /** Courses of the clock chain up to this many half ticks are played back. */
    private const COURSE = 4096;

    /** @var array<int, int> level of each node */
    private array $value = [];

    /** @var array<int, int> how often each node went to each level since the look began, by the two in one number */
    private array $went = [];

    /** @var array<int, int> bit n: the node was at level n when the look began */
    private array $seen = [];

    /** @var array<int, true> nodes on which outputs fought */
    public array $fights = [];

    /** @var array<int, int> what holds a node besides a hand, FLOATING for nothing; of those that a hand has held */
    private array $stuck = [];

    /** @var array<int, true> nodes that are held and let go from outside */
    private array $buttons = [];

    /** @var array<int, true> nodes to be looked at once everything has settled */
    private array $doubtful = [];

    /** Half ticks of the oscillator since the start. */
    public int $now = 0;

    /** @var array<string, int> pin => node */
    private array $nodeOfPin = [];

    /** @var array<int, int> level of a node that nothing drives */
    private array $pull = [];

    /** @var array<int, int> */
    private array $driverNode = [];

    /** @var array<int, int> */
    private array $drive = [];

    /** @var array<int, list<int>> */
    private array $driversOf = [];

    /** A driver's share in the weight of its node, by its level: in the low bits those that are low, above them those that are high. */
    private const WEIGHT = [self::LOW => 1, self::HIGH => 256, self::FLOATING => 0];

    private const LOWS = 255;

    /** @var array<int, int> of each node: the sum of its drivers' weights */
    private array $weight = [];

    /** @var array<int, int> drivers that give one level whatever they should */
    private array $fixed = [];

    /** @var array<int, int> nodes that something holds */
    private array $held = [];

    /** @var array<int, array<int, int>> node => element => element: those it matters to that the node goes low */
    private array $falls = [];

    /** @var array<int, array<int, int>> the same for high */
    private array $rises = [];

    /** @var array<int, array<int, int>> node => unit => the bits of its state that are cleared as the node goes low, and nothing else */
    private array $clears = [];

    /** @var array<int, array<int, array{int, int}>> node => element => the node whose level makes it deaf, and the level */
    private array $guarded = [];

    /** @var array<int, LogicUnit> */
    private array $units = [];

    /** @var array<int, list<int>> nodes a unit listens to */
    private array $inputs = [];

    /** @var array<int, int> of each unit: the levels at its inputs, bit n that of the nth */
    private array $levels = [];

    /** @var array<int, array<int, int>> node => unit => the bits of its levels that follow the node */
    private array $flips = [];

    /** @var array<int, int> of each unit: the bits of its levels */
    private array $width = [];

    /** @var array<int, int> of each unit: what it gave the last time */
    private array $given = [];

    /** Bits in what a unit gives, at most. */
    private const OUTPUTS = 24;

    /** So many turns of what a unit gives are remembered. */
    private const TURNS = 1024;

    /** @var array<int, array<int, list<int>>> unit => what it gave and gives in one number => what it asks for, as in what is asked */
    private array $turns = [];

    /** @var array<int, list<int>> drivers of its outputs, -1 for a pin on no net */
    private array $outputs = [];

    /** @var array<int, int> */
    private array $state = [];

    /** @var array<int, Device> */
    private array $devices = [];

    /** @var list<int> elements that have something to answer, each once */
    private array $queue = [];

    /** @var array<int, bool> of each element: whether it is in the queue */
    private array $waits = [];

    /** @var list<int> what is to be driven next: a driver and its level in one number, or, below zero, a node to be looked at again */
    private array $asked = [];

    /** @var list<int> the same, once everything has settled */
    private array $later = [];

    /** @var array<int, int> driver => its node, where it is the only one there and nothing else holds the node; otherwise -1 */
    private array $alone = [];

    /** In what wakes whom: the bits of the listener's levels that follow the node; the listener lies above them. */
    private const INPUTS = 32;

    private const LEVELS = (1 << self::INPUTS) - 1;

    /** @var array<int, list<int>> of each node, by the two in one number: who hears when it goes low (0) or high (1); below zero, inverted, those who only take note */
    private array $hears = [];

    /** @var array<int, list<array{int, int, int}>> of some nodes: who has to answer as long as another node does not make it deaf; that node, and at what level it does */
    private array $guards = [];

    /** Whether what wakes whom has to be laid down anew. */
    private bool $isStale = true;

    /** @var array<string, Socket> */
    public array $sockets = [];

    private int $oscillator = -1;

    /** @var list<list<int>> for each half tick of the course: what is driven, as in what is asked */
    private array $course = [];

    /** @var array<int, array{changes: int, seen: int, fights: bool}> what each node of the chain does in one turn of the course */
    private array $turn = [];

    /** @var array<int, true> elements that listen to nothing but the clock chain and what never changes */
    private array $chain = [];

    public float $hz = 0.0;

    /**
     * @param  list<InjectedFault>  $faults  that show in this run
     * @param  array<string, string>  $positions  link => position
     * @param  array<string, true>  $absent  chips that are out
     */
    public function __construct(private readonly BoardProfile $board, array $faults, array $positions, array $absent, LogicShelf $shelf)
    {
        $this->wire($faults, $positions);
        $dead = [];
        foreach ($faults as $fault) {
            if ($fault->kind === FaultKind::Dead) {
                $dead[$fault->at] = true;
            }
        }
        $this->connect($faults, $dead + $absent);
        $this->logic($shelf, $dead + $absent);
        foreach ($this->driverNode as $driver => $node) {
            $this->alone[$driver] = count($this->driversOf[$node]) === 1 && ! isset($this->fixed[$driver]) && ! isset($this->held[$node]) ? $node : -1;
        }
    }

    public function nodeOf(string $pin): int
    {
        return $this->nodeOfPin[$pin] ?? -1;
    }

    public function level(int $node): int
    {
        return ($this->value[$node] ?? self::FLOATING) === self::LOW ? 0 : 1;
    }

    /**
     * @param  list<int>  $nodes  the lowest bit first
     */
    public function word(array $nodes): int
    {
        $value = $this->value;
        $word = 0;
        $bit = 1;
        foreach ($nodes as $node) {
            if (($value[$node] ?? self::FLOATING) !== self::LOW) {
                $word |= $bit;
            }
            $bit <<= 1;
        }

        return $word;
    }

    public function add(Device $device): void
    {
        $element = count($this->units) + count($this->devices);
        $this->devices[$element] = $device;
        $this->levels[$element] = 0;
        $this->isStale = true;
        $deaf = $device->deaf();
        foreach (array_unique($device->listens()) as $node) {
            if ($node >= 0 && $deaf !== null && $node !== $deaf[0]) {
                $this->guarded[$node][$element] = $deaf;
            } elseif ($node >= 0) {
                $this->falls[$node][$element] = $this->rises[$node][$element] = $element;
            }
        }
        $this->call($element);
    }

    /** Drives at once; what follows from it shows when everything has settled. */
    public function drive(int $driver, int $level): void
    {
        if ($driver >= 0) {
            $this->asked[] = $driver << 2 | $level;
        }
    }

    /**
     * @param  list<int>  $drivers  the lowest bit first
     */
    public function driveWord(array $drivers, int $word): void
    {
        foreach ($drivers as $driver) {
            if ($driver >= 0) {
                $this->asked[] = $driver << 2 | $word & 1;
            }
            $word >>= 1;
        }
    }

    /**
     * @param  list<int>  $drivers
     */
    public function release(array $drivers): void
    {
        foreach ($drivers as $driver) {
            $this->drive($driver, self::FLOATING);
        }
    }

    /** Drives once what goes on now has settled. */
    public function driveLater(int $driver, int $level): void
    {
        if ($driver >= 0) {
            $this->later[] = $driver << 2 | $level;
        }
    }

    /** All that was driven takes its effect, and what follows from that, until nothing changes any more. */
    public function settle(): void
    {
        $this->run(0);
    }

    /**
     * Settles, and lets the oscillator go on.
     *
     * @param  int  $ticks  halves of its period
     */
    public function run(int $ticks): void
    {
        if ($this->isStale) {
            $this->listen();
        }
        // What is used over and over is named here: a property costs several times as much as a variable.
        $value = $this->value;
        $went = $this->went;
        $levels = $this->levels;
        $state = $this->state;
        $given = $this->given;
        $queue = $this->queue;
        $waits = $this->waits;
        $asked = $this->asked;
        $alone = $this->alone;
        $units = $this->units;
        $width = $this->width;
        $outputs = $this->outputs;
        $turns = $this->turns;
        $hears = $this->hears;
        $clears = $this->clears;
        $guards = $this->guards;
        $course = $this->course;
        $length = count($course);
        $this->value = $this->went = $this->levels = $this->state = $this->given = $this->queue = $this->waits = $this->asked = $this->turns = [];
        $now = [-1];
        $rounds = 0;
        do {
            foreach ($now as $element) {
                if (isset($units[$element])) {
                    $waits[$element] = false;
                    $key = $levels[$element] | $state[$element] << $width[$element];
                    $case = $units[$element]->cases[$key] ?? $units[$element]->case($key);
                    $state[$element] = $case & LogicUnit::STATES;
                    $drives = $case >> LogicUnit::STATE_BITS;
                    $before = $given[$element];
                    if ($drives === $before) {
                        continue;
                    }
                    $given[$element] = $drives;
                    $turn = $before << self::OUTPUTS | $drives;
                    if (isset($turns[$element][$turn])) {
                        $asked = $turns[$element][$turn];
                    } else {
                        foreach ($outputs[$element] as $driver) {
                            if (($drives & 3) !== ($before & 3) && $driver >= 0) {
                                $asked[] = $driver << 2 | $drives & 3;
                            }
                            $drives >>= 2;
                            $before >>= 2;
                        }
                        if (count($turns[$element]) < self::TURNS) {
                            $turns[$element][$turn] = $asked;
                        }
                    }
                } elseif ($element >= 0) {
                    $waits[$element] = false;
                    $this->value = $value;
                    $this->answer($element);
                    $value = $this->value;
                    $asked = $this->asked;
                    $this->value = $this->asked = [];
                }
                foreach ($asked as $one) {
                    $level = $one & 3;
                    $driver = $one >> 2;
                    $node = $one < 0 ? -1 : $alone[$driver];
                    if ($node >= 0) {
                        // Nothing else drives or holds its node: the node follows it.
                        $this->drive[$driver] = $level;
                        if ($level === self::FLOATING) {
                            $level = $this->pull[$node];
                        }
                    } else {
                        $node = $one < 0 ? ~$one : $this->weigh($driver, $level);
                        if ($node < 0) {
                            continue;
                        }
                        $level = $this->levelOf($node);
                    }
                    $before = $value[$node];
                    if ($level === $before) {
                        continue;
                    }
                    // All that listen hear of it: what floats is high to them.
                    $value[$node] = $level;
                    $went[$node << 2 | $level]++;
                    if ($level === self::LOW) {
                        $hear = $hears[$node << 1];
                        if (isset($clears[$node])) {
                            foreach ($clears[$node] as $listener => $bits) {
                                $state[$listener] &= ~$bits;
                            }
                        }
                    } elseif ($before === self::LOW) {
                        $hear = $hears[$node << 1 | 1];
                    } else {
                        continue;
                    }
                    foreach ($hear as $bits) {
                        if ($bits >= 0) {
                            $listener = $bits >> self::INPUTS;
                            $levels[$listener] ^= $bits & self::LEVELS;
                            if (! $waits[$listener]) {
                                $waits[$listener] = true;
                                $queue[] = $listener;
                            }
                        } else {
                            $levels[~$bits >> self::INPUTS] ^= ~$bits & self::LEVELS;
                        }
                    }
                    if (isset($guards[$node])) {
                        foreach ($guards[$node] as [$listener, $guard, $deaf]) {
                            if (! $waits[$listener] && ($value[$guard] === self::LOW ? 0 : 1) !== $deaf) {
                                $waits[$listener] = true;
                                $queue[] = $listener;
                            }
                        }
                    }
                }
                $asked = [];
            }
            if (++$rounds > self::RESTLESS) {
                foreach ($queue as $element) {
                    $waits[$element] = false;
                }
                $queue = [];
            }
            if (count($queue) > 0) {
                $now = $queue;
                $queue = [];
            } elseif (count($this->later) > 0) {
                $now = [-1];
                $asked = $this->later;
                $this->later = [];
            } else {
                // One output lets go a moment after the other has taken over: only what lasts is a fight.
                foreach ($this->doubtful as $node => $yes) {
                    if ($this->fighting($node)) {
                        $this->fights[$node] = true;
                    }
                }
                $this->doubtful = [];
                $rounds = 0;
                $now = [];
                while ($ticks > 0 && count($now) === 0) {
                    $asked = $length > 0 ? $course[$this->now % $length] : [$this->oscillator << 2 | $this->now & 1];
                    $now = count($asked) > 0 ? [-1] : [];
                    $this->now++;
                    $ticks--;
                }
            }
        } while (count($now) > 0);
        $this->value = $value;
        $this->went = $went;
        $this->levels = $levels;
        $this->state = $state;
        $this->given = $given;
        $this->waits = $waits;
        $this->turns = $turns;
    }

    /** Lays down who hears of each node, as it is needed when the node changes. */
    private function listen(): void
    {
        $this->isStale = false;
        $this->hears = $this->guards = [];
        foreach (array_keys($this->value) as $node) {
            $flips = $this->flips[$node] ?? [];
            $falls = $this->falls[$node] ?? [];
            $rises = $this->rises[$node] ?? [];
            foreach ([$falls, $rises] as $level => $woken) {
                $this->hears[$node << 1 | $level] = [
                    ...self::packed(array_intersect_key($flips, $woken) + array_fill_keys($woken, 0)),
                    ...array_map(static fn (int $bits): int => ~$bits, self::packed(array_diff_key($flips, $woken))),
                ];
            }
            if (($this->guarded[$node] ?? []) !== []) {
                $this->guards[$node] = array_map(static fn (int $element, array $guard): array => [$element, ...$guard], array_keys($this->guarded[$node]), array_values($this->guarded[$node]));
            }
        }
    }

    /**
     * @param  array<int, int>  $bits  element => bits of its levels
     * @return list<int> the two in one number
     */
    private static function packed(array $bits): array
    {
        return array_map(static fn (int $element, int $bits): int => $element << self::INPUTS | $bits, array_keys($bits), array_values($bits));
    }

    private function answer(int $element): void
    {
        $this->devices[$element]->settle($this);
    }

    /** An element has something to answer. */
    private function call(int $element): void
    {
        if (! ($this->waits[$element] ?? false)) {
            $this->waits[$element] = true;
            $this->queue[] = $element;
        }
    }

    /** Holds a net at a level from outside, or lets it go again. */
    public function hold(string $net, ?int $level): void
    {
        $pin = $this->board->netlist->nets[$net]->pins[0] ?? '';
        $node = $this->nodeOfPin[$pin] ?? -1;
        if ($node < 0) {
            return;
        }
        $this->buttons[$node] = true;
        $this->stuck[$node] ??= $this->held[$node] ?? self::FLOATING;
        $this->held[$node] = $level ?? $this->stuck[$node];
        if ($this->held[$node] === self::FLOATING) {
            unset($this->held[$node]);
        }
        foreach (array_keys($this->alone, $node, true) as $driver) {
            $this->alone[$driver] = -1;
            $this->weight[$node] = self::WEIGHT[$this->drive[$driver]];
        }
        $this->doubtful[$node] = true;
        $this->asked[] = ~$node;
    }

    /** Forgets what was seen, so that a look begins now. */
    public function watch(): void
    {
        // What the chain does is played back only where others hear of it: that it drives against what holds a line goes on all the same.
        $this->fights = array_map(static fn (): bool => true, array_filter($this->turn, static fn (array $turn): bool => $turn['fights']));
        foreach ($this->value as $node => $level) {
            $this->seen[$node] = 1 << $level;
            $this->counted($node);
            if ($this->fighting($node)) {
                $this->fights[$node] = true;
            }
        }
    }

    public function seconds(): float
    {
        return $this->hz > 0.0 ? $this->now / (2.0 * $this->hz) : 0.0;
    }

    public function hasClock(): bool
    {
        return $this->oscillator >= 0 && ! isset($this->fixed[$this->oscillator]);
    }

    /**
     * Works out the course of the clock chain and plays it back from now on.
     */
    public function play(): void
    {
        $chain = $this->autonomous();
        if ($chain === [] || ! $this->hasClock()) {
            return;
        }
        $kept = [$this->falls, $this->rises, $this->clears, $this->guarded];
        [$this->falls, $this->rises, $this->clears, $this->guarded] = self::among($kept, $chain);
        $this->isStale = true;
        $others = self::among($kept, $chain, false);
        $drivers = [$this->oscillator];
        foreach (array_keys($chain) as $element) {
            $this->call($element);
            array_push($drivers, ...array_filter($this->outputs[$element], static fn (int $driver): bool => $driver >= 0));
        }
        $length = $this->period($chain, $drivers);
        if ($length > 0) {
            // From a state that comes again, one turn is written down.
            $course = [];
            $before = $this->levels($drivers);
            $this->watch();
            for ($half = 0; $half < $length; $half++) {
                $this->run(1);
                $after = $this->levels($drivers);
                $step = [];
                foreach ($after as $driver => $level) {
                    if ($level !== $before[$driver] && array_filter(array_column($others, $this->driverNode[$driver])) !== []) {
                        $step[] = $driver << 2 | $level;
                    }
                }
                $course[] = $step;
                $before = $after;
            }
            foreach ($drivers as $driver) {
                $node = $this->driverNode[$driver];
                $this->turn[$node] = ['changes' => $this->changes($node), 'seen' => $this->seenAt($node), 'fights' => isset($this->fights[$node])];
            }
            $this->course = $course;
            $this->now = 0;
            $this->chain = $chain;
        }
        [$this->falls, $this->rises, $this->clears, $this->guarded] = $length > 0 ? $others : $kept;
        foreach ($this->flips as $node => $elements) {
            $this->flips[$node] = array_diff_key($elements, $this->chain);
        }
        $this->isStale = true;
        foreach ($this->units as $element => $unit) {
            if (! isset($this->chain[$element])) {
                $this->call($element);
            }
        }
    }

    /**
     * @param  array{array<int, array<int, int>>, array<int, array<int, int>>, array<int, array<int, int>>, array<int, array<int, array{int, int}>>}  $hear  who hears of each node
     * @param  array<int, true>  $elements
     * @return array{array<int, array<int, int>>, array<int, array<int, int>>, array<int, array<int, int>>, array<int, array<int, array{int, int}>>} those of these elements; or the others
     */
    private static function among(array $hear, array $elements, bool $these = true): array
    {
        foreach ($hear as $list => $nodes) {
            foreach ($nodes as $node => $hearing) {
                $hear[$list][$node] = $these ? array_intersect_key($hearing, $elements) : array_diff_key($hearing, $elements);
            }
        }

        return $hear;
    }

    /** How often a node changes in a second, by what was counted since the look began. */
    public function changesPerSecond(int $node, float $seconds): float
    {
        if (isset($this->turn[$node])) {
            return $this->turn[$node]['changes'] * 2.0 * $this->hz / count($this->course);
        }

        return $seconds > 0.0 ? $this->changes($node) / $seconds : 0.0;
    }

    /** Bits 1, 2, 4: it was low, high, floating since the look began. */
    public function seenAt(int $node): int
    {
        if (isset($this->turn[$node])) {
            return $this->turn[$node]['seen'];
        }
        $seen = $this->seen[$node] ?? 1 << self::FLOATING;
        foreach ([self::LOW, self::HIGH, self::FLOATING] as $level) {
            $seen |= ($this->went[$node << 2 | $level] ?? 0) > 0 ? 1 << $level : 0;
        }

        return $seen;
    }

    private function changes(int $node): int
    {
        return ($this->went[$node << 2 | self::LOW] ?? 0) + ($this->went[$node << 2 | self::HIGH] ?? 0) + ($this->went[$node << 2 | self::FLOATING] ?? 0);
    }

    /** What a node does is counted from now on. */
    private function counted(int $node): void
    {
        foreach ([self::LOW, self::HIGH, self::FLOATING, self::FLOATING + 1] as $level) {
            $this->went[$node << 2 | $level] = 0;
        }
    }

    /**
     * The half ticks after which the chain is as it was, found by running it; 0 when it does not come again soon.
     *
     * @param  array<int, true>  $chain
     * @param  list<int>  $drivers
     */
    private function period(array $chain, array $drivers): int
    {
        $known = [];
        for ($half = 0; $half <= self::COURSE; $half++) {
            if (($this->now & 1) === 0) {
                $key = implode(',', array_map(fn (int $element): int => $this->state[$element], array_keys($chain))).'/'.implode('', $this->levels($drivers));
                if (isset($known[$key])) {
                    return $half - $known[$key];
                }
                $known[$key] = $half;
            }
            $this->run(1);
        }

        return 0;
    }

    /**
     * @param  list<int>  $drivers
     * @return array<int, int>
     */
    private function levels(array $drivers): array
    {
        $levels = [];
        foreach ($drivers as $driver) {
            $levels[$driver] = $this->drive[$driver];
        }

        return $levels;
    }

    /**
     * Elements that hear of nothing but the oscillator, directly or through each other, and whose course is short.
     *
     * @return array<int, true>
     */
    private function autonomous(): array
    {
        $free = [];
        foreach ($this->value as $node => $level) {
            $free[$node] = ! isset($this->buttons[$node]) && ($this->driversOf[$node] === [] || isset($this->held[$node]));
        }
        if ($this->oscillator >= 0 && count($this->driversOf[$this->driverNode[$this->oscillator]]) === 1) {
            $free[$this->driverNode[$this->oscillator]] = true;
        }
        $chain = [];
        $depth = [];
        do {
            $before = count($chain);
            foreach ($this->units as $element => $unit) {
                if (isset($chain[$element]) || in_array(false, array_map(static fn (int $node): bool => $free[$node] ?? true, $this->inputs[$element]), true)) {
                    continue;
                }
                $depth[$element] = 1 + max([0, ...array_map(fn (int $node): int => $this->dividedAt($node, $chain, $depth), $this->inputs[$element])]) + ($unit->keeps() ? count($unit->outputs) : 0);
                if ($depth[$element] > 16) {
                    continue; // It divides so far that its course would be long.
                }
                $chain[$element] = true;
                foreach ($this->outputs[$element] as $driver) {
                    if ($driver >= 0 && count($this->driversOf[$this->driverNode[$driver]]) === 1) {
                        $free[$this->driverNode[$driver]] = true;
                    }
                }
            }
        } while (count($chain) > $before);

        return $chain;
    }

    /**
     * @param  array<int, true>  $chain
     * @param  array<int, int>  $depth
     */
    private function dividedAt(int $node, array $chain, array $depth): int
    {
        $deepest = 0;
        foreach (array_keys($chain) as $element) {
            foreach ($this->outputs[$element] as $driver) {
                if ($driver >= 0 && $this->driverNode[$driver] === $node) {
                    $deepest = max($deepest, $depth[$element]);
                }
            }
        }

        return $deepest;
    }

    /**
     * Several drive this one's node, or something holds it: its share in the weight of the node changes.
     *
     * @return int the node; -1 where nothing changes
     */
    private function weigh(int $driver, int $level): int
    {
        $before = $this->drive[$driver];
        if ($before === $level || isset($this->fixed[$driver])) {
            return -1;
        }
        $this->drive[$driver] = $level;
        $node = $this->driverNode[$driver];
        $weight = $this->weight[$node] += self::WEIGHT[$level] - self::WEIGHT[$before];
        if (isset($this->held[$node]) || $weight > self::LOWS && ($weight & self::LOWS) !== 0) {
            $this->doubtful[$node] = true;
        }

        return $node;
    }

    /** The level that its drivers, what holds it and what pulls it make of a node. */
    private function levelOf(int $node): int
    {
        $weight = $this->weight[$node] ?? 0;

        return $this->held[$node] ?? match (true) {
            $weight === 0 => $this->pull[$node],
            ($weight & self::LOWS) === 0 => self::HIGH,
            default => self::LOW,
        };
    }

    private function fighting(int $node): bool
    {
        $weight = $this->weight[$node] ?? 0;
        $isLow = ($weight & self::LOWS) !== 0;
        $isHigh = $weight > self::LOWS;

        return $isLow && $isHigh || isset($this->held[$node]) && ($this->held[$node] === self::LOW ? $isHigh : $isLow);
    }

    /**
     * @param  list<InjectedFault>  $faults
     * @param  array<string, string>  $positions
     */
    private function wire(array $faults, array $positions): void
    {
        /** @var array<string, string> $same */
        $same = [];
        $find = static function (string $name) use (&$same): string {
            /** @var array<string, string> $same */
            while (isset($same[$name])) {
                $name = $same[$name];
            }

            return $name;
        };
        foreach ($this->board->settings as $setting) {
            foreach ($setting->joins[$positions[$setting->ref] ?? $setting->default] ?? [] as [$from, $to]) {
                if ($find($from) !== $find($to)) {
                    $same[$find($from)] = $find($to);
                }
            }
        }
        $breaks = [];
        $lifted = [];
        $held = [];
        foreach ($faults as $fault) {
            if ($fault->kind === FaultKind::Short && $find($fault->at) !== $find($fault->detail)) {
                $same[$find($fault->at)] = $find($fault->detail);
            } elseif ($fault->kind === FaultKind::OpenTrace) {
                $breaks[$fault->at] = $fault->detail;
            } elseif ($fault->kind === FaultKind::BadContact) {
                $lifted[$fault->at] = true;
            } elseif ($fault->kind === FaultKind::InputLow || $fault->kind === FaultKind::InputHigh) {
                $lifted[$fault->at] = true;
                $held[$fault->at] = $fault->kind === FaultKind::InputLow ? self::LOW : self::HIGH;
            } elseif ($fault->kind === FaultKind::HoldsLow || $fault->kind === FaultKind::HoldsHigh) {
                $held[$fault->at] = $fault->kind === FaultKind::HoldsLow ? self::LOW : self::HIGH;
            }
        }
        $nodes = [];
        $node = function (string $name) use (&$nodes): int {
            if (! isset($nodes[$name])) {
                $nodes[$name] = count($nodes);
                $this->value[$nodes[$name]] = self::FLOATING;
                $this->pull[$nodes[$name]] = self::FLOATING;
                $this->counted($nodes[$name]);
                $this->seen[$nodes[$name]] = 0;
                $this->driversOf[$nodes[$name]] = [];
            }

            return $nodes[$name];
        };
        foreach ($this->board->netlist->nets as $net) {
            $here = $node($find($net->name));
            foreach ($net->pins as $pin) {
                if (($breaks[$net->name] ?? '') === $pin) {
                    $here = $node("{$net->name} behind {$pin}");
                }
                $this->nodeOfPin[$pin] = isset($lifted[$pin]) ? $node("{$pin} alone") : $here;
            }
            if ($net->isPower()) {
                $this->held[$node($find($net->name))] = str_starts_with($net->name, '-') || $net->name === 'GND' ? self::LOW : self::HIGH;
            }
        }
        foreach ($held as $pin => $level) {
            if (isset($this->nodeOfPin[$pin])) {
                $this->held[$this->nodeOfPin[$pin]] ??= $level;
            }
        }
        foreach (array_keys($this->board->netlist->nets) as $name) {
            foreach ($this->board->netlist->nets[$name]->pins as $pin) {
                foreach ($this->board->netlist->otherEnds($pin) as $other) {
                    $far = $this->nodeOfPin[$other] ?? -1;
                    if (isset($this->held[$far], $this->nodeOfPin[$pin]) && $this->board->netlist->netOf($other)?->isPower() === true) {
                        $this->pull[$this->nodeOfPin[$pin]] = $this->held[$far];
                    }
                }
            }
        }
        foreach ($this->value as $number => $level) {
            $this->value[$number] = $this->held[$number] ?? $this->pull[$number];
            $this->seen[$number] = 1 << $this->value[$number];
        }
    }

    /**
     * @param  list<InjectedFault>  $faults
     * @param  array<string, true>  $silent  parts that drive nothing
     */
    private function connect(array $faults, array $silent): void
    {
        foreach ($this->board->chips as $chip) {
            $socket = new Socket($chip);
            foreach ($chip->type?->pinList() ?? [] as $pin) {
                $node = $this->nodeOf("{$chip->ref}.{$pin->number}");
                $driver = null;
                if ($node >= 0 && in_array($pin->direction, ['out', 'both'], true) && ! isset($silent[$chip->ref]) && $chip->kind() !== 'regulator') {
                    $driver = count($this->driverNode);
                    $this->driverNode[$driver] = $node;
                    $this->drive[$driver] = self::FLOATING;
                    $this->driversOf[$node][] = $driver;
                }
                $socket->joins(($pin->activeLow ? '/' : '').$pin->name, $node, $driver);
            }
            $this->sockets[$chip->ref] = $socket;
            if ($chip->kind() === 'oscillator' && $chip->hz > 0.0 && $this->oscillator < 0) {
                $this->oscillator = $socket->driver('OUT');
                $this->hz = $chip->hz;
            }
        }
        foreach (array_keys($this->value) as $node) {
            $this->weight[$node] = 0;
        }
        foreach ($faults as $fault) {
            if ($fault->kind === FaultKind::OutputLow || $fault->kind === FaultKind::OutputHigh) {
                $chip = $this->sockets[Netlist::chipOf($fault->at)] ?? null;
                $pin = $this->board->netlist->pin($fault->at);
                $driver = $chip === null || $pin === null ? -1 : $chip->driver(($pin->activeLow ? '/' : '').$pin->name);
                if ($driver >= 0) {
                    unset($this->fixed[$driver]);
                    $node = $this->weigh($driver, $fault->kind === FaultKind::OutputLow ? self::LOW : self::HIGH);
                    $this->fixed[$driver] = $this->drive[$driver];
                    if ($node >= 0) {
                        $this->value[$node] = $this->levelOf($node);
                        $this->seen[$node] |= 1 << $this->value[$node];
                    }
                }
            }
        }
    }

    /**
     * @param  array<string, true>  $silent
     */
    private function logic(LogicShelf $shelf, array $silent): void
    {
        foreach ($this->board->chips as $chip) {
            foreach (isset($silent[$chip->ref]) ? [] : $shelf->units($chip) as $number => $unit) {
                $element = count($this->units);
                $nodes = [];
                foreach ($unit->inputs as $pin) {
                    $node = $this->nodeOf("{$chip->ref}.{$pin}");
                    if ($node < 0) {
                        // A pin on no net floats: a node of its own.
                        $node = count($this->value);
                        $this->value[$node] = $this->pull[$node] = self::FLOATING;
                        $this->counted($node);
                        $this->seen[$node] = 1 << self::FLOATING;
                        $this->driversOf[$node] = [];
                    }
                    $nodes[] = $node;
                }
                $fixed = [];
                foreach ($nodes as $place => $node) {
                    if (isset($this->held[$node])) {
                        $fixed[$place] = $this->held[$node] === self::LOW ? self::LOW : self::HIGH;
                    }
                }
                foreach ($nodes as $place => $node) {
                    $ignores = $unit->ignores($place);
                    if (is_array($ignores)) {
                        $this->guarded[$node][$element] = [$nodes[$ignores[0]], $ignores[1]];
                    } elseif ($ignores === 'never') {
                        $cleared = $unit->notes($place, self::LOW, $fixed);
                        if ($cleared === null || in_array($node, array_diff_key($nodes, [$place => 0]), true)) {
                            $this->falls[$node][$element] = $element;
                        } else {
                            $this->clears[$node][$element] = $cleared;
                        }
                        $this->rises[$node][$element] = $element;
                    }
                }
                $this->units[$element] = $unit;
                $this->inputs[$element] = $nodes;
                $outputs = [];
                foreach ($unit->outputs as $output) {
                    $known = $this->board->netlist->pin("{$chip->ref}.{$output->pin}");
                    $outputs[] = $known === null ? -1 : $this->sockets[$chip->ref]->driver(($known->activeLow ? '/' : '').$known->name);
                }
                $this->outputs[$element] = $outputs;
                $levels = 0;
                foreach ($nodes as $bit => $node) {
                    $levels |= ($this->value[$node] === self::LOW ? 0 : 1) << $bit;
                    $this->flips[$node][$element] = ($this->flips[$node][$element] ?? 0) | 1 << $bit;
                }
                $this->levels[$element] = $levels;
                $this->width[$element] = count($nodes);
                $this->given[$element] = -1;
                $this->turns[$element] = [];
                $kept = $unit->keeps() ? crc32("power {$chip->ref} {$number}") & ((1 << intdiv($unit->stateBits(), 2)) - 1) : 0;
                $this->state[$element] = $unit->stateOf($kept, $levels);
                $this->call($element);
            }
        }
    }
}
