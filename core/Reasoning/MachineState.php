<?php

declare(strict_types=1);

namespace ZapTrace\Reasoning;

use ZapTrace\Board\Settings;

/**
 * How the machine stood when something was seen: its links and latches, and what had been done to its sites.
 */
final readonly class MachineState
{
    /** What is done for the moment only, while one looks. */
    private const MOMENTARY = ['piggyback'];

    /** What takes a part out of play altogether. */
    private const PART_GONE = ['replace', 'exchange', 'remove'];

    /**
     * @param  array<string, string>  $done  site => the last thing done to it
     */
    public function __construct(public Settings $settings, public array $done = [])
    {
    }

    public function after(string $action, string $site): self
    {
        $done = $this->done;
        unset($done[$site]);
        if ($action !== 'refit') {
            $done[$site] = $action;
        }

        return new self($this->settings, $done);
    }

    public function with(Settings $settings): self
    {
        return new self($settings, $this->done);
    }

    /** The state that remains after looking: what was done for the moment is undone. */
    public function lasting(): self
    {
        return new self($this->settings, array_filter($this->done, static fn (string $action): bool => ! in_array($action, self::MOMENTARY, true)));
    }

    /** The part of the fault that this state takes out of play, 0 to 1. */
    public function relieves(SuspectedFault $fault, Settings $first): float
    {
        if ($fault->kind === SiteKind::Link) {
            $untouched = $this->settings->position($fault->site) === $first->position($fault->site) && ! isset($this->done[$fault->site]);

            return $untouched ? 0.0 : 1.0;
        }
        $action = $this->done[$fault->site] ?? null;
        if ($action === null) {
            return 0.0;
        }
        if (in_array($action, self::PART_GONE, true)) {
            return 1.0;
        }
        if ($action === 'bridge' && $fault->kind === SiteKind::Net) {
            return str_starts_with($fault->mode->name, 'open') ? 1.0 : 0.0;
        }

        return $fault->mode->relief[$action] ?? 0.0;
    }

    public function key(): string
    {
        return $this->settings->key().json_encode($this->done, JSON_THROW_ON_ERROR);
    }

    public function sameParts(self $other): bool
    {
        return $this->lasting()->done === $other->lasting()->done;
    }
}
