<?php

declare(strict_types=1);

namespace ZapTrace\Observations;

use ZapTrace\Board\BoardProfile;
use ZapTrace\Problems\InputRejected;
use ZapTrace\Reasoning\Hazard;
use ZapTrace\Reasoning\MachineState;

/**
 * A fact of the machine's past that raises suspicion of particular chips: weak evidence, never a verdict. An
 * over-voltage weakens every chip, and they then fail one after another, each time the machine is switched on.
 */
final class History implements ChangesMachine, Interpreter
{
    public const KIND = 'history';

    /** So many years of storage count. Common practice. */
    private const LONG = 5.0;

    /** Facts, and how they are said. */
    public const FACTS = [
        'leak' => 'A cell or capacitor leaked near',
        'liquid' => 'Liquid got to',
        'soldered' => 'Recent soldering at',
        'touched' => 'Touched by an earlier repairer:',
        'over-voltage' => 'A rail was too high; weakened:',
        'recapped' => 'Capacitors replaced earlier:',
        'stored' => 'Stored for years:',
        'missing' => 'Missing:',
        'theory' => 'The owner suspects',
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

        $after = $state;
        foreach ($fact === 'missing' ? $sites : [] as $site) {
            $after = isset($board->chips[$site]) ? $after->after('remove', $site) : ($board->findAssembly($site) === null ? $after : $after->after('unplug', $site));
        }

        // A few years on a shelf do nothing to contacts.
        $counts = $fact !== 'missing' && ! ($fact === 'stored' && $observation->payload->number('years', self::LONG) < self::LONG);

        return new Change($state, $after, [], $hazards, [$fact => $counts ? $sites : []]);
    }

    public function interpret(Observation $observation, Moment $moment, Attachments $attachments): Contribution
    {
        $sites = $this->sites($observation, $moment->board);
        $payload = $observation->payload;
        $fact = $payload->string('fact');
        $words = match (true) {
            $payload->strings('sites') !== [] => implode(', ', $sites),
            $fact === 'over-voltage' && $payload->has('rail') => "every chip on {$payload->string('rail')} V",
            $fact === 'recapped' => 'all of them',
            $fact === 'stored' => $payload->has('years') ? rtrim(rtrim(number_format($payload->number('years'), 1, '.', ''), '0'), '.') : '',
            default => 'every chip',
        };
        $note = $payload->string('note', '');

        return new Contribution(
            trim((self::FACTS[$fact] ?? '').' '.$words).($note === '' ? '' : ": {$note}"),
            notes: $fact === 'theory' ? ['A theory is weak evidence; what is seen and measured weighs more.'] : [],
        );
    }

    /**
     * @return list<string>
     */
    private function sites(Observation $observation, BoardProfile $board): array
    {
        $named = $observation->payload->strings('sites');
        $fact = $observation->payload->string('fact');
        if ($named === [] && $fact === 'recapped') {
            return array_map(static fn ($chip): string => $chip->ref, array_values(array_filter($board->chips, static fn ($chip): bool => $chip->type?->name === 'ELCAP')));
        }
        if ($named === [] && $fact === 'over-voltage' && $observation->payload->has('rail')) {
            $rail = $observation->payload->string('rail');
            if ($board->findRail($rail) === null) {
                throw InputRejected::of('rail', "{$board->name} has no rail {$rail}.");
            }

            return array_map(static fn ($chip): string => $chip->ref, array_values(array_filter($board->chips, static fn ($chip): bool => array_filter($chip->type->supply ?? [], static fn ($supply): bool => $supply->rail === $rail) !== [])));
        }
        if ($named === []) {
            if ($fact !== 'over-voltage' && $fact !== 'stored') {
                throw InputRejected::of('sites', 'Which chips does it concern? Give their references, such as U14 U15.');
            }

            return array_map(strval(...), array_keys($board->chips));
        }

        return Intervention::sitesOf($named, $board);
    }
}
