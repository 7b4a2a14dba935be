<?php

declare(strict_types=1);

namespace ZapTrace\Observations;

use ZapTrace\Board\BoardProfile;
use ZapTrace\Problems\InputRejected;
use ZapTrace\Reasoning\MachineState;

/**
 * Something seen on the board before power was put on: it raises suspicion of the parts it is about, by what such a
 * sight does to them.
 */
final class Look implements ChangesMachine, Interpreter
{
    public const KIND = 'look';

    /** What can be seen, and how it is said. */
    public const FINDINGS = [
        'corroded' => 'corroded legs', 'unseated' => 'not fully seated', 'backwards' => 'in backwards', 'bent-pin' => 'a pin bent under',
        'broken-pin' => 'a pin broken off', 'bulged' => 'bulged', 'leaking' => 'leaking', 'residue' => 'residue from a cell nearby',
        'loose' => 'loose', 'flux' => 'flux of a later soldering', 'bridged' => 'bridged', 'heatsink' => 'heatsink missing',
        'sharp-bend' => 'bent sharply', 'wrong-way' => 'plugged the wrong way round', 'wrong-setting' => 'set wrongly', 'burnt' => 'burnt or discoloured', 'absent' => 'missing', 'fine' => 'looked at, nothing wrong',
    ];

    public function kind(): string
    {
        return self::KIND;
    }

    public function change(Observation $observation, BoardProfile $board, MachineState $state): Change
    {
        return new Change($state, $state, facts: [$observation->payload->string('finding') => self::sites($observation, $board)]);
    }

    public function interpret(Observation $observation, Moment $moment, Attachments $attachments): Contribution
    {
        $sites = self::sites($observation, $moment->board);
        $finding = $observation->payload->string('finding');

        return new Contribution(implode(', ', $sites).': '.(self::FINDINGS[$finding] ?? $finding), measured: array_map(static fn (string $site): Seen => new Seen($site, $finding), $sites));
    }

    /**
     * @return list<string>
     *
     * @throws InputRejected with every site that the board does not have
     */
    public static function sites(Observation $observation, BoardProfile $board): array
    {
        $sites = Intervention::sitesOf($observation->payload->strings('sites'), $board);

        return $sites === [] ? throw InputRejected::of('sites', 'What was it seen on? Give references, such as U14 or F1.') : $sites;
    }
}
