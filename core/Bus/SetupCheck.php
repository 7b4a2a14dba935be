<?php

declare(strict_types=1);

namespace ZapTrace\Bus;

use ZapTrace\Formats\Capture;
use ZapTrace\Parts\ProcessorBus;
use ZapTrace\Problems\InputRejected;

/**
 * Whether the analyser's channels are on the lines they are taken for: held against a run that is known, from a capture
 * that was right or from the start-up of the processor with its ROM. Finds channels that are swapped, inverted, stuck or
 * on nothing, and a strobe taken at the wrong edge.
 */
final readonly class SetupCheck
{
    /** Cycles that are compared. */
    private const CYCLES = 1200;

    /** The start may lie so many strobes after the beginning of the recording. */
    private const LATE = 64;

    /** So much of the compared cycles must agree before a channel is taken for a line. */
    private const ALIKE = 0.94;

    /** Stretches that are tried, in cycles, the longest first; and the fit that needs no shorter one. */
    private const STRETCHES = [self::CYCLES, 240, 60, 26];

    private const FITS = 0.985;

    /** So much of the signals must be found before anything is said. */
    private const FOUND = 0.6;

    /** Channels with the most changes that are tried as strobes when the one that is given leads nowhere. */
    private const STROBES = 4;

    /**
     * @param  list<array{channel: string, is: string|null, inverted: bool, state: 'live'|'stuck'|'unconnected'}>  $channels
     * @param  SignalMap  $map  as it should be
     * @param  float  $sure  0 to 1
     * @param  list<string>  $because  what is wrong, in sentences; none when all is right
     * @param  bool  $right  the map that was given is right
     * @param  string  $doubt  which signals cannot be told apart; "" when all can
     */
    private function __construct(public array $channels, public SignalMap $map, public float $sure, public array $because, public bool $right, public string $doubt)
    {
    }

    /**
     * @param  callable(): Capture  $open  the recording from its beginning; it is read several times
     *
     * @throws InputRejected when it cannot be read, or there is too little to compare
     */
    public static function of(callable $open, ProcessorBus $bus, SignalMap $map, CycleList $reference): self
    {
        $capture = $open();
        $names = $capture->channels();
        $count = new ChannelCount(count($names));
        $capture->read($count);
        if ($reference->count() < 12) {
            throw InputRejected::of('reference', 'There are fewer than 12 cycles to compare with: a longer capture, or the ROM with its start-up, is wanted.');
        }
        $strobe = $bus->cycles[0]['strobe'];
        $to = $bus->cycles[0]['edge'] === 'rise' ? 1 : 0;
        $kinds = [];
        foreach ($bus->cycles as $rule) {
            if ($rule['strobe'] === $strobe) {
                $kinds[$rule['kind']] = true;
            }
        }
        $given = $map->signals[$strobe] ?? null;
        $tried = $given === null ? [] : [$given['channel']];
        $byChanges = $count->changes;
        arsort($byChanges);
        $tried = array_values(array_unique([...$tried, ...array_slice(array_keys(array_filter($byChanges)), 0, self::STROBES)]));
        $wanted = self::wanted($bus, $reference, $kinds);
        $best = null;
        foreach ($tried as $place => $channel) {
            foreach ([$to, 1 - $to] as $edge) {
                $sampler = new ChannelSampler($channel, $edge, self::CYCLES + self::LATE);
                $open()->read($sampler, static fn (): bool => ! $sampler->isFull());
                $found = self::match($sampler->columns(count($names)), $wanted, $map);
                // The strobe that is given, and its usual edge, are believed where another is no better.
                if ($found !== null && ($best === null || $found['score'] > $best['score'] + 0.01)) {
                    $best = [...$found, 'strobe' => $channel, 'inverted' => $edge !== $to];
                }
            }
            if ($best !== null && $best['score'] > 0.995 && $place === 0) {
                break;
            }
        }
        if ($best === null) {
            throw InputRejected::of('capture', 'No channel ticks like a strobe: '.$strobe.' has to be among what was probed, and the machine has to run.');
        }

        if (count($best['pairs']) < self::FOUND * max(1, count($wanted)) || $best['fit'] < 0.9) {
            throw InputRejected::of('capture', sprintf('Too little of it is like the run it is held against: %d of %d lines are. Check a recording of a good machine, from its reset on.', count($best['pairs']), count($wanted)));
        }

        return self::result($names, $bus, $map, $count, $best, $strobe);
    }

    /**
     * @param  array<string, true>  $kinds
     * @return array<string, string> signal => its levels, one character a cycle; those that change alone
     */
    private static function wanted(ProcessorBus $bus, CycleList $reference, array $kinds): array
    {
        $columns = [];
        $multiplexed = $bus->latch !== null ? array_intersect($bus->address, $bus->data) : [];
        for ($number = 0, $taken = 0; $number < $reference->count() && $taken < self::CYCLES; $number++) {
            $cycle = $reference->at($number);
            $kind = $cycle->kind->value;
            if (! isset($kinds[$kind]) && ! ($kind === 'fetch' && isset($kinds['read']))) {
                continue;
            }
            $taken++;
            foreach ($bus->address as $signal) {
                $bit = ProcessorBus::bitOf($signal);
                if (! in_array($signal, $multiplexed, true) && ($reference->addressMask >> $bit & 1) === 1) {
                    $columns[$signal] = ($columns[$signal] ?? '').($cycle->address >> $bit & 1);
                }
            }
            foreach ($bus->data as $signal) {
                $bit = ProcessorBus::bitOf($signal);
                if (($reference->dataMask >> $bit & 1) === 1) {
                    $columns[$signal] = ($columns[$signal] ?? '').($cycle->data >> $bit & 1);
                }
            }
            foreach ($bus->cycles as $rule) {
                if ($rule['kind'] === $kind || $rule['kind'] === 'read' && $kind === 'fetch') {
                    foreach ($rule['when'] as $signal => $level) {
                        if (in_array($signal, ['R//W', 'IO//M'], true)) {
                            $columns[$signal] = ($columns[$signal] ?? '').$level;
                        }
                    }
                    break;
                }
            }
        }
        $length = max([0, ...array_map(strlen(...), $columns)]);

        return array_filter($columns, static fn (string $column): bool => strlen($column) === $length && str_contains($column, '0') && str_contains($column, '1'));
    }

    /**
     * @param  list<string>  $columns  of the channels
     * @param  array<string, string>  $wanted
     * @return array{score: float, fit: float, pairs: array<string, array{channel: int, inverted: bool, alike: float, margin: int}>, length: int}|null
     */
    private static function match(array $columns, array $wanted, SignalMap $map): ?array
    {
        $best = null;
        foreach (self::STRETCHES as $stretch) {
            // A machine that goes astray fits at the beginning alone.
            $found = self::matchAtMost($columns, $wanted, $map, $stretch);
            if ($found !== null && ($best === null || $found['fit'] > $best['fit'] + 0.02)) {
                $best = $found;
            }
            if ($best !== null && $best['fit'] > self::FITS) {
                break;
            }
        }

        return $best;
    }

    /**
     * @param  list<string>  $columns
     * @param  array<string, string>  $wanted
     * @return array{score: float, fit: float, pairs: array<string, array{channel: int, inverted: bool, alike: float, margin: int}>, length: int}|null
     */
    private static function matchAtMost(array $columns, array $wanted, SignalMap $map, int $most): ?array
    {
        $wanted = array_filter(array_map(static fn (string $column): string => substr($column, 0, $most), $wanted), static fn (string $column): bool => str_contains($column, '0') && str_contains($column, '1'));
        $samples = strlen($columns[0] ?? '');
        $cycles = strlen(reset($wanted) ?: '');
        $best = null;
        for ($late = 0; $late <= self::LATE && $samples - $late >= 12; $late++) {
            $length = min($cycles, $samples - $late);
            $here = array_map(static fn (string $column): string => substr($column, $late, $length), $columns);
            $sum = 0.0;
            $scores = [];
            foreach ($wanted as $signal => $column) {
                $column = substr($column, 0, $length);
                $top = 0;
                foreach ($here as $channel => $levels) {
                    $equal = $length - strlen(str_replace("\0", '', $column ^ $levels));
                    $scores[$signal][$channel] = $equal;
                    $top = max($top, $equal, $length - $equal);
                }
                $sum += $top / $length;
            }
            $score = $wanted === [] ? 0.0 : $sum / count($wanted);
            if ($best === null || $score > $best['score'] + 0.002) {
                $best = ['score' => $score, 'scores' => $scores, 'length' => $length];
            }
            if ($score > 0.9999) {
                break;
            }
        }
        if ($best === null) {
            return null;
        }
        $length = $best['length'];
        $candidates = [];
        foreach ($best['scores'] as $signal => $channels) {
            foreach ($channels as $channel => $equal) {
                foreach ([[$equal, false], [$length - $equal, true]] as [$agree, $inverted]) {
                    if ($agree >= self::ALIKE * $length) {
                        $isGiven = ($map->signals[$signal] ?? null) === ['channel' => $channel, 'inverted' => $inverted];
                        $candidates[] = ['signal' => (string) $signal, 'channel' => $channel, 'inverted' => $inverted, 'agree' => $agree, 'given' => $isGiven];
                    }
                }
            }
        }
        usort($candidates, static fn (array $a, array $b): int => [$b['agree'], $b['given'], $a['channel']] <=> [$a['agree'], $a['given'], $b['channel']]);
        $pairs = $used = [];
        foreach ($candidates as $pair) {
            if (isset($pairs[$pair['signal']]) || isset($used[$pair['channel']])) {
                continue;
            }
            $used[$pair['channel']] = true;
            // How far behind the next best signal for this channel is.
            $next = 0;
            foreach ($best['scores'] as $signal => $channels) {
                if ($signal !== $pair['signal']) {
                    $next = max($next, $channels[$pair['channel']], $length - $channels[$pair['channel']]);
                }
            }
            $pairs[$pair['signal']] = ['channel' => $pair['channel'], 'inverted' => $pair['inverted'], 'alike' => $pair['agree'] / $length, 'margin' => $pair['agree'] - $next];
        }

        $share = count($wanted) === 0 ? 0.0 : count($pairs) / count($wanted);

        return ['score' => $best['score'] * (0.5 + 0.5 * $share), 'fit' => $best['score'], 'pairs' => $pairs, 'length' => $length];
    }

    /**
     * @param  list<string>  $names
     * @param  array{score: float, fit: float, pairs: array<string, array{channel: int, inverted: bool, alike: float, margin: int}>, length: int, strobe: int, inverted: bool}  $best
     */
    private static function result(array $names, ProcessorBus $bus, SignalMap $map, ChannelCount $count, array $best, string $strobe): self
    {
        $signals = array_map(static fn (array $pair): array => ['channel' => $pair['channel'], 'inverted' => $pair['inverted']], $best['pairs']);
        $signals[$strobe] = ['channel' => $best['strobe'], 'inverted' => $best['inverted']];
        $taken = array_column($signals, 'channel');
        $because = [];
        $stuck = [];
        foreach ($map->signals as $signal => $at) {
            if (isset($signals[$signal])) {
                continue;
            }
            // What could not be told keeps its channel, if that is free.
            if (! in_array($at['channel'], $taken, true)) {
                if ($count->changes[$at['channel']] === 0 && in_array($signal, [...$bus->address, ...$bus->data], true) && ! self::isQuiet($signal, $bus)) {
                    $stuck[$at['channel']] = $signal;
                }
                $signals[$signal] = $at;
            }
        }
        $channels = [];
        $isOf = [];
        foreach ($signals as $signal => $at) {
            $isOf[$at['channel']] = $signal;
        }
        foreach ($names as $channel => $name) {
            $signal = $isOf[$channel] ?? null;
            $state = match (true) {
                $count->changes[$channel] > 0 && ($signal !== null || $count->changes[$channel] > 1) => 'live',
                ($count->seen[$channel] & 3) === 0, $signal === null => 'unconnected',
                default => 'stuck',
            };
            $channels[] = ['channel' => $name, 'is' => $signal, 'inverted' => $signal !== null && $signals[$signal]['inverted'], 'state' => $state];
        }
        foreach ($best['pairs'] as $signal => $pair) {
            $given = $map->signals[$signal] ?? null;
            if ($given === null) {
                $because[] = "{$names[$pair['channel']]} is {$signal}".($pair['inverted'] ? ', inverted' : '').'; it was on nothing.';
            } elseif ($given['channel'] !== $pair['channel']) {
                $because[] = "{$signal} is on {$names[$pair['channel']]}".($pair['inverted'] ? ', inverted' : '').", not on {$names[$given['channel']]}.";
            } elseif ($given['inverted'] !== $pair['inverted']) {
                $because[] = "{$names[$pair['channel']]} is {$signal} the other way round: it is ".($pair['inverted'] ? '' : 'not ').'inverted.';
            }
        }
        $given = $map->signals[$strobe] ?? null;
        if ($given !== null && $given['channel'] !== $best['strobe']) {
            $because[] = "The strobe {$strobe} is on {$names[$best['strobe']]}, not on {$names[$given['channel']]}.";
        } elseif ($given === null || $given['inverted'] !== $best['inverted']) {
            $because[] = $given === null ? "The strobe {$strobe} is on {$names[$best['strobe']]}".($best['inverted'] ? ', inverted.' : '.') : "The strobe {$strobe} is taken at the wrong edge: ".($best['inverted'] ? 'it is inverted.' : 'it is not inverted.');
        }
        foreach ($stuck as $channel => $signal) {
            $level = ($count->seen[$channel] & 1) !== 0 ? 'low' : (($count->seen[$channel] & 2) !== 0 ? 'high' : 'nothing');
            $because[] = "{$names[$channel]}, taken for {$signal}, shows {$level} from beginning to end: its clip does not touch, or the line is stuck.";
        }
        $alike = array_keys(array_filter($best['pairs'], static fn (array $pair): bool => $pair['margin'] <= 0));
        $doubt = count($alike) < 2 ? '' : implode(', ', $alike).' move alike in this stretch and cannot be told apart: a longer one would do.';
        $sure = $best['pairs'] === [] ? 0.0 : 1.0;
        foreach ($best['pairs'] as $pair) {
            $sure = min($sure, $pair['alike'] * (1.0 - 0.5 ** (1 + max(0, $pair['margin']))));
        }

        return new self($channels, SignalMap::of($signals), round(min(0.999, $sure), 3), $because, $because === [], $doubt);
    }

    /** Upper address lines and the like may well stand still for a whole recording. */
    private static function isQuiet(string $signal, ProcessorBus $bus): bool
    {
        return in_array($signal, $bus->address, true) && ProcessorBus::bitOf($signal) >= 16;
    }
}
