<?php

declare(strict_types=1);

namespace ZapTrace\Observations;

use ZapTrace\Board\BoardProfile;
use ZapTrace\Problems\InputRejected;
use ZapTrace\Problems\ProblemList;
use ZapTrace\Reasoning\Evidence;
use ZapTrace\Reasoning\Hazard;
use ZapTrace\Reasoning\MachineState;

/**
 * Something done to the machine (a part exchanged, swapped, reseated, a trace bridged, an assembly unplugged ...), and
 * what the complaint did then, here and in the second machine.
 */
final class Intervention implements ChangesMachine, Interpreter
{
    public const KIND = 'intervention';

    /** What can be done, and how the log says it. */
    public const ACTIONS = [
        'reseat' => 'reseated',
        'clean' => 'cleaned',
        'piggyback' => 'piggybacked',
        'swap' => 'swapped',
        'exchange' => 'exchanged for a known good one',
        'exchange-second' => 'exchanged with the second machine',
        'replace' => 'replaced',
        'remove' => 'taken out',
        'refit' => 'put back',
        'bridge' => 'bridged',
        'wire' => 'wired for good',
        'fix' => 'put right',
        'load' => 'loaded',
        'unload' => 'unloaded',
        'warm' => 'warmed',
        'cool' => 'cooled',
        'unplug' => 'unplugged',
        'plug' => 'plugged in again',
    ];

    /** What the complaint did then. */
    public const RESULTS = [
        'as-before' => 'as before',
        'better' => 'better',
        'cured' => 'cured',
        'worse' => 'worse',
        'different' => 'different',
        'moved' => 'the fault moved with it',
    ];

    /** Actions that take a part out of its place or put it back. */
    private const MOVES = ['exchange', 'exchange-second', 'swap', 'replace', 'remove', 'refit', 'reseat'];

    /** Actions whose result is the machine's answer, and not a trial that is still to be made. */
    public const LOOKS = ['piggyback', 'warm', 'cool', 'load', 'unload'];

    public function kind(): string
    {
        return self::KIND;
    }

    public function change(Observation $observation, BoardProfile $board, MachineState $state): Change
    {
        $payload = $observation->payload;
        $action = $payload->string('action');
        $site = self::siteOf($payload->string('site'), $board);
        $with = $payload->has('with') ? self::siteOf($payload->string('with'), $board) : '';
        $during = $state->after($action, $site, $with);
        $fitted = [];
        if ($action === 'replace' || $action === 'exchange') {
            $fitted[$during->partAt($site)] = $action === 'exchange' ? 'known-good' : ($payload->boolean('tested', false) ? 'tested' : 'new');
        }

        return new Change($during, $during->lasting(), $fitted, self::hazards($action, [$site, $with], $board, $state), [], $action === 'exchange-second' || $payload->has('secondResult'));
    }

    public function interpret(Observation $observation, Moment $moment, Attachments $attachments): Contribution
    {
        $payload = $observation->payload;
        $site = self::siteOf($payload->string('site'), $moment->board);
        $action = $payload->string('action');
        $with = $payload->has('with') ? self::siteOf($payload->string('with'), $moment->board) : null;
        if ($action === 'swap' && ($with === null || $with === $site)) {
            throw InputRejected::of('with', "Swap {$site} with which other position? Give both, such as swap u14 u15.");
        }
        if ($with !== null && ($moment->board->chips[$site]->part ?? '') !== ($moment->board->chips[$with]->part ?? '')) {
            throw InputRejected::of('with', "{$site} is a {$moment->board->chips[$site]->part} and {$with} is not: only like parts can change places.");
        }
        $assembly = $moment->board->findAssembly($site);
        if (($action === 'unplug' || $action === 'plug') && $assembly?->removable !== true) {
            throw InputRejected::of('site', "{$site} is not something that is plugged in on {$moment->board->name}.".self::removable($moment->board));
        }
        $result = $payload->has('result') ? $payload->string('result') : null;
        $second = $payload->has('secondResult') ? $payload->string('secondResult') : null;
        $title = ($assembly->name ?? $site).' '.($action === 'reseat' && $moment->board->findSetting($site) !== null ? 'set right' : self::ACTIONS[$action] ?? $action).($with === null ? '' : " with {$with}")
            .($payload->boolean('tested', false) ? ', tested before fitting' : '')
            .($result === null ? '' : ': '.(self::RESULTS[$result] ?? $result))
            .($second === null ? '' : '; second machine: '.($second === 'works' ? 'works' : 'shows the fault'));
        $evidence = [];
        if ($result === 'moved' && $action !== 'swap') {
            throw InputRejected::of('result', 'Only what was swapped can have taken the fault along; say same, better, cured, worse or different.');
        }
        if ($result !== null) {
            $evidence = self::complaint($observation->id, $result, $title, $moment);
        }
        if ($with !== null && $result !== null) {
            array_push($evidence, ...self::afterSwap($observation->id, $result, $site, $with, $title, $moment));
        }
        if ($second !== null) {
            $evidence[] = SecondMachine::evidence($observation->id.'/second', $second !== 'works', $title, $moment, $observation->id);
        }
        $notes = $action === 'unplug' && $assembly->needed ? ["The machine will not start without the {$assembly->name}."] : [];

        return new Contribution($title, notes: $notes, evidence: $evidence);
    }

    /**
     * @param  list<string>  $texts
     * @return list<string> the sites as the board writes them
     *
     * @throws InputRejected with every one that the board does not have
     */
    public static function sitesOf(array $texts, BoardProfile $board): array
    {
        $problems = new ProblemList;
        $sites = [];
        foreach ($texts as $text) {
            try {
                $sites[] = self::siteOf($text, $board);
            } catch (InputRejected $rejected) {
                $problems->add('sites', $rejected->problems[0]->sentence);
            }
        }
        $problems->throwIfAny();

        return $sites;
    }

    /**
     * The site as the board writes it: a chip, a pin, a link, an assembly, the machine, or a data or address line.
     *
     * @throws InputRejected
     */
    public static function siteOf(string $text, BoardProfile $board): string
    {
        $chip = $board->findChip($text);
        if ($chip !== null) {
            return $chip->ref;
        }
        // "fuse" will do where there is one.
        $alike = array_values(array_filter($board->chips, static fn ($other): bool => in_array(strtolower($text), [strtolower($other->part), strtolower($other->type->title ?? '')], true)));
        if (count($alike) === 1) {
            return $alike[0]->ref;
        }
        if (preg_match('/^(.+)\.(\d{1,3})$/', $text, $match) === 1 && ($chip = $board->findChip($match[1])) !== null) {
            return "{$chip->ref}.{$match[2]}";
        }
        if (preg_match('/^(?:traces|lines) at (.+)$/i', $text, $match) === 1 && ($chip = $board->findChip($match[1])) !== null) {
            return $chip->ref;
        }
        $setting = $board->findSetting($text);
        if ($setting !== null) {
            return $setting->ref;
        }
        $assembly = $board->findAssembly($text);
        if ($assembly !== null) {
            return $assembly->id;
        }
        if (strcasecmp($text, 'machine') === 0) {
            return 'machine';
        }
        $net = $board->netlist->find($text);
        if ($net !== null) {
            return $net->name;
        }
        if (preg_match('/^[AD]\d{1,2}(\+[AD]\d{1,2})?$/i', $text) === 1) {
            return strtoupper($text);
        }
        throw InputRejected::of('site', "{$board->name} has no chip \"{$text}\". Give a reference from the plan, such as ".(array_key_first($board->chips) ?? 'U1').', a pin such as U14.14, or a line such as D5.');
    }

    /**
     * @return list<Evidence>
     */
    public static function complaint(string $id, string $result, string $words, Moment $moment): array
    {
        $rate = $moment->modes->rate(...);
        $complaint = static fn (bool $abnormal, string $falseAlarm, string $miss): Evidence => new Evidence($id, Evidence::COMPLAINT, $abnormal, $rate($falseAlarm), $rate($miss), [], [], [], 1.0, $moment->state, $words, $id);
        $changed = static fn (bool $abnormal): Evidence => new Evidence("{$id}/changed", Evidence::CHANGED, $abnormal, $rate('changedFalseAlarm'), $rate('changedMiss'), [], [], [], 1.0, $moment->state, $words, $id);

        return match ($result) {
            'cured' => [$complaint(false, 'sickFalseAlarm', 'sickMiss')],
            // Better is one of several cured: weak evidence either way.
            'better' => [$complaint(false, 'betterFalseAlarm', 'betterMiss')],
            'moved' => [$complaint(true, 'sickFalseAlarm', 'sickMiss')],
            'worse', 'different' => [$complaint(true, 'sickFalseAlarm', 'sickMiss'), $changed(true)],
            default => [$complaint(true, 'sickFalseAlarm', 'sickMiss'), $changed(false)],
        };
    }

    /**
     * Which of the two places is wrong after two memory chips were swapped. When it is a third place, both "stays" and
     * "moves" lose weight.
     *
     * @return list<Evidence>
     */
    private static function afterSwap(string $id, string $result, string $site, string $with, string $words, Moment $moment): array
    {
        $evidence = [];
        foreach ([$site => $result === 'as-before', $with => $result === 'moved'] as $place => $abnormal) {
            foreach (in_array($result, ['as-before', 'moved', 'cured', 'different'], true) ? $moment->board->banks : [] as $bank) {
                $line = $bank->linesOf($place)[0] ?? null;
                if ($line !== null) {
                    $evidence[] = new Evidence("{$id}/{$place}", Evidence::NAMED, $abnormal, $moment->modes->rate('runOnce'), $moment->modes->rate('passMiss'), [$bank->name], [$line], [], 1.0, $moment->state, $words, $id);
                }
            }
        }

        return $evidence;
    }

    /**
     * Every time a part is moved its contacts are disturbed or its pads are heated, and it can be damaged.
     *
     * @param  list<string>  $sites
     * @return list<Hazard>
     */
    private static function hazards(string $action, array $sites, BoardProfile $board, MachineState $state): array
    {
        $hazards = [];
        foreach (in_array($action, self::MOVES, true) ? $sites : [] as $site) {
            $chip = $board->chips[$site] ?? null;
            if ($chip === null) {
                continue;
            }
            $soldered = ! $chip->socketed && ($state->fitted[$site] ?? 0) === 0 && in_array($action, ['exchange', 'exchange-second', 'replace', 'remove', 'swap'], true);
            $hazards[] = new Hazard($soldered ? 'born-trace' : 'born-contact', $site, null, $state->moment);
            if ($action !== 'reseat' && $state->partAt($site) !== '' && $action !== 'replace') {
                $hazards[] = new Hazard('born-part', $site, $state->partAt($site), $state->moment);
            }
        }

        return $hazards;
    }

    private static function removable(BoardProfile $board): string
    {
        $names = [];
        foreach ($board->assemblies as $assembly) {
            if ($assembly->removable) {
                $names[] = $assembly->name;
            }
        }

        return $names === [] ? ' Nothing on it is.' : ' What is: '.implode(', ', $names).'.';
    }
}
