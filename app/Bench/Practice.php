<?php

declare(strict_types=1);

namespace App\Bench;

use App\Jobs\CompareWithAdvice;
use App\Models\Capture;
use App\Models\Job;
use App\Models\PracticeRun;
use Illuminate\Support\Facades\DB;
use ZapTrace\Bench\FaultTable;
use ZapTrace\Bench\InjectedFault;
use ZapTrace\Bench\Instruments;
use ZapTrace\Bench\LogicShelf;
use ZapTrace\Bench\SimulatedBench;
use ZapTrace\Bench\Trial;
use ZapTrace\Board\BoardProfile;
use ZapTrace\Numbers\Radix;
use ZapTrace\Parts\PartLibrary;
use ZapTrace\Problems\InputRejected;
use ZapTrace\Reasoning\FailureModes;
use ZapTrace\Reasoning\Step;
use ZapTrace\Reasoning\StepCosts;
use ZapTrace\Reasoning\StepKnowledge;
use ZapTrace\Reasoning\Workbench;
use ZapTrace\Signals\Situation;

/**
 * Machines that are broken for practice: instruments answer, and the observations go into the log of an ordinary job.
 */
final readonly class Practice
{
    /** Letters of a step and of what was seen, as it is told at the end. */
    private const TOLD = 100;

    public function __construct(
        private BoardShelf $boards,
        private Recorder $recorder,
        private Assessor $assessor,
        private FaultTable $table,
        private FailureModes $modes,
        private PartLibrary $parts,
        private StepKnowledge $knowledge,
        private Workshop $workshop,
    ) {
    }

    /**
     * @throws InputRejected when the board cannot be simulated
     */
    public function begin(string $slug, int $difficulty, int $seed): Job
    {
        $board = $this->boards->find($slug);
        if ($board->netlist->isEmpty() || $board->processor === null) {
            throw InputRejected::of('board', "{$board->name} has no netlist, or no processor is named in its profile: it cannot be simulated.");
        }
        $faults = $this->trial()->faults($board, $seed, $difficulty);
        if ($faults === []) {
            throw InputRejected::of('seed', 'Nothing that was broken shows on this board. Try another number.');
        }

        $symptom = $this->trial()->waitsForWarmth($board, $faults, $seed) ? 'It fails when it has run for a while. More is not known.' : 'It is dead, or not well. More is not known.';

        return DB::transaction(static function () use ($board, $slug, $difficulty, $seed, $faults, $symptom): Job {
            $job = Job::query()->create(['machine' => "Practice {$seed}", 'board_slug' => $slug, 'symptom' => $symptom, 'state' => 'open', 'radix' => $board->radix->value, 'fitted' => '']);
            PracticeRun::query()->create(['job_id' => $job->id, 'seed' => $seed, 'difficulty' => $difficulty, 'faults' => json_encode(array_map(static fn (InjectedFault $fault): array => $fault->toArray(), $faults), JSON_THROW_ON_ERROR), 'acts' => '[]']);

            return $job;
        });
    }

    /**
     * @throws InputRejected when the job is no practice
     */
    public static function run(Job $job): PracticeRun
    {
        return self::of($job) ?? throw InputRejected::of('', 'This is a real job: its instruments are on your bench.');
    }

    public static function of(Job $job): ?PracticeRun
    {
        return PracticeRun::query()->where('job_id', $job->id)->first();
    }

    /**
     * @param  array<string, string>  $with
     *
     * @throws InputRejected
     */
    public function take(Job $job, PracticeRun $run, string $instrument, array $with): void
    {
        $this->answer($job, $run, static fn (Instruments $instruments): array => $instruments->use($instrument, $with, Radix::from($job->radix)));
    }

    /**
     * A step that is advised, taken as it is: of several for one site the one that reads so.
     *
     * @throws InputRejected when it is not advised, or not for this bench
     */
    public function step(Job $job, PracticeRun $run, string $action, string $site, string $sentence): void
    {
        $step = array_values(array_filter($this->assessor->steps($job), static fn (Step $each): bool => [$each->action, $each->site, $each->sentence] === [$action, $site, $sentence]))[0] ?? throw InputRejected::of('step', 'This step is not advised any more. Look at what comes next now.');
        $this->answer($job, $run, static fn (Instruments $instruments): array => $instruments->take($step));
    }

    /**
     * The analyser's clip on the processor: its recording lies among those of the job, and is decoded as one that was
     * brought in.
     *
     * @param  string  $role  sick for this machine, good for a good one of its kind
     *
     * @throws InputRejected when the run is finished
     */
    public function capture(Job $job, PracticeRun $run, string $role): Capture
    {
        self::goesOn($run);
        $bench = $this->bench($this->boards->find($job->board_slug), $run);
        $bench->powerOn();
        $content = $bench->recording($role === 'good');

        return DB::transaction(function () use ($job, $run, $role, $content, $bench): Capture {
            $number = 1 + Capture::query()->where('job_id', $job->id)->where('role', $role)->count();
            $capture = Capture::whole($job, ($role === 'good' ? 'simulated good machine' : 'simulated start')." {$number}", $role, $content);
            $this->keep($run, $bench, $this->knowledge->step('capture')['minutes'], null);
            $job->touch();

            return $capture;
        });
    }

    private static function goesOn(PracticeRun $run): void
    {
        if ($run->result !== null) {
            throw InputRejected::of('', 'This practice run is finished. Begin another one.');
        }
    }

    private function keep(PracticeRun $run, SimulatedBench $bench, float $minutes, ?Situation $failingIn): void
    {
        $run->minutes += $minutes;
        $run->steps++;
        $run->powered = $bench->powered();
        $run->failing_in = $failingIn?->value;
        $run->acts = json_encode($bench->acts, JSON_THROW_ON_ERROR);
        $run->save();
    }

    /**
     * @param  callable(Instruments): array{kind: string, payload: array<string, mixed>, minutes: float}  $use
     */
    private function answer(Job $job, PracticeRun $run, callable $use): void
    {
        self::goesOn($run);
        $board = $this->boards->find($job->board_slug);
        $bench = $this->bench($board, $run);
        $instruments = new Instruments($bench, new StepCosts($board, $this->parts, $this->knowledge, $this->recorder->moment($job)->state, Workbench::usual()), Situation::tryFrom($run->failing_in ?? ''));
        $seen = $use($instruments);
        DB::transaction(function () use ($job, $run, $seen, $bench, $instruments): void {
            $this->recorder->record($job, $seen['kind'], (object) json_decode(json_encode($seen['payload'], JSON_THROW_ON_ERROR), false));
            $this->keep($run, $bench, $seen['minutes'], $instruments->failingIn());
        });
    }

    /**
     * It is over: what was wrong is told at once. How the product's own advice does on the same machine takes it minutes for
     * some machines, and is worked out beside the server.
     */
    public function finish(Job $job, PracticeRun $run): void
    {
        if ($run->result !== null) {
            return;
        }
        $bench = $this->bench($this->boards->find($job->board_slug), $run);
        $this->ended($job, $run, [
            'faults' => array_map(static fn (InjectedFault $fault): string => $fault->words(), self::faults($run)),
            'left' => array_map(static fn (InjectedFault $fault): string => $fault->words(), $bench->left()),
            'goodSoldered' => $bench->goodSoldered, 'goodPulled' => $bench->goodPulled,
            'comparing' => true, 'advice' => null,
        ]);
        CompareWithAdvice::dispatch($run->id);
    }

    /** How the product's own advice does on the machine of a run that is over. */
    public function compare(PracticeRun $run): void
    {
        $job = Job::query()->findOrFail($run->job_id);
        $advice = $this->trial()->run($this->boards->find($job->board_slug), $run->seed, $run->difficulty, 'zap', faults: self::faults($run), workbench: $this->workshop->benchOf($job));
        $this->compared($run, ['revived' => $advice->revived, 'steps' => count($advice->steps), 'minutes' => round($advice->minutes), 'goodSoldered' => $advice->goodSoldered, 'goodPulled' => $advice->goodPulled, 'told' => array_map(static fn (string $told): string => mb_strimwidth($told, 0, self::TOLD, '…'), $advice->steps)]);
    }

    /**
     * @param  array<string, mixed>|null  $advice  null when it could not be worked out
     */
    public function compared(PracticeRun $run, ?array $advice): void
    {
        $result = (array) json_decode($run->result ?? '{}', true, 8, JSON_THROW_ON_ERROR);
        $this->ended(Job::query()->findOrFail($run->job_id), $run, ['comparing' => false, 'advice' => $advice] + $result);
    }

    /**
     * @param  array<string, mixed>  $result
     */
    private function ended(Job $job, PracticeRun $run, array $result): void
    {
        $run->result = json_encode($result, JSON_THROW_ON_ERROR);
        $run->save();
        $job->touch();
    }

    private function bench(BoardProfile $board, PracticeRun $run): SimulatedBench
    {
        // What was done comes out as it did. What comes and goes may be another way by now, unless it was left on while it shows.
        $bench = new SimulatedBench($board, self::faults($run), $run->seed, new LogicShelf, 0.0, $run->powered);
        foreach (self::acts($run) as $act) {
            $bench->do($act['action'], $act['site'], $act['detail']);
        }

        if ($run->failing_in !== null) {
            $bench->leftOn();
        }

        return $bench;
    }

    /**
     * @return list<InjectedFault>
     */
    private static function faults(PracticeRun $run): array
    {
        /** @var list<array{kind: string, at: string, detail: string, rate: float, whenWarm?: bool}> $faults */
        $faults = json_decode($run->faults, true, 8, JSON_THROW_ON_ERROR);

        return array_map(InjectedFault::fromArray(...), $faults);
    }

    /**
     * @return list<array{action: string, site: string, detail: string}>
     */
    private static function acts(PracticeRun $run): array
    {
        /** @var list<array{action: string, site: string, detail: string}> $acts */
        $acts = json_decode($run->acts, true, 8, JSON_THROW_ON_ERROR);

        return $acts;
    }

    private function trial(): Trial
    {
        return new Trial($this->modes, $this->parts, $this->knowledge, $this->table, new LogicShelf);
    }
}
