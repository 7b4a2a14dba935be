<?php

declare(strict_types=1);

namespace ZapTrace\Observations;

use ZapTrace\Board\BoardProfile;
use ZapTrace\Board\Settings;
use ZapTrace\Problems\InputRejected;

/**
 * The links and latches at the time of each observation, told from the log itself: a move holds from then on; what
 * was found to have stood so all along holds for everything since the last move, or from the start.
 */
final readonly class ContextHistory
{
    /**
     * @param  list<Settings>  $before  settings at each observation, in order
     */
    private function __construct(private array $before, public Settings $now)
    {
    }

    /**
     * @param  list<Observation>  $observations  those that stand, in the order they were made
     *
     * @throws InputRejected when one names a link or position that the board does not have
     */
    public static function of(BoardProfile $board, array $observations): self
    {
        $segments = [];
        foreach ($observations as $place => $observation) {
            if ($observation->kind !== SettingMoved::KIND) {
                continue;
            }
            $ref = $observation->payload->string('ref');
            $ref = $board->findSetting($ref)->ref ?? $ref;
            $position = $observation->payload->string('position');
            // A correction changes the stretch since the last real move; a move begins a new one after itself.
            $since = $observation->payload->string('since') === 'start' ? array_key_last($segments[$ref] ?? []) ?? 0 : $place + 1;
            $segments[$ref][$since] = $position;
        }
        $before = [];
        $changed = array_filter(array_map(static fn (array $stretches): ?string => $stretches[0] ?? null, $segments), is_string(...));
        $settings = Settings::of($board, $changed);
        for ($place = 0, $count = count($observations); $place <= $count; $place++) {
            foreach ($segments as $ref => $stretches) {
                if ($place > 0 && isset($stretches[$place])) {
                    $changed[$ref] = $stretches[$place];
                    $settings = Settings::of($board, $changed);
                }
            }
            $before[] = $settings;
        }

        return new self($before, $settings);
    }

    public function at(int $place): Settings
    {
        return $this->before[$place] ?? $this->now;
    }
}
