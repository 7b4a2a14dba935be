<?php

declare(strict_types=1);

namespace ZapTrace\Record;

use ZapTrace\Board\BoardProfile;
use ZapTrace\Ledger\Ledger;
use ZapTrace\Observations\Assessment;
use ZapTrace\Observations\Look;
use ZapTrace\Observations\Picture;
use ZapTrace\Observations\Sample;
use ZapTrace\Observations\Seen;
use ZapTrace\Reasoning\Conclusion;
use ZapTrace\Reasoning\ProofPlan;
use ZapTrace\Reasoning\Reason;
use ZapTrace\Reasoning\Verdicts;
use ZapTrace\Signals\SignLog;

/**
 * What the owner gets to read: the symptom, what was found, what was replaced and why, what remains, what is borrowed,
 * and what was tested; in plain words.
 */
final readonly class OwnerRecord
{
    private const DONE = ['replace' => 'replaced', 'exchange' => 'exchanged for a good one', 'wire' => 'mended with a wire', 'fix' => 'put right', 'set' => 'set right', 'clean' => 'cleaned', 'bridge' => 'bridged for the moment', 'reseat' => 'reseated', 'exchange-second' => 'exchanged with the second machine'];

    private const WORTH_TELLING = 0.05;

    /**
     * @param  list<string>  $found  sentences
     * @param  list<array{site: string, part: string, what: string, why: list<string>}>  $done
     * @param  list<string>  $remains  sentences
     * @param  list<string>  $borrowed  sentences
     * @param  list<array{name: string, result: string, good: bool}>  $tested
     * @param  list<array{sha1: string, caption: string}>  $photos
     */
    private function __construct(
        public array $found,
        public array $done,
        public array $remains,
        public array $borrowed,
        public array $tested,
        public array $photos,
    ) {
    }

    public static function of(Assessment $assessment, BoardProfile $board, Ledger $ledger, ProofPlan $proof): self
    {
        $conclusion = $assessment->conclusion;

        return new self(
            self::found($assessment, $board),
            self::done($conclusion, $board),
            self::remains($conclusion, $proof, $board),
            array_map(static fn ($part): string => $part->borrowed
                ? "{$part->part} ({$part->type}, marked {$part->label}) is borrowed and has to go back."
                : "{$part->part} ({$part->type}, marked {$part->label}) is in the second machine and has to come back.", $ledger->borrowed()),
            self::tested($assessment, $board, $proof),
            array_map(static fn (array $sample): array => ['sha1' => $sample['what']->sha1, 'caption' => $sample['what']->caption], Sample::of($assessment->samples, Picture::class)),
        );
    }

    /**
     * @return list<string>
     */
    private static function found(Assessment $assessment, BoardProfile $board): array
    {
        $found = [];
        foreach (Sample::of($assessment->samples, Seen::class) as ['what' => $seen]) {
            if ($seen->finding !== 'fine') {
                $found[] = "{$seen->site}".self::called($seen->site, $board).': '.(Look::FINDINGS[$seen->finding] ?? $seen->finding).'.';
            }
        }
        foreach ($assessment->contributions as $contribution) {
            foreach ($contribution->measured as $measured) {
                if ($measured instanceof \ZapTrace\Signals\RailReading) {
                    array_push($found, ...$contribution->notes);
                }
            }
        }
        $verdicts = (new Verdicts($assessment->conclusion))->sentences();
        $said = implode(' ', $verdicts);
        foreach ($assessment->conclusion->found() as $site => $share) {
            // What a sentence below says of a part is not said twice.
            if (! str_contains($said, (string) $site)) {
                $found[] = "{$site}".self::called((string) $site, $board).' was at fault ('.(int) round(100 * $share).' % sure).';
            }
        }
        array_push($found, ...$verdicts);
        $signs = SignLog::of($assessment->samples);
        if ($signs->words !== '') {
            $found[] = "At power-on: {$signs->words}";
        }

        return array_values(array_unique($found));
    }

    /**
     * @return list<array{site: string, part: string, what: string, why: list<string>}>
     */
    private static function done(Conclusion $conclusion, BoardProfile $board): array
    {
        $done = [];
        foreach ($conclusion->now->done + $conclusion->now->mended as $site => $action) {
            $site = (string) $site;
            if (! isset(self::DONE[$action])) {
                continue;
            }
            $why = array_values(array_unique(array_map(static fn (Reason $reason): string => $reason->words, $conclusion->explained($site))));
            $done[] = ['site' => $site, 'part' => $board->chips[$site]->part ?? '', 'what' => self::DONE[$action], 'why' => array_slice($why, 0, 4)];
        }

        return $done;
    }

    /**
     * @return list<string>
     */
    private static function remains(Conclusion $conclusion, ProofPlan $proof, BoardProfile $board): array
    {
        $remains = [];
        if ($conclusion->nothingLeft() < 0.5) {
            foreach (array_slice($conclusion->suspects(), 0, 3) as $suspect) {
                if ($suspect->share >= self::WORTH_TELLING) {
                    $remains[] = "{$suspect->site}".self::called($suspect->site, $board).' is suspected ('.(int) round(100 * $suspect->share).' %).';
                }
            }
        }
        foreach ($proof->open as $each) {
            array_push($remains, ...array_map(static fn (array $pin): string => "{$pin['pin']} is not connected to {$pin['to']}.", $each));
        }
        foreach ($proof->unmeasured as $ref) {
            $remains[] = "The pins of {$ref} were not measured after it was unsoldered.";
        }
        foreach ($proof->functions as $id => $works) {
            $name = $board->findFunction((string) $id)->name ?? (string) $id;
            if ($works === false) {
                $remains[] = ucfirst($name).' does not work.';
            }
        }
        foreach ($proof->untested() as $id) {
            $remains[] = ucfirst($board->findFunction($id)->name ?? $id).' was not tested.';
        }

        return $remains;
    }

    /**
     * @return list<array{name: string, result: string, good: bool}>
     */
    private static function tested(Assessment $assessment, BoardProfile $board, ProofPlan $proof): array
    {
        $tested = [];
        foreach ($proof->functions as $id => $works) {
            if ($works !== null) {
                $tested[] = ['name' => ucfirst($board->findFunction((string) $id)->name ?? (string) $id), 'result' => $works ? 'works' : 'does not work', 'good' => $works];
            }
        }
        if ($proof->clean > 0) {
            $tested[] = ['name' => 'Power-ons', 'result' => "{$proof->clean} clean in a row".($proof->needed > $proof->clean ? " of {$proof->needed} wanted" : ''), 'good' => $proof->cleanRunsLeft() === 0];
        }
        if ($proof->minutes > 0.0) {
            $tested[] = ['name' => 'Long run', 'result' => (int) round($proof->minutes).' minutes without a fault', 'good' => true];
        }
        if ($assessment->comparison?->passed === true) {
            $tested[] = ['name' => 'Diagnostic', 'result' => 'passes', 'good' => true];
        }
        if ($assessment->memory->readings > 0 && ! $assessment->partsChanged) {
            $tested[] = ['name' => 'Memory', 'result' => "{$assessment->memory->readings} readings, {$assessment->memory->failed} wrong", 'good' => $assessment->memory->failed === 0];
        }

        return $tested;
    }

    private static function called(string $site, BoardProfile $board): string
    {
        $chip = $board->chips[$site] ?? null;

        return $chip === null ? '' : ' ('.($chip->role === '' ? $chip->part : "{$chip->part}, {$chip->role}").')';
    }
}
