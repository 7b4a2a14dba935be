<?php

declare(strict_types=1);

namespace ZapTrace\Observations;

use ZapTrace\Board\BoardProfile;
use ZapTrace\Reasoning\MachineState;

/**
 * A state of the machine in phrases: "U12 exchanged for a known good one", "memory riser unplugged", "test ROM in".
 */
final class ContextWords
{
    /**
     * @return list<string> empty when everything is as it came
     */
    public static function of(MachineState $state, BoardProfile $board): array
    {
        $phrases = [];
        foreach ($state->done as $site => $action) {
            $site = (string) $site;
            $seat = $state->seatOf($site);
            $words = $board->findSetting($site) !== null && $action === 'reseat' ? 'set right' : Intervention::ACTIONS[$action] ?? $action;
            if ($action === 'swap' || $action === 'swapped') {
                $phrases[] = $action === 'swap' && $seat !== null && $seat !== $site ? "{$site} and {$seat} swapped" : null;

                continue;
            }
            $name = $board->findAssembly($site)->name ?? $site;
            $phrases[] = $action === 'unplug' ? "{$name} unplugged" : "{$name} {$words}";
        }
        foreach ($state->conditions as $condition => $on) {
            $phrases[] = Condition::words((string) $condition, $board);
        }
        if ($state->onSecond) {
            $phrases[] = 'on the second machine';
        }

        return array_values(array_filter($phrases));
    }
}
