<?php

declare(strict_types=1);

namespace App\Bench;

use App\Http\Resources\AssessmentView;
use App\Models\Job;
use App\Models\Observation;
use Illuminate\Contracts\Cache\Repository;
use ZapTrace\Numbers\Radix;
use ZapTrace\Observations\Assessment;
use ZapTrace\Observations\Attachments;
use ZapTrace\Observations\Interpreters;
use ZapTrace\Observations\Observation as CoreObservation;
use ZapTrace\Parts\PartLibrary;
use ZapTrace\Reasoning\FailureModes;
use ZapTrace\Reasoning\StepAdvisor;
use ZapTrace\Reasoning\StepKnowledge;

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

    /** How many steps back suspicion is followed. */
    private const FOLLOWED = 24;

    /**
     * @return View
     */
    public function view(Job $job): array
    {
        $standing = array_map(static fn (CoreObservation $observation): string => $observation->id, $job->standing());

        /** @var View */
        return $this->cache->rememberForever($this->key('assessment/'.sha1(serialize($this->workshop->benchOf($job))), $job, $standing), fn (): array => $this->viewOf($job, $standing));
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
        return "{$what}/".sha1(json_encode([$job->radix, sha1($this->boards->content($job->board_slug)), $ids], JSON_THROW_ON_ERROR));
    }

    /**
     * @param  list<string>  $standing
     * @return View
     */
    private function viewOf(Job $job, array $standing): array
    {
        $assessment = $this->assess($job);
        // The history would ask for the same again.
        $this->cache->forever($this->key('shares', $job, $standing), self::sharesOf($assessment));

        return AssessmentView::of($assessment, $this->boards->find($job->board_slug), StepAdvisor::usual($this->modes, $this->parts, $this->steps)->steps(
            $assessment->conclusion, $this->workshop->benchOf($job), $assessment->untried, $assessment->setAside,
        ));
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
        return Assessment::of($this->boards->find($job->board_slug), Radix::from($job->radix), $observations, $this->interpreters, $this->attachments, $this->modes);
    }
}
