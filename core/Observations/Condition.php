<?php

declare(strict_types=1);

namespace ZapTrace\Observations;

use ZapTrace\Board\BoardProfile;
use ZapTrace\Reasoning\MachineState;

/**
 * Under what the machine runs from now on: cold, warm, under load, a diagnostic plugged in.
 */
final class Condition implements ChangesMachine, Interpreter
{
    /** Conditions, and how they are said. */
    public const CONDITIONS = [
        'cold' => 'just switched on, cold',
        'warm' => 'warmed up',
        'load' => 'under load',
        MachineState::FAILING => 'while the fault shows',
        'low-mains' => 'on low mains',
        'high-mains' => 'on high mains',
    ];

    public function kind(): string
    {
        return 'condition';
    }

    public function change(Observation $observation, BoardProfile $board, MachineState $state): Change
    {
        $condition = $observation->payload->string('condition');
        $on = $observation->payload->boolean('on', true);
        // It cannot be cold and warm at once.
        $other = match ($condition) {
            'cold' => 'warm', 'warm' => 'cold', 'low-mains' => 'high-mains', 'high-mains' => 'low-mains', default => '',
        };
        $state = ($on ? $state->under($other, false) : $state)->under($condition, $on);

        return new Change($state, $state);
    }

    public function interpret(Observation $observation, Moment $moment, Attachments $attachments): Contribution
    {
        $on = $observation->payload->boolean('on', true);

        return new Contribution(($on ? 'Now ' : 'No longer ').self::words($observation->payload->string('condition'), $moment->board));
    }

    public static function words(string $condition, BoardProfile $board): string
    {
        $diagnostic = $board->findDiagnostic($condition);

        return self::CONDITIONS[$condition] ?? ($diagnostic === null ? $condition : "{$diagnostic->name} in");
    }
}
