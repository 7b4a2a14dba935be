<?php

declare(strict_types=1);

namespace App\Http\Resources;

use ZapTrace\Bench\Machine;
use ZapTrace\Board\BoardProfile;
use ZapTrace\Board\Chip;
use ZapTrace\Board\Net;
use ZapTrace\Board\Netlist;
use ZapTrace\Numbers\Notation;
use ZapTrace\Numbers\Radix;
use ZapTrace\Observations\Assessment;
use ZapTrace\Observations\PinProbed;
use ZapTrace\Observations\Sample;
use ZapTrace\Signals\ClockTree;
use ZapTrace\Signals\ContinuityPlan;
use ZapTrace\Signals\ContinuitySeen;
use ZapTrace\Signals\Expectations;
use ZapTrace\Signals\GateCheck;
use ZapTrace\Signals\PathStrip;
use ZapTrace\Signals\PinSeen;
use ZapTrace\Signals\SelectCheck;
use ZapTrace\Signals\Situation;
use ZapTrace\Signals\Structure;

/**
 * The probing instrument as JSON for the page.
 */
final class SignalView
{
    /**
     * @param  array<string, array{state: string|null, hz: float|null, by: string}>  $expected  by pin
     * @return array<string, mixed>
     */
    public static function of(Assessment $assessment, BoardProfile $board, Situation $situation, array $expected, ?Chip $chip, ?Net $net): array
    {
        $seen = self::seen($assessment, $situation);
        $structure = Structure::of($board);
        $states = array_filter(array_map(static fn (PinSeen $each) => $each->level(), $seen));
        $right = array_map(static fn (PinSeen $each): ?bool => $each->isRight(), $seen);
        $shares = $assessment->conclusion->posterior->sites;
        $pin = static fn (string $name): array => self::pin($board, $name, $expected, $seen);
        $continuity = array_map(static fn (array $sample): ContinuitySeen => $sample['what'], array_values(array_filter(Sample::of($assessment->samples, ContinuitySeen::class), static fn (array $sample): bool => $sample['state']->sameParts($assessment->now) && $sample['what']->holds($sample['state'], $assessment->now))));

        return [
            'known' => ! $board->netlist->isEmpty(),
            'situation' => $situation->value,
            'chips' => array_values(array_map(static fn (Chip $each): array => [
                'ref' => $each->ref, 'part' => $each->part, 'role' => $each->role, 'share' => $shares[$each->ref] ?? 0.0,
                'wrong' => count(array_filter(array_keys($right), static fn (string $name): bool => $right[$name] === false && Netlist::chipOf($name) === $each->ref)),
                'probed' => count(array_filter(array_keys($seen), static fn (string $name): bool => Netlist::chipOf($name) === $each->ref)),
            ], $board->chips)),
            'chip' => $chip === null ? null : ['ref' => $chip->ref, 'part' => $chip->part, 'title' => $chip->type->title ?? '', 'role' => $chip->role, 'wide' => $chip->type->wide ?? false, 'kind' => $chip->kind(), 'pinCount' => $chip->type->pins ?? 0, 'pins' => array_map(static fn ($each): array => [...$pin("{$chip->ref}.{$each->number}"), 'number' => $each->number, 'name' => $each->name, 'activeLow' => $each->activeLow, 'direction' => $each->direction], $chip->type?->pinList() ?? [])],
            'path' => $net === null ? null : self::path(PathStrip::of($structure, $net, $right, $shares, $assessment->now->settings->positions), $board, $pin),
            'continuity' => $net === null ? null : self::continuity(ContinuityPlan::of($net, $continuity)),
            'removal' => $chip === null ? [] : ContinuityPlan::afterRemoval($board, $chip->ref),
            'tested' => array_map(static fn (ContinuitySeen $test): array => ['from' => $test->from, 'to' => $test->to, 'closed' => $test->closed], $continuity),
            'gates' => array_map(static fn (GateCheck $check): array => ['output' => $check->output, 'sentence' => $check->sentence], GateCheck::all($structure, $states)),
            'clocks' => array_map(static function (array $node) use ($seen): array {
                $measured = null;
                foreach ($seen as $name => $reading) {
                    $measured = $reading->hz !== null && $name === $node['pin'] ? $reading->hz : $measured;
                }

                return ['net' => $node['net'], 'pin' => $node['pin'], 'from' => $node['from'], 'hz' => $node['hz'], 'words' => PinProbed::frequency($node['hz']), 'note' => $node['note'], 'measured' => $measured === null ? null : PinProbed::frequency($measured), 'says' => $measured === null ? '' : ClockTree::explain($node['hz'], $measured)];
            }, self::clocks($board, $expected)),
            'nets' => array_values(array_map(static fn (Net $each): array => ['name' => $each->name, 'kind' => $each->kind, 'pins' => $each->pins], array_filter($board->netlist->nets, static fn (Net $each): bool => ! $each->isPower()))),
        ];
    }

    /**
     * @return array<string, mixed>|null
     */
    public static function select(Assessment $assessment, BoardProfile $board, string $chip, int $address, Radix $radix): ?array
    {
        $check = SelectCheck::of(new Machine($board, [], 1, positions: $assessment->now->settings->positions), Structure::of($board), $chip, $address);
        if ($check === null) {
            return null;
        }
        $text = Notation::format($address, $radix, $board->bus->addressWidth);
        $seen = [];
        foreach (Sample::of($assessment->samples, PinSeen::class) as ['state' => $state, 'what' => $each]) {
            if ($each->situation === Situation::Selecting && $each->address === $text && $each->state !== null && $state->sameParts($assessment->now)) {
                $seen[$each->pin] = $each->state;
            }
        }
        $level = static fn (array $at): array => ['pin' => $at['pin'], 'called' => $board->netlist->called($at['pin']), 'net' => $board->netlist->netOf($at['pin'])->name ?? '', 'level' => $at['level'] === 0 ? 'low' : 'high', 'seen' => ($seen[$at['pin']] ?? null)?->value];
        $broken = $check->broken($seen);

        return [
            'chip' => $chip, 'address' => $text, 'select' => $check->select, 'reached' => $check->reached, 'broken' => $broken,
            'stages' => array_map(static fn (array $stage): array => ['chip' => $stage['chip'], 'part' => $board->chips[$stage['chip']]->part, 'role' => $board->chips[$stage['chip']]->role, 'inputs' => array_map($level, $stage['inputs']), 'output' => $level($stage['output'])], $check->stages),
        ];
    }

    /**
     * The situation in which a pin was probed last; running its ROM when none was.
     */
    public static function lastSituation(Assessment $assessment): Situation
    {
        $situation = Situation::Running;
        foreach (Sample::of($assessment->samples, PinSeen::class) as ['what' => $seen]) {
            $situation = $seen->situation === Situation::Selecting ? $situation : $seen->situation;
        }

        return $situation;
    }

    /**
     * The last reading of each pin in a situation, with the parts that are in now.
     *
     * @return array<string, PinSeen>
     */
    private static function seen(Assessment $assessment, Situation $situation): array
    {
        $seen = [];
        foreach (Sample::of($assessment->samples, PinSeen::class) as ['state' => $state, 'what' => $each]) {
            if ($each->situation === $situation && $state->sameParts($assessment->now)) {
                $seen[$each->pin] = $each;
            }
        }

        return $seen;
    }

    /**
     * @param  array<string, array{state: string|null, hz: float|null, by: string}>  $expected
     * @param  array<string, PinSeen>  $seen
     * @return array<string, mixed>
     */
    private static function pin(BoardProfile $board, string $name, array $expected, array $seen): array
    {
        $reading = $seen[$name] ?? null;

        return [
            'pin' => $name, 'called' => $board->netlist->called($name), 'net' => $board->netlist->netOf($name)?->name,
            'expected' => $expected[$name]['state'] ?? null, 'hz' => isset($expected[$name]['hz']) ? PinProbed::frequency($expected[$name]['hz']) : null, 'by' => $expected[$name]['by'] ?? Expectations::BY_PROFILE,
            'seen' => $reading === null ? null : match (true) {
                $reading->hz !== null => PinProbed::frequency($reading->hz),
                $reading->volts !== null => "{$reading->volts} V, ".($reading->state->value ?? ''),
                default => $reading->state->value ?? ($reading->judged === true ? 'right' : 'wrong'),
            },
            'right' => $reading?->isRight(),
        ];
    }

    /**
     * @param  callable(string): array<string, mixed>  $pin
     * @return array<string, mixed>
     */
    private static function path(PathStrip $strip, BoardProfile $board, callable $pin): array
    {
        return [
            'net' => $strip->net->name,
            'stages' => array_map(static fn (array $stage): array => ['chip' => $stage['chip'], 'part' => $board->chips[$stage['chip']]->part, 'role' => $board->chips[$stage['chip']]->role, 'inputs' => array_map($pin, $stage['inputs']), 'output' => $pin($stage['output'])], $strip->stages),
            'loads' => array_map($pin, $strip->loads), 'drivers' => array_map($pin, $strip->drivers), 'removable' => $strip->removable, 'next' => $strip->next, 'parts' => $strip->parts, 'breaks' => $strip->breaks, 'between' => $strip->between,
        ];
    }

    /**
     * @return array<string, mixed>
     */
    private static function continuity(ContinuityPlan $plan): array
    {
        return ['net' => $plan->net->name, 'points' => $plan->points, 'test' => $plan->test, 'wire' => $plan->wire, 'most' => $plan->most];
    }

    /**
     * @param  array<string, array{state: string|null, hz: float|null, by: string}>  $expected
     * @return list<array{net: string, pin: string, from: string|null, hz: float, note: string}>
     */
    private static function clocks(BoardProfile $board, array $expected): array
    {
        return ClockTree::from($board, array_map(static fn (array $at): ?float => $at['hz'], $expected))->nodes;
    }
}
