<?php

declare(strict_types=1);

namespace ZapTrace\Bench;

use ZapTrace\Board\BoardProfile;
use ZapTrace\Board\Chip;
use ZapTrace\Board\Settings;
use ZapTrace\Diagnostics\DiagnosticResult;
use ZapTrace\Formats\JsonNode;
use ZapTrace\Observations\Assessment;
use ZapTrace\Observations\Interpreters;
use ZapTrace\Observations\NoAttachments;
use ZapTrace\Observations\Observation;
use ZapTrace\Parts\PartLibrary;
use ZapTrace\Reasoning\Equipment;
use ZapTrace\Reasoning\FailureModes;
use ZapTrace\Reasoning\MachineState;
use ZapTrace\Reasoning\School;
use ZapTrace\Reasoning\SiteKind;
use ZapTrace\Reasoning\Step;
use ZapTrace\Reasoning\StepAdvisor;
use ZapTrace\Reasoning\StepCosts;
use ZapTrace\Reasoning\StepKnowledge;
use ZapTrace\Reasoning\Workbench;

/**
 * Random machines are broken and repaired: by the advice, or as a human in a hurry would.
 */
final readonly class Trial
{
    /** Steps after which the advice gives up. */
    private const STEPS = 100;

    /** The same step with the same answer is not taken more often. */
    private const REPEATS = 2;

    /** Minutes after which a human in a hurry gives up; they count. */
    public const PATIENCE = 240.0;

    private const CONFIDENCE = 0.95;

    public function __construct(private FailureModes $modes, private PartLibrary $parts, private StepKnowledge $knowledge, private FaultTable $table, private LogicShelf $shelf)
    {
    }

    /**
     * @param  'zap'|'table'|'ram-first'  $strategy
     * @param  list<InjectedFault>|null  $faults  what is wrong, where it is not drawn from the table
     * @param  Workbench|null  $workbench  what the advice may use; every instrument and part where it is null
     */
    public function run(BoardProfile $board, int $seed, int $count, string $strategy, School $school = School::MeasureFirst, ?array $faults = null, ?Workbench $workbench = null): TrialCase
    {
        $faults ??= $this->faults($board, $seed, $count);
        $bench = new SimulatedBench($board, $faults, $seed, $this->shelf, $this->table->tears);

        if ($this->waitsForWarmth($board, $faults, $seed)) {
            // Its owner said that it fails when it has run for a while.
            $bench->do('warm', SimulatedBench::ALL);
        }

        return $strategy === 'zap' ? $this->advised($bench, $faults, $seed, $workbench ?? self::allAtHand($bench, $school)) : $this->hurried($bench, $faults, $seed, $strategy);
    }

    /**
     * @return list<InjectedFault>
     */
    public function faults(BoardProfile $board, int $seed, int $count): array
    {
        return $this->table->break($board, $seed, $count, fn (array $faults): bool => $this->shows($board, $faults, $seed, true));
    }

    /**
     * Whether a machine with these is well until it is warm.
     *
     * @param  list<InjectedFault>  $faults
     */
    public function waitsForWarmth(BoardProfile $board, array $faults, int $seed): bool
    {
        return array_filter($faults, static fn (InjectedFault $fault): bool => $fault->whenWarm) !== [] && ! $this->shows($board, $faults, $seed, false);
    }

    /**
     * Whether a machine with these is sick. What comes and goes is looked at a few times.
     *
     * @param  list<InjectedFault>  $faults
     */
    private function shows(BoardProfile $board, array $faults, int $seed, bool $warm): bool
    {
        for ($look = 0; $look < 3; $look++) {
            $bench = new SimulatedBench($board, $faults, $seed + $look, $this->shelf, 0.0);
            $bench->do($warm ? 'warm' : 'cool', SimulatedBench::ALL);
            if (! $bench->works()) {
                return true;
            }
        }

        return false;
    }

    private static function allAtHand(SimulatedBench $bench, School $school): Workbench
    {
        return new Workbench($school, [...Workbench::usual()->equipment, Equipment::Analyser, Equipment::EpromReader], array_values(array_unique(array_map(static fn (Chip $chip): string => $chip->part, $bench->board->chips))), confidence: self::CONFIDENCE);
    }

    /**
     * @param  list<InjectedFault>  $faults
     */
    private function advised(SimulatedBench $bench, array $faults, int $seed, Workbench $workbench): TrialCase
    {
        $apprentice = new Apprentice($bench);
        $advisor = StepAdvisor::usual($this->modes, $this->parts, $this->knowledge);
        $log = $bench->isWarm() ? [self::noted(1, ['kind' => 'condition', 'payload' => ['condition' => 'warm']])] : [];
        $told = [];
        $taken = [];
        $minutes = 0.0;
        $firstRight = null;
        $proved = false;
        for ($number = 0; $number < self::STEPS; $number++) {
            $assessment = Assessment::of($bench->board, $bench->board->radix, $log, Interpreters::all(), new NoAttachments, $this->modes);
            $outlook = $assessment->outlook($bench->board, $workbench->confidence);
            $step = $this->chosen($advisor->steps($assessment->conclusion, $workbench, $outlook), $taken);
            if ($step === null) {
                break;
            }
            if ($step->action === 'prove' && $outlook->proof?->isProved() === true) {
                $proved = true;
                break;
            }
            // A rail that turns out right, and a link that is moved for a test or looked at and stands right, are measured, not repaired.
            $measuresOnly = ! $bench->isFaulty($step->site) && (in_array($step->action, ['set', 'reseat'], true) || $step->action === 'fix' && ($bench->board->chips[$step->site] ?? null)?->kind() === 'regulator');
            if (Apprentice::isRepair($step, $bench->board) && ! $measuresOnly) {
                $right = $bench->isFaulty($step->site) || $step->action === 'wire' && $bench->isOpenAt($step->site);
                $firstRight ??= $right;
                $told[] = ($right ? '' : 'good: ').$step->key();
            } else {
                $told[] = $step->key();
            }
            $observation = $apprentice->take($step);
            $minutes += Apprentice::minutes($step, $observation);
            if (Apprentice::changes($step)) {
                // The machine is another one now: what was measured before may be measured again.
                $taken = array_filter($taken, static fn (int $times, string $key): bool => $times >= 99 && str_starts_with($key, $step->key()), ARRAY_FILTER_USE_BOTH);
            }
            $taken[$step->key().' '.json_encode($observation)] = ($taken[$step->key().' '.json_encode($observation)] ?? 0) + 1;
            if ($observation === null || $taken[$step->key().' '.json_encode($observation)] > self::REPEATS) {
                $taken[$step->key()] = 99;

                continue;
            }
            $told[count($told) - 1] .= ' '.self::shortly($observation);
            $log[] = self::noted(count($log) + 1, $observation);
        }

        return new TrialCase($seed, $faults, $proved && $bench->left() === [] && $bench->isWhole(), $firstRight, $told, $minutes, $bench->goodSoldered, $bench->goodPulled);
    }

    /**
     * @param  array{kind: string, payload: array<string, mixed>}  $observation
     */
    private static function noted(int $number, array $observation): Observation
    {
        return new Observation((string) $number, $observation['kind'], JsonNode::of(json_decode((string) json_encode($observation['payload']), false)));
    }

    /**
     * @param  list<Step>  $steps
     * @param  array<string, int>  $taken
     */
    private function chosen(array $steps, array $taken): ?Step
    {
        foreach ($steps as $step) {
            if (($taken[$step->key()] ?? 0) < 99) {
                return $step;
            }
        }

        return null;
    }

    /**
     * As a human in a hurry: what the diagnostic's table names is replaced, or all of the memory chip by chip; then the
     * rest, the larger parts first.
     *
     * @param  list<InjectedFault>  $faults
     */
    private function hurried(SimulatedBench $bench, array $faults, int $seed, string $strategy): TrialCase
    {
        $costs = new StepCosts($bench->board, $this->parts, $this->knowledge, new MachineState(Settings::of($bench->board)), Workbench::usual());
        $minutes = 0.0;
        $told = [];
        $firstRight = null;
        $order = array_values(array_filter($bench->board->chips, static fn (Chip $chip): bool => ! in_array($chip->kind(), ['discrete', 'connector'], true)));
        usort($order, static fn (Chip $a, Chip $b): int => ($strategy === 'ram-first' ? ($b->kind() === 'dram' ? 1 : 0) <=> ($a->kind() === 'dram' ? 1 : 0) : 0) ?: ($b->type->pins ?? 0) <=> ($a->type->pins ?? 0) ?: strnatcmp($a->ref, $b->ref));
        $done = [];
        while ($minutes < self::PATIENCE && ! $bench->works()) {
            $bench->powerOn();
            $named = [];
            foreach ($strategy === 'table' ? array_slice($bench->board->diagnostics, 0, 1) : [] as $diagnostic) {
                $minutes += $diagnostic->minutes;
                $result = $bench->diagnostic($diagnostic);
                foreach ($result === DiagnosticResult::PASS || $result === DiagnosticResult::NOTHING ? [] : $diagnostic->read($result)->codes as $code) {
                    $named[] = $code->bit === null ? $code->sites[0] ?? '' : $bench->board->banks[$code->bit['bank']]->chipOfLine[$code->bit['line']] ?? '';
                }
            }
            $next = array_values(array_diff([...$named, ...array_map(static fn (Chip $chip): string => $chip->ref, $order)], array_keys($done)))[0] ?? null;
            if ($next === null) {
                break;
            }
            $done[$next] = true;
            $firstRight ??= $bench->isFaulty($next);
            $minutes += ($bench->isSocketed($next) ? 3.0 : $costs->repair($next, SiteKind::Chip) - $this->knowledge->repair('pads')) + 2.0;
            $bench->do('replace', $next);
            $told[] = "replace {$next}";
        }
        $revived = $bench->left() === [];

        return new TrialCase($seed, $faults, $revived, $firstRight, $told, $revived ? $minutes : max($minutes, self::PATIENCE), $bench->goodSoldered, $bench->goodPulled);
    }

    /**
     * @param  array{kind: string, payload: array<string, mixed>}  $observation
     */
    private static function shortly(array $observation): string
    {
        $payload = $observation['payload'];
        $shown = $payload['result'] ?? $payload['state'] ?? $payload['sign'] ?? $payload['volts'] ?? $payload['feel'] ?? $payload['text'] ?? $payload['clean'] ?? (isset($payload['wrong']) && is_array($payload['wrong']) ? implode(' ', array_map(static fn (mixed $pin): string => is_array($pin) ? implode(' ', array_filter($pin, is_string(...))) : '', $payload['wrong'])) : '');

        return is_scalar($shown) ? strtr((string) $shown, ["\n" => ', ']) : '';
    }
}
