<?php

declare(strict_types=1);

namespace ZapTrace\Reasoning;

use ZapTrace\Board\BoardProfile;
use ZapTrace\Parts\PartLibrary;

/**
 * What steps and repairs cost on this board, in minutes of work; risk to the board is counted in minutes too.
 *
 * Source of the figures: common practice. A soldered chip takes longer with every pin, and its removal may lift pads.
 */
final readonly class StepCosts
{
    public function __construct(private BoardProfile $board, private PartLibrary $parts)
    {
    }

    /** The price of repairing this site, right or wrong. */
    public function repair(string $site, SiteKind $kind): float
    {
        return match (true) {
            $kind === SiteKind::Link => 2.0,
            $kind === SiteKind::Net => 15.0,
            $kind === SiteKind::Elsewhere => 60.0,
            $this->isSocketed($site) => 5.0,
            default => 12.0 + 0.8 * $this->pins($site) + 12.0,
        };
    }

    public function isSocketed(string $site): bool
    {
        return $this->board->chips[$site]->socketed ?? false;
    }

    public function isChip(string $site): bool
    {
        return isset($this->board->chips[$site]);
    }

    public function partOf(string $site): string
    {
        return $this->board->chips[$site]->part ?? '';
    }

    private function pins(string $site): int
    {
        return $this->parts->find($this->partOf($site))->pins ?? 16;
    }
}
