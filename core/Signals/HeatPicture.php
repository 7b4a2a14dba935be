<?php

declare(strict_types=1);

namespace ZapTrace\Signals;

use ZapTrace\Board\BoardProfile;
use ZapTrace\Observations\Sample;
use ZapTrace\Reasoning\MachineState;

/**
 * How warm the parts are, judged by their rise over the room and over like neighbours, not by the figure.
 *
 * Common practice: processors and video chips run warm to the touch when well, memory hardly at all; one memory chip
 * far above its neighbours is shorted inside, one stone cold among warm ones may be dead or unpowered.
 */
final readonly class HeatPicture
{
    /** Degrees over the room that are usual, by kind of part. Common practice. */
    private const USUAL = ['processor' => 30.0, 'video' => 30.0, 'peripheral' => 25.0, 'programmed' => 30.0, 'eprom' => 20.0, 'rom' => 20.0, 'regulator' => 50.0, 'oscillator' => 20.0, 'dram' => 12.0, 'sram' => 18.0, 'logic' => 12.0];

    /** Degrees over like neighbours, or over twice what is usual, that are too many. */
    private const FAR = 15.0;

    /** A room that was not measured. Degrees Celsius. */
    private const ROOM = 21.0;

    /**
     * @param  float  $room  degrees Celsius
     * @param  array<string, WarmPart>  $parts  by reference
     */
    private function __construct(public float $room, public bool $roomMeasured, public array $parts)
    {
    }

    /**
     * The readings that still hold: those of parts that were not changed since, and of the room.
     *
     * @param  list<Sample>  $samples
     * @return list<Sample>
     */
    public static function present(array $samples, MachineState $now): array
    {
        return array_values(array_filter($samples, static fn (Sample $sample): bool => $sample->what instanceof HeatReading
            && ($sample->what->site === '' || $sample->state->sameAt([$sample->what->site], $now))));
    }

    /**
     * @param  list<Sample>  $samples  made in one state of the machine
     */
    public static function of(BoardProfile $board, array $samples): self
    {
        $room = null;
        $latest = [];
        foreach (Sample::of($samples, HeatReading::class) as ['observation' => $observation, 'what' => $reading]) {
            if ($reading->site === '') {
                $room = $reading->celsius ?? $room;
            } else {
                $latest[$reading->site] = [$reading, $observation];
            }
        }
        $rises = [];
        foreach ($latest as $site => [$reading]) {
            $rises[$site] = $reading->celsius === null ? HeatReading::FEELS[$reading->feel ?? 'cool'] ?? 0.0 : $reading->celsius - ($room ?? self::ROOM);
        }
        $parts = [];
        foreach ($latest as $site => [$reading, $observation]) {
            $like = [];
            foreach ($rises as $other => $rise) {
                if ($other !== $site && ($board->chips[$other]->part ?? '') === ($board->chips[$site]->part ?? '-')) {
                    $like[] = $rise;
                }
            }
            $middle = $like === [] ? null : self::median($like);
            [$verdict, $words] = self::judge($board, (string) $site, $rises[$site], $middle, $rises);
            $parts[$site] = new WarmPart((string) $site, round($rises[$site], 1), $middle === null ? null : round($rises[$site] - $middle, 1), $verdict, $words, $reading->celsius === null, $reading->onlyWithFault, $observation);
        }

        return new self($room ?? self::ROOM, $room !== null, $parts);
    }

    /**
     * @param  array<string, float>  $rises
     * @return array{'hot'|'cold'|'', string}
     */
    private static function judge(BoardProfile $board, string $site, float $rise, ?float $middle, array $rises): array
    {
        $kind = $board->chips[$site]->type->kind ?? 'logic';
        $usual = self::USUAL[$kind] ?? 15.0;
        $name = "{$site} (".($board->chips[$site]->part ?? '').')';
        if ($middle !== null && $rise - $middle > self::FAR) {
            return ['hot', sprintf('%s is %d degrees above its like: shorted inside, or driving against something', $name, (int) round($rise - $middle))];
        }
        if ($middle === null && $rise > max(2.0 * $usual, $usual + self::FAR)) {
            return ['hot', sprintf('%s is %d degrees over the room; about %d is usual for such a part', $name, (int) round($rise), (int) $usual)];
        }
        $warm = array_filter($rises, static fn (float $other, string $at): bool => $at !== $site && $other >= 8.0, ARRAY_FILTER_USE_BOTH);
        if ($rise < 2.0 && ($middle === null ? $usual >= 20.0 && $warm !== [] : $middle >= 6.0)) {
            return ['cold', "{$name} is stone cold among warm ones: dead, or without supply"];
        }

        return ['', ''];
    }

    /**
     * @param  non-empty-list<float>  $values
     */
    private static function median(array $values): float
    {
        sort($values);
        $middle = intdiv(count($values), 2);

        return count($values) % 2 === 1 ? $values[$middle] : ($values[$middle - 1] + $values[$middle]) / 2.0;
    }
}
