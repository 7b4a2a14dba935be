<?php

declare(strict_types=1);

namespace App\Http\Resources;

use ZapTrace\Board\BoardProfile;
use ZapTrace\Board\MapRange;
use ZapTrace\Board\RangeKind;
use ZapTrace\Board\Settings;
use ZapTrace\Memory\BitTally;
use ZapTrace\Memory\MemoryMapping;
use ZapTrace\Memory\PatternFinding;
use ZapTrace\Memory\Reading;
use ZapTrace\Memory\ReadingTable;
use ZapTrace\Observations\Assessment;
use ZapTrace\Reasoning\Suspect;

/**
 * An assessment as JSON for the page and for scripts.
 *
 * @phpstan-type Bit array{bit: int, chip: string, tested: int, able: int, failed: int, stuck: string, pattern: string, patternWords: string, unstable: int, cleared: bool}
 * @phpstan-type Bank array{name: string, from: int|null, to: int|null, bits: list<Bit>}
 * @phpstan-type SuspectView array{site: string, kind: string, share: float, because: list<string>}
 * @phpstan-type View array{settings: array<string, string>, observations: array<string, array{title: string, notes: list<string>, unreadable: string|null, settings: array<string, string>}>, memory: array<string, mixed>, suspects: list<SuspectView>}
 */
final class AssessmentView
{
    private const TABLE_ROWS = 400;

    /**
     * @return View
     */
    public static function of(Assessment $assessment, BoardProfile $board): array
    {
        $observations = [];
        foreach ($assessment->settings as $id => $settings) {
            $contribution = $assessment->contributions[$id] ?? null;
            $observations[$id] = [
                'title' => $contribution->title ?? 'Not readable under the present settings',
                'notes' => $contribution->notes ?? [],
                'unreadable' => $assessment->unreadable[$id] ?? null,
                'settings' => $settings->changedFrom($board),
            ];
        }
        $table = ReadingTable::of($board->bus, $assessment->readings, self::TABLE_ROWS);

        return [
            'settings' => $assessment->now->positions,
            'observations' => $observations,
            'memory' => [
                'readings' => $assessment->memory->readings,
                'failed' => $assessment->memory->failed,
                'outside' => $assessment->memory->outside,
                'banks' => self::banks($assessment->memory, $assessment->now, $board),
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
            'suspects' => array_map(self::suspect(...), $assessment->suspects),
        ];
    }

    /**
     * @return SuspectView
     */
    public static function suspect(Suspect $suspect): array
    {
        return ['site' => $suspect->site, 'kind' => $suspect->kind->value, 'share' => round($suspect->share, 6), 'because' => $suspect->because];
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
