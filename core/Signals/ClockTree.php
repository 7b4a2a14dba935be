<?php

declare(strict_types=1);

namespace ZapTrace\Signals;

use ZapTrace\Board\BoardProfile;

/**
 * The frequency that each clock of a board should have, and what a measured one says about the stage it comes from.
 */
final readonly class ClockTree
{
    /** Line and field rates of the broadcast standards. Source: ITU-R BT.1700. */
    private const STANDARDS = [['625 lines', 15625.0, 50.0], ['525 lines', 15734.264, 59.94]];

    /** Two frequencies are the same within this. */
    private const SAME = 0.01;

    /**
     * @param  list<array{net: string, pin: string, from: string|null, hz: float, note: string}>  $nodes  the source first
     */
    private function __construct(public array $nodes)
    {
    }

    public static function of(BoardProfile $board, Expectations $expectations): self
    {
        $hz = [];
        foreach ($board->netlist->nets as $net) {
            $driver = $net->kind === 'clock' || in_array($net->name, [$board->video->lineNet ?? '', $board->video->fieldNet ?? ''], true) ? $board->netlist->drivers($net)[0] ?? null : null;
            if ($driver !== null) {
                $hz[$driver] = $expectations->at($driver, Situation::Reset)['hz'];
            }
        }

        return self::from($board, $hz);
    }

    /**
     * @param  array<string, float|null>  $expected  frequency at each pin
     */
    public static function from(BoardProfile $board, array $expected): self
    {
        $structure = Structure::of($board);
        $nodes = [];
        foreach ($board->netlist->nets as $net) {
            $video = $board->video !== null && in_array($net->name, [$board->video->lineNet, $board->video->fieldNet], true);
            if ($net->kind !== 'clock' && ! $video) {
                continue;
            }
            $driver = $structure->driversOf($net)[0] ?? null;
            $hz = $driver === null ? null : $expected[$driver] ?? null;
            if ($driver === null || $hz === null) {
                continue;
            }
            $from = null;
            foreach ($structure->inputsOf($driver) as $input) {
                $upstream = $board->netlist->netOf($input);
                $from = $upstream?->kind === 'clock' ? $upstream->name : $from;
            }
            $nodes[] = ['net' => $net->name, 'pin' => $driver, 'from' => $from, 'hz' => $hz, 'note' => $video ? self::beside($board, $net->name) : ''];
        }
        usort($nodes, static fn (array $a, array $b): int => $b['hz'] <=> $a['hz'] ?: strnatcmp($a['net'], $b['net']));

        return new self($nodes);
    }

    /** What a measured frequency says, as a sentence. */
    public static function explain(float $expected, float $measured): string
    {
        if ($measured <= 0.0) {
            return 'It is absent: look at the stage that drives it, and at what holds the line.';
        }
        $ratio = $expected / $measured;
        foreach ([1 => 'It is right.', 2 => 'It is half of what it should be: one stage divides once more, or a stage before it runs at half.'] as $by => $words) {
            if (abs($ratio / $by - 1.0) <= self::SAME) {
                return $words;
            }
        }
        if (abs($ratio * 2.0 - 1.0) <= self::SAME) {
            return 'It is double: a stage that should divide passes its clock on.';
        }
        foreach ([$ratio, 1.0 / $ratio] as $way => $value) {
            $whole = (int) round($value);
            if ($whole > 1 && $whole <= 64 && abs($value / $whole - 1.0) <= self::SAME) {
                return $way === 0 ? "It is a {$whole}th of what it should be: look for a divider that divides too often." : "It is {$whole} times what it should be: look for a divider that does not divide.";
            }
        }

        return sprintf('It is off by %+.1f %%, by no whole number: another crystal, or one that swings at another mode.', 100.0 * ($measured / $expected - 1.0));
    }

    /** The rate of a picture beside the standards. */
    private static function beside(BoardProfile $board, string $net): string
    {
        $video = $board->video;
        if ($video === null) {
            return '';
        }
        $line = $net === $video->lineNet;
        $hz = $line ? $video->lineHz : $video->fieldHz();
        $best = self::STANDARDS[0];
        foreach (self::STANDARDS as $standard) {
            $best = abs($hz / ($line ? $standard[1] : $standard[2]) - 1.0) < abs($hz / ($line ? $best[1] : $best[2]) - 1.0) ? $standard : $best;
        }
        $broadcast = $line ? $best[1] : $best[2];

        return sprintf('%d whole lines; the broadcast standard of %s has %s Hz, this is %+.2f %% beside it.', $video->lines, $best[0], rtrim(rtrim(number_format($broadcast, 3, '.', ''), '0'), '.'), 100.0 * ($hz / $broadcast - 1.0));
    }

    public function find(string $net): ?float
    {
        foreach ($this->nodes as $node) {
            if ($node['net'] === $net) {
                return $node['hz'];
            }
        }

        return null;
    }
}
