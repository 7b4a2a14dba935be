<?php

declare(strict_types=1);

namespace ZapTrace\Reasoning;

use ZapTrace\Board\Assembly;
use ZapTrace\Board\BoardProfile;
use ZapTrace\Board\Chip;
use ZapTrace\Parts\PartLibrary;

/**
 * What steps and repairs cost on this board as it lies open now, in minutes of work; risk is counted in minutes too.
 */
final readonly class StepCosts
{
    /**
     * @param  MachineState  $now  what has been worked on is open already
     */
    public function __construct(private BoardProfile $board, private PartLibrary $parts, public StepKnowledge $knowledge, private MachineState $now, private Workbench $bench)
    {
    }

    /** The price of repairing this site, right or wrong. */
    public function repair(string $site, SiteKind $kind): float
    {
        $seat = (string) strtok((string) preg_replace('/^new | \(\d+\)$/', '', MachineState::position($site)), '.');
        $price = match (true) {
            $kind === SiteKind::Link => $this->knowledge->repair('link'),
            $kind === SiteKind::Net, $kind === SiteKind::Pin => $this->knowledge->repair('trace'),
            $kind === SiteKind::Assembly => $this->knowledge->repair('assembly'),
            $kind === SiteKind::Setup => $this->knowledge->repair('setup'),
            $kind === SiteKind::Elsewhere, $kind === SiteKind::SecondMachine => $this->knowledge->repair('elsewhere'),
            $this->isSocketed($seat) => $this->knowledge->repair('socketed'),
            default => $this->knowledge->repair('soldered') + $this->knowledge->repair('perPin') * $this->pins($seat) + $this->knowledge->repair('pads'),
        };

        return $price + ($this->isRare($seat) && ! $this->hasSpare($seat) ? $this->knowledge->repair('rare') : 0.0) + $this->accessMinutes($seat);
    }

    /** Minutes to touch or measure every pin of a chip. Common practice. */
    public static function allPins(?Chip $chip): float
    {
        return 1.0 + 0.1 * ($chip->type->pins ?? 16);
    }

    /** Fitted in a socket, by the maker or since. */
    public function isSocketed(string $seat): bool
    {
        return ($this->board->chips[$seat]->socketed ?? false) || ($this->now->fitted[$seat] ?? 0) > 0;
    }

    public function isChip(string $site): bool
    {
        return isset($this->board->chips[$site]);
    }

    public function partOf(string $site): string
    {
        return $this->board->chips[$site]->part ?? '';
    }

    public function kindOfPart(string $site): string
    {
        return $this->parts->find($this->partOf($site))->kind ?? '';
    }

    /** What has to be opened for it that is not open yet; null when nothing. */
    public function access(string $site): ?Assembly
    {
        $id = $this->board->chips[(string) strtok($site, '.')]->assembly ?? $site;
        $assembly = $this->board->findAssembly($id);
        if ($assembly === null || $assembly->access === '') {
            return null;
        }
        foreach (array_keys($this->now->done + $this->now->contacts + $this->now->seats) as $touched) {
            if (($this->board->chips[(string) strtok((string) $touched, '.')]->assembly ?? $touched) === $assembly->id) {
                return null;
            }
        }

        return $assembly;
    }

    public function accessMinutes(string $site): float
    {
        return $this->access($site)->accessMinutes ?? 0.0;
    }

    /** Programmed and custom parts cannot be bought again: they are at hand only when the drawer says so. */
    private function isRare(string $seat): bool
    {
        return in_array($this->kindOfPart($seat), ['programmed', 'custom'], true);
    }

    public function hasSpare(string $seat): bool
    {
        return $this->bench->hasSpare($this->partOf($seat)) && ! ($this->isRare($seat) && $this->bench->spares === null);
    }

    private function pins(string $seat): int
    {
        return $this->parts->find($this->partOf($seat))->pins ?? 16;
    }
}
