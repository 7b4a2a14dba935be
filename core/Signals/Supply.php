<?php

declare(strict_types=1);

namespace ZapTrace\Signals;

use ZapTrace\Board\BoardProfile;
use ZapTrace\Board\Rail;
use ZapTrace\Observations\Sample;
use ZapTrace\Reasoning\MachineState;

/**
 * The supply of a machine: its rails as they were measured, against what each part says of itself.
 *
 * Sources: limits from the parts' data sheets, in the part library; a linear regulator lightly loaded against its own
 * limits, and replacing one near the low limit, is common practice.
 */
final readonly class Supply
{
    /** So much lost between regulator and chip is watched; more is a bad connection. Millivolts. */
    private const WATCHED = 100.0;

    private const LOST = 250.0;

    /** So far from what the parts should draw is said. */
    private const OVER_BUDGET = 1.5;

    /** Nearer than this to the low limit a regulator is often replaced on principle. Volts. */
    private const NEAR = 0.05;

    /**
     * @param  list<RailCheck>  $rails
     */
    private function __construct(private BoardProfile $board, public array $rails)
    {
    }

    /**
     * @param  list<Sample>  $samples
     * @param  MachineState|null  $now  which parts are in, where no current was measured; null for all
     */
    public static function of(BoardProfile $board, array $samples, ?MachineState $now = null): self
    {
        $readings = Sample::of($samples, RailReading::class);

        return new self($board, array_map(static fn (Rail $rail): RailCheck => self::check(
            $board, $rail, array_values(array_filter($readings, static fn (array $reading): bool => $reading['what']->rail === $rail->name)), $now,
        ), $board->rails));
    }

    /**
     * The measurements that still hold: those of rails of which no supply part was changed since.
     *
     * @param  list<Sample>  $samples
     * @return list<Sample>
     */
    public static function present(array $samples, BoardProfile $board, MachineState $now): array
    {
        return array_values(array_filter($samples, static fn (Sample $sample): bool => $sample->what instanceof RailReading
            && $sample->state->sameAt($board->findRail($sample->what->rail)?->sites() ?? [], $now)));
    }

    /** The first rail that is out of limits: nothing measured later means much while it is. */
    public function firstOut(): ?RailCheck
    {
        foreach ($this->rails as $check) {
            if ($check->isOut()) {
                return $check;
            }
        }

        return null;
    }

    public function isMeasured(): bool
    {
        return $this->rails !== [] && array_filter($this->rails, static fn (RailCheck $check): bool => ! $check->isMeasured()) === [];
    }

    /**
     * In which order to measure, so that a bad supply kills nothing that cannot be bought again, and in which order the
     * rails have to come and go.
     *
     * @return list<string> sentences
     */
    public function order(): array
    {
        if ($this->board->rails === []) {
            return [];
        }
        $irreplaceable = [];
        $threeRails = [];
        foreach ($this->board->chips as $chip) {
            if ($chip->socketed && in_array($chip->kind(), ['processor', 'eprom', 'rom', 'programmed', 'peripheral', 'custom'], true)) {
                $irreplaceable[] = $chip->ref;
            }
            if ($chip->type !== null && $chip->type->order !== '') {
                $threeRails[$chip->type->name] = "{$chip->type->name}: {$chip->type->order}";
            }
        }
        $regulators = array_values(array_unique(array_map(static fn (Rail $rail): string => $rail->regulator, $this->board->rails)));
        $order = array_values($threeRails);
        if ($irreplaceable !== []) {
            $order[] = 'In doubt, take out what is socketed and cannot be bought again ('.implode(', ', $irreplaceable).') and measure with those sockets empty.';
        }
        $order[] = 'First the output of the regulator, '.implode(', then ', $regulators).', lightly loaded; then the supply pins of the chips, from the nearest to the farthest.';
        if (count($this->board->rails) > 1) {
            $names = array_map(static fn (Rail $rail): string => "{$rail->name} V", $this->board->rails);
            $order[] = 'The rails have to come in the order '.implode(', ', $names).' and go in the order '.implode(', ', array_reverse($names)).'. Pull no plug that takes the first of them away alone.';
        }

        return $order;
    }

    /**
     * @param  list<array{observation: string, state: MachineState, what: RailReading}>  $readings
     */
    private static function check(BoardProfile $board, Rail $rail, array $readings, ?MachineState $now): RailCheck
    {
        $latest = [];
        $amps = null;
        $input = null;
        foreach ($readings as ['observation' => $observation, 'state' => $state, 'what' => $reading]) {
            $key = $reading->site.($reading->pin === null ? '' : ".{$reading->pin}");
            if ($reading->volts !== null || $reading->ripple !== null) {
                $before = $latest[$key] ?? null;
                $latest[$key] = [
                    'volts' => $reading->volts ?? ($before['volts'] ?? null), 'ripple' => $reading->ripple ?? ($before['ripple'] ?? null),
                    'unloaded' => $reading->unloaded, 'observation' => $observation,
                ];
            }
            $amps = $reading->amps ?? $amps;
            // The current is that of the parts that were in when it was measured.
            $now = $reading->amps === null ? $now : $state;
            $input = $reading->input ?? $input;
        }
        $regulator = $board->chips[$rail->regulator]->type->regulator ?? null;
        $points = [self::point($rail->regulator, null, $regulator->min ?? self::low($rail), $regulator->max ?? self::high($rail), $latest[$rail->regulator] ?? null)];
        $budget = 0.0;
        foreach ($board->chips as $chip) {
            foreach ($chip->type->supply ?? [] as $supply) {
                if ($supply->rail !== $rail->name) {
                    continue;
                }
                $budget += $now?->isIn($chip) === false ? 0.0 : $supply->milliamps;
                foreach ($supply->pins as $place => $pin) {
                    $points[] = self::point($chip->ref, $pin, $supply->min, $supply->max, $latest["{$chip->ref}.{$pin}"] ?? ($place === 0 ? $latest[$chip->ref] ?? null : null));
                }
            }
        }
        $atRegulator = $points[0]->volts;
        $lowest = null;
        foreach (array_slice($points, 1) as $point) {
            if ($point->volts !== null && ($lowest === null || abs($point->volts) < abs((float) $lowest->volts))) {
                $lowest = $point;
            }
        }
        $drop = $atRegulator === null || $points[0]->unloaded || $lowest === null ? null : round((abs($atRegulator) - abs((float) $lowest->volts)) * 1000.0, 1);
        $watts = $input === null || $amps === null ? null : round(max(0.0, abs($input) - abs($atRegulator ?? $rail->volts)) * $amps, 2);

        return new RailCheck(
            $rail, $points, round($budget, 1), $amps, $input, $drop, $watts,
            self::problems($rail, $points, $drop, $lowest), self::notices($rail, $points, $budget, $amps, $input, $drop, $watts, $regulator->dropout ?? null, $readings),
        );
    }

    /**
     * @param  array{volts: float|null, ripple: float|null, unloaded: bool, observation: string}|null  $measured
     */
    private static function point(string $site, ?int $pin, float $min, float $max, ?array $measured): RailPoint
    {
        return new RailPoint($site, $pin, $min, $max, $measured['volts'] ?? null, $measured['ripple'] ?? null, $measured['unloaded'] ?? false, $measured['observation'] ?? null);
    }

    /**
     * @param  list<RailPoint>  $points
     * @return list<string>
     */
    private static function problems(Rail $rail, array $points, ?float $drop, ?RailPoint $lowest): array
    {
        $problems = [];
        foreach ($points as $point) {
            if ($point->isOut()) {
                $problems[] = sprintf('%s V at %s measures %s V; it needs %s to %s V there.', $rail->name, $point->name(), self::volts((float) $point->volts), self::volts($point->min), self::volts($point->max));
            }
            if ($point->ripple !== null && $point->ripple > $rail->rippleMillivolts) {
                $problems[] = sprintf('%s V at %s has %s mV of ripple; %s mV is allowed.', $rail->name, $point->name(), self::number($point->ripple), self::number($rail->rippleMillivolts));
            }
        }
        if ($drop !== null && $drop > self::LOST && $lowest !== null) {
            $problems[] = sprintf('%s mV of %s V are lost between %s and %s: a bad connection on the way.', self::number($drop), $rail->name, $rail->regulator, $lowest->name());
        }

        return $problems;
    }

    /**
     * @param  list<RailPoint>  $points
     * @param  list<array{observation: string, state: MachineState, what: RailReading}>  $readings
     * @return list<string>
     */
    private static function notices(Rail $rail, array $points, float $budget, ?float $amps, ?float $input, ?float $drop, ?float $watts, ?float $dropout, array $readings): array
    {
        $notices = [];
        $low = $points[0];
        if ($low->volts !== null && ! $low->isOut() && abs($low->volts) - min(abs($low->min), abs($low->max)) < self::NEAR) {
            $notices[] = "{$low->site} is near its low limit. Many replace it on principle.";
        }
        if ($drop !== null && $drop > self::WATCHED && $drop <= self::LOST) {
            $notices[] = sprintf('%s mV are lost along the board: watch it.', self::number($drop));
        }
        if ($amps !== null && $budget > 0.0) {
            $milliamps = $amps * 1000.0;
            if ($milliamps > self::OVER_BUDGET * $budget) {
                $notices[] = sprintf('It draws %s mA; the fitted parts should draw about %s mA: something is loading the rail.', self::number($milliamps), self::number($budget));
            } elseif ($milliamps < $budget / (2.0 * self::OVER_BUDGET)) {
                $notices[] = sprintf('It draws only %s mA of about %s mA: a part of the board gets nothing, or is out.', self::number($milliamps), self::number($budget));
            }
        }
        if ($input !== null && $dropout !== null && abs($input) < abs($rail->volts) + $dropout) {
            $notices[] = sprintf('%s V before %s is too little: it needs %s V more than it gives. Tired reservoir capacitors or low mains.', self::volts($input), $rail->regulator, self::volts($dropout));
        }
        if ($watts !== null) {
            $notices[] = sprintf('%s burns %s W.', $rail->regulator, self::volts($watts));
        }

        return [...$notices, ...self::sags($rail, $readings)];
    }

    /**
     * A supply that depends on mains or warmth has tired capacitors.
     *
     * @param  list<array{observation: string, state: MachineState, what: RailReading}>  $readings
     * @return list<string>
     */
    private static function sags(Rail $rail, array $readings): array
    {
        $under = [];
        foreach ($readings as ['state' => $state, 'what' => $reading]) {
            if ($reading->volts !== null) {
                $conditions = array_intersect(['cold', 'warm', 'low-mains', 'high-mains'], array_keys($state->conditions));
                $under[$reading->site.($reading->pin ?? '')][implode(' and ', $conditions)] = $reading->volts;
            }
        }
        foreach ($under as $site => $volts) {
            if (count($volts) > 1 && max($volts) - min($volts) > 0.02 * abs($rail->volts)) {
                $worst = (string) array_search(abs($rail->volts) === $rail->volts ? min($volts) : max($volts), $volts, true);

                return ["At {$site} it changes by ".self::volts(max($volts) - min($volts)).' V with mains or warmth'.($worst === '' ? '' : ', least when '.str_replace('-', ' ', $worst)).': tired capacitors before the regulator.'];
            }
        }

        return [];
    }

    private static function low(Rail $rail): float
    {
        return $rail->volts > 0.0 ? $rail->volts * 0.95 : $rail->volts * 1.05;
    }

    private static function high(Rail $rail): float
    {
        return $rail->volts > 0.0 ? $rail->volts * 1.05 : $rail->volts * 0.95;
    }

    private static function volts(float $volts): string
    {
        return rtrim(rtrim(number_format($volts, 2, '.', ''), '0'), '.');
    }

    private static function number(float $number): string
    {
        return rtrim(rtrim(number_format($number, 1, '.', ''), '0'), '.');
    }
}
