<?php

declare(strict_types=1);

namespace App\Bench;

use App\Http\Resources\AssessmentView;
use App\Models\Job;
use App\Models\Observation;
use Illuminate\Contracts\Cache\Repository;
use ZapTrace\Ledger\Ledger;
use ZapTrace\Numbers\Radix;
use ZapTrace\Observations\Assessment;
use ZapTrace\Observations\Attachments;
use ZapTrace\Observations\Interpreters;
use ZapTrace\Observations\Observation as CoreObservation;
use ZapTrace\Parts\PartLibrary;
use ZapTrace\Reasoning\Experience;
use ZapTrace\Reasoning\FailureModes;
use ZapTrace\Reasoning\Step;
use ZapTrace\Reasoning\StepAdvisor;
use ZapTrace\Reasoning\StepKnowledge;
use ZapTrace\Record\JobState;

/**
 * What follows from a job's standing observations, kept until one of them changes.
 *
 * @phpstan-import-type View from AssessmentView
 */
final readonly class Assessor
{
    public function __construct(
        private BoardShelf $boards,
        private Interpreters $interpreters,
        private Attachments $attachments,
        private FailureModes $modes,
        private PartLibrary $parts,
        private StepKnowledge $steps,
        private Workshop $workshop,
        private Repository $cache,
    ) {
    }

    /** Goes up whenever what is kept changes its shape or its meaning. */
    private const VERSION = 80;

    /** How many steps back suspicion is followed. */
    private const FOLLOWED = 24;

    /**
     * @return View
     */
    public function view(Job $job): array
    {
        return $this->kept($job)['view'];
    }

    /**
     * What is proposed next, the best first.
     *
     * @return list<Step>
     */
    public function steps(Job $job): array
    {
        return $this->kept($job)['steps'];
    }

    /**
     * @return array{view: View, steps: list<Step>}
     */
    private function kept(Job $job): array
    {
        $standing = array_map(static fn (CoreObservation $observation): string => $observation->id, $job->standing());

        /** @var array{view: View, steps: list<Step>} */
        return $this->cache->rememberForever($this->key('assessment/'.sha1(serialize([$this->workshop->benchOf($job), $this->factors($job)])), $job, $standing), fn (): array => $this->look($job, $standing));
    }

    /**
     * How the suspicion of the sites that lead now moved over the job: shares after each standing observation.
     *
     * @return list<array{sequence: int, shares: array<string, float>}>
     */
    public function history(Job $job): array
    {
        $log = array_values(array_filter($job->log(), static fn (Observation $entry): bool => $entry->withdrawn_at === null));
        $standing = $job->standing();
        $moves = [];
        for ($length = max(1, count($standing) - self::FOLLOWED + 1); $length <= count($standing); $length++) {
            $prefix = array_slice($standing, 0, $length);
            $ids = array_map(static fn (CoreObservation $observation): string => $observation->id, $prefix);
            /** @var array<string, float> $shares */
            $shares = $this->cache->rememberForever($this->key('shares', $job, $ids), fn (): array => $this->shares($job, $prefix));
            $moves[] = ['sequence' => $log[$length - 1]->sequence, 'shares' => $shares];
        }

        return $moves;
    }

    /**
     * @param  list<CoreObservation>  $observations
     * @return array<string, float>
     */
    private function shares(Job $job, array $observations): array
    {
        return self::sharesOf($this->weigh($job, $observations));
    }

    /**
     * @return array<string, float>
     */
    private static function sharesOf(Assessment $assessment): array
    {
        $shares = [];
        foreach (array_slice($assessment->conclusion->suspects(), 0, 12) as $suspect) {
            $shares[$suspect->site] = round($suspect->share, 4);
        }

        return $shares;
    }

    /**
     * @param  list<string>  $ids
     */
    private function key(string $what, Job $job, array $ids): string
    {
        return "{$what}/".sha1(json_encode([$job->radix, self::VERSION, sha1($this->boards->content($job->board_slug)), $ids], JSON_THROW_ON_ERROR));
    }

    /**
     * @param  list<string>  $standing
     * @return array{view: View, steps: list<Step>}
     */
    private function look(Job $job, array $standing): array
    {
        $assessment = $this->assess($job);
        $board = $this->boards->find($job->board_slug);
        $bench = $this->workshop->benchOf($job);
        $outlook = $assessment->outlook($board, $bench->confidence);
        $steps = StepAdvisor::usual($this->modes, $this->parts, $this->steps)->steps($assessment->conclusion, $bench, $outlook);
        // The history would ask for the same again.
        $this->cache->forever($this->key('shares', $job, $standing), self::sharesOf($assessment));

        return ['view' => AssessmentView::of($assessment, $board, $steps, $outlook, Ledger::prefix($job->machine), $this->experience($job)), 'steps' => $steps];
    }

    public function assess(Job $job): Assessment
    {
        return $this->weigh($job, $job->standing());
    }

    /**
     * @param  list<CoreObservation>  $observations
     */
    private function weigh(Job $job, array $observations): Assessment
    {
        return Assessment::of($this->boards->find($job->board_slug), Radix::from($job->radix), $observations, $this->interpreters, $this->attachments, $this->modes, $this->factors($job));
    }

    /**
     * What was wrong in the end, by what the job itself says: sites that were cured of what they were at fault of.
     *
     * @return list<array{board: string, site: string, part: string}>
     */
    public function outcome(Job $job): array
    {
        $standing = $job->standing();
        $ids = array_map(static fn (CoreObservation $observation): string => $observation->id, $standing);

        /** @var list<array{board: string, site: string, part: string}> */
        return $this->cache->rememberForever($this->key('outcome', $job, $ids), function () use ($job, $standing): array {
            $board = $this->boards->find($job->board_slug);
            $conclusion = Assessment::of($board, Radix::from($job->radix), $standing, $this->interpreters, $this->attachments, $this->modes)->conclusion;
            $found = [];
            foreach (array_map(strval(...), array_keys($conclusion->found())) as $site) {
                $found[] = ['board' => $board->slug, 'site' => $site, 'part' => $board->chips[(string) strtok($site, '.')]->part ?? ''];
            }

            return $found;
        });
    }

    /** What finished jobs that were opened before this one failed of; nothing when the workshop does not want to learn. */
    public function experience(Job $job): Experience
    {
        if (! $this->workshop->settings()['learns']) {
            return new Experience([]);
        }
        $failures = [];
        /** @var list<Job> $earlier */
        $earlier = Job::query()->whereIn('state', JobState::explained())->where('id', '!=', $job->id)->where('created_at', '<', $job->created_at)->get()->all();
        foreach ($earlier as $other) {
            array_push($failures, ...$this->outcome($other));
        }

        return new Experience($failures);
    }

    /**
     * @return array<string, float>
     */
    private function factors(Job $job): array
    {
        return $this->experience($job)->factors($this->boards->find($job->board_slug));
    }
}
