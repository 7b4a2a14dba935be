<?php

declare(strict_types=1);

namespace ZapTrace\Observations;

use ZapTrace\Board\BoardProfile;
use ZapTrace\Board\Settings;
use ZapTrace\Problems\InputRejected;
use ZapTrace\Reasoning\MachineState;

/**
 * The state of the machine at the time of each observation, told from the log itself: a move holds from then on; what
 * was found to have stood so all along holds for everything since the last move, or from the start.
 */
final readonly class ContextHistory
{
    /**
     * @param  list<MachineState>  $at  the state each observation was made in, in order
     * @param  Settings  $first  links and latches as the machine came
     */
    private function __construct(
        private array $at,
        public MachineState $now,
        public Settings $first,
    ) {
    }

    /**
     * What names a link, position or part that the board does not have (any more) has no effect.
     *
     * @param  list<Observation>  $observations  those that stand, in the order they were made
     */
    public static function of(BoardProfile $board, array $observations): self
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
        $changed = array_filter(array_map(static fn (array $stretches): ?string => $stretches[0] ?? null, $segments), is_string(...));
        $first = Settings::of($board, $changed);
        $state = new MachineState($first);
        $at = [];
        foreach ($observations as $place => $observation) {
            if ($place > 0) {
                $state = self::moved($state, $board, $segments, $changed, $place);
            }
            if ($observation->kind === Intervention::KIND) {
                $site = self::siteOf($observation, $board);
                if ($site === null) {
                    $at[] = $state;

                    continue;
                }
                // What the complaint did is seen in the state after the action; what was only for the moment ends with it.
                $at[] = $state->after($observation->payload->string('action'), $site);
                $state = $at[$place]->lasting();
            } else {
                $at[] = $state;
            }
        }

        return new self($at, self::moved($state, $board, $segments, $changed, count($observations)), $first);
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

    private static function siteOf(Observation $observation, BoardProfile $board): ?string
    {
        try {
            return Intervention::siteOf($observation->payload->string('site'), $board);
        } catch (InputRejected) {
            return null;
        }
    }

    public function at(int $place): MachineState
    {
        return $this->at[$place] ?? $this->now;
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
