<?php

declare(strict_types=1);

namespace ZapTrace\Observations;

/**
 * A proposed step that is not to be taken now, with the reason.
 */
final class SetAside implements Interpreter
{
    /** Reasons, and how they are said. */
    public const REASONS = [
        'no-spare' => 'no spare at hand',
        'no-tool' => 'the tool is not at hand',
        'no-access' => 'it cannot be reached now',
        'risk' => 'too great a risk',
        'done' => 'already done',
        'later' => 'later',
    ];

    public function kind(): string
    {
        return 'set-aside';
    }

    public function interpret(Observation $observation, Moment $moment, Attachments $attachments): Contribution
    {
        $payload = $observation->payload;
        $action = $payload->string('action');
        $site = $payload->string('site', '');
        $reason = $payload->string('reason');

        return new Contribution(trim("Not now: {$action} {$site}").', '.(self::REASONS[$reason] ?? $reason), setAside: ['action' => $action, 'site' => $site, 'reason' => $reason]);
    }
}
