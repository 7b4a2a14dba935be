<?php

declare(strict_types=1);

namespace ZapTrace\Signals;

use ZapTrace\Observations\Sample;
use ZapTrace\Observations\SignShown;
use ZapTrace\Reasoning\MachineState;

/**
 * The signs of a machine over its power-ons, so that it is seen whether they are stable.
 */
final readonly class SignLog
{
    /**
     * @param  list<array{powerOn: int, minutes: float, sign: string, observation: string}>  $rows  in the order they were seen
     * @param  string  $words  whether they are alike, as a sentence; "" when there is nothing to compare
     */
    private function __construct(public array $rows, public bool $stable, public string $words)
    {
    }

    /**
     * What was seen with the parts that are in now.
     *
     * @param  list<Sample>  $samples
     * @return list<Sample>
     */
    public static function present(array $samples, MachineState $now): array
    {
        return array_values(array_filter($samples, static fn (Sample $sample): bool => $sample->what instanceof SignShown && $sample->state->sameParts($now)));
    }

    /**
     * @param  list<Sample>  $samples
     */
    public static function of(array $samples): self
    {
        $rows = [];
        $next = 1;
        foreach (Sample::of($samples, SignShown::class) as ['observation' => $observation, 'what' => $shown]) {
            // Without a number: the next power-on, or the one that is running when minutes have passed.
            $powerOn = $shown->powerOn > 0 ? $shown->powerOn : ($shown->minutes > 0.0 ? max(1, $next - 1) : $next);
            $next = max($next, $powerOn + 1);
            $rows[] = ['powerOn' => $powerOn, 'minutes' => $shown->minutes, 'sign' => $shown->sign, 'observation' => $observation];
        }
        $starts = [];
        foreach ($rows as $row) {
            if ($row['minutes'] <= 0.0) {
                $starts[$row['powerOn']][] = $row['sign'];
            }
        }
        $starts = array_map(static function (array $signs): string {
            sort($signs);

            return implode(' ', $signs);
        }, $starts);
        $kinds = count(array_unique($starts));
        $later = [];
        foreach ($rows as $row) {
            if ($row['minutes'] > 0.0 && ! in_array($row['sign'], explode(' ', $starts[$row['powerOn']] ?? ''), true) && isset($starts[$row['powerOn']])) {
                $later[$row['powerOn']] = true;
            }
        }

        return new self($rows, $kinds <= 1 && $later === [], trim(match (true) {
            count($starts) < 2 => '',
            $kinds === 1 => 'The same at '.count($starts).' of '.count($starts).' power-ons.',
            default => "Unstable: {$kinds} different ways to start in ".count($starts).' power-ons.',
        }.($later === [] ? '' : ' It changes after some minutes: warmth or a contact plays a part.')));
    }
}
