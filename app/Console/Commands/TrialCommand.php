<?php

declare(strict_types=1);

namespace App\Console\Commands;

use App\Bench\BoardShelf;
use Illuminate\Console\Command;
use ZapTrace\Bench\FaultTable;
use ZapTrace\Bench\InjectedFault;
use ZapTrace\Bench\LogicShelf;
use ZapTrace\Bench\Trial;
use ZapTrace\Bench\TrialCase;
use ZapTrace\Parts\PartLibrary;
use ZapTrace\Reasoning\FailureModes;
use ZapTrace\Reasoning\School;
use ZapTrace\Reasoning\StepKnowledge;

/**
 * Breaks machines at random on the simulated bench and has them repaired: by the advice, or as a human in a hurry would.
 */
final class TrialCommand extends Command
{
    private const WORST = 5;

    protected $signature = 'zap:trial
        {--board= : Slug of a board with a netlist; all that ship when left out}
        {--cases=100 : How many machines are broken}
        {--seed=1 : Number of the first; the rest follow}
        {--faults=1..3 : How many faults a machine has, one number or a range}
        {--school=measure-first : measure-first, swap-first, clean-first or likelihood}
        {--strategy=zap : zap, table (believes the diagnostic) or ram-first (memory chip by chip, then the rest by size)}
        {--json : Print one JSON object}';

    protected $description = 'Try the advice on simulated machines with random faults';

    public function handle(BoardShelf $boards, FailureModes $modes, PartLibrary $parts, StepKnowledge $knowledge, FaultTable $table): int
    {
        $problems = [];
        $strategy = $this->text('strategy');
        if (! in_array($strategy, ['zap', 'table', 'ram-first'], true)) {
            $problems[] = "--strategy: There is no strategy \"{$strategy}\"; there are zap, table and ram-first.";
        }
        $school = School::tryFrom($this->text('school')) ?? School::MeasureFirst;
        if ($school->value !== $this->text('school')) {
            $problems[] = '--school: There is no school "'.$this->text('school').'"; there are '.implode(', ', array_map(static fn (School $each): string => $each->value, School::cases())).'.';
        }
        $range = preg_match('/^([1-3])(?:\.\.([1-3]))?$/', $this->text('faults'), $match) === 1 ? [(int) $match[1], (int) ($match[2] ?? $match[1])] : null;
        if ($range === null || $range[0] > $range[1]) {
            $problems[] = '--faults: Give a number from 1 to 3, or a range such as 1..3.';
        }
        $cases = (int) $this->text('cases');
        $seed = (int) $this->text('seed');
        if ($cases < 1 || $cases > 100000) {
            $problems[] = '--cases: Give a number from 1 to 100000.';
        }
        $wanted = $this->text('board');
        $slugs = $wanted === '' ? $boards->shipped() : [$wanted];
        // Boards of one's own are in the database, which a script need not have.
        $slugsKnown = rescue(static fn (): array => $boards->slugs(), $boards->shipped(), false);
        if ($wanted !== '' && ! in_array($wanted, $slugsKnown, true)) {
            $problems[] = "--board: There is no board \"{$wanted}\". There are ".implode(', ', $slugsKnown).'.';
        } elseif ($problems === [] && $boards->find($slugs[0])->netlist->isEmpty()) {
            $problems[] = "--board: {$wanted} has no netlist and cannot be simulated.";
        }
        if ($problems !== [] || $range === null) {
            foreach ($problems as $problem) {
                fwrite(STDERR, "{$problem}\n");
            }

            return 2;
        }
        $trial = new Trial($modes, $parts, $knowledge, $table, new LogicShelf);
        $done = [];
        for ($number = 0; $number < $cases; $number++) {
            $board = $boards->find($slugs[$number % count($slugs)]);
            $count = $range[0] + ($seed + $number) % ($range[1] - $range[0] + 1);
            /** @var 'zap'|'table'|'ram-first' $strategy */
            $done[] = ['board' => $board->slug, 'case' => $case = $trial->run($board, $seed + $number, $count, $strategy, $school)];
            if (! $this->option('json')) {
                $this->output->writeln(sprintf('%-13s %6d  %-8s %4.0f min  %s', $board->slug, $case->seed, $case->revived ? 'revived' : 'NOT', $case->minutes, implode('; ', array_map(static fn (InjectedFault $fault): string => $fault->words(), $case->faults))));
            }
        }
        $this->report($done);

        return self::SUCCESS;
    }

    /**
     * @param  non-empty-list<array{board: string, case: TrialCase}>  $done
     */
    private function report(array $done): void
    {
        $count = count($done);
        $cases = array_column($done, 'case');
        $acted = array_filter($cases, static fn (TrialCase $case): bool => $case->firstRight !== null);
        $mean = static fn (callable $of): float => array_sum(array_map($of, $cases)) / $count;
        usort($done, static fn (array $a, array $b): int => [$a['case']->revived, -$a['case']->minutes] <=> [$b['case']->revived, -$b['case']->minutes]);
        $summary = [
            'cases' => $count,
            'revived' => round($mean(static fn (TrialCase $case): int => (int) $case->revived), 4),
            'firstActedRight' => $acted === [] ? null : round(count(array_filter($acted, static fn (TrialCase $case): bool => $case->firstRight === true)) / count($acted), 4),
            'steps' => round($mean(static fn (TrialCase $case): int => count($case->steps)), 1),
            'minutes' => round($mean(static fn (TrialCase $case): float => $case->minutes), 1),
            'goodPartsRemoved' => round($mean(static fn (TrialCase $case): int => $case->goodSoldered), 3),
            'worst' => array_map(static fn (array $each): array => ['board' => $each['board'], 'seed' => $each['case']->seed, 'faults' => array_map(static fn (InjectedFault $fault): string => $fault->words(), $each['case']->faults), 'steps' => $each['case']->steps], array_slice($done, 0, self::WORST)),
        ];
        if ($this->option('json')) {
            $this->output->writeln(json_encode($summary, JSON_THROW_ON_ERROR | JSON_UNESCAPED_UNICODE | JSON_UNESCAPED_SLASHES));

            return;
        }
        $this->output->writeln(sprintf('%d machines: %.1f %% revived, first acted-on suspect right in %s, %.1f steps and %.0f minutes each, %.2f good soldered parts removed.', $count, 100 * $summary['revived'], $summary['firstActedRight'] === null ? 'no case' : sprintf('%.1f %%', 100 * $summary['firstActedRight']), $summary['steps'], $summary['minutes'], $summary['goodPartsRemoved']));
    }

    private function text(string $option): string
    {
        $value = $this->option($option);

        return is_string($value) ? $value : '';
    }
}
