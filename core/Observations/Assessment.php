<?php

declare(strict_types=1);

namespace ZapTrace\Observations;

use ZapTrace\Board\BoardProfile;
use ZapTrace\Board\Settings;
use ZapTrace\Memory\AddressRuler;
use ZapTrace\Memory\MemoryMapper;
use ZapTrace\Memory\MemoryMapping;
use ZapTrace\Memory\ReadingSet;
use ZapTrace\Numbers\Radix;
use ZapTrace\Problems\InputRejected;
use ZapTrace\Reasoning\Ranking;
use ZapTrace\Reasoning\Suspect;

/**
 * Everything that follows from the standing observations of a job.
 */
final readonly class Assessment
{
    /**
     * @param  Settings  $now  links and latches as they stand now
     * @param  array<string, Contribution>  $contributions  by observation
     * @param  array<string, Settings>  $settings  those each observation was made under
     * @param  array<string, string>  $unreadable  observations that cannot be read under their settings (any more), with the reason
     * @param  list<Suspect>  $suspects
     * @param  ReadingSet  $readings  all readings together, whatever they were made under
     */
    private function __construct(
        public Settings $now,
        public array $contributions,
        public array $settings,
        public array $unreadable,
        public MemoryMapping $memory,
        public array $suspects,
        public AddressRuler $ruler,
        public ReadingSet $readings,
    ) {
    }

    /**
     * @param  list<Observation>  $observations  those that stand, in the order they were made
     */
    public static function of(BoardProfile $board, Radix $radix, array $observations, Interpreters $interpreters, Attachments $attachments, Ranking $ranking): self
    {
        $history = ContextHistory::of($board, $observations);
        $contributions = [];
        $settings = [];
        $unreadable = [];
        $groups = [];
        foreach ($observations as $place => $observation) {
            $at = $history->at($place);
            $settings[$observation->id] = $at;
            $interpreter = $interpreters->find($observation->kind);
            if ($interpreter === null) {
                $unreadable[$observation->id] = "Nothing here knows the kind \"{$observation->kind}\".";

                continue;
            }
            try {
                $contribution = $interpreter->interpret($observation, new Moment($board, $at, $radix), $attachments);
            } catch (InputRejected $rejected) {
                // It was good when it was made; a link set otherwise since has taken its ground away.
                $unreadable[$observation->id] = $rejected->problems[0]->sentence;

                continue;
            }
            $contributions[$observation->id] = $contribution;
            if ($contribution->readings !== null) {
                $groups[] = [$at, $contribution->readings];
            }
        }
        $memory = (new MemoryMapper($board))->map($groups);
        $readings = new ReadingSet($board->bus);
        foreach ($groups as [, $set]) {
            $readings->addAll($set);
        }

        return new self(
            $history->now, $contributions, $settings, $unreadable, $memory,
            $ranking->rank($memory->findings, $board), AddressRuler::of($board, $history->now, $groups), $readings,
        );
    }
}
