<?php

declare(strict_types=1);

namespace ZapTrace\Observations;

use ZapTrace\Board\BoardProfile;
use ZapTrace\Problems\InputRejected;
use ZapTrace\Problems\ProblemList;
use ZapTrace\Reasoning\Hazard;
use ZapTrace\Reasoning\MachineState;

/**
 * A fact of the machine's past that raises suspicion of particular chips: weak evidence, never a verdict. An
 * over-voltage weakens every chip, and they then fail one after another, each time the machine is switched on.
 */
final class History implements ChangesMachine, Interpreter
{
    public const KIND = 'history';

    /** Facts, and how they are said. */
    public const FACTS = [
        'leak' => 'A cell or capacitor leaked near',
        'liquid' => 'Liquid got to',
        'soldered' => 'Recent soldering at',
        'touched' => 'Touched by an earlier repairer:',
        'over-voltage' => 'A rail was too high; weakened:',
    ];

    public function kind(): string
    {
        return self::KIND;
    }

    public function change(Observation $observation, BoardProfile $board, MachineState $state): Change
    {
        $fact = $observation->payload->string('fact');
        $sites = $this->sites($observation, $board);
        $hazards = [];
        foreach ($fact === 'over-voltage' ? $sites : [] as $site) {
            $hazards[] = new Hazard('born-over-voltage', $site, $site, $state->moment);
        }

        return new Change($state, $state, [], $hazards, [$fact => $sites]);
    }

    public function interpret(Observation $observation, Moment $moment, Attachments $attachments): Contribution
    {
        $sites = $this->sites($observation, $moment->board);
        $named = $observation->payload->strings('sites') !== [];

        return new Contribution((self::FACTS[$observation->payload->string('fact')] ?? '').' '.($named ? implode(', ', $sites) : 'every chip'));
    }

    /**
     * @return list<string>
     */
    private function sites(Observation $observation, BoardProfile $board): array
    {
        $named = $observation->payload->strings('sites');
        if ($named === []) {
            if ($observation->payload->string('fact') !== 'over-voltage') {
                throw InputRejected::of('sites', 'Which chips does it concern? Give their references, such as U14 U15.');
            }

            return array_map(strval(...), array_keys($board->chips));
        }
        $problems = new ProblemList;
        $sites = [];
        foreach ($named as $site) {
            try {
                $sites[] = Intervention::siteOf($site, $board);
            } catch (InputRejected $rejected) {
                $problems->add('sites', $rejected->problems[0]->sentence);
            }
        }
        $problems->throwIfAny();

        return $sites;
    }
}
