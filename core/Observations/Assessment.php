<?php

declare(strict_types=1);

namespace ZapTrace\Observations;

use ZapTrace\Board\BoardProfile;
use ZapTrace\Diagnostics\DiagnosticResult;
use ZapTrace\Diagnostics\RunComparison;
use ZapTrace\Diagnostics\SlipNotice;
use ZapTrace\Memory\AddressRuler;
use ZapTrace\Memory\MemoryMapper;
use ZapTrace\Memory\MemoryMapping;
use ZapTrace\Memory\ReadingSet;
use ZapTrace\Numbers\Radix;
use ZapTrace\Problems\InputRejected;
use ZapTrace\Reasoning\Conclusion;
use ZapTrace\Reasoning\DiagnosticEvidence;
use ZapTrace\Reasoning\Evidence;
use ZapTrace\Reasoning\FailureModes;
use ZapTrace\Reasoning\MachineState;
use ZapTrace\Reasoning\MemoryEvidence;
use ZapTrace\Reasoning\Outlook;
use ZapTrace\Reasoning\ProofPlan;
use ZapTrace\Reasoning\Reasoner;
use ZapTrace\Reasoning\RunGroup;
use ZapTrace\Signals\Supply;

/**
 * Everything that follows from the standing observations of a job.
 */
final readonly class Assessment
{
    /**
     * @param  MachineState  $now  how the machine stands now
     * @param  array<string, Contribution>  $contributions  by observation
     * @param  array<string, MachineState>  $states  those each observation was made in
     * @param  array<string, string>  $unreadable  observations that cannot be read under their settings (any more), with the reason
     * @param  MemoryMapping  $memory  of the readings made with the parts that are in now; of all when there are none yet
     * @param  ReadingSet  $readings  those readings
     * @param  list<string>  $notices  what should be looked at twice
     * @param  RunComparison|null  $comparison  the runs of diagnostics, compared; null when there are none
     * @param  bool  $untried  something was done last, and the machine was not tried since
     * @param  bool  $partsChanged  there are no readings yet with the parts that are in now
     * @param  list<Sample>  $samples  everything that was measured beside memory
     * @param  Supply  $supply  the rails as they were measured with the parts that are in now
     * @param  array<string, array{action: string, site: string, reason: string}>  $setAside  steps that are not to be proposed now
     */
    private function __construct(
        public MachineState $now,
        public array $contributions,
        public array $states,
        public array $unreadable,
        public MemoryMapping $memory,
        public Conclusion $conclusion,
        public AddressRuler $ruler,
        public ReadingSet $readings,
        public array $notices,
        public ?RunComparison $comparison,
        public bool $untried,
        public bool $partsChanged,
        public array $setAside,
        public array $samples,
        public Supply $supply,
    ) {
    }

    /**
     * @param  list<Observation>  $observations  those that stand, in the order they were made
     * @param  array<string, float>  $experience  position => what earlier jobs make of the likelihood of a fault there
     */
    public static function of(BoardProfile $board, Radix $radix, array $observations, Interpreters $interpreters, Attachments $attachments, FailureModes $modes, array $experience = []): self
    {
        $modes = $modes->overriddenBy($board->reasoning);
        $history = ContextHistory::of($board, $observations, $interpreters);
        $contributions = [];
        $states = [];
        $unreadable = [];
        $groups = [];
        $runs = [];
        $results = [];
        $setAside = [];
        $samples = [];
        $evidence = ['sick' => new Evidence(
            'sick', Evidence::COMPLAINT, true, $modes->rate('sickFalseAlarm'), $modes->rate('sickMiss'), [], [], [], 1.0,
            new MachineState($history->first), 'the machine is sick',
        )];
        foreach ($observations as $place => $observation) {
            $state = $history->at($place);
            $states[$observation->id] = $state;
            $interpreter = $interpreters->find($observation->kind);
            if ($interpreter === null) {
                $unreadable[$observation->id] = "Nothing here knows the kind \"{$observation->kind}\".";

                continue;
            }
            try {
                $contribution = $interpreter->interpret($observation, new Moment($board, $state, $radix, $modes), $attachments);
            } catch (InputRejected $rejected) {
                // It was good when it was made; a link set otherwise since has taken its ground away.
                $unreadable[$observation->id] = $rejected->problems[0]->sentence;

                continue;
            }
            $contributions[$observation->id] = $contribution;
            if ($contribution->readings !== null) {
                $groups[$state->key()] ??= [$state, [], $observation->id];
                $groups[$state->key()][1][] = [$state->settings, $contribution->readings];
            }
            foreach ($contribution->evidence as $seen) {
                // The same said again says nothing new, but of the machine as it stands.
                unset($evidence[$seen->id]);
                $evidence[$seen->id] = $seen;
            }
            foreach ($contribution->measured as $measured) {
                $samples[] = new Sample($observation->id, $state, $measured);
            }
            foreach ($contribution->runs as $run) {
                $key = "{$state->key()}/{$run['diagnostic']->id}";
                $runs[$key] ??= ['diagnostic' => $run['diagnostic'], 'results' => [], 'state' => $state, 'observations' => []];
                $runs[$key]['results'][] = $run['result'];
                $runs[$key]['observations'][] = $observation->id;
                $results[] = $run['result']->key;
            }
            if ($contribution->setAside !== null) {
                $setAside["{$contribution->setAside['action']} {$contribution->setAside['site']}"] = $contribution->setAside;
            }
        }
        $evidence = array_values($evidence);
        foreach ($interpreters->together() as $interpreter) {
            array_push($evidence, ...$interpreter->together($samples, $board, $modes));
        }
        $through = $hung = $passes = [];
        foreach ($runs as $key => $group) {
            $said = array_map(static fn (DiagnosticResult $result): string => $result->key, $group['results']);
            $passes[$group['diagnostic']->id] = ($passes[$group['diagnostic']->id] ?? 0) + (int) RunGroup::passed($said);
            if (RunGroup::through($said)) {
                $through[$group['diagnostic']->id][$key] = true;
            } elseif (RunGroup::hung($said)) {
                $hung[$group['diagnostic']->id][$key] = $group['state'];
            }
        }
        foreach ($runs as $key => $group) {
            $passed = $through[$group['diagnostic']->id] ?? [];
            $nowhere = $hung[$group['diagnostic']->id] ?? [];
            $alike = match (true) {
                isset($passed[$key]) => count($passed),
                isset($nowhere[$key]) => count(array_filter($nowhere, $group['state']->sameButTried(...))),
                default => 1,
            };
            array_push($evidence, ...(new DiagnosticEvidence($board, $modes))->of($group['diagnostic'], $group['results'], $group['state'], $group['observations'], $alike, max(1, $passes[$group['diagnostic']->id])));
        }
        $mapper = new MemoryMapper($board);
        $present = [];
        $all = [];
        $only = null;
        foreach ($groups as [$state, $sets, $first]) {
            $mapping = $mapper->map($sets);
            $only = count($groups) === 1 ? $mapping : null;
            array_push($evidence, ...(new MemoryEvidence($board, $modes))->of($mapping, $state, $first));
            array_push($all, ...$sets);
            if ($state->sameParts($history->now)) {
                array_push($present, ...$sets);
            }
        }
        $shown = $present === [] ? $all : $present;
        $readings = new ReadingSet($board->bus);
        foreach ($shown as [, $set]) {
            $readings->addAll($set);
        }

        $conclusion = (new Reasoner($board, $modes))->conclude($evidence, $history->circumstances->withExperience($experience));
        $notices = [];
        foreach ($runs as $group) {
            if ($group['state']->sameParts($history->now)) {
                array_push($notices, ...SlipNotice::of($group['diagnostic'], array_map(static fn (DiagnosticResult $result): string => $result->key, $group['results']), $conclusion, $board));
            }
        }

        return new self(
            $history->now, $contributions, $states, $unreadable, $only ?? $mapper->map($shown),
            $conclusion,
            AddressRuler::of($board, $history->now->settings, $shown), $readings, $notices, RunComparison::of($results), self::untried($observations), $present === [] && $all !== [], $setAside,
            $samples, Supply::of($board, Supply::present($samples, $board, $history->now), $history->now),
        );
    }

    /**
     * What the choice of the next step has to know beside the conclusion.
     *
     * @param  float  $confidence  wanted before a repair is proved
     */
    public function outlook(BoardProfile $board, float $confidence): Outlook
    {
        $out = $this->supply->firstOut();
        $likeliest = '';
        foreach ($out?->rail->sites() ?? [] as $site) {
            $shares = $this->conclusion->posterior->sites;
            $likeliest = $likeliest === '' || ($shares[$site] ?? 0.0) > ($shares[$likeliest] ?? 0.0) ? $site : $likeliest;
        }

        return new Outlook(
            $this->untried, $this->setAside,
            $out->problems[0] ?? '', $likeliest,
            $this->proof($board, $confidence),
        );
    }

    /**
     * What is still to be done before the repair is proved.
     *
     * @param  float  $confidence  wanted, 0 to 1
     */
    public function proof(BoardProfile $board, float $confidence): ProofPlan
    {
        return ProofPlan::of($board, $this->samples, $this->now, $confidence, $this->conclusion->nothingLeft());
    }

    /**
     * Something was done last, and the machine was not tried since.
     *
     * @param  list<Observation>  $observations
     */
    private static function untried(array $observations): bool
    {
        $last = null;
        foreach ($observations as $observation) {
            $last = $observation->kind === 'set-aside' ? $last : $observation;
        }

        return $last !== null && $last->kind === Intervention::KIND && ! $last->payload->has('result') && $last->payload->string('action') !== 'remove';
    }
}
