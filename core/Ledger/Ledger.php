<?php

declare(strict_types=1);

namespace ZapTrace\Ledger;

use ZapTrace\Board\BoardProfile;
use ZapTrace\Observations\Assessment;
use ZapTrace\Observations\PartMark;
use ZapTrace\Observations\Sample;
use ZapTrace\Reasoning\Evidence;
use ZapTrace\Reasoning\MachineState;

/**
 * Where every physical part has been that was ever moved, tested or marked, told from the log itself: what is withdrawn
 * there never happened here.
 */
final readonly class Ledger
{
    /**
     * @param  list<PartHistory>  $parts
     */
    private function __construct(public array $parts)
    {
    }

    /**
     * @param  string  $prefix  of the labels that are proposed, short for the machine
     */
    public static function of(Assessment $assessment, BoardProfile $board, string $prefix): self
    {
        $marks = [];
        foreach (Sample::of($assessment->samples, PartMark::class) as ['what' => $mark]) {
            $marks[$mark->part] = ['label' => $mark->label === '' ? $marks[$mark->part]['label'] ?? '' : $mark->label, 'drawer' => $mark->drawer === '' ? $marks[$mark->part]['drawer'] ?? '' : $mark->drawer];
        }
        $tests = [];
        foreach ($assessment->conclusion->evidence as $seen) {
            if ($seen->kind === Evidence::TESTER && $seen->site !== null) {
                $tests[$seen->site][] = ['words' => $seen->words, 'failed' => $seen->abnormal, 'observation' => $seen->observation ?? ''];
            }
        }
        $known = [...array_keys($marks), ...array_keys($tests)];
        foreach ([...array_values($assessment->states), $assessment->now] as $state) {
            array_push($known, ...array_map(strval(...), array_keys($state->seats)), ...array_values($state->seats));
        }
        $parts = [];
        foreach (array_unique(array_filter($known, static fn (string $part): bool => $part !== '' && isset($board->chips[self::position($part)]))) as $part) {
            $parts[] = self::history($part, $assessment, $board, $prefix, $marks[$part] ?? null, $tests[$part] ?? []);
        }
        usort($parts, static fn (PartHistory $a, PartHistory $b): int => strnatcmp(self::position($a->part), self::position($b->part)) ?: strcmp($a->part, $b->part));

        return new self($parts);
    }

    /**
     * @return list<PartHistory> chips that are not where they started
     */
    public function displaced(): array
    {
        return array_values(array_filter($this->parts, static fn (PartHistory $part): bool => ! $part->home));
    }

    /**
     * @return list<PartHistory> parts of the second machine that are in this one, and of this one in the second
     */
    public function borrowed(): array
    {
        return array_values(array_filter($this->parts, static fn (PartHistory $part): bool => $part->isLent()));
    }

    /** Short for a machine, for the labels that are proposed: its initials and figures. */
    public static function prefix(string $machine): string
    {
        preg_match_all('/[A-Za-z0-9]+/', $machine, $words);

        return strtoupper(implode('', array_map(static fn (string $word): string => ctype_digit($word) ? $word : $word[0], array_slice($words[0], 0, 4)))) ?: 'J';
    }

    /** The position a part is named by. */
    private static function position(string $part): string
    {
        return (string) preg_replace('/^new | \(\d+\)$/', '', MachineState::position($part));
    }

    /**
     * @param  array{label: string, drawer: string}|null  $mark
     * @param  list<array{words: string, failed: bool, observation: string}>  $tests
     */
    private static function history(string $part, Assessment $assessment, BoardProfile $board, string $prefix, ?array $mark, array $tests): PartHistory
    {
        $isNew = str_starts_with($part, 'new ');
        $ofSecond = str_ends_with($part, MachineState::SECOND);
        $position = self::position($part);
        $drawer = ($mark['drawer'] ?? '') === '' ? 'the bench' : $mark['drawer'];
        $start = $isNew ? 'the drawer' : ($ofSecond ? "{$position} of the second machine" : $position);
        $places = [['place' => $start, 'observation' => null]];
        $put = static fn (?string $seat): string => $seat ?? ($isNew ? 'the drawer' : 'out');
        $last = $start;
        foreach ($assessment->states as $observation => $state) {
            // A new part that is not in yet still lies in its drawer.
            $place = $put($state->seatOf($part));
            if ($place !== $last && ! ($isNew && $place === 'the drawer' && count($places) === 1)) {
                $places[] = ['place' => $place, 'observation' => (string) $observation];
                $last = $place;
            }
        }
        $seat = $assessment->now->seatOf($part);
        $here = $seat !== null && ! str_ends_with($seat, MachineState::SECOND);
        $now = $seat ?? ($isNew && $drawer === 'the bench' ? 'the drawer' : $drawer);
        $places = array_map(static fn (array $place): array => [...$place, 'place' => $place['place'] === 'out' ? 'out, on the bench' : $place['place']], $places);
        $conclusion = $assessment->conclusion;
        $faulty = max($conclusion->posterior->sites[$part] ?? 0.0, $here && $seat === $part ? 0.0 : ($conclusion->cured()[$part] ?? 0.0));

        return new PartHistory(
            $part, $board->chips[$position]->part, ($mark['label'] ?? '') === '' ? $prefix.'-'.($isNew ? 'N' : ($ofSecond ? '2' : '')).str_replace(' ', '', (string) preg_replace('/^new /', '', MachineState::position($part))) : $mark['label'], ($mark['label'] ?? '') !== '',
            $places, $tests, $now, $here ? $seat : null, $isNew ? $seat === null || $here : $seat === $part, $ofSecond, ! $ofSecond && $seat !== null && ! $here, round($faulty, 4),
        );
    }
}
