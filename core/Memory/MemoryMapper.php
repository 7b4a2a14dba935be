<?php

declare(strict_types=1);

namespace ZapTrace\Memory;

use ZapTrace\Board\BoardProfile;
use ZapTrace\Board\Settings;

/**
 * Maps readings to the banks, bits and chips of a board, and names the patterns in which they fail.
 */
final readonly class MemoryMapper
{
    public function __construct(private BoardProfile $board)
    {
    }

    /**
     * Readings are taken apart by the settings they were made under, and counted together by chip: a fault that
     * moves with a link is still the fault of one chip.
     *
     * @param  list<array{Settings, ReadingSet}>  $groups
     */
    public function map(array $groups): MemoryMapping
    {
        $groups = $this->gather($groups);
        $tallies = array_map(static fn ($bank): Tally => new Tally($bank), $this->board->banks);
        $readings = 0;
        $failed = 0;
        $outside = 0;
        $overlaid = [];
        $all = new ReadingSet($this->board->bus);
        foreach ($groups as [$settings, $set]) {
            $readings += $set->readings();
            $all->addAll($set);
            [$slices, $unanswered] = (new Slicer($this->board))->slice($set, $settings);
            $outside += $unanswered;
            $failed -= $set->furtherFailures();
            $laidOver = (new OverlaySearch($this->board))->find($slices, $settings);
            array_push($overlaid, ...array_column($laidOver, 'finding'));
            $aside = array_merge(...array_column($laidOver, 'slices'));
            foreach ($slices as $slice) {
                $failed += $slice->wrong();
                if (! in_array($slice, $aside, true)) {
                    $tallies[$slice->bank->name]->add($slice);
                }
            }
        }
        $aliases = [];
        foreach ($tallies as $name => $tally) {
            $tally->countUnstable();
            $aliases[$name] = new AliasSearch($this->board, $all);
        }

        $classifier = new PatternClassifier($tallies, $aliases);
        $findings = [...$classifier->findings(), ...$overlaid];
        $bits = [];
        $patterns = [];
        foreach ($tallies as $name => $tally) {
            $bits[$name] = $tally->bits;
            foreach (array_keys($tally->bits) as $line) {
                $patterns[$name][$line] = $classifier->patternOf((string) $name, $line);
            }
        }

        $apart = array_combine(array_keys($tallies), array_map(static fn (Tally $tally, AliasSearch $alias): array => $alias->apart($tally), $tallies, $aliases));

        $where = static fn (callable $is): array => array_map(static fn (): bool => true, array_filter($tallies, $is));

        return new MemoryMapping(
            $readings, max(0, $failed), $outside, $bits, $patterns, $findings, $apart,
            foreign: $where(static fn (Tally $tally): bool => $tally->isForeign()), everywhere: $where(static fn (Tally $tally): bool => $tally->isWrongEverywhere()),
        );
    }

    /**
     * Readings under the same settings belong together, in an order that does not depend on when they were made.
     *
     * @param  list<array{Settings, ReadingSet}>  $groups
     * @return list<array{Settings, ReadingSet}>
     */
    private function gather(array $groups): array
    {
        $gathered = [];
        foreach ($groups as [$settings, $set]) {
            $key = $settings->key();
            $gathered[$key] ??= [$settings, new ReadingSet($this->board->bus)];
            $gathered[$key][1]->addAll($set);
        }
        ksort($gathered);

        return array_values($gathered);
    }
}
