<?php

declare(strict_types=1);

namespace ZapTrace\Memory;

/**
 * Names the patterns in which the bits of all banks fail.
 *
 * What explains most is looked for first, and what it explains is not looked at again: never eight chips where one
 * enable explains it, never one chip per bank where one line explains it. Within a bank the order is: fading, the
 * whole bank, aliases, tied bits, unstable cells, every address, then rows, columns, blocks and cells.
 */
final class PatternClassifier
{
    /** With fewer failing lines than this, single chips are likelier than their common enable: one to three bad chips of eight is usual (common practice). */
    private const LINES_FOR_A_BANK = 4;

    /** From so many readings on a bit that is always wrong is no chance. */
    private const FIRM = 16;

    /** The part of the able readings of a row, column or block that must fail for it to be called dead. */
    private const NEARLY_ALL = 0.9;

    /** Where nothing answers and the bus reads at random, half of what is read is right by chance. */
    private const GARBAGE = 0.4;

    private const PLACES = 4;

    /** @var list<PatternFinding> */
    private array $findings = [];

    /** @var array<string, Pattern> "bank/line" => pattern */
    private array $patterns = [];

    /**
     * @param  array<string, Tally>  $tallies  by bank
     * @param  array<string, AliasSearch>  $aliases  by bank
     */
    public function __construct(private readonly array $tallies, private readonly array $aliases)
    {
    }

    /**
     * @return list<PatternFinding>
     */
    public function findings(): array
    {
        $this->findings = [];
        $this->patterns = [];
        $everywhere = [];
        foreach ($this->tallies as $name => $tally) {
            $this->fading($tally);
            $this->wholeBank($tally);
            $this->alias($tally);
            $this->tied($tally);
            $this->unstable($tally);
            $all = $this->isRubbish($tally);
            if ($all) {
                $this->forgetChips($tally);
            }
            $everywhere[$name] = array_values(array_filter($this->everyAddress($tally), static fn (int $line): bool => ! $all || $tally->bits[$line]->able() >= self::FIRM));
        }
        $this->mergeAcrossBanks();
        $this->sameBitEveryBank($everywhere);
        foreach ($this->tallies as $name => $tally) {
            $this->chipsEverywhere($tally, $everywhere[$name]);
            $this->places($tally);
        }

        return $this->findings;
    }

    public function patternOf(string $bank, int $line): Pattern
    {
        return $this->patterns["{$bank}/{$line}"] ?? Pattern::None;
    }

    /**
     * How sure one may be of what n readings out of n showed: the rule of succession, (n + 1) / (n + 2).
     */
    public static function confidence(int $readings): float
    {
        return ($readings + 1) / ($readings + 2);
    }

    /** Every bit is wrong somewhere, and nothing was found that all have in common: in few readings a bit is then wrong alike by chance. */
    private function isRubbish(Tally $tally): bool
    {
        foreach ($this->findings as $finding) {
            if ($finding->scope !== Scope::Chip && in_array($tally->bank->name, $finding->banks, true)) {
                return false;
            }
        }

        return count($tally->bits) >= self::LINES_FOR_A_BANK && array_filter($tally->bits, static fn (BitTally $bit): bool => $bit->failed() === 0) === [];
    }

    /** What was said of single chips of a bank in few readings. */
    private function forgetChips(Tally $tally): void
    {
        $forget = fn (PatternFinding $finding): bool => $finding->pattern === Pattern::Alias && $finding->scope === Scope::Chip && $finding->banks === [$tally->bank->name] && $finding->able < self::FIRM;
        foreach (array_filter($this->findings, $forget) as $finding) {
            foreach ($finding->lines as $line) {
                unset($this->patterns["{$tally->bank->name}/{$line}"]);
            }
        }
        $this->findings = array_values(array_filter($this->findings, static fn (PatternFinding $finding): bool => ! $forget($finding)));
    }

    private function wholeBank(Tally $tally): void
    {
        $lines = array_keys($tally->bits);
        if ($lines === []) {
            return;
        }
        $groups = [$lines];
        $lanes = [];
        foreach ($lines as $line) {
            $lanes[$line >> 3][] = $line;
        }
        if (count($lanes) > 1) {
            $groups = [$lines, ...array_values($lanes)];
        }
        foreach ($groups as $group) {
            if (array_filter($group, fn (int $line): bool => $this->patternOf($tally->bank->name, $line) !== Pattern::None) !== []) {
                continue;
            }
            $bits = array_map(static fn (int $line): BitTally => $tally->bits[$line], $group);
            $kind = $this->bankFailure($tally, $bits);
            if ($kind === null) {
                continue;
            }
            $failing = array_values(array_filter($bits, static fn (BitTally $bit): bool => $bit->failed() > 0));
            $readings = max(array_map(static fn (BitTally $bit): int => $bit->tested(), $bits));
            $whose = count($group) === count($lines)
                ? "Every bit of bank {$tally->bank->name}"
                : 'Every bit of the lane D'.max($group).' to D'.min($group)." of bank {$tally->bank->name}";
            $this->add(new PatternFinding(
                $kind,
                Scope::Bank,
                [$tally->bank->name],
                $group,
                $this->chipsOf($tally, $group),
                array_sum(array_map(static fn (BitTally $bit): int => $bit->failed(), $failing)),
                array_sum(array_map(static fn (BitTally $bit): int => $bit->able(), $failing)),
                self::confidence($readings) * count($failing) / count($bits),
                [],
                false,
                $kind === Pattern::NothingDrives
                    ? "{$whose} reads 1 at every address tried ({$readings}), as a bus does that nothing drives."
                    : "{$whose} is wrong wherever it could show ({$readings} ".($readings === 1 ? 'reading' : 'readings').'). One select, strobe or supply explains that better than '.Wording::count(count($this->chipsOf($tally, $group)), 'bad chip', 'bad chips').'.',
            ));
            if ($group === $lines) {
                return;
            }
        }
    }

    /**
     * @param  list<BitTally>  $bits
     */
    private function bankFailure(Tally $tally, array $bits): ?Pattern
    {
        $failing = array_filter($bits, static fn (BitTally $bit): bool => $bit->failed() > 0);
        if (count($failing) < min(self::LINES_FOR_A_BANK, count($bits)) || count($failing) * 2 < count($bits)) {
            return null;
        }
        $lanes = array_unique(array_map(static fn (BitTally $bit): int => $bit->line >> 3, $bits));
        foreach ([[Stuck::High, "\xFF"], [Stuck::Low, "\0"]] as [$stuck, $value]) {
            $constant = array_filter($bits, static fn (BitTally $bit): bool => $bit->couldBeConstant()
                && ($bit->failed() > 0 ? $bit->stuck() === $stuck : ($stuck === Stuck::High ? $bit->ableHigh === 0 : $bit->ableLow === 0)));
            if (count($constant) === count($bits)) {
                return $stuck === Stuck::High ? Pattern::NothingDrives : Pattern::AllBits;
            }
        }
        foreach ($lanes as $lane) {
            if (! $this->readsAddress($tally, $lane * 8)) {
                // All lines wrong, and often: no cell answers as it should.
                $bad = array_filter($bits, static fn (BitTally $bit): bool => $bit->failsEverywhere()
                    || ($bit->failed() * 4 >= $bit->able() && ($bit->stuck() === Stuck::Either || $bit->ableHigh === 0 || $bit->ableLow === 0)));

                return count($bad) === count($bits) && ! $this->aliased($tally, $bits) ? Pattern::AllBits : null;
            }
        }

        return Pattern::NothingDrives;
    }

    /** The bus holds its last value where nothing drives it: often the upper part of the address just fetched. */
    private function readsAddress(Tally $tally, int $firstLine): bool
    {
        $seen = 0;
        foreach ($tally->slices as $slice) {
            if ($slice->firstLine !== $firstLine) {
                continue;
            }
            for ($offset = 0, $count = $slice->block->count(); $offset < $count; $offset++) {
                if ($slice->owns($offset) && ord($slice->block->read[$offset]) !== (($slice->block->addressAt($offset) >> 8) & 0xFF)) {
                    return false;
                }
                $seen++;
            }
        }

        return $seen >= self::PLACES;
    }

    /**
     * @param  list<BitTally>  $bits
     */
    private function aliased(Tally $tally, array $bits): bool
    {
        $lines = [];
        foreach ($bits as $bit) {
            $lines[$bit->line] = true;
        }

        return count($this->aliases[$tally->bank->name]->search($tally, $lines)) * 2 > count($bits);
    }

    private function alias(Tally $tally): void
    {
        $open = $this->open($tally, static fn (BitTally $bit): bool => ! $bit->failsEverywhere());
        if ($open === []) {
            return;
        }
        $groups = [];
        foreach ($this->aliases[$tally->bank->name]->search($tally, $open) as $line => $alias) {
            $groups[implode(',', $alias['addressLines']).($alias['shorted'] ? ' shorted' : '')][$line] = $alias;
        }
        // A bit that was wrong wherever it could be is no other fault where the same lost line explains it as well.
        foreach ($groups === [] ? [] : $this->aliases[$tally->bank->name]->search($tally, $this->open($tally, static fn (BitTally $bit): bool => $bit->failed() > 0)) as $line => $alias) {
            $same = implode(',', $alias['addressLines']).($alias['shorted'] ? ' shorted' : '');
            if (! isset($open[$line]) && count($groups[$same] ?? []) >= self::LINES_FOR_A_BANK) {
                $groups[$same][$line] = $alias;
                ksort($groups[$same]);
            }
        }
        foreach ($groups as $found) {
            $lines = array_keys($found);
            $chips = $this->chipsOf($tally, $lines);
            // Of what is wrong everywhere nothing is known.
            $able = $this->chipsOf($tally, array_values(array_unique([...$lines, ...array_keys(array_filter($tally->bits, static fn (BitTally $bit): bool => $bit->tested() > 0 && ! $bit->failsEverywhere()))])));
            $wholeBank = count($chips) * 2 > count($able) && (count($chips) > 1 || count($tally->bank->chips()) === 1);
            foreach ($wholeBank ? [$lines] : $this->byChip($tally, $lines) as $group) {
                $first = $found[$group[0]];
                $shown = max(array_map(static fn (int $line): int => $found[$line]['shown'], $group));
                $which = Wording::list(array_map(static fn (int $line): string => "A{$line}", $first['addressLines']));
                $this->add(new PatternFinding(
                    Pattern::Alias,
                    $wholeBank ? Scope::Bank : Scope::Chip,
                    [$tally->bank->name],
                    $group,
                    $this->chipsOf($tally, $group),
                    $this->sum($tally, $group, static fn (BitTally $bit): int => $bit->failed()),
                    $this->sum($tally, $group, static fn (BitTally $bit): int => $bit->able()),
                    self::confidence($shown),
                    $first['addressLines'],
                    false,
                    ($first['shorted']
                        ? "{$which} act as one line for bank {$tally->bank->name}"
                        : "Addresses of bank {$tally->bank->name} that differ in {$which} hold the same")
                        .($wholeBank ? '' : ' in '.Wording::list($this->chipsOf($tally, $group)))
                        .": {$shown} of {$first['checked']} addresses looked at show it, and none speaks against it. "
                        .match (true) {
                            ! $wholeBank => 'That chip does not see its address as it should.',
                            $first['shorted'] => 'They are shorted.',
                            default => "{$which} ".(count($first['addressLines']) > 1 ? 'do' : 'does').' not reach the memory as '.(count($first['addressLines']) > 1 ? 'they' : 'it').' should.',
                        },
                ));
            }
        }
    }

    private function tied(Tally $tally): void
    {
        $open = $this->open($tally, static fn (BitTally $bit): bool => ! $bit->failsEverywhere());
        if ($open === []) {
            return;
        }
        foreach ((new TiedSearch)->search($tally, $open) as [$a, $b, $differ, $same, $right]) {
            if ($this->patternOf($tally->bank->name, $a) !== Pattern::None || $this->patternOf($tally->bank->name, $b) !== Pattern::None) {
                continue;
            }
            $this->add(new PatternFinding(
                Pattern::TiedBits,
                Scope::Bank,
                [$tally->bank->name],
                [$a, $b],
                $this->chipsOf($tally, [$a, $b]),
                $differ,
                $differ,
                self::confidence(min($differ, $same)),
                [],
                false,
                "Bits {$a} and {$b} of bank {$tally->bank->name} follow each other: they read the same in all {$differ} readings in which they were to differ, and ".($right ? 'right' : 'the same')." in the {$same} in which they were to be the same.".($right ? '' : ' Another address is read as well in some.'),
            ));
        }
    }

    private function fading(Tally $tally): void
    {
        $lines = array_keys($this->open($tally, static fn (BitTally $bit): bool => $bit->heldFailed > 0
            && $bit->failed() === $bit->heldFailed && $bit->tested() > $bit->heldAble));
        $chips = $this->chipsOf($tally, $lines);
        $wholeBank = count($chips) > 1 && count($chips) * 2 > count($tally->bank->chips());
        foreach ($lines === [] ? [] : ($wholeBank ? [$lines] : $this->byChip($tally, $lines)) as $group) {
            $failed = $this->sum($tally, $group, static fn (BitTally $bit): int => $bit->failed());
            $able = $this->sum($tally, $group, static fn (BitTally $bit): int => $bit->heldAble);
            $this->add(new PatternFinding(
                Pattern::Fades,
                $wholeBank ? Scope::Bank : Scope::Chip,
                [$tally->bank->name],
                $group,
                $this->chipsOf($tally, $group),
                $failed,
                $able,
                self::confidence(min($failed, $this->sum($tally, $group, static fn (BitTally $bit): int => $bit->tested() - $bit->heldAble))),
                [],
                false,
                ucfirst(Wording::bits($group))." of bank {$tally->bank->name} are right at once and wrong after a pause ({$failed} of {$able}): the contents fade. "
                    .($wholeBank ? 'All chips fading together points at refresh.' : 'One chip alone leaks.'),
            ));
        }
    }

    private function unstable(Tally $tally): void
    {
        $lines = array_keys($this->open($tally, static fn (BitTally $bit): bool => $bit->unstable > 0));
        $chips = $this->chipsOf($tally, $lines);
        $wholeBank = count($chips) >= self::LINES_FOR_A_BANK && count($chips) * 2 > count($tally->bank->chips());
        foreach ($lines === [] ? [] : ($wholeBank ? [$lines] : $this->byChip($tally, $lines)) as $group) {
            $cells = max(array_map(static fn (int $line): int => $tally->bits[$line]->unstable, $group));
            $this->add(new PatternFinding(
                Pattern::Unstable,
                $wholeBank ? Scope::Bank : Scope::Chip,
                [$tally->bank->name],
                $group,
                $this->chipsOf($tally, $group),
                $this->sum($tally, $group, static fn (BitTally $bit): int => $bit->failed()),
                $this->sum($tally, $group, static fn (BitTally $bit): int => $bit->able()),
                self::confidence($cells),
                [],
                false,
                ucfirst(Wording::bits($group))." of bank {$tally->bank->name} gave different answers at ".Wording::count($cells, 'address that was', 'addresses that were').' read twice: timing, contention, or a marginal chip. '
                    .Wording::list($this->chipsOf($tally, $group)).' '.(count($this->chipsOf($tally, $group)) > 1 ? 'hold those bits.' : 'holds it.'),
            ));
        }
    }

    /** One lost address line, or one short, that shows in several banks is one finding, not one per bank. */
    private function mergeAcrossBanks(): void
    {
        $groups = [];
        foreach ($this->findings as $finding) {
            $shared = match (true) {
                $finding->scope !== Scope::Bank => null,
                $finding->pattern === Pattern::Alias => 'alias '.implode(',', $finding->addressLines),
                $finding->pattern === Pattern::TiedBits => 'tied '.implode(',', $finding->lines),
                default => null,
            };
            $groups[$shared ?? spl_object_id($finding)][] = $finding;
        }
        $this->findings = [];
        foreach ($groups as $same) {
            $this->findings[] = count($same) === 1 ? $same[0] : $this->merged($same);
        }
    }

    /**
     * @param  non-empty-list<PatternFinding>  $same
     */
    private function merged(array $same): PatternFinding
    {
        $banks = array_values(array_unique(array_merge(...array_map(static fn (PatternFinding $finding): array => $finding->banks, $same))));
        $lines = array_values(array_unique(array_merge(...array_map(static fn (PatternFinding $finding): array => $finding->lines, $same))));
        sort($lines);
        $failed = array_sum(array_map(static fn (PatternFinding $finding): int => $finding->failed, $same));
        $able = array_sum(array_map(static fn (PatternFinding $finding): int => $finding->able, $same));
        $where = 'in banks '.Wording::list($banks).' alike';
        $lost = Wording::list(array_map(static fn (int $line): string => "A{$line}", $same[0]->addressLines));

        return new PatternFinding(
            $same[0]->pattern,
            Scope::Line,
            $banks,
            $lines,
            array_values(array_unique(array_merge(...array_map(static fn (PatternFinding $finding): array => $finding->chips, $same)))),
            $failed,
            $able,
            max(array_map(static fn (PatternFinding $finding): float => $finding->confidence, $same)),
            $same[0]->addressLines,
            false,
            $same[0]->pattern === Pattern::Alias
                ? "Addresses that differ in {$lost} hold the same {$where}: {$lost} is lost before it reaches the banks, or in what they share."
                : ucfirst(Wording::bits($lines))." follow each other {$where}: a short on the lines the banks share, not in each bank.",
        );
    }

    /**
     * @return list<int> lines that fail wherever they could show it
     */
    private function everyAddress(Tally $tally): array
    {
        return array_keys($this->open($tally, static fn (BitTally $bit): bool => $bit->failsEverywhere()
            || ($bit->able() >= 50 && $bit->failed() >= 0.98 * $bit->able())));
    }

    /**
     * @param  array<string, list<int>>  $everywhere  by bank; what is explained here is taken out
     */
    private function sameBitEveryBank(array &$everywhere): void
    {
        $banksOfLine = [];
        foreach ($everywhere as $name => $lines) {
            foreach ($lines as $line) {
                $banksOfLine[$line][] = $name;
            }
        }
        ksort($banksOfLine);
        foreach ($banksOfLine as $line => $names) {
            if (count($names) < 2 || $this->seenGood($line, $names)) {
                continue;
            }
            $bits = array_map(fn (string $name): BitTally => $this->tallies[$name]->bits[$line], $names);
            $ways = array_unique(array_map(static fn (BitTally $bit): string => $bit->stuck()->value, $bits));
            if (count($ways) > 1) {
                continue; // High in one bank and low in the other is no common line.
            }
            $this->add(new PatternFinding(
                Pattern::SameBitEveryBank,
                Scope::Line,
                $names,
                [$line],
                array_map(static fn (BitTally $bit): string => $bit->chip, $bits),
                array_sum(array_map(static fn (BitTally $bit): int => $bit->failed(), $bits)),
                array_sum(array_map(static fn (BitTally $bit): int => $bit->able(), $bits)),
                self::confidence(min(array_map(static fn (BitTally $bit): int => $bit->able(), $bits))),
                [],
                false,
                "Bit {$line} is wrong wherever it could show in every bank tried (".Wording::list($names)."): the data line D{$line} or its buffer, not one bad chip in each bank.",
            ));
            foreach ($names as $name) {
                $everywhere[$name] = array_values(array_diff($everywhere[$name], [$line]));
            }
        }
    }

    /**
     * Whether the line was read right, in a reading that could have shown the fault, in a bank beside these.
     *
     * @param  list<string>  $failing
     */
    private function seenGood(int $line, array $failing): bool
    {
        $stuck = $this->tallies[$failing[0]]->bits[$line]->stuck();
        foreach ($this->tallies as $name => $tally) {
            $bit = $tally->bits[$line] ?? null;
            if ($bit === null || in_array($name, $failing, true)) {
                continue;
            }
            $good = match ($stuck) {
                Stuck::High => $bit->ableHigh - $bit->failedHigh,
                Stuck::Low => $bit->ableLow - $bit->failedLow,
                default => $bit->tested() - $bit->failed(),
            };
            if ($good > 0) {
                return true;
            }
        }

        return false;
    }

    /**
     * @param  list<int>  $lines
     */
    private function chipsEverywhere(Tally $tally, array $lines): void
    {
        foreach ($this->byChip($tally, $lines) as $group) {
            $bits = array_map(static fn (int $line): BitTally => $tally->bits[$line], $group);
            $failed = array_sum(array_map(static fn (BitTally $bit): int => $bit->failed(), $bits));
            $able = array_sum(array_map(static fn (BitTally $bit): int => $bit->able(), $bits));
            $tried = min(array_map(static fn (BitTally $bit): int => $bit->able(), $bits));
            $chip = $bits[0]->chip;
            $ways = array_unique(array_map(static fn (BitTally $bit): string => $bit->stuck()->value, $bits));
            $reads = match (count($ways) === 1 ? $ways[0] : 'either') {
                'high' => count($group) > 1 ? 'read 1' : 'reads 1',
                'low' => count($group) > 1 ? 'read 0' : 'reads 0',
                default => count($group) > 1 ? 'read wrong' : 'reads wrong',
            };
            $where = match (count($ways) === 1 ? $ways[0] : 'either') {
                'high' => 'where 0 was expected',
                'low' => 'where 1 was expected',
                default => 'tried',
            };
            $this->add(new PatternFinding(
                Pattern::EveryAddress,
                Scope::Chip,
                [$tally->bank->name],
                $group,
                [$chip],
                $failed,
                $able,
                self::confidence($tried),
                [],
                $this->seenGood($group[0], [$tally->bank->name]),
                ucfirst(Wording::bits($group))." of bank {$tally->bank->name} {$reads} ".($tried === 1
                    ? "in the one reading {$where}: read a few more addresses to be sure. "
                    : ($failed === $able ? "in all {$tried} readings {$where}. " : "in {$failed} of {$able} readings {$where}. "))
                    ."{$chip} holds ".(count($group) > 1 ? 'those bits.' : 'that bit.'),
            ));
        }
    }

    /** Rows, columns, blocks and cells: what fails in some places only. */
    private function places(Tally $tally): void
    {
        $open = $this->open($tally, static fn (BitTally $bit): bool => true);
        if ($open === []) {
            return;
        }
        $places = new FailurePlaces($tally, $open);
        $groups = [];
        foreach (array_keys($open) as $line) {
            $shape = $this->shape($tally, $places, $line);
            $groups["{$shape['pattern']->value}/{$shape['where']}"][] = ['line' => $line, ...$shape];
        }
        foreach ($groups as $shapes) {
            $lines = array_column($shapes, 'line');
            $chips = $this->chipsOf($tally, $lines);
            $pattern = $shapes[0]['pattern'];
            $wholeBank = $pattern !== Pattern::Cells && count($chips) > 1 && count($chips) * 2 > count($tally->bank->chips());
            foreach ($wholeBank ? [$lines] : $this->byChip($tally, $lines) as $group) {
                $mine = array_values(array_filter($shapes, static fn (array $shape): bool => in_array($shape['line'], $group, true)));
                $failed = $this->sum($tally, $group, static fn (BitTally $bit): int => $bit->failed());
                $able = array_sum(array_column($mine, 'able'));
                $where = $pattern === Pattern::Cells
                    ? "at {$failed} of {$able} readings that could show it"
                    : "in {$mine[0]['where']}, {$failed} of {$able} readings there";
                $this->add(new PatternFinding(
                    $pattern,
                    $wholeBank ? Scope::Bank : Scope::Chip,
                    [$tally->bank->name],
                    $group,
                    $this->chipsOf($tally, $group),
                    $failed,
                    $this->sum($tally, $group, static fn (BitTally $bit): int => $bit->able()),
                    // A cell that failed once may have been misread once; only failures make it surer.
                    $pattern === Pattern::Cells ? self::confidence($failed) : self::confidence(self::least(array_column($mine, 'able'))) * min(1.0, $failed / max(1, $able)),
                    [],
                    $this->seenGood($group[0], [$tally->bank->name]),
                    ucfirst(Wording::bits($group))." of bank {$tally->bank->name} ".(count($group) > 1 ? 'fail' : 'fails')." {$where}. "
                        .($wholeBank ? 'The same place in '.count($chips).' chips points at what addresses or selects them.' : $this->chipsOf($tally, $group)[0].' holds '.(count($group) > 1 ? 'those bits.' : 'that bit.')),
                ));
            }
        }
    }

    /**
     * @return array{pattern: Pattern, where: string, able: int}
     */
    private function shape(Tally $tally, FailurePlaces $places, int $line): array
    {
        $failed = $tally->bits[$line]->failed();
        $multiplex = $tally->bank->multiplex;
        if ($multiplex !== null && $failed >= self::PLACES) {
            $rows = $places->rowsOf($line);
            $columns = $places->columnsOf($line);
            if (count($rows) <= self::PLACES && count($columns) >= self::PLACES * count($rows)) {
                $able = $places->ableInRows($line, $rows);
                if ($this->isDead($tally, $line, $able)) {
                    return ['pattern' => Pattern::Row, 'where' => $this->named('row', $rows), 'able' => $able];
                }
            }
            if (count($columns) <= self::PLACES && count($rows) >= self::PLACES * count($columns)) {
                $able = $places->ableInColumns($line, $columns);
                if ($this->isDead($tally, $line, $able)) {
                    return ['pattern' => Pattern::Column, 'where' => $this->named('column', $columns), 'able' => $able];
                }
            }
        }
        $extent = $places->extentOf($line);
        if ($extent !== null && $failed >= 2 * self::PLACES) {
            $size = 1;
            while (intdiv($extent[0], $size) !== intdiv($extent[1], $size)) {
                $size <<= 1;
            }
            $from = intdiv($extent[0], $size) * $size;
            $able = $places->ableBetween($line, $from, $from + $size - 1);
            if ($this->isDead($tally, $line, $able)) {
                return ['pattern' => Pattern::Block, 'where' => sprintf('the block of %s at %04X of the bank', $this->size($size), $from), 'able' => $able];
            }
        }

        return ['pattern' => Pattern::Cells, 'where' => 'cells', 'able' => $tally->bits[$line]->able()];
    }

    /** Nearly all of a place fails, and there was something elsewhere that passed. */
    private function isDead(Tally $tally, int $line, int $able): bool
    {
        $bit = $tally->bits[$line];

        return $bit->failed() >= ($bit->stuck() === Stuck::Either ? self::GARBAGE : self::NEARLY_ALL) * $able && $bit->able() > $able;
    }

    /**
     * @param  list<int>  $places
     */
    private function named(string $what, array $places): string
    {
        $hex = array_map(static fn (int $place): string => sprintf('%02X', $place), $places);

        return (count($places) === 1 ? $what : "{$what}s").' '.Wording::list($hex);
    }

    private function size(int $bytes): string
    {
        return $bytes >= 1024 ? intdiv($bytes, 1024).' KiB' : "{$bytes} bytes";
    }

    private function add(PatternFinding $finding): void
    {
        $this->findings[] = $finding;
        foreach ($finding->banks as $bank) {
            foreach ($finding->lines as $line) {
                if ($this->tallies[$bank]->bits[$line]->failed() > 0) {
                    $this->patterns["{$bank}/{$line}"] ??= $finding->pattern;
                }
            }
        }
    }

    /**
     * Failing lines that no pattern explains yet.
     *
     * @param  callable(BitTally): bool  $test
     * @return array<int, BitTally>
     */
    private function open(Tally $tally, callable $test): array
    {
        return array_filter(
            $tally->bits,
            fn (BitTally $bit): bool => $bit->failed() > 0 && $this->patternOf($bit->bank, $bit->line) === Pattern::None && $test($bit),
        );
    }

    /**
     * @param  list<int>  $lines
     * @return list<string>
     */
    private function chipsOf(Tally $tally, array $lines): array
    {
        return array_values(array_unique(array_map(static fn (int $line): string => $tally->bits[$line]->chip, $lines)));
    }

    /**
     * @param  list<int>  $lines
     * @return list<non-empty-list<int>>
     */
    private function byChip(Tally $tally, array $lines): array
    {
        $groups = [];
        foreach ($lines as $line) {
            $groups[$tally->bits[$line]->chip][] = $line;
        }

        return array_values($groups);
    }

    /**
     * @param  list<int>  $numbers
     */
    private static function least(array $numbers): int
    {
        return $numbers === [] ? 0 : min($numbers);
    }

    /**
     * @param  list<int>  $lines
     * @param  callable(BitTally): int  $count
     */
    private function sum(Tally $tally, array $lines, callable $count): int
    {
        return array_sum(array_map(static fn (int $line): int => $count($tally->bits[$line]), $lines));
    }
}
