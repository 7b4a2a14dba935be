<?php

declare(strict_types=1);

namespace ZapTrace\Signals;

use ZapTrace\Board\BoardProfile;
use ZapTrace\Board\Net;
use ZapTrace\Board\Netlist;

/**
 * The points of a trace in the order in which they lie, what was found between them, which two to test next, and the
 * wire to fit once the break is found.
 */
final readonly class ContinuityPlan
{
    /** A chance of a break that is too small to count, and is still there. */
    private const HARDLY = 1e-6;

    /** A wire reaches past every place where a break is this likely, against the likeliest. */
    private const MAY_BE_BROKEN = 0.2;

    /**
     * @param  list<array{pin: string, reached: 'yes'|'no'|'unknown'}>  $points  from the first on; reached: connected with the first
     * @param  array{from: string, to: string}|null  $test
     * @param  array{from: string, to: string}|null  $wire
     * @param  int  $most  tests that are needed at most from here
     * @param  int  $known  the last place that is connected with the first
     * @param  int  $broken  the first place that is not; one beyond the last where none is known
     */
    private function __construct(public Net $net, public array $points, public ?array $test, public ?array $wire, public int $most, private int $known, private int $broken)
    {
    }

    /**
     * @param  list<ContinuitySeen>  $seen
     */
    public static function of(Net $net, array $seen): self
    {
        $count = count($net->pins);
        $places = array_flip($net->pins);
        $known = 0;
        $broken = $count;
        $changed = true;
        // What is connected with the first is connected all the way; a break between two places is a break after the first too.
        for ($round = 0; $changed && $round <= count($seen); $round++) {
            $changed = false;
            foreach ($seen as $test) {
                if (! isset($places[$test->from], $places[$test->to])) {
                    continue;
                }
                [$low, $high] = [min($places[$test->from], $places[$test->to]), max($places[$test->from], $places[$test->to])];
                if ($test->closed && $low <= $known && $high > $known) {
                    [$known, $changed] = [$high, true];
                } elseif (! $test->closed && $low <= $known && $high < $broken) {
                    [$broken, $changed] = [$high, true];
                } elseif ($test->closed && $low > $known && $low < $broken && $high >= $broken) {
                    // It hangs together with what is cut off: the break lies before it.
                    [$broken, $changed] = [$low, true];
                }
            }
        }
        $points = [];
        foreach ($net->pins as $place => $pin) {
            $points[] = ['pin' => $pin, 'reached' => $place <= $known ? 'yes' : ($place >= $broken ? 'no' : 'unknown')];
        }
        $open = $broken - $known - 1;
        $test = null;
        if ($broken < $count && $open > 0) {
            $test = ['from' => $net->pins[0], 'to' => $net->pins[$known + intdiv($open + 1, 2)]];
        } elseif ($broken >= $count && $known < $count - 1) {
            // The far end first: when it is connected, all of it is.
            $test = ['from' => $net->pins[0], 'to' => $net->pins[$count - 1]];
        }

        return new self($net, $points, $test, $broken < $count && $open === 0 ? ['from' => $net->pins[$broken - 1], 'to' => $net->pins[$broken]] : null, $open > 0 ? (int) ceil(log($open + 1, 2)) : 0, $known, $broken);
    }

    /**
     * The place to test against the first that parts the chances of a break most evenly.
     *
     * @param  array<int, float>  $shares  chance of a break before, or at, each place along the trace
     * @return int|null null where it is known how far the trace goes
     */
    public function half(array $shares): ?int
    {
        // The leg of the first pin is open towards all the others. What is unlikely is not ruled out.
        $from = $this->known === 0 ? 0 : $this->known + 1;
        $left = array_map(static fn (float $share): float => $share + self::HARDLY, array_filter($shares, fn (int $place): bool => $place >= $from && $place <= $this->broken, ARRAY_FILTER_USE_KEY));
        $total = array_sum($left);
        $sum = 0.0;
        $half = null;
        foreach ($left as $place => $share) {
            $sum += $share;
            if ($place > $this->known && $place < $this->broken) {
                $half = $place;
                if ($sum >= $total / 2.0) {
                    break;
                }
            }
        }

        return $half;
    }

    /**
     * A wire that carries the trace past its break, wherever between its ends it is broken: from the last point before all
     * places where the break may be to the last of them.
     *
     * @param  array<int, float>  $shares  chance of a break before, or at, each place along the trace; one at least is above 0
     * @return array{from: string, to: string} pins
     */
    public function past(array $shares): array
    {
        $least = self::MAY_BE_BROKEN * max([0.0, ...$shares]);
        $places = array_keys(array_filter($shares, static fn (float $share): bool => $share >= $least));

        return ['from' => $this->net->pins[max(0, $places[0] - 1)], 'to' => $this->net->pins[max(1, $places[count($places) - 1])]];
    }

    /**
     * After a chip or its socket was out: each of its pins, and the next pin of its net to test it against.
     *
     * @return list<array{pin: string, to: string, net: string}>
     */
    public static function afterRemoval(BoardProfile $board, string $ref): array
    {
        $list = [];
        foreach ($board->netlist->nets as $net) {
            foreach ($net->pins as $place => $pin) {
                if (Netlist::chipOf($pin) !== $ref) {
                    continue;
                }
                $others = array_values(array_filter([...array_reverse(array_slice($net->pins, 0, $place)), ...array_slice($net->pins, $place + 1)], static fn (string $other): bool => Netlist::chipOf($other) !== $ref));
                if ($others !== []) {
                    $list[] = ['pin' => $pin, 'to' => $others[0], 'net' => $net->name];
                }
            }
        }
        usort($list, static fn (array $a, array $b): int => Netlist::numberOf($a['pin']) <=> Netlist::numberOf($b['pin']));

        return $list;
    }
}
