<?php

declare(strict_types=1);

namespace ZapTrace\Reasoning;

use ZapTrace\Diagnostics\DiagnosticResult;

/**
 * The runs of a diagnostic that names one thing at a time: one report with one likelihood.
 *
 * Which bits are bad follows from the faults; which of several bad ones is named follows from the order in which the
 * diagnostic looks (lowest first, highest first); where that is not known any is as likely. A count can slip
 * by one, for one run or in the same way for all. What comes and goes is there or not for a whole run, with one latent
 * rate over all of them. Under a wrong table the code says nothing, and goes on saying the same.
 */
final class DiagnosticOutcome implements Report
{
    /** @var array<int, true> codes that were given, and those beside them */
    private readonly array $given;

    /** @var array<string, int> fault => its class: faults of one class do the same to a run */
    private array $classes = [];

    /** @var array<int, array<int, float>> wrong table or not => code => chance of all results */
    private array $steady = [];

    /** @var array<int, array<int, array<int, array<int, array<int|string, float>>>>> answers of gotThrough that were given already */
    private array $reports = [];

    /** @var array<string, float> classes of a set => chance */
    private array $known = [];

    /** It gave a result, whichever: what it says of each bit is weighed apart. */
    public const THROUGH = 'through';

    /** Five points of Gauss and Legendre on 0 to 1: exact for the polynomials met here up to degree nine. */
    private const POINTS = [[0.046910077, 0.118463443], [0.230765345, 0.239314335], [0.5, 0.284444444], [0.769234655, 0.239314335], [0.953089923, 0.118463443]];

    /** What a rate may really be, beside its mean. */
    private const LATENT = [0.4, 1.0, 1.6];

    /**
     * @param  int  $codes  how many codes the table has
     * @param  array<string, non-empty-array<int, float>>  $wrong  fault => code number => chance that it makes wrong what the code names
     * @param  array<string, float>  $perRun  fault => chance that it is there in a run, for those that come and go
     * @param  array<string, float>  $crash  fault => chance that the run gives no result
     * @param  string  $table  the fault of the set-up: its table is wrong
     * @param  list<int|string>  $results  code numbers, pass or nothing
     * @param  list<string>  $orders  orders in which it may look
     * @param  array<int, list<int>>  $slips  code number => those that a slip of one would give
     * @param  array{pass: float, error: float, slip: float, slipAlways: float, wild: float}  $rates
     * @param  int  $passes  states in which it passed, where it did in this one: what does not come and go shows in all or in none
     */
    public function __construct(
        private readonly int $codes,
        private readonly array $wrong,
        private readonly array $perRun,
        private readonly array $crash,
        private readonly string $table,
        private readonly array $results,
        private readonly array $orders,
        private readonly array $slips,
        private readonly array $rates,
        private readonly int $passes = 1,
    ) {
        $given = [];
        foreach ($results as $result) {
            foreach (is_int($result) ? [$result, ...$slips[$result] ?? []] : [] as $code) {
                $given[$code] = true;
            }
        }
        $this->given = $given;
        $seen = [];
        foreach (array_keys($wrong + $crash) as $fault) {
            $does = serialize([$this->signature($wrong[$fault] ?? []), $perRun[$fault] ?? 0.0, $crash[$fault] ?? 0.0]);
            $this->classes[$fault] = $seen[$does] ??= count($seen) + 1;
        }
    }

    /**
     * When any bad one may be named, those that were not, nor lie beside one that was, are all alike.
     *
     * @param  array<int, float>  $wrong
     */
    private function signature(array $wrong): string
    {
        if ($this->orders !== ['any']) {
            return serialize($wrong);
        }
        $others = array_values(array_diff_key($wrong, $this->given));
        sort($others);
        $near = array_intersect_key($wrong, $this->given);
        ksort($near);

        return serialize([$near, $others]);
    }

    public function isAbnormal(): bool
    {
        return array_filter($this->results, static fn (int|string $result): bool => $result !== DiagnosticResult::PASS && $result !== self::THROUGH) !== [];
    }

    public function touches(): array
    {
        $touches = $this->isAbnormal() ? [$this->table => 1.0] : [];
        foreach ($this->wrong as $fault => $wrong) {
            $touches[$fault] = max($wrong);
        }
        foreach ($this->crash as $fault => $crash) {
            $touches[$fault] = max($touches[$fault] ?? 0.0, $crash);
        }

        return array_filter($touches, static fn (float $strength): bool => $strength > 0.0);
    }

    public function explainedBy(): array
    {
        if (! $this->isAbnormal()) {
            return [];
        }
        $explained = [$this->table => true];
        foreach (array_unique($this->results) as $result) {
            foreach (is_int($result) ? [$result, ...$this->slips[$result] ?? []] : [] as $code) {
                foreach ($this->wrong as $fault => $wrong) {
                    if (($wrong[$code] ?? 0.0) > 0.0) {
                        $explained[$fault] = true;
                    }
                }
            }
            if ($result === DiagnosticResult::NOTHING) {
                $explained += $this->crash;
            }
        }
        // Under a wrong table any of them may be the one.
        foreach ($this->wrong as $fault => $wrong) {
            if (max($wrong) > 0.5) {
                $explained[$fault] = true;
            }
        }

        return array_map(strval(...), array_keys($explained));
    }

    public function mark(string $fault): string
    {
        return $fault === $this->table ? 'table' : (string) ($this->classes[$fault] ?? '');
    }

    public function chance(array $faults): float
    {
        $classes = [];
        foreach ($faults as $fault) {
            $class = $fault === $this->table ? 0 : $this->classes[$fault] ?? null;
            if ($class !== null) {
                $classes[] = $class;
            }
        }
        sort($classes);

        return $this->known[implode(',', $classes)] ??= $this->weigh($faults);
    }

    /**
     * @param  list<string>  $faults
     */
    private function weigh(array $faults): float
    {
        $coming = [];
        $through = 1.0;
        $table = false;
        $solid = 1.0;
        $ways = [[1.0, []]];
        foreach ($faults as $fault) {
            $table = $table || $fault === $this->table;
            if (isset($this->perRun[$fault])) {
                $through *= 1.0 - ($this->crash[$fault] ?? 0.0);
                $coming[] = $fault;

                continue;
            }
            // What is always there lets all of them through or none.
            $solid *= 1.0 - ($this->crash[$fault] ?? 0.0);
            if (isset($this->wrong[$fault])) {
                $ways = $this->withAnother($ways, $this->wrong[$fault]);
            }
        }
        $sum = 0.0;
        foreach ($ways as [$weight, $good]) {
            ksort($good);
            $sum += $weight * $this->whenWrong(array_map(static fn (float $chance): float => 1.0 - $chance, $good), $coming, $through, $table);
        }

        return $sum * $solid + (array_unique($this->results) === [DiagnosticResult::NOTHING] ? 1.0 - $solid : 0.0);
    }

    /**
     * What serves several of the things that codes name shows in them at all, or in none: half of the doubt is common to them.
     *
     * @param  list<array{float, array<int, float>}>  $ways  chance, and by code number the chance that it is right
     * @param  non-empty-array<int, float>  $wrong
     * @return list<array{float, array<int, float>}>
     */
    private function withAnother(array $ways, array $wrong): array
    {
        $share = count($wrong) > 1 ? sqrt(max($wrong)) : 1.0;
        $shows = $share < 1.0 ? 1.0 - (1.0 - $share) ** (1.0 / $this->passes) : 1.0;
        $with = [];
        foreach ($ways as [$weight, $good]) {
            if ($shows < 1.0) {
                $with[] = [$weight * (1.0 - $shows), $good];
            }
            foreach ($wrong as $code => $chance) {
                $good[$code] = ($good[$code] ?? 1.0) * (1.0 - $chance / $share);
            }
            $with[] = [$weight * $shows, $good];
        }

        return $with;
    }

    /**
     * The chance of all results, with so surely wrong what codes name.
     *
     * @param  array<int, float>  $bad
     * @param  list<string>  $coming
     */
    private function whenWrong(array $bad, array $coming, float $through, bool $table): float
    {
        // With fewer than two bad ones the order makes no difference.
        $orders = count($bad) + count($coming) < 2 ? [$this->orders[0]] : $this->orders;
        $sum = 0.0;
        if ($coming === [] && ! in_array(DiagnosticResult::NOTHING, $this->results, true) && ! in_array(self::THROUGH, $this->results, true)) {
            foreach ($orders as $order) {
                foreach ($this->named($bad, $order) as $code => $share) {
                    $sum += $share / count($orders) * $this->steady($code, $table);
                }
            }

            return $sum;
        }
        foreach ($orders as $order) {
            // Over one run only the mean of the rate matters.
            $latents = $coming === [] || count($this->results) === 1 ? [1.0] : self::LATENT;
            foreach ($latents as $latent) {
                $sum += $this->runs($this->named($bad, $order), $coming, $latent, $order, $through, $table) / count($orders) / count($latents);
            }
        }

        return $sum;
    }

    /** The chance of all results when every run names this code (-1: none); asked for often, and the same each time. */
    private function steady(int $code, bool $table): float
    {
        return $this->steady[(int) $table][$code] ??= $this->runs([$code => 1.0], [], 1.0, $this->orders[0], 1.0, $table);
    }

    /**
     * The chance that each code is the one named, and last that none is.
     *
     * @param  array<int, float>  $bad
     * @return array<int, float>
     */
    private function named(array $bad, string $order): array
    {
        $named = [];
        $none = 1.0;
        if ($order === 'any') {
            // One over the number of bad ones, on average: the integral of t to the power of the others.
            $product = array_fill(0, count(self::POINTS), 1.0);
            foreach ($bad as $chance) {
                foreach (self::POINTS as $point => [$at]) {
                    $product[$point] *= 1.0 - $chance * (1.0 - $at);
                }
                $none *= 1.0 - $chance;
            }
            $rest = 1.0 - $none;
            $other = null;
            foreach ($bad as $code => $chance) {
                if (! isset($this->given[$code])) {
                    $other ??= $code;

                    continue;
                }
                $named[$code] = 0.0;
                foreach (self::POINTS as $point => [$at, $weight]) {
                    $named[$code] += $chance * $weight * $product[$point] / (1.0 - $chance * (1.0 - $at));
                }
                $rest -= $named[$code];
            }
            if ($other !== null) {
                $named[$other] = max(0.0, $rest); // Those that were not given, nor lie beside one, are all alike.
            }
        } else {
            $codes = array_keys($bad);
            foreach ($order === 'highest' ? array_reverse($codes) : $codes as $code) {
                $named[$code] = $none * $bad[$code];
                $none *= 1.0 - $bad[$code];
            }
        }
        $named[-1] = $none;

        return $named;
    }

    /**
     * @param  array<int, float>  $named
     * @param  list<string>  $coming
     */
    private function runs(array $named, array $coming, float $latent, string $order, float $through, bool $table): float
    {
        // With what comes and goes the same slip in every run would not be seen as one.
        $always = $this->isCounted() && $coming === [] ? $this->rates['slipAlways'] : 0.0;
        $chance = 0.0;
        foreach ([0 => 1.0 - $always, 1 => $always / 2, -1 => $always / 2] as $shift => $weight) {
            if ($weight <= 0.0) {
                continue;
            }
            $sum = 0.0;
            foreach ($named as $code => $share) {
                if ($share < 1e-9) {
                    continue;
                }
                $product = $share;
                foreach (array_count_values($this->results) as $result => $times) {
                    $product *= $this->run($result, $code, $shift, $coming, $latent, $order, $through, $table, false);
                    if ($times > 1) {
                        $product *= $this->run($result, $code, $shift, $coming, $latent, $order, $through, $table, true) ** ($times - 1);
                    }
                }
                $sum += $product;
            }
            $chance += $weight * $sum;
        }

        return $chance;
    }

    /**
     * The chance of one run's result when a solid fault makes it name a code (-1: none), with what comes and goes.
     *
     * @param  list<string>  $coming
     */
    private function run(int|string $result, int $code, int $shift, array $coming, float $latent, string $order, float $through, bool $table, bool $again): float
    {
        $chance = $this->report($result, $code, $shift, $through, $table, $again);
        foreach ($coming as $fault) {
            $rate = min(0.97, $latent * $this->perRun[$fault]);
            $wrong = $this->wrong[$fault] ?? [];
            $total = array_sum($wrong);
            if ($total <= 0.0) {
                continue;
            }
            $with = 0.0;
            foreach ($wrong as $other => $weight) {
                $with += $weight / $total * match (true) {
                    $code < 0 => $this->report($result, $other, $shift, $through, $table, $again),
                    $order === 'any' => 0.5 * $this->report($result, $other, $shift, $through, $table, $again) + 0.5 * $this->report($result, $code, $shift, $through, $table, $again),
                    default => $this->report($result, $order === 'lowest' ? min($code, $other) : max($code, $other), $shift, $through, $table, $again),
                };
            }
            $chance = (1.0 - $rate) * $chance + $rate * $with;
        }

        return $chance;
    }

    private function report(int|string $result, int $code, int $shift, float $through, bool $table, bool $again): float
    {
        // Now and then a run hangs for no reason that matters.
        $through *= 1.0 - 0.2 * $this->rates['wild'];
        if ($result === DiagnosticResult::NOTHING) {
            return 1.0 - $through;
        }
        if ($result === self::THROUGH) {
            return $through;
        }

        return $through * ($this->reports[(int) $table][(int) $again][$shift][$code][$result] ??= $this->gotThrough($result, $code, $shift, $table, $again));
    }

    /** The chance of the result of a run that got through, when the diagnostic names this code (-1: none). */
    private function gotThrough(int|string $result, int $code, int $shift, bool $table, bool $again): float
    {
        if ($code < 0) {
            return $result === DiagnosticResult::PASS ? 1.0 - $this->rates['error'] : $this->rates['error'] / $this->codes;
        }
        if ($result === DiagnosticResult::PASS) {
            return $this->rates['pass'];
        }
        $found = 1.0 - $this->rates['pass'];
        if ($table) {
            // Any code is as likely as any other; once it was given it is given again.
            return $found * ($again ? 0.95 : 1.0 / $this->codes);
        }
        $wild = $this->rates['wild'] / $this->codes;
        $beside = $this->slips[$code] ?? [];
        if ($shift !== 0) {
            // The same slip every time; at the end of the table there is nothing to slip to.
            $seen = in_array($code + $shift, $beside, true) ? $code + $shift : $code;

            return $found * (($result === $seen ? 1.0 - $this->rates['wild'] : 0.0) + $wild);
        }
        $slip = $this->isCounted() ? $this->rates['slip'] / 2 : 0.0;

        return $found * $wild + $found * match (true) {
            $result === $code => 1.0 - $this->rates['wild'] - $slip * count($beside),
            in_array($result, $beside, true) => $slip,
            default => 0.0,
        };
    }

    private function isCounted(): bool
    {
        return $this->slips !== [];
    }
}
