<?php

declare(strict_types=1);

namespace ZapTrace\Observations;

use ZapTrace\Board\BoardProfile;
use ZapTrace\Board\Settings;
use ZapTrace\Problems\InputRejected;
use ZapTrace\Reasoning\Circumstances;
use ZapTrace\Reasoning\Hazard;
use ZapTrace\Reasoning\MachineState;
use ZapTrace\Signals\Situation;

/**
 * The state of the machine at the time of each observation, told from the log itself: a move holds from then on; what
 * was found to have stood so all along holds for everything since the last move, or from the start.
 */
final readonly class ContextHistory
{
    /** After an over-voltage chips fail one by one; so many switch-ons are told apart. */
    private const POWER_ONS = 2;

    /**
     * @param  list<MachineState>  $at  the state each observation was made in, in order
     */
    private function __construct(
        private array $at,
        public Circumstances $circumstances,
        public MachineState $now,
        public Settings $first,
    ) {
    }

    /** What is looked at without switching it off. */
    private const LEAVE_IT_ON = ['memory-readings', 'probe', 'pin-walk', 'function-test', 'sign', 'heat', 'rail', 'screen-character', 'screen-stripe', 'set-aside', 'label', 'photo', 'photo-mark'];

    /**
     * What names a link, position or part that the board does not have (any more) has no effect.
     *
     * @param  list<Observation>  $observations  those that stand, in the order they were made
     */
    public static function of(BoardProfile $board, array $observations, Interpreters $interpreters): self
    {
        $segments = self::segments($board, $observations);
        $changed = array_filter(array_map(static fn (array $stretches): ?string => $stretches[0] ?? null, $segments), is_string(...));
        $first = Settings::of($board, $changed);
        $state = new MachineState($first);
        $at = [];
        $fitted = [];
        $hazards = [];
        $facts = [];
        $second = false;
        foreach ($observations as $place => $observation) {
            // Moments count from one: what was there from the start was born at none.
            $state = ($place > 0 ? self::moved($state, $board, $segments, $changed, $place) : $state)->at($place + 1);
            if ($state->isFailing() && ! self::leavesItOn($observation)) {
                $state = $state->under(MachineState::FAILING, false);
            }
            $interpreter = $interpreters->find($observation->kind);
            try {
                $change = $interpreter instanceof ChangesMachine ? $interpreter->change($observation, $board, $state) : null;
            } catch (InputRejected) {
                $change = null; // The board has changed under the job; the log says so at the observation.
            }
            // What the complaint did is seen in the state after the action; what was only for the moment ends with it.
            $at[] = $change->during ?? $state;
            if ($change !== null) {
                $state = $change->after;
                $fitted = [...$fitted, ...$change->fitted];
                array_push($hazards, ...$change->hazards);
                foreach ($change->facts as $fact => $sites) {
                    $facts[$fact] = array_values(array_unique([...$facts[$fact] ?? [], ...$sites]));
                }
                $second = $second || $change->secondUsed;
            }
        }
        $now = self::moved($state, $board, $segments, $changed, count($observations))->at(count($observations) + 1);

        return new self($at, new Circumstances($now, $first, $fitted, self::spread($hazards, $observations), $facts, $second), $now, $first);
    }

    public function at(int $place): MachineState
    {
        return $this->at[$place] ?? $this->now;
    }

    /** Whether the machine stays on while this is looked at, so that a fault that comes and goes stays as it is. */
    private static function leavesItOn(Observation $observation): bool
    {
        $situation = $observation->payload->has('situation') ? $observation->payload->string('situation') : Situation::Running->value;

        return in_array($observation->kind, self::LEAVE_IT_ON, true) && in_array($situation, [Situation::Running->value, Situation::AsFound->value], true);
    }

    /**
     * A chip weakened by over-voltage fails at one of the power-ons since: before each of the latest few interventions
     * and runs, or right at the over-voltage.
     *
     * @param  list<Hazard>  $hazards
     * @param  list<Observation>  $observations
     * @return list<Hazard>
     */
    private static function spread(array $hazards, array $observations): array
    {
        $powerOns = [];
        foreach ($observations as $place => $observation) {
            if (in_array($observation->kind, [Intervention::KIND, 'diagnostic-run', 'free-memory', SignSeen::KIND, PowerOns::KIND], true)) {
                $powerOns[] = $place + 1;
            }
        }
        $spread = [];
        foreach ($hazards as $hazard) {
            $spread[] = $hazard;
            foreach ($hazard->cause === 'born-over-voltage' ? array_slice($powerOns, -self::POWER_ONS) : [] as $moment) {
                if ($moment > $hazard->moment) {
                    $spread[] = new Hazard($hazard->cause, $hazard->seat, $hazard->part, $moment);
                }
            }
        }

        return $spread;
    }

    /**
     * @param  list<Observation>  $observations
     * @return array<string, non-empty-array<int, string>> link => place in the log => position from there on
     */
    private static function segments(BoardProfile $board, array $observations): array
    {
        $segments = [];
        foreach ($observations as $place => $observation) {
            if ($observation->kind !== SettingMoved::KIND) {
                continue;
            }
            $setting = $board->findSetting($observation->payload->string('ref'));
            $position = $observation->payload->string('position');
            if ($setting === null || ! self::stands($board, $setting->ref, $position)) {
                continue; // The board has changed under the job; the log says so at the observation.
            }
            $ref = $setting->ref;
            // A correction changes the stretch since the last real move; a move begins a new one after itself.
            $since = $observation->payload->string('since') === 'start' ? array_key_last($segments[$ref] ?? []) ?? 0 : $place + 1;
            $segments[$ref][$since] = $position;
        }

        return $segments;
    }

    private static function stands(BoardProfile $board, string $ref, string $position): bool
    {
        try {
            Settings::of($board, [$ref => $position]);

            return true;
        } catch (InputRejected) {
            return false;
        }
    }

    /**
     * @param  array<string, non-empty-array<int, string>>  $segments
     * @param  array<string, string>  $changed  positions that differ from the factory's; changed
     */
    private static function moved(MachineState $state, BoardProfile $board, array $segments, array &$changed, int $place): MachineState
    {
        $moved = false;
        foreach ($segments as $ref => $stretches) {
            if (isset($stretches[$place])) {
                $changed[$ref] = $stretches[$place];
                $moved = true;
            }
        }

        return $moved ? $state->with(Settings::of($board, $changed)) : $state;
    }
}
