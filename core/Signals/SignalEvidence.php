<?php

declare(strict_types=1);

namespace ZapTrace\Signals;

use ZapTrace\Board\BoardProfile;
use ZapTrace\Board\Net;
use ZapTrace\Board\Netlist;
use ZapTrace\Reasoning\Evidence;
use ZapTrace\Reasoning\FailureModes;
use ZapTrace\Reasoning\MachineState;

/**
 * Probed pins and tested traces as evidence. Pins of one net that were seen in one situation are weighed together: what
 * was right at some of them clears what lies upstream, what was wrong at the others speaks for a break between.
 */
final readonly class SignalEvidence
{
    /** How strongly a memory chip shows on the data line that its buffer drives. */
    private const BUFFERED = 0.36;

    /** So surely a processor that moves a line has its clock, is let run, and is not held in reset. */
    private const RUNS = 0.9;

    /** So surely a line that moves as it should is not held. */
    private const MOVES = 0.97;

    /** The mode of a trace that something holds, or that touches another. */
    public const HELD = 'held or shorted';

    /** How strongly a fault of one output shows there, at most. */
    private const AT_OUTPUT = 0.95;

    /** So many stages up an output that fails alone is looked for. */
    private const FAR = 3;

    /** How much of its strength is left to what can hardly show so. */
    private const HARDLY = 0.1;

    private const LETS_FIGHT = 0.7;

    /** What else is on a line that is pulled at one pin. */
    private const ELSEWHERE_ON_LINE = 0.001;

    /** How much of an output is cleared by a line that moves and that others drive as well. */
    private const SHARED = 0.6;

    /** The same of a data line: it moves as well while this output is dead, or not asked. */
    private const ON_BUS = 0.25;

    /** How much is seen of a part that is well or not by its pins alone, when nothing asks it. */
    private const UNASKED = 0.4;

    /** Another output on the same line holds it. */
    private const HOLDS = 0.85;

    /** How much of its strength is left to what drives a net that moves and should not: a part that fails mostly stands still. */
    private const BY_ITSELF = 0.3;

    /** An output stays where it is when one of its inputs is cut off. */
    private const UNREACHED = 0.6;

    /** From so many data lines on that are wrong alike it is one thing, not several. */
    private const MANY = 3;

    /** An output that is wrong just as what comes in asks shows so strongly that its part works: a stuck one may be there by chance. */
    private const FOLLOWS = 0.75;

    /** What moves as it should at all of its outputs can hardly be why. */
    private const CLEARED = 0.93;

    /** More lines between the levels than these are no two that touch. */
    private const TOUCHING = 4;

    public function __construct(private Structure $structure, private FailureModes $modes)
    {
    }

    /** The fault of a trace that is broken before this pin, as it is known to the reasoner. */
    public static function open(string $net, string $pin): string
    {
        return "{$net}/open before {$pin}";
    }

    /** The fault of a pin that does not reach its trace: its leg, its pad, its socket. */
    public static function lifted(string $net, string $pin): string
    {
        return "{$net}/open at {$pin}";
    }

    /** The fault of a trace that something holds, or that touches another. */
    public static function held(string $net): string
    {
        return "{$net}/".self::HELD;
    }

    /**
     * @param  list<array{observation: string, state: MachineState, what: PinSeen}>  $samples
     * @return list<Evidence>
     */
    public function ofProbes(array $samples): array
    {
        /** @var array<string, array{state: MachineState, seen: array<string, array{what: PinSeen, observation: string, times: int}>}> $groups */
        $groups = [];
        foreach ($samples as ['observation' => $observation, 'state' => $state, 'what' => $seen]) {
            $seen = $this->floats($seen) ? $seen->judgedWrong() : $seen;
            $key = "{$state->key()} {$seen->situation->value} {$seen->address}";
            $groups[$key] ??= ['state' => $state, 'seen' => []];
            // The last reading of a pin is the one that holds; that it was read twice alike is remembered.
            $before = $groups[$key]['seen'][$seen->pin] ?? null;
            $groups[$key]['seen'][$seen->pin] = ['what' => $seen, 'observation' => $observation, 'times' => $before !== null && $before['what']->isRight() === $seen->isRight() ? $before['times'] + 1 : 1];
        }
        $evidence = [];
        $failing = $this->failing($groups);
        $levels = [];
        foreach ($groups as $key => ['state' => $state, 'seen' => $readings]) {
            $readings = self::turned($readings, $state, $levels);
            $byNet = [];
            $states = [];
            foreach ($readings as $pin => $reading) {
                $net = $this->structure->board->netlist->netOf((string) $pin);
                if ($net !== null && ! $net->isPower() && $reading['what']->isRight() !== null) {
                    $byNet[$net->name][] = $reading;
                }
                $states[$pin] = $reading['what']->level();
            }
            $states = array_filter($states);
            $walked = [];
            foreach ($readings as $pin => $reading) {
                $walked += $reading['what']->onWalk ? [Netlist::chipOf((string) $pin) => []] : [];
            }
            foreach ($readings as $pin => $reading) {
                if ($reading['what']->isRight() === null && ! $reading['what']->onWalk && $reading['what']->state !== null) {
                    // It says nothing, and need not be touched again.
                    $evidence[] = $this->report("probe {$key} {$pin} unjudged", false, [(string) $pin => 0.0], $state, "{$pin} is {$reading['what']->state->value}; what belongs there is not known", $reading['observation']);
                }
            }
            $follows = $this->follows($byNet, $readings);
            foreach ($byNet as $name => $ofNet) {
                if (isset($follows[$name])) {
                    foreach ($ofNet as ['what' => $seen, 'observation' => $observation]) {
                        if ($seen->isRight() === false && ! $seen->onWalk && $seen->state !== null) {
                            $evidence[] = $this->report("probe {$key} {$seen->pin} follows", false, [$seen->pin => 0.0], $state, "{$seen->pin} is {$seen->state->value}, and so is not right what it goes by", $observation);
                        }
                    }
                    $ofNet = array_values(array_filter($ofNet, static fn (array $reading): bool => $reading['what']->isRight() === true));
                    if ($ofNet === []) {
                        continue;
                    }
                }
                $net = $this->structure->board->netlist->nets[$name];
                foreach ($this->ofNet($net, $ofNet, $state, (string) $key, $readings) as $seen) {
                    $chip = ! $seen->abnormal && array_filter($ofNet, static fn (array $reading): bool => ! $reading['what']->onWalk && $reading['what']->isRight() === true) === [] ? Netlist::chipOf($ofNet[0]['what']->pin) : '';
                    if ($chip === '') {
                        $evidence[] = $seen;
                    } else {
                        $drivers = $this->structure->driversOf($net);
                        $walked[$chip][] = ['right' => $seen, 'from' => count($drivers) === 1 ? Netlist::chipOf($drivers[0]) : ''];
                    }
                }
            }
            $evidence = $this->touching($evidence, (string) $key);
            $evidence = $this->ofOneChip(self::asOne($evidence, (string) $key), (string) $key);
            foreach ($walked as $chip => $rights) {
                $strengths = [];
                foreach ($rights as ['right' => $right, 'from' => $from]) {
                    foreach ($right->strengths as $site => $strength) {
                        // Each of several outputs of a part that come in here clears it a little more; not where others drive the line
                        // as well, nor what lies further up: by however many ways, it is one part that let something move.
                        $strengths[$site] = $site === $from ? 1.0 - (1.0 - ($strengths[$site] ?? 0.0)) * (1.0 - $strength) : max($strengths[$site] ?? 0.0, $strength);
                    }
                }
                $cleared = $this->outputsRight((string) $chip, $readings, $states);
                // Where one of its outputs is wrong, the others say nothing of it: mostly one fails.
                $strengths[$chip] = $cleared === null ? 0.0 : max($strengths[$chip] ?? 0.0, $cleared);
                $evidence[] = $this->report("walk {$key} {$chip}", false, $strengths, $state, $rights === [] ? "all pins of {$chip} were touched" : "the pins of {$chip} are as they should be", (string) ($rights === [] ? '' : $rights[0]['right']->observation));
            }
            foreach (GateCheck::all($this->structure, $states) as $check) {
                $net = $this->structure->board->netlist->netOf($check->output);
                // Whatever else drives the line may be what holds it, or the line that it touches.
                $others = array_fill_keys(array_map(Netlist::chipOf(...), $check->seen === ProbeState::Silent ? [] : $this->structure->driversOf($net)), self::HOLDS);
                foreach ($evidence as $seen) {
                    $others += $net !== null && $seen->id === "probe {$key} {$net->name} wrong" ? array_filter($seen->strengths, static fn (float $strength, string $site): bool => self::trace($site) !== null && self::trace($site)['other'] !== '', ARRAY_FILTER_USE_BOTH) : [];
                }
                $evidence[] = $this->report("gate {$key} {$check->output}", true, [...$others, Netlist::chipOf($check->output) => 0.95, self::output($check->output) => 0.95, ...($net === null ? [] : [self::held($net->name) => 0.5])], $state, $check->sentence, $readings[$check->output]['observation']);
            }
        }

        return array_map(fn (Evidence $seen): Evidence => $seen->abnormal ? $seen : $this->sparing($seen, $failing), $evidence);
    }

    /**
     * Marks pins that are right at one level, and were right at the other before: one that is stuck would have shown in the
     * one situation or in the other.
     *
     * @param  array<string, array{what: PinSeen, observation: string, times: int}>  $readings  by pin
     * @param  array<string, list<MachineState>>  $levels  pin and level => states it was right in so far
     * @return array<string, array{what: PinSeen, observation: string, times: int, turns: bool}>
     */
    private static function turned(array $readings, MachineState $state, array &$levels): array
    {
        $marked = [];
        foreach ($readings as $pin => $reading) {
            $level = $reading['what']->isRight() === true ? $reading['what']->expected : null;
            $other = match ($level) {
                ProbeState::Low => ProbeState::High,
                ProbeState::High => ProbeState::Low,
                default => null,
            };
            $turns = $other !== null && array_filter($levels["{$pin} {$other->value}"] ?? [], static fn (MachineState $before): bool => $before->sameParts($state)) !== [];
            if ($level !== null) {
                $levels["{$pin} {$level->value}"][] = $state;
            }
            $marked[$pin] = [...$reading, 'turns' => $turns];
        }

        return $marked;
    }

    /**
     * Chips of several outputs that alone drive a line that was wrong, while neither their own pin was seen to be right nor
     * what they go by to be wrong.
     *
     * @param  array<string, array{state: MachineState, seen: array<string, array{what: PinSeen, observation: string, times: int}>}>  $groups
     * @return array<string, list<MachineState>> chip => the states it was so in
     */
    private function failing(array $groups): array
    {
        $failing = [];
        $right = [];
        foreach ($groups as ['state' => $state, 'seen' => $readings]) {
            foreach ($readings as $pin => $reading) {
                if ($reading['what']->isRight() === true) {
                    $right["{$pin} {$reading['what']->situation->value}"][] = $state;
                }
            }
        }
        foreach ($groups as ['state' => $state, 'seen' => $readings]) {
            $wrong = [];
            $situation = '';
            foreach ($readings as $pin => $reading) {
                $situation = $reading['what']->situation->value;
                $net = $reading['what']->isRight() === false ? $this->structure->board->netlist->netOf((string) $pin) : null;
                $wrong += $net === null ? [] : [$net->name => $net];
            }
            foreach ($wrong as $net) {
                $drivers = $this->structure->driversOf($net);
                $fed = array_filter(count($drivers) === 1 ? $this->structure->causesOf($drivers[0]) : [], fn (string $input): bool => isset($wrong[$this->structure->board->netlist->netOf($input)->name ?? '']));
                if (count($drivers) !== 1 || $fed !== []) {
                    continue;
                }
                $chip = Netlist::chipOf($drivers[0]);
                // Right at its own pin, the line is lost on the way.
                $gives = array_filter($right["{$drivers[0]} {$situation}"] ?? [], static fn (MachineState $before): bool => $before->sameAt([$chip], $state)) !== [];
                if (! $gives && $this->structure->outputsOf($chip) > 1) {
                    $failing[$chip][] = $state;
                }
            }
        }

        return $failing;
    }

    /**
     * Of a chip with a wrong output the others say nothing: mostly one fails.
     *
     * @param  array<string, list<MachineState>>  $failing
     */
    private function sparing(Evidence $right, array $failing): Evidence
    {
        $spared = array_filter(array_intersect_key($failing, $right->strengths), static fn (array $states, string $chip): bool => array_filter($states, static fn (MachineState $state): bool => $state->sameAt([$chip], $right->state)) !== [], ARRAY_FILTER_USE_BOTH);

        return $spared === [] ? $right : $right->withStrengths(array_diff_key($right->strengths, $spared));
    }

    /** Silent, where something drives all the time: that is wrong whatever level belongs there. */
    private function floats(PinSeen $seen): bool
    {
        return $seen->state === ProbeState::Silent && $seen->expected === null && $seen->judged === null && $this->structure->isAlwaysDriven($this->structure->board->netlist->netOf($seen->pin));
    }

    /**
     * How much of a chip is cleared when all of its pins were touched: all of it where each of its outputs moves, or was right
     * at both levels, and drives alone; of an output that shares its line, that it does not hold it. One that is wrong as what
     * comes in asks is as it should be.
     *
     * @param  array<int|string, array{what: PinSeen, turns?: bool}>  $readings  by pin
     * @param  array<string, ProbeState>  $states  by pin
     * @return float|null 0 to 1; null where one of its outputs is wrong by itself
     */
    private function outputsRight(string $chip, array $readings, array $states): ?float
    {
        $outputs = 0;
        $right = 0.0;
        foreach ($this->structure->board->chips[$chip]->type?->pinList() ?? [] as $pin) {
            $net = $this->structure->board->netlist->netOf("{$chip}.{$pin->number}");
            $drivers = $this->structure->driversOf($net);
            if (in_array("{$chip}.{$pin->number}", $drivers, true) && count($net->pins ?? []) > 1) {
                $outputs++;
                $seen = $readings["{$chip}.{$pin->number}"]['what'] ?? null;
                if ($seen?->isRight() === false) {
                    if (count($drivers) > 1 || ! GateCheck::isGiven($this->structure, "{$chip}.{$pin->number}", $states)) {
                        return null;
                    }
                    $right += self::FOLLOWS;

                    continue;
                }
                $moves = $seen?->isRight() === true && ($seen->expected === ProbeState::Pulsing || ($readings["{$chip}.{$pin->number}"]['turns'] ?? false));
                $right += $moves ? match (true) {
                    count($drivers) === 1 => 1.0,
                    $net?->kind === 'data' => self::ON_BUS,
                    default => self::SHARED,
                } : 0.0;
            }
        }

        return $outputs === 0 ? 0.0 : self::CLEARED * $right / $outputs;
    }

    /**
     * The pins that lose their net by one of these faults of it.
     *
     * @return list<string>
     */
    public static function cutOff(BoardProfile $board, Net $net, string $mode): array
    {
        $at = self::liftedPin($mode);
        $before = self::brokenBefore($mode);

        return $board->netlist->cutOff($net, $before === null ? null : (int) array_search($before, $net->pins, true), $at, $board->processor->chip ?? '');
    }

    /** The site of what was opened where a part was unsoldered. */
    public static function tracesAt(string $seat): string
    {
        return "traces at {$seat}";
    }

    /** The site of what is broken before single pins of a memory chip. */
    public static function linesAt(string $seat): string
    {
        return "lines at {$seat}";
    }

    /** An output by itself, beside the other faults of its pin. */
    public static function output(string $pin): string
    {
        return "{$pin} drives";
    }

    /** The position of an output from which a line comes further up, in strengths. */
    public static function feeding(string $pin): string
    {
        return "{$pin} feeds";
    }

    /** The output that one of these is about; null for another site. */
    public static function outputOf(string $site): ?string
    {
        return str_ends_with($site, self::output('')) ? substr($site, 0, -strlen(self::output(''))) : null;
    }

    /** What was measured along a trace, by the evidence that came of it; null for other evidence. */
    public static function continuity(Evidence $seen): ?ContinuitySeen
    {
        return $seen->kind === Evidence::CONTINUITY && preg_match('/^continuity (\S+) (\S+) /', $seen->id, $match) === 1 ? new ContinuitySeen($match[1], $match[2], ! $seen->abnormal) : null;
    }

    /** The fault of two traces that touch each other. */
    public static function shorted(string $one, string $other): string
    {
        return "{$one}/shorted to {$other}";
    }

    /** The fault of a part that pulls a line, by an input or by an output that others share. */
    public static function pulling(string $chip, string $net): string
    {
        return "{$chip}/pulls {$net}";
    }

    /** The line that a part pulls by a fault of this mode; null for another. */
    public static function pulled(string $mode): ?string
    {
        return str_starts_with($mode, 'pulls ') ? substr($mode, strlen('pulls ')) : null;
    }

    /**
     * The trace and the mode of one of these faults.
     *
     * @return array{net: string, mode: string, other: string}|null with the other trace where two touch; null for another fault
     */
    public static function trace(string $fault): ?array
    {
        return preg_match('~^(.+)/((?:open before|open at|held or shorted|shorted to (.+)).*)$~', $fault, $match) === 1 ? ['net' => $match[1], 'mode' => $match[2], 'other' => $match[3] ?? ''] : null;
    }

    /**
     * Lines of one kind that are between the levels at one time, few of them: two that touch explain it better than one
     * thing each.
     *
     * @param  list<Evidence>  $evidence
     * @return list<Evidence>
     */
    private function touching(array $evidence, string $key): array
    {
        $between = [];
        foreach ($evidence as $place => $seen) {
            if ($seen->abnormal && preg_match('/^probe (.*) (\S+) wrong$/s', $seen->id, $match) === 1 && $match[1] === $key && str_contains($seen->words, ' is between at ')) {
                $between[$place] = $match[2];
            }
        }
        if (count($between) < 2 || count($between) > self::TOUCHING) {
            return $evidence;
        }
        $touching = [];
        foreach ($between as $place => $net) {
            // One part that holds several lines by itself is rare.
            $strengths = array_map(static fn (float $strength): float => $strength < 0.1 || count($between) > 2 ? $strength / 4.0 : $strength, $evidence[$place]->strengths);
            foreach ($between as $other) {
                if ($other !== $net && $this->structure->board->netlist->nets[$other]->kind === $this->structure->board->netlist->nets[$net]->kind) {
                    $pair = [$net, $other];
                    sort($pair, SORT_NATURAL);
                    $strengths[self::shorted($pair[0], $pair[1])] = 0.95;
                }
            }
            $seen = $evidence[$place];
            $touching[$place] = $seen->withStrengths($strengths);
        }

        return array_values(array_replace($evidence, $touching));
    }

    /**
     * Several outputs of one chip wrong at one time are one thing that was seen: a chip that is dead, or what all of them
     * hang on.
     *
     * @param  list<Evidence>  $evidence
     * @return list<Evidence>
     */
    private function ofOneChip(array $evidence, string $key): array
    {
        $chips = [];
        foreach ($evidence as $place => $seen) {
            if ($seen->abnormal && preg_match('/^probe (.*) (\S+) wrong$/s', $seen->id, $match) === 1 && $match[1] === $key) {
                $drivers = array_unique(array_map(Netlist::chipOf(...), $this->structure->driversOf($this->structure->board->netlist->nets[$match[2]] ?? null)));
                if (count($drivers) === 1) {
                    $chips[array_values($drivers)[0]][$place] = $match[2];
                }
            }
        }
        foreach ($chips as $chip => $nets) {
            if (count($nets) < 2) {
                continue;
            }
            $places = array_keys($nets);
            $common = $evidence[$places[0]]->strengths;
            foreach ($places as $place) {
                $common = array_intersect_key($common, $evidence[$place]->strengths);
            }
            $touching = static fn (array $strengths): array => array_filter(array_keys($strengths), static fn (int|string $site): bool => (self::trace((string) $site)['other'] ?? '') !== '');
            if ($touching($common) === [] && array_filter($places, static fn (int $place): bool => $touching($evidence[$place]->strengths) !== []) !== []) {
                continue; // More than two that touch: each with another of them.
            }
            $strengths = [];
            foreach (array_keys($common) as $site) {
                $strengths[$site] = min(array_map(static fn (int $place): float => $evidence[$place]->strengths[$site], $places));
            }
            $last = $evidence[$places[count($places) - 1]];
            $words = "several outputs of {$chip} are wrong: ".implode('; ', array_map(static fn (int $place): string => $evidence[$place]->words, $places));
            $evidence = array_diff_key($evidence, array_flip($places));
            $evidence[] = $this->report("probe {$key} outputs of {$chip}", true, [...$strengths, (string) $chip => 0.95], $last->state, $words, (string) $last->observation, repeated: true);
        }

        return array_values($evidence);
    }

    /**
     * Several data lines wrong in one way at one time are one thing that was seen: what explains all of them.
     *
     * @param  list<Evidence>  $evidence
     * @return list<Evidence>
     */
    private function asOne(array $evidence, string $key): array
    {
        $lines = [];
        foreach ($evidence as $place => $seen) {
            if ($seen->abnormal && preg_match('/^probe (.*) (\S+) wrong$/s', $seen->id, $match) === 1 && $match[1] === $key && ($this->structure->board->netlist->nets[$match[2]] ?? null)?->kind === 'data') {
                $lines[preg_match('/ is (\w+) at /', $seen->words, $is) === 1 ? $is[1] : ''][$place] = $match[2];
            }
        }
        foreach ($lines as $how => $nets) {
            if (count($nets) < self::MANY) {
                continue;
            }
            $places = array_keys($nets);
            $common = $evidence[$places[0]]->strengths;
            foreach ($places as $place) {
                $common = array_filter(array_intersect_key($common, $evidence[$place]->strengths), static fn (float $strength): bool => $strength > 0.03);
                $common = array_combine(array_keys($common), array_map(static fn (string|int $site): float => min($common[$site], $evidence[$place]->strengths[$site]), array_keys($common)));
            }
            // An input that pulls one line does not pull all of them.
            foreach (array_keys($common) as $site) {
                $trace = self::trace((string) $site)['net'] ?? null;
                $servesAll = $trace === null ? isset($this->structure->upstreamOf($nets[$places[0]], true)[$site]) : ! in_array($trace, $nets, true);
                $common[$site] = $servesAll ? $common[$site] : $common[$site] / 10.0;
            }
            $last = $evidence[$places[count($places) - 1]];
            $evidence = array_values(array_diff_key($evidence, array_flip($places)));
            $evidence[] = $this->report("probe {$key} data lines {$how}", true, $common, $last->state, implode(', ', $nets)." are {$how} where they should not be", (string) $last->observation, $last->kind, true);

            return $this->asOne($evidence, $key);
        }

        return $evidence;
    }

    /**
     * @param  list<array{observation: string, state: MachineState, what: ContinuitySeen}>  $samples
     * @return list<Evidence>
     */
    public function ofContinuity(array $samples): array
    {
        $evidence = [];
        foreach ($samples as ['observation' => $observation, 'state' => $state, 'what' => $seen]) {
            $net = $this->structure->board->netlist->netOf($seen->from);
            $other = $this->structure->board->netlist->netOf($seen->to);
            if ($net === null || $other === null) {
                continue;
            }
            if ($net->name !== $other->name) {
                $pair = [$net->name, $other->name];
                sort($pair, SORT_NATURAL);
                $evidence[] = $this->report("short {$seen->from} {$seen->to} {$state->key()}", $seen->closed, [self::shorted($pair[0], $pair[1]) => 0.98, self::held($net->name) => 0.3, self::held($other->name) => 0.3], $state, "{$net->name} and {$other->name} ".($seen->closed ? 'are connected' : 'do not touch'), $observation, Evidence::CONTINUITY);

                continue;
            }
            [$first, $last] = self::between($net, $seen->from, $seen->to);
            $strengths = [];
            foreach (array_slice($net->pins, $first + 1, $last - $first) as $pin) {
                $strengths[self::open($net->name, $pin)] = 0.98;
            }
            foreach ([$seen->from, $seen->to] as $pin) {
                $strengths[self::lifted($net->name, $pin)] = 0.98;
                $strengths[$pin] = 0.9;
            }
            $evidence[] = $this->report("continuity {$seen->from} {$seen->to} {$state->key()}", ! $seen->closed, $strengths, $state, "{$seen->from} and {$seen->to} are ".($seen->closed ? 'connected' : 'not connected'), $observation, Evidence::CONTINUITY);
        }

        return $evidence;
    }

    /**
     * The pins of a place that a part was unsoldered from: whether pads and traces there are whole.
     *
     * @param  list<array{observation: string, state: MachineState, what: PinsChecked}>  $samples
     * @return list<Evidence>
     */
    public function ofPlaces(array $samples): array
    {
        $evidence = [];
        foreach ($samples as ['observation' => $observation, 'state' => $state, 'what' => $checked]) {
            $words = $checked->open === [] ? "all pins of {$checked->chip} are connected" : 'open at '.implode(', ', $checked->open);
            $evidence[] = $this->report("place {$checked->chip} {$state->key()}", $checked->open !== [], [self::tracesAt($checked->chip) => 0.95, self::linesAt($checked->chip) => 0.9, ...array_fill_keys($checked->open, 0.9)], $state, $words, $observation, Evidence::CONTINUITY);
        }

        return $evidence;
    }

    /**
     * What pulls a line that is driven as well is where the current goes: the part at that pin; of a line in which no pin
     * stands out, something between them.
     *
     * @param  list<array{observation: string, state: MachineState, what: LineDrop}>  $samples
     * @return list<Evidence>
     */
    public function ofDrops(array $samples): array
    {
        return array_values(array_filter(array_map(fn (array $sample): ?Evidence => $this->ofDrop($sample['what'], $sample['state'], $sample['observation']), $samples)));
    }

    /** What such a measurement tells, or would tell. */
    public function ofDrop(LineDrop $drop, MachineState $state, string $observation = ''): ?Evidence
    {
        $net = $this->structure->board->netlist->nets[$drop->net] ?? null;
        if ($net === null) {
            return null;
        }
        // Where no pin stands out two touch, or two that are well are let drive at once.
        $strengths = $drop->pin === null && count($this->structure->driversOf($net)) > 1 ? (new LineFaults($this->structure))->contending($net, '', self::LETS_FIGHT) : [];
        $strengths = [...$strengths, ...array_fill_keys(array_map(Netlist::chipOf(...), $net->pins), self::ELSEWHERE_ON_LINE)];
        $strengths[self::held($net->name)] = $drop->pin === null ? 0.9 : self::ELSEWHERE_ON_LINE;
        if ($drop->pin !== null) {
            $strengths[Netlist::chipOf($drop->pin)] = 0.95;
            $strengths[self::pulling(Netlist::chipOf($drop->pin), $net->name)] = 0.95;
        }

        return $this->report("drop {$net->name} {$state->key()}", true, $strengths, $state, $drop->pin === null ? "along {$net->name} no pin stands out" : "{$net->name} is pulled at {$drop->pin}", $observation, Evidence::DROP);
    }

    /**
     * What a reading of a pin would be, before it is made.
     */
    public function foreseen(string $pin, bool $wrong, MachineState $state): ?Evidence
    {
        $net = $this->structure->board->netlist->netOf($pin);
        if ($net === null || $net->isPower()) {
            return null;
        }
        $seen = new PinSeen($pin, Situation::Running, $wrong ? ProbeState::High : ProbeState::Pulsing, null, null, ProbeState::Pulsing, null);

        return $this->ofNet($net, [['what' => $seen, 'observation' => '', 'times' => 1]], $state, 'foreseen')[0] ?? null;
    }

    /**
     * What touching all pins of a chip would tell, before it is done: that all are as they should be, and by the pin that is
     * not what comes in there, or "" for what the chip gives although all that comes in is right.
     *
     * @return array{Evidence|null, array<string, Evidence>}
     */
    public function foreseenWalk(string $ref, MachineState $state): array
    {
        $strengths = $at = [];
        $chip = $this->structure->board->chips[$ref] ?? null;
        foreach ($chip?->type?->pinList() ?? [] as $number) {
            $pin = "{$ref}.{$number->number}";
            $gives = in_array($pin, $this->structure->driversOf($this->structure->board->netlist->netOf($pin)), true);
            foreach ($this->foreseen($pin, false, $state)->strengths ?? [] as $site => $strength) {
                $own = $gives || $site === $ref || str_starts_with((string) $site, "{$ref}.");
                // What comes in wrong is seen there, and not only in what is given for it.
                if ($own ? ! isset($at[$site]) : ($at[$site] ?? '') === '' || $strength > $strengths[$site]) {
                    $at[$site] = $own ? '' : $pin;
                }
                $strengths[$site] = max($strengths[$site] ?? 0.0, $strength);
            }
        }
        if (isset($strengths[$ref]) && $chip?->kind() !== 'processor' && $this->structure->unitsOf($ref) === []) {
            // What gives its outputs only when it is asked mostly stands still, or moves because others do.
            $strengths[$ref] *= self::UNASKED;
        }
        $wrong = [];
        foreach (array_unique($at) as $pin) {
            $wrong[$pin] = $this->report("walk foreseen {$ref} {$pin}", true, array_filter($strengths, static fn (string $site): bool => $at[$site] === $pin, ARRAY_FILTER_USE_KEY), $state, '', '');
        }

        return [$strengths === [] ? null : $this->report("walk foreseen {$ref}", false, $strengths, $state, '', ''), $wrong];
    }

    /**
     * Nets that are wrong because an input of what drives them is: as far as they can be followed back to one that is not.
     *
     * @param  array<int|string, list<array{what: PinSeen}>>  $byNet
     * @param  array<int|string, array{what: PinSeen}>  $readings  by pin
     * @return array<int|string, true>
     */
    private function follows(array $byNet, array $readings): array
    {
        $wrong = [];
        foreach ($byNet as $name => $ofNet) {
            if (array_filter($ofNet, static fn (array $reading): bool => $reading['what']->isRight() === false) !== []) {
                $wrong[$name] = [];
            }
        }
        foreach (array_keys($wrong) as $name) {
            $of = $this->structure->board->netlist->nets[$name] ?? null;
            $drivers = $this->structure->driversOf($of);
            // What drives the data bus beside others was hardly asked to just then.
            foreach (count($drivers) === 1 || $of?->kind !== 'data' ? array_merge(...array_map($this->structure->causesOf(...), $drivers)) : [] as $input) {
                $net = $this->structure->board->netlist->netOf($input)->name ?? '';
                if ($net !== $name && isset($wrong[$net]) && ($readings[$input]['what'] ?? null)?->isRight() !== true) {
                    $wrong[$name][] = $net;
                }
            }
        }
        $follows = [];
        $reached = array_map(static fn (array $from): bool => $from === [], $wrong);
        do {
            $before = count($follows);
            foreach ($wrong as $name => $from) {
                if (! isset($follows[$name]) && array_filter($from, static fn (string $net): bool => $reached[$net]) !== []) {
                    $follows[$name] = $reached[$name] = true;
                }
            }
        } while (count($follows) > $before);

        return $follows;
    }

    /**
     * Whether all that the one output goes by which drives a net was seen to be right: what is wrong with the net is its own.
     *
     * @param  array<int|string, array{what: PinSeen}>  $readings  by pin
     */
    private function isFed(Net $net, array $readings): bool
    {
        $drivers = $this->structure->driversOf($net);
        $inputs = count($drivers) === 1 ? array_filter($this->structure->causesOf($drivers[0]), fn (string $input): bool => $this->structure->board->netlist->netOf($input)?->isPower() === false) : [];

        return $inputs !== [] && array_filter($inputs, static fn (string $input): bool => ! isset($readings[$input]) || $readings[$input]['what']->isRight() !== true) === [];
    }

    /**
     * What a net would come of whose driver was never reset: that a reset is not there when none is wanted says nothing of whether
     * it comes.
     *
     * @param  array<int|string, array{what: PinSeen}>  $readings  by pin
     * @return array<string, float>
     */
    private function neverReset(Net $net, array $readings): array
    {
        $faults = new LineFaults($this->structure);
        $strengths = [];
        foreach ($this->structure->causesOf($this->structure->driversOf($net)[0]) as $input) {
            $line = $this->structure->board->netlist->netOf($input);
            if ($line !== null && $this->structure->isResetLine($line) && $readings[$input]['what']->situation !== Situation::Reset) {
                $strengths = LineFaults::together($strengths, $this->showing($this->structure->upstreamOf($line->name), self::UNREACHED, false), $faults->cutting($line, $input, self::UNREACHED), [self::held($line->name) => self::HOLDS * self::UNREACHED], $faults->behind($line, self::UNREACHED, true));
            }
        }

        return $strengths;
    }

    /**
     * What lies upstream of a net that moves where it should stand still: less what drives it, and what was seen to be right on
     * the way clears nothing, since it moves as well.
     *
     * @param  array<string, int>  $upstream
     * @return array<string, float>
     */
    private function atAnotherTime(Net $net, array $upstream): array
    {
        $strengths = $this->comingIn($net, []);
        foreach ($upstream as $chip => $stage) {
            if ($stage === 0 && isset($strengths[$chip])) {
                $strengths[$chip] *= self::BY_ITSELF;
            }
        }

        return $strengths;
    }

    /**
     * What lies upstream of a net that is wrong; hardly what reaches it only by pins that were seen to be right.
     *
     * @param  array<int|string, array{what: PinSeen}>  $readings  by pin
     * @return array<string, float>
     */
    private function comingIn(Net $net, array $readings): array
    {
        $drivers = $this->structure->driversOf($net);
        $all = $this->showing($this->structure->upstreamOf($net->name, true), 1.0, count($drivers) > 1);
        if (count($drivers) !== 1) {
            return $all;
        }
        $isRight = static fn (string $pin): bool => isset($readings[$pin]) && $readings[$pin]['what']->isRight() === true;

        return [...array_map(static fn (float $strength): float => self::HARDLY * $strength, $all), ...array_intersect_key($all, $this->structure->leadingTo($net, $isRight))];
    }

    /**
     * @param  list<array{what: PinSeen, observation: string, times: int, turns?: bool}>  $readings
     * @param  array<int|string, array{what: PinSeen}>  $all  what was seen at the same time, by pin
     * @return list<Evidence>
     */
    private function ofNet(Net $net, array $readings, MachineState $state, string $key, array $all = []): array
    {
        $isFed = $this->isFed($net, $all);
        $good = array_values(array_filter($readings, static fn (array $reading): bool => $reading['what']->isRight() === true));
        $bad = array_values(array_filter($readings, static fn (array $reading): bool => $reading['what']->isRight() === false));
        $upstream = $this->structure->upstreamOf($net->name);
        $beyond = $this->beyondLink($net, $state);
        foreach ($beyond as $other) {
            $upstream += $this->structure->upstreamOf($other->name);
        }
        $processor = $this->structure->board->processor->chip ?? '';
        $driving = $this->structure->driversOf($net);
        if ($net->kind === 'data' && ($readings[0]['what'] ?? null)?->situation === Situation::FreeRun) {
            // A processor that does nothing reads, and drives no data line.
            $driving = array_filter($driving, static fn (string $pin): bool => Netlist::chipOf($pin) !== $processor) ?: $driving;
        }
        $drivers = array_values(array_map(static fn (string $pin): int => (int) array_search($pin, $net->pins, true), $driving));
        /** @param  array{what: PinSeen}  $reading */
        $goodPlaces = array_map(static fn (array $reading): int => self::place($net, $reading['what']), $good);
        $badPlaces = array_map(static fn (array $reading): int => self::place($net, $reading['what']), $bad);
        $evidence = [];
        if ($good !== []) {
            $moves = array_filter($good, static fn (array $reading): bool => $reading['what']->expected === ProbeState::Pulsing || $reading['what']->hz !== null) !== [];
            // A level that stays as it should clears less: what is stuck may be stuck the right way.
            $weight = $moves || array_filter($good, static fn (array $reading): bool => $reading['turns'] ?? false) !== [] ? 1.0 : 0.45;
            // One that nothing drives stands where a reset does that is not there.
            $broken = $this->structure->isResetLine($net) && array_filter($good, static fn (array $reading): bool => $reading['what']->situation === Situation::Reset) === [] ? self::HARDLY * $weight : $weight;
            $strengths = $this->showing($moves ? $upstream + $this->clockOf($net) : $upstream, $weight, count($drivers) > 1, true);
            foreach ($net->kind === 'data' && count($drivers) > 1 ? array_unique(array_map(static fn (int $place): string => Netlist::chipOf($net->pins[$place]), $drivers)) : [] as $chip) {
                // A line of the bus moves as well while one that is not asked is dead; by however many of its lines.
                $isAsked = in_array(($this->structure->board->chips[$chip] ?? null)?->kind(), ['processor', 'dram'], true) || $this->structure->unitsOf($chip) !== [];
                $strengths[$chip] = ($isAsked ? 1.0 : self::ON_BUS) * ($strengths[$chip] ?? 0.0);
            }
            foreach ($net->pins as $number => $pin) {
                $cut = array_filter($good, static fn (array $reading): bool => self::isCut(self::place($net, $reading['what']), $number, $drivers));
                if ($number > 0 && $cut !== []) {
                    $strengths[self::open($net->name, $pin)] = 0.95 * $broken;
                }
                if (in_array($number, $goodPlaces, true) && ! in_array($number, $drivers, true) || $drivers === [$number] && array_diff($goodPlaces, $drivers) !== []) {
                    $strengths[self::lifted($net->name, $pin)] = 0.95 * $broken;
                }
            }
            // What nothing drives knows one level: were it held, it would be at the other.
            $strengths[self::held($net->name)] = match (true) {
                $moves => self::MOVES,
                default => 0.9 * ($drivers === [] ? 1.0 : $weight),
            };
            $strengths += $this->atOutputs($net, $strengths, true);
            if ($moves && in_array($processor, array_map(Netlist::chipOf(...), $driving), true)) {
                // What the processor moves shows that nothing leaves it standing.
                $strengths += (new LineFaults($this->structure))->stopping($processor, self::RUNS);
            }
            $evidence[] = $this->report("probe {$key} {$net->name} right", false, $strengths, $state, "{$net->name} is as it should be at ".implode(', ', array_map(static fn (array $reading): string => $reading['what']->pin, $good)), $good[count($good) - 1]['observation']);
        }
        if ($bad !== []) {
            $seen = $bad[count($bad) - 1]['what'];
            $steady = in_array($seen->state, [ProbeState::Low, ProbeState::High, ProbeState::Between], true);
            $pull = $seen->state === ProbeState::Silent && $drivers !== [] ? $this->structure->pullOf($net) : null;
            if ($pull !== null) {
                // Its outputs let it go as they should: what takes it up then does not reach it.
                $drivers = [(int) array_search($pull, $net->pins, true)];
            }
            $strengths = match (true) {
                $pull !== null => [Netlist::chipOf($pull) => 0.9, ...array_map(static fn (): float => 0.01, $upstream)],
                // Right at one of its pins and wrong at another: what lies upstream is right.
                $good !== [] => array_map(static fn (): float => 0.002, $upstream),
                // What moves and should stand still is not stuck: something comes in at another time than it should.
                $seen->state === ProbeState::Pulsing && $seen->expected !== null => $this->atAnotherTime($net, $upstream),
                $isFed => LineFaults::together(array_map(static fn (): float => 0.005, $upstream), $this->showing(array_filter($upstream, static fn (int $stage): bool => $stage === 0), 1.0, false), $this->neverReset($net, $all)),
                default => $this->comingIn($net, $all),
            };
            foreach ($beyond as $other) {
                $strengths += $this->comingIn($other, $all);
                $strengths += $this->atOutputs($other, $strengths, false);
                $strengths[self::held($other->name)] = $steady ? 0.85 : 0.05;
                if ($steady && $good === [] && ! $this->isFed($other, $all) && count($this->structure->driversOf($other)) === 1) {
                    $strengths = LineFaults::together($strengths, (new LineFaults($this->structure))->behind($other, self::UNREACHED, true));
                }
            }
            if ($pull === null && in_array($seen->state, [ProbeState::Silent, ProbeState::Between], true) && $good === [] && count($drivers) === 1) {
                // Nothing drives it, or something else as well: that is its driver or its trace, hardly what lies further upstream.
                $own = Netlist::chipOf($net->pins[$drivers[0]]);
                $strengths = [...array_map(static fn (float $strength): float => self::HARDLY * $strength, $strengths), ...array_intersect_key($strengths, [$own => true])];
            }
            if ($steady && $good === [] && ! $isFed && $drivers !== [] && (count($drivers) === 1 || $net->kind !== 'data')) {
                // An input that its trace does not reach leaves its output where it is.
                $strengths = LineFaults::together($strengths, (new LineFaults($this->structure))->behind($net, self::UNREACHED, true));
            }
            $isShared = count($drivers) > 1;
            if ($steady && $good === [] && $isShared && $net->kind === 'data' && in_array($processor, array_map(Netlist::chipOf(...), $net->pins), true)) {
                // Nothing asks for anything while the processor stands.
                $strengths = LineFaults::together($strengths, (new LineFaults($this->structure))->stopping($processor, self::UNASKED));
            }
            $isContention = $seen->state === ProbeState::Between && $isShared;
            $floats = match ($seen->state) {
                ProbeState::Silent => 0.95,
                ProbeState::High, ProbeState::Between => 0.8,
                ProbeState::Low => 0.2,
                default => 0.1,
            };
            foreach ($net->pins as $number => $pin) {
                $cut = array_filter($bad, static fn (array $reading): bool => self::isCut(self::place($net, $reading['what']), $number, $drivers));
                $spoilt = array_filter($good, static fn (array $reading): bool => self::isCut(self::place($net, $reading['what']), $number, $drivers));
                if ($number > 0 && $cut !== [] && $spoilt === []) {
                    $strengths[self::open($net->name, $pin)] = count($cut) === count($bad) ? $floats : 0.1;
                }
                if ($number > 0 && $isShared && self::parts($number, $badPlaces, $goodPlaces)) {
                    // Each end of a broken line of a bus has its own that drive it.
                    $strengths[self::open($net->name, $pin)] = $floats;
                }
                $only = $badPlaces === [$number] && ($isShared || ! in_array($number, $drivers, true));
                $driver = $drivers === [$number] && ! in_array($number, $badPlaces, true) && array_diff($goodPlaces, $drivers) === [];
                if ($only || $driver) {
                    $strengths[self::lifted($net->name, $pin)] = $floats;
                }
            }
            if ($isContention) {
                // Two drive it: of its drivers one that is not meant to, or what lets it.
                $strengths = LineFaults::together($strengths, (new LineFaults($this->structure))->contending($net, '', 0.7));
            }
            if ($good === []) {
                $strengths[self::held($net->name)] = $steady ? 0.85 : 0.05;
                foreach ($this->structure->board->netlist->loads($net) as $load) {
                    // An input that has gone to ground inside pulls its line: outputs fight it.
                    $strengths[Netlist::chipOf($load)] ??= $seen->state === ProbeState::Between ? 0.08 : ($steady ? 0.02 : 0.005);
                    if ($drivers === [] && $steady && $seen->state !== ProbeState::High) {
                        // Nothing but a resistor pulls it up: an input is as likely to take it down as anything else.
                        $strengths[self::pulling(Netlist::chipOf($load), $net->name)] = 0.85;
                    }
                }
            }
            if ($steady && $good === [] && $isShared && $net->kind === 'data') {
                $strengths += $this->throughBuffers($net, $all);
            }
            $strengths += $this->atOutputs($net, $strengths, false);
            $evidence[] = $this->report("probe {$key} {$net->name} wrong", true, $strengths, $state, "{$net->name} is ".($seen->state->value ?? 'off its frequency').' at '.implode(', ', array_map(static fn (array $reading): string => $reading['what']->pin, $bad)).($seen->expected === null || $seen->hz !== null ? '' : ", not {$seen->expected->value}"), $bad[count($bad) - 1]['observation'], $isContention ? Evidence::CONTENTION : Evidence::PROBE, array_sum(array_column($bad, 'times')) > 1, count($bad) > 1);
        }

        return $evidence;
    }

    /**
     * Memory whose buffer drives a data line: an output of it that is stuck is stuck there as well; not where its own line was right then.
     *
     * @param  array<int|string, array{what: PinSeen}>  $readings  by pin
     * @return array<string, float> chip, and output => how strongly it shows
     */
    private function throughBuffers(Net $net, array $readings): array
    {
        $strengths = [];
        foreach ($this->structure->driversOf($net) as $driver) {
            foreach ($this->structure->causesOf($driver) as $input) {
                $behind = $this->structure->board->netlist->netOf($input);
                $isRight = array_filter($behind->pins ?? [], static fn (string $pin): bool => isset($readings[$pin]) && $readings[$pin]['what']->isRight() === true) !== [];
                foreach ($behind?->kind === 'data' && $behind !== $net && ! $isRight ? $this->structure->driversOf($behind) : [] as $output) {
                    if (($this->structure->board->chips[Netlist::chipOf($output)] ?? null)?->kind() === 'dram') {
                        $strengths += [Netlist::chipOf($output) => self::BUFFERED, self::output($output) => self::BUFFERED];
                    }
                }
            }
        }

        return $strengths;
    }

    /**
     * What drives a net that nothing on it drives: it comes through a link, as that stands.
     *
     * @return list<Net>
     */
    private function beyondLink(Net $net, MachineState $state): array
    {
        $beyond = $this->structure->driversOf($net) === [] ? $this->structure->joined($net, $state->settings->positions) : [];

        return array_values(array_filter($beyond, fn (Net $other): bool => $this->structure->driversOf($other) !== []));
    }

    /** How strongly a fault of a part shows at one of its outputs: mostly it is one that fails. */
    private function shareOf(string $ref, bool $right): float
    {
        return 0.25 + 0.75 / max(1, $right ? $this->structure->outputsOf($ref) : count($this->structure->unitsOf($ref)));
    }

    /**
     * What is seen of a net is seen of the very outputs that drive it: so a part with several shows in which of them it is. What is
     * wrong may also come of the very outputs upstream; of the others of those parts that says nothing.
     *
     * @param  array<string, float>  $strengths  of parts: of several outputs mostly one fails, which is in them already
     * @param  bool  $right  of a net that is right
     * @return array<string, float> output => how strongly a fault of it alone shows
     */
    private function atOutputs(Net $net, array $strengths, bool $right): array
    {
        $at = [];
        $drivers = $this->structure->driversOf($net);
        $upstream = $right ? [] : array_map(fn (int|string $input): array => $this->structure->driversOf($this->structure->board->netlist->netOf((string) $input)), array_keys($this->structure->inputsBehind($net, self::FAR, true)));
        foreach (array_unique([...$drivers, ...array_merge(...$upstream)]) as $output) {
            $chip = Netlist::chipOf($output);
            if (($strengths[$chip] ?? 0.0) > 0.0) {
                $at[in_array($output, $drivers, true) ? self::output($output) : self::feeding($output)] = min(self::AT_OUTPUT, $strengths[$chip] / $this->shareOf($chip, $right));
            }
        }

        return $at;
    }

    /**
     * What gives a processor its clock, where it drives a net: that it moves the net shows that it has one.
     *
     * @return array<string, int> chip => stages between it and the net
     */
    private function clockOf(Net $net): array
    {
        $chips = [];
        foreach ($this->structure->driversOf($net) as $driver) {
            foreach ($this->structure->runsBy(Netlist::chipOf($driver), true) as $pin) {
                foreach ($this->structure->upstreamOf($this->structure->board->netlist->netOf($pin)->name ?? '') as $chip => $stage) {
                    $chips[$chip] = $stage + 1;
                }
            }
        }

        return $chips;
    }

    private static function place(Net $net, PinSeen $seen): int
    {
        return (int) array_search($seen->pin, $net->pins, true);
    }

    /**
     * How strongly a fault of each chip upstream shows: less with each stage, and less where only one of its several gates
     * leads here, since it is mostly one that fails. That an output is right says as little of the others of its gate.
     *
     * @param  array<string, int>  $upstream
     * @return array<string, float>
     */
    private function showing(array $upstream, float $weight, bool $shared, bool $right = false): array
    {
        // A line that several outputs use goes on moving when one of them is dead.
        $weight *= $shared ? 0.5 : 1.0;
        $strengths = [];
        foreach ($upstream as $ref => $stage) {
            $strengths[$ref] = 0.9 * 0.8 ** $stage * $weight * $this->shareOf((string) $ref, $right);
        }

        return $strengths;
    }

    /**
     * Whether a break before a pin of the net parts a place from everything that drives it.
     *
     * @param  list<int>  $drivers  their places
     */
    public static function isCut(int $place, int $break, array $drivers): bool
    {
        foreach ($drivers as $driver) {
            if (($driver < $break) === ($place < $break)) {
                return false;
            }
        }

        return $drivers !== [];
    }

    /**
     * Whether all that is wrong lies on one side of a break, and all that is right on the other.
     *
     * @param  list<int>  $bad  places
     * @param  list<int>  $good  places
     */
    private static function parts(int $break, array $bad, array $good): bool
    {
        return $bad !== [] && $good !== [] && (max($bad) < $break && $break <= min($good) || max($good) < $break && $break <= min($bad));
    }

    /** The pin before which a trace is broken, by the name of the fault; null for another. */
    public static function brokenBefore(string $mode): ?string
    {
        return str_starts_with($mode, 'open before ') ? substr($mode, strlen('open before ')) : null;
    }

    /** The pin that does not touch, by the name of the fault; null for another. */
    public static function liftedPin(string $mode): ?string
    {
        return str_starts_with($mode, 'open at ') ? substr($mode, strlen('open at ')) : null;
    }

    /**
     * @return array{int, int}
     */
    private static function between(Net $net, string $from, string $to): array
    {
        $places = [(int) array_search($from, $net->pins, true), (int) array_search($to, $net->pins, true)];

        return [min($places), max($places)];
    }

    /**
     * @param  array<string, float>  $strengths
     */
    private function report(string $id, bool $abnormal, array $strengths, MachineState $state, string $words, string $observation, string $kind = Evidence::PROBE, bool $repeated = false, bool $atSeveralPins = false): Evidence
    {
        $falseAlarm = match (true) {
            $kind === Evidence::CONTINUITY => 'continuityFalseAlarm',
            $kind === Evidence::DROP => 'probePinsFalseAlarm',
            $atSeveralPins => 'probePinsFalseAlarm',
            $repeated => 'probeTwiceFalseAlarm',
            default => 'probeFalseAlarm',
        };

        return new Evidence($id, $kind, $abnormal, $this->modes->rate($falseAlarm), $this->modes->rate('probeMiss'), [], [], [], 1.0, $state, $words, $observation === '' ? null : $observation, strengths: $strengths);
    }
}
