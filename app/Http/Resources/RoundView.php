<?php

declare(strict_types=1);

namespace App\Http\Resources;

use ZapTrace\Board\BoardProfile;
use ZapTrace\Ledger\Ledger;
use ZapTrace\Ledger\PartHistory;
use ZapTrace\Observations\Assessment;
use ZapTrace\Observations\Mark;
use ZapTrace\Observations\Picture;
use ZapTrace\Observations\Sample;
use ZapTrace\Observations\Seen;
use ZapTrace\Reasoning\Evidence;
use ZapTrace\Reasoning\Experience;
use ZapTrace\Reasoning\Outlook;
use ZapTrace\Reasoning\ProofPlan;
use ZapTrace\Record\OwnerRecord;
use ZapTrace\Signals\HeatPicture;
use ZapTrace\Signals\RailCheck;
use ZapTrace\Signals\RailPoint;
use ZapTrace\Signals\SignLog;
use ZapTrace\Signals\WarmPart;

/**
 * What the stages of the round beside memory and diagnostics show.
 */
final class RoundView
{
    /**
     * @return array<string, mixed>
     */
    public static function of(Assessment $assessment, BoardProfile $board, Outlook $outlook, Ledger $ledger, Experience $experience): array
    {
        $proof = $outlook->proof ?? $assessment->proof($board, 0.95);

        return [
            'looks' => array_map(static fn (array $sample): array => ['site' => $sample['what']->site, 'finding' => $sample['what']->finding, 'observation' => $sample['observation']], Sample::of($assessment->samples, Seen::class)),
            'supply' => ['measured' => $assessment->supply->isMeasured(), 'order' => $assessment->supply->order(), 'rails' => array_map(self::rail(...), $assessment->supply->rails)],
            'heat' => self::heat(HeatPicture::of($board, HeatPicture::present($assessment->samples, $assessment->now))),
            'signs' => self::signs(SignLog::of(SignLog::present($assessment->samples, $assessment->now))),
            'proof' => self::proof($proof),
            'photos' => self::photos($assessment),
            'ledger' => array_map(self::part(...), $ledger->parts),
            'experience' => array_values(array_filter(array_map(static fn (string $site): string => $experience->words($board, $site), array_map(strval(...), array_keys($experience->factors($board)))))),
            'marks' => [
                'signals' => self::mark($assessment, Evidence::PROBE),
                'traces' => self::mark($assessment, Evidence::CONTINUITY, Evidence::DROP),
                'rom' => self::mark($assessment, Evidence::ROM, Evidence::ROM_OUT),
                'bus' => self::mark($assessment, Evidence::BUS, Evidence::CONTENTION),
            ],
            'record' => self::record(OwnerRecord::of($assessment, $board, $ledger, $proof)),
        ];
    }

    /** Whether a stage found anything wrong: wrong, right, or null where nothing was measured. */
    private static function mark(Assessment $assessment, string ...$kinds): ?string
    {
        $seen = array_filter($assessment->conclusion->evidence, static fn (Evidence $seen): bool => in_array($seen->kind, $kinds, true));

        return match (true) {
            $seen === [] => null,
            array_filter($seen, static fn (Evidence $each): bool => $each->abnormal) !== [] => 'wrong',
            default => 'right',
        };
    }

    /**
     * @return array<string, mixed>
     */
    public static function record(OwnerRecord $record): array
    {
        return ['found' => $record->found, 'done' => $record->done, 'remains' => $record->remains, 'borrowed' => $record->borrowed, 'tested' => $record->tested, 'photos' => $record->photos];
    }

    /**
     * @return array<string, mixed>
     */
    private static function rail(RailCheck $check): array
    {
        return [
            'name' => $check->rail->name, 'volts' => $check->rail->volts, 'regulator' => $check->rail->regulator, 'feeds' => $check->rail->feeds,
            'nominalInput' => $check->rail->input, 'rippleAllowed' => $check->rail->rippleMillivolts,
            'min' => $check->limits()[0], 'max' => $check->limits()[1], 'budget' => $check->budget, 'amps' => $check->amps, 'input' => $check->input, 'drop' => $check->drop, 'watts' => $check->watts,
            'problems' => $check->problems, 'notices' => $check->notices, 'measured' => $check->isMeasured(),
            'points' => array_map(static fn (RailPoint $point): array => [
                'site' => $point->site, 'pin' => $point->pin, 'min' => $point->min, 'max' => $point->max, 'volts' => $point->volts, 'ripple' => $point->ripple,
                'unloaded' => $point->unloaded, 'out' => $point->isOut(), 'observation' => $point->observation,
            ], $check->points),
        ];
    }

    /**
     * @return array<string, mixed>
     */
    private static function heat(HeatPicture $picture): array
    {
        return [
            'room' => $picture->room, 'roomMeasured' => $picture->roomMeasured,
            'parts' => array_values(array_map(static fn (WarmPart $part): array => [
                'site' => $part->site, 'rise' => $part->rise, 'overLike' => $part->overLike, 'verdict' => $part->verdict, 'words' => $part->words,
                'felt' => $part->felt, 'onlyWithFault' => $part->onlyWithFault, 'observation' => $part->observation,
            ], $picture->parts)),
        ];
    }

    /**
     * @return array<string, mixed>
     */
    private static function signs(SignLog $log): array
    {
        return ['rows' => $log->rows, 'stable' => $log->stable, 'words' => $log->words];
    }

    /**
     * @return array<string, mixed>
     */
    private static function proof(ProofPlan $plan): array
    {
        return [
            'confidence' => $plan->confidence, 'shown' => $plan->shown, 'of' => $plan->of, 'lower' => round($plan->interval->lower, 4), 'upper' => round($plan->interval->upper, 4),
            'needed' => $plan->needed, 'clean' => $plan->clean, 'minutes' => $plan->minutes, 'rateLeft' => $plan->rateLeft() === null ? null : round($plan->rateLeft(), 4),
            'words' => $plan->words(), 'proved' => $plan->isProved(),
            'functions' => array_map(static fn (string $id, ?bool $works): array => ['id' => $id, 'works' => $works, 'wanted' => in_array((string) $id, $plan->wanted, true)], array_map(strval(...), array_keys($plan->functions)), $plan->functions),
            'unmeasured' => $plan->unmeasured,
            'open' => array_merge(...array_values($plan->open)),
        ];
    }

    /**
     * @return list<array<string, mixed>>
     */
    private static function photos(Assessment $assessment): array
    {
        $marks = [];
        foreach (Sample::of($assessment->samples, Mark::class) as ['observation' => $observation, 'what' => $mark]) {
            $marks[$mark->sha1][] = ['x' => $mark->x, 'y' => $mark->y, 'site' => $mark->site, 'note' => $mark->note, 'observation' => $observation];
        }

        return array_map(static fn (array $sample): array => [
            'sha1' => $sample['what']->sha1, 'width' => $sample['what']->width, 'height' => $sample['what']->height, 'caption' => $sample['what']->caption,
            'observation' => $sample['observation'], 'marks' => $marks[$sample['what']->sha1] ?? [],
        ], Sample::of($assessment->samples, Picture::class));
    }

    /**
     * @return array<string, mixed>
     */
    private static function part(PartHistory $part): array
    {
        return [
            'part' => $part->part, 'type' => $part->type, 'label' => $part->label, 'marked' => $part->marked, 'places' => $part->places, 'tests' => $part->tests,
            'now' => $part->now, 'seat' => $part->seat, 'home' => $part->home, 'lent' => $part->isLent(), 'where' => $part->where(), 'mustReturn' => $part->mustReturn(), 'suspected' => $part->isSuspected(), 'faulty' => $part->faulty,
        ];
    }
}
