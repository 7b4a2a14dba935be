<?php

declare(strict_types=1);

namespace App\Bench;

use App\Http\Resources\AssessmentView;
use App\Models\Job;
use Illuminate\Contracts\Cache\Repository;
use ZapTrace\Numbers\Radix;
use ZapTrace\Observations\Assessment;
use ZapTrace\Observations\Attachments;
use ZapTrace\Observations\Interpreters;
use ZapTrace\Observations\Intervention;
use ZapTrace\Parts\PartLibrary;
use ZapTrace\Reasoning\FailureModes;
use ZapTrace\Reasoning\StepAdvisor;

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
        private Repository $cache,
    ) {
    }

    /**
     * @return View
     */
    public function view(Job $job): array
    {
        $standing = $job->observations()->whereNull('withdrawn_at')->orderBy('sequence')->pluck('id')->all();
        $key = 'assessment/'.sha1(json_encode([$job->radix, sha1($this->boards->content($job->board_slug)), $standing], JSON_THROW_ON_ERROR));

        /** @var View */
        return $this->cache->rememberForever($key, fn (): array => $this->viewOf($job));
    }

    /**
     * @return View
     */
    private function viewOf(Job $job): array
    {
        $assessment = $this->assess($job);
        $log = $job->standing();
        $last = $log === [] ? null : $log[count($log) - 1];
        $untried = $last !== null && $last->kind === Intervention::KIND && ! $last->payload->has('result') && $last->payload->string('action') !== 'remove';

        return AssessmentView::of($assessment, $this->boards->find($job->board_slug), StepAdvisor::usual($this->modes, $this->parts)->steps($assessment->conclusion, $untried));
    }

    public function assess(Job $job): Assessment
    {
        return Assessment::of($this->boards->find($job->board_slug), Radix::from($job->radix), $job->standing(), $this->interpreters, $this->attachments, $this->modes);
    }
}
