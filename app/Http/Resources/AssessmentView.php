<?php

declare(strict_types=1);

namespace App\Http\Resources;

use ZapTrace\Board\BoardProfile;
use ZapTrace\Board\MapRange;
use ZapTrace\Board\RangeKind;
use ZapTrace\Board\Settings;
use ZapTrace\Ledger\Ledger;
use ZapTrace\Memory\BitTally;
use ZapTrace\Memory\MemoryMapping;
use ZapTrace\Memory\PatternFinding;
use ZapTrace\Memory\Reading;
use ZapTrace\Memory\ReadingTable;
use ZapTrace\Observations\Assessment;
use ZapTrace\Observations\ContextWords;
use ZapTrace\Observations\SetAside;
use ZapTrace\Reasoning\Caution;
use ZapTrace\Reasoning\Experience;
use ZapTrace\Reasoning\MachineState;
use ZapTrace\Reasoning\Outlook;
use ZapTrace\Reasoning\Reason;
use ZapTrace\Reasoning\Step;
use ZapTrace\Reasoning\Suspect;
use ZapTrace\Reasoning\Verdicts;

/**
 * An assessment as JSON for the page and for scripts.
 *
 * @phpstan-type Bit array{bit: int, chip: string, tested: int, able: int, failed: int, stuck: string, pattern: string, patternWords: string, unstable: int, cleared: bool}
 * @phpstan-type Bank array{name: string, from: int|null, to: int|null, bits: list<Bit>}
 * @phpstan-type SuspectView array{site: string, kind: string, seat: string|null, share: float, experience?: string, because: list<string>, reasons: list<array{words: string, decibans: float, observation: string|null}>}
 * @phpstan-type View array{settings: array<string, string>, observations: array<string, array{title: string, notes: list<string>, unreadable: string|null, context: list<string>}>, context: list<string>, conditions: list<string>, unplugged: list<string>, done: array<string, string>, displaced: list<array{part: string, seat: string|null, borrowed: bool}>, memory: array<string, mixed>, suspects: list<SuspectView>, assemblies: list<array{id: string, name: string, share: float}>, verdicts: list<string>, setAside: list<array{action: string, site: string, reason: string, words: string}>, rivals: list<array{sites: list<string>, share: float}>, cured: list<array{site: string, share: float}>, notices: list<string>, comparison: array{words: string, passed: bool}|null, nothingLeft: float, steps: list<array<string, mixed>>, held: string, round: array<string, mixed>}
 */
final class AssessmentView
{
    private const TABLE_ROWS = 400;

    /**
     * @param  list<Step>  $steps  the best first
     * @return View
     */
    public static function of(Assessment $assessment, BoardProfile $board, array $steps, Outlook $outlook, string $prefix, Experience $experience): array
    {
        $observations = [];
        foreach ($assessment->states as $id => $state) {
            $contribution = $assessment->contributions[$id] ?? null;
            $observations[$id] = [
                'title' => $contribution->title ?? 'Not readable under the present settings',
                'notes' => $contribution->notes ?? [],
                'unreadable' => $assessment->unreadable[$id] ?? null,
                'context' => [...array_map(static fn (string $ref, string $position): string => "{$ref} at {$position}", array_keys($state->settings->changedFrom($board)), $state->settings->changedFrom($board)), ...ContextWords::of($state, $board)],
            ];
        }
        $table = ReadingTable::of($board->bus, $assessment->readings, self::TABLE_ROWS);

        return [
            'settings' => $assessment->now->settings->positions,
            'context' => ContextWords::of($assessment->now, $board),
            'conditions' => array_map(strval(...), array_keys($assessment->now->conditions)),
            'unplugged' => array_map(strval(...), array_keys($assessment->now->unplugged)),
            'done' => $assessment->now->done,
            'displaced' => self::displaced($assessment->now),
            'observations' => $observations,
            'memory' => [
                'readings' => $assessment->memory->readings,
                'failed' => $assessment->memory->failed,
                'outside' => $assessment->memory->outside,
                'clearedChips' => $assessment->memory->clearedChips(),
                'beforeTheParts' => $assessment->partsChanged,
                'banks' => self::banks($assessment->memory, $assessment->now->settings, $board),
                'findings' => array_map(static fn (PatternFinding $finding): array => [
                    'pattern' => $finding->pattern->value,
                    'scope' => $finding->scope->value,
                    'banks' => $finding->banks,
                    'bits' => $finding->lines,
                    'chips' => $finding->chips,
                    'failed' => $finding->failed,
                    'able' => $finding->able,
                    'confidence' => $finding->confidence,
                    'sentence' => $finding->sentence,
                ], $assessment->memory->findings),
                'ruler' => [
                    'ranges' => array_map(static fn (MapRange $range): array => [
                        'from' => $range->from, 'to' => $range->to, 'kind' => $range->kind->value, 'name' => $range->name, 'bank' => $range->bank,
                        'linked' => $range->when !== [],
                    ], $assessment->ruler->ranges),
                    'failing' => $assessment->ruler->failing,
                    'tested' => $assessment->ruler->tested,
                    'firstFailing' => array_values(array_unique(array_filter(
                        array_map(static fn ($contribution): ?int => $contribution->firstFailing, $assessment->contributions),
                        static fn (?int $address): bool => $address !== null,
                    ))),
                ],
                'table' => [
                    'rows' => array_map(static fn (Reading $reading): array => [
                        'address' => $reading->address, 'expected' => $reading->expected, 'read' => $reading->read, 'bits' => $reading->bits, 'page' => $reading->page,
                        'firstLine' => $board->bus->firstLineOf($reading->bits === 8 ? $reading->address : $reading->address + ($board->bus->bigEndian ? intdiv($reading->bits, 8) - 1 : 0)),
                    ], $table->rows),
                    'more' => $table->more,
                ],
            ],
            'suspects' => array_map(static fn (Suspect $suspect): array => [...self::suspect($suspect), 'experience' => $experience->words($board, $suspect->site)], $assessment->conclusion->suspects()),
            'assemblies' => array_map(static fn (string $id, float $share): array => ['id' => $id, 'name' => $board->findAssembly($id)->name ?? $id, 'share' => round($share, 6)], array_map(strval(...), array_keys($assessment->conclusion->assemblies())), array_values($assessment->conclusion->assemblies())),
            'verdicts' => (new Verdicts($assessment->conclusion))->sentences(),
            'setAside' => array_values(array_map(static fn (array $step): array => [...$step, 'words' => SetAside::REASONS[$step['reason']] ?? $step['reason']], $assessment->setAside)),
            'rivals' => array_slice($assessment->conclusion->rivals(), 0, 5),
            'cured' => array_map(static fn (string $site, float $share): array => ['site' => $site, 'share' => $share], array_map(strval(...), array_keys($assessment->conclusion->cured())), array_values($assessment->conclusion->cured())),
            'notices' => $assessment->notices,
            'comparison' => $assessment->comparison === null ? null : ['words' => $assessment->comparison->words, 'passed' => $assessment->comparison->passed],
            'nothingLeft' => $assessment->conclusion->nothingLeft(),
            'steps' => array_map(self::step(...), array_slice($steps, 0, 8)),
            'held' => $outlook->held(),
            'round' => RoundView::of($assessment, $board, $outlook, Ledger::of($assessment, $board, $prefix), $experience),
        ];
    }

    /**
     * Chips that do not sit where they came, and what is borrowed.
     *
     * @return list<array{part: string, seat: string|null, borrowed: bool}>
     */
    private static function displaced(MachineState $now): array
    {
        $displaced = [];
        foreach ($now->displaced() as $part => $seat) {
            $displaced[] = ['part' => (string) $part, 'seat' => $seat, 'borrowed' => str_ends_with((string) $part, MachineState::SECOND)];
        }

        return $displaced;
    }

    /**
     * @return SuspectView
     */
    public static function suspect(Suspect $suspect): array
    {
        return ['site' => $suspect->site, 'kind' => $suspect->kind->value, 'seat' => $suspect->seat, 'share' => round($suspect->share, 6), 'because' => $suspect->because, 'reasons' => array_map(static fn (Reason $reason): array => ['words' => $reason->words, 'decibans' => round($reason->decibans, 1), 'observation' => $reason->observation], array_slice($suspect->reasons, 0, 12))];
    }

    /**
     * @return array<string, mixed>
     */
    private static function step(Step $step): array
    {
        return [
            'action' => $step->action, 'site' => $step->site, 'sentence' => $step->sentence, 'tells' => $step->tells,
            'minutes' => $step->minutes, 'risk' => $step->risk, 'caution' => $step->caution, 'cautions' => array_map(static fn (Caution $caution): array => ['kind' => $caution->kind, 'name' => $caution->name, 'words' => $caution->words], $step->cautions), 'bits' => round($step->bits, 2), 'saves' => round($step->saves, 1),
            'kind' => $step->kind, 'access' => $step->access, 'missing' => $step->missing,
            'outcomes' => array_map(static fn (array $outcome): array => [...$outcome, 'chance' => round($outcome['chance'], 3)], $step->outcomes),
        ];
    }

    /**
     * @return list<Bank>
     */
    public static function banks(MemoryMapping $mapping, Settings $settings, BoardProfile $board): array
    {
        $banks = [];
        foreach ($board->banks as $bank) {
            $ranges = array_filter(
                $board->map->reachedBy('read', $settings),
                static fn (MapRange $range): bool => $range->kind === RangeKind::Ram && $range->bank === $bank->name,
            );
            $banks[] = [
                'name' => $bank->name,
                'from' => $ranges === [] ? null : min(array_map(static fn (MapRange $range): int => $range->from, $ranges)),
                'to' => $ranges === [] ? null : max(array_map(static fn (MapRange $range): int => $range->to, $ranges)),
                'bits' => array_values(array_map(static fn (BitTally $bit): array => [
                    'bit' => $bit->line,
                    'chip' => $bit->chip,
                    'tested' => $bit->tested(),
                    'able' => $bit->able(),
                    'failed' => $bit->failed(),
                    'stuck' => $bit->stuck()->value,
                    'pattern' => $mapping->patterns[$bank->name][$bit->line]->value,
                    'patternWords' => $mapping->patterns[$bank->name][$bit->line]->words(),
                    'unstable' => $bit->unstable,
                    'cleared' => $bit->isCleared(),
                ], $mapping->bits[$bank->name])),
            ];
        }

        return $banks;
    }
}
