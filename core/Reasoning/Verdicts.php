<?php

declare(strict_types=1);

namespace ZapTrace\Reasoning;

/**
 * What the weighing makes of the parts that something was done to, in plain sentences. Whether a part is faulty and
 * whether it is the cause of what is left are two separate things.
 */
final readonly class Verdicts
{
    private const SURE = 0.7;

    private const UNLIKELY = 0.15;

    /** Takes the part itself out of its place. */
    private const PARTED = ['exchange', 'exchange-second', 'replace', 'remove', 'swap', 'refit'];

    public function __construct(private Conclusion $conclusion)
    {
    }

    /**
     * @return list<string> the weightiest first
     */
    public function sentences(): array
    {
        $now = $this->conclusion->now;
        $left = $this->conclusion->nothingLeft();
        $sentences = [];
        $acted = [];
        foreach ($now->done + $now->contacts as $site => $action) {
            $acted[(string) $site] = $now->done[$site] ?? $action;
        }
        foreach ($this->conclusion->evidence as $seen) {
            if ($seen->site !== null) {
                $acted[$seen->site] ??= 'test';
            }
        }
        foreach ($acted as $site => $action) {
            $sentence = $this->ofSite((string) $site, $action, $left);
            if ($sentence !== null) {
                $sentences[] = $sentence;
            }
        }
        foreach ($this->conclusion->suspects() as $suspect) {
            $share = (int) round(100 * $suspect->share);
            if ($suspect->share > 0.3 && $suspect->kind === SiteKind::SecondMachine) {
                $sentences[] = "The second machine may have a fault of its own ({$share} %): prove it before it is believed.";
            }
            if ($suspect->share > 0.4 && $suspect->kind === SiteKind::Setup) {
                $sentences[] = "What was measured with may be wrong: {$suspect->site} ({$share} %).";
            }
        }
        $born = 0.0;
        $where = '';
        foreach ($this->conclusion->suspected as $fault) {
            $share = $fault->onset > 0 ? $this->conclusion->posterior->faults[$fault->id] ?? 0.0 : 0.0;
            if ($share > $born) {
                [$born, $where] = [$share, "{$fault->site}, {$fault->mode->name}"];
            }
        }
        if ($born > 0.25) {
            $sentences[] = 'This fault may have been born on the bench ('.(int) round(100 * $born)." %): {$where}.";
        }

        return array_values(array_unique($sentences));
    }

    private function ofSite(string $site, string $action, float $left): ?string
    {
        $now = $this->conclusion->now;
        $share = $this->share(static fn (SuspectedFault $fault): bool => $fault->part === $site && $fault->onset === 0);
        $contact = $this->share(static fn (SuspectedFault $fault): bool => $fault->part === null && $fault->seat === $site && isset($fault->mode->relief['reseat']));
        $percent = static fn (float $share): string => (int) round(100 * $share).' %';
        $inSecond = str_ends_with((string) $now->seatOf($site), MachineState::SECOND);
        if ($contact >= self::SURE && $share < self::SURE) {
            return "The contact of {$site} was the fault ({$percent($contact)}), and not the part.";
        }
        $seat = $now->seatOf($site);
        if ($share >= self::SURE) {
            return match (true) {
                $seat !== null && $seat !== $site && ! $inSecond => "The fault travels with {$site} ({$percent($share)}): it sits in {$seat} now.",
                $inSecond => "The fault travels with {$site} ({$percent($share)}).",
                $seat === $site => null,
                $left >= self::SURE => "{$site} was the fault ({$percent($share)}); it went with the part.",
                default => "{$site} is bad ({$percent($share)}), and yet not the cause of what is left.".$this->second(),
            };
        }
        if ($share <= self::UNLIKELY && in_array($action, self::PARTED, true) && isset($this->conclusion->board->chips[$site]) && $left < self::SURE) {
            return "The fault stays with the machine: {$site} is probably good ({$percent($share)} that it is bad).".$this->drivenBadly();
        }

        return null;
    }

    private function second(): string
    {
        $leading = $this->conclusion->suspects()[0] ?? null;

        return $leading !== null && $leading->kind === SiteKind::Chip && $leading->share >= 0.5 ? " {$leading->site} is a second bad chip." : '';
    }

    private function drivenBadly(): string
    {
        $leading = $this->conclusion->suspects()[0] ?? null;

        return $leading !== null && in_array($leading->kind, [SiteKind::Select, SiteKind::Strobe, SiteKind::Multiplexer, SiteKind::Refresh, SiteKind::Supply], true)
            ? " Good chips are driven badly: look at {$leading->site}." : '';
    }

    /**
     * @param  callable(SuspectedFault): bool  $which
     */
    private function share(callable $which): float
    {
        $ids = [];
        foreach ($this->conclusion->suspected as $fault) {
            if ($which($fault)) {
                $ids[$fault->id] = true;
            }
        }
        $share = 0.0;
        foreach ($this->conclusion->posterior->diagnoses as $diagnosis) {
            foreach ($diagnosis->faults as $fault) {
                if (isset($ids[$fault->id])) {
                    $share += $diagnosis->share;
                    break;
                }
            }
        }

        return $share;
    }
}
