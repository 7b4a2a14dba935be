<?php

declare(strict_types=1);

namespace ZapTrace\Observations;

use ZapTrace\Board\BoardProfile;
use ZapTrace\Problems\InputRejected;

/**
 * Something done to the machine (a part exchanged, reseated, piggybacked, bridged, refitted ...), and what the
 * complaint did then.
 */
final class Intervention implements Interpreter
{
    public const KIND = 'intervention';

    /** What can be done, and how the log says it. */
    public const ACTIONS = [
        'reseat' => 'reseated',
        'clean' => 'cleaned',
        'piggyback' => 'piggybacked',
        'exchange' => 'exchanged for a known good one',
        'replace' => 'replaced',
        'remove' => 'taken out',
        'refit' => 'put back',
        'bridge' => 'bridged',
    ];

    /** What the complaint did then. */
    public const RESULTS = [
        'as-before' => 'as before',
        'better' => 'better',
        'cured' => 'cured',
        'worse' => 'worse',
        'different' => 'different',
    ];

    public function kind(): string
    {
        return self::KIND;
    }

    public function interpret(Observation $observation, Moment $moment, Attachments $attachments): Contribution
    {
        $payload = $observation->payload;
        $site = self::siteOf($payload->string('site'), $moment->board);
        $action = $payload->string('action');
        $result = $payload->has('result') ? $payload->string('result') : null;

        return new Contribution(
            "{$site} ".(self::ACTIONS[$action] ?? $action).($result === null ? '' : ': '.(self::RESULTS[$result] ?? $result)),
            complaint: $result,
        );
    }

    /**
     * The site as the board writes it: a chip, a link, or a data or address line.
     *
     * @throws InputRejected
     */
    public static function siteOf(string $text, BoardProfile $board): string
    {
        $chip = $board->findChip($text);
        if ($chip !== null) {
            return $chip->ref;
        }
        $setting = $board->findSetting($text);
        if ($setting !== null) {
            return $setting->ref;
        }
        if (preg_match('/^[AD]\d{1,2}(\+[AD]\d{1,2})?$/i', $text) === 1) {
            return strtoupper($text);
        }
        throw InputRejected::of('site', "{$board->name} has no chip \"{$text}\". Give a reference from the plan, such as ".(array_key_first($board->chips) ?? 'U1').', or a line such as D5.');
    }
}
