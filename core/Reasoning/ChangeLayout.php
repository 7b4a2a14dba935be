<?php

declare(strict_types=1);

namespace ZapTrace\Reasoning;

use ZapTrace\Board\Settings;

/**
 * Moves the link that halves or swaps the memory, and unplugs what the machine can start without: halving comes before
 * touching a chip.
 */
final readonly class ChangeLayout implements Proposer
{
    public function propose(Conclusion $conclusion, StepCosts $costs, FailureModes $modes): array
    {
        $proposals = [];
        $board = $conclusion->board;
        $banks = new ReachedBanks($board);
        $reached = $banks->of($conclusion->now->settings);
        foreach ($board->links() as $link) {
            foreach (array_keys($link->positions) as $position) {
                $position = (string) $position;
                if ($position === $conclusion->now->settings->position($link->ref)) {
                    continue;
                }
                $settings = Settings::of($board, [...$conclusion->now->settings->changedFrom($board), $link->ref => $position]);
                // What is unplugged with its assembly is out of play already.
                $out = array_filter(array_diff($reached, $banks->of($settings)), static fn (string $bank): bool => ! isset($conclusion->now->unplugged[$board->chips[$board->banks[$bank]->chips()[0] ?? '']->assembly ?? '']));
                if ($out === [] || count($out) === count($reached)) {
                    continue;
                }
                $proposals[] = $this->tried(
                    $conclusion, $modes, 'set', $link->ref, "Set {$link->ref} to {$position}: bank ".implode(' and ', $out).' is out of play then. Try it.',
                    'tells a fault in bank '.implode(' and ', $out).' from one in the rest', $conclusion->now->with($settings),
                    static fn (string $result): array => ['kind' => 'setting', 'payload' => ['ref' => $link->ref, 'position' => $position, 'since' => 'now', 'result' => $result]],
                );
            }
        }
        foreach ($conclusion->moved() as $ref => $came) {
            $settings = Settings::of($board, [...$conclusion->now->settings->changedFrom($board), $ref => $came]);
            $proposals[] = $this->tried(
                $conclusion, $modes, 'set', $ref, "Set {$ref} back to {$came}, and try it.", 'shows what the link kept out of play', $conclusion->now->with($settings),
                static fn (string $result): array => ['kind' => 'setting', 'payload' => ['ref' => $ref, 'position' => $came, 'since' => 'now', 'result' => $result]],
            );
        }
        foreach ($board->assemblies as $assembly) {
            if (isset($conclusion->now->unplugged[$assembly->id])) {
                $proposals[] = $this->tried(
                    $conclusion, $modes, 'plug', $assembly->id, "Plug the {$assembly->name} in again, and try it.", 'shows what was out with it', $conclusion->now->after('plug', $assembly->id),
                    static fn (string $result): array => ['kind' => 'intervention', 'payload' => ['action' => 'plug', 'site' => $assembly->id, 'result' => $result]],
                );
            }
            if ($assembly->removable && ! $assembly->needed && ! isset($conclusion->now->unplugged[$assembly->id])) {
                $proposals[] = $this->tried(
                    $conclusion, $modes, 'unplug', $assembly->id, "Unplug the {$assembly->name}, and try it without.", "tells a fault on the {$assembly->name} from one on the rest", $conclusion->now->after('unplug', $assembly->id),
                    static fn (string $result): array => ['kind' => 'intervention', 'payload' => ['action' => 'unplug', 'site' => $assembly->id, 'result' => $result]],
                );
            }
        }

        return $proposals;
    }

    /**
     * @param  callable(string): array{kind: string, payload: array<string, mixed>}  $record
     */
    private function tried(Conclusion $conclusion, FailureModes $modes, string $action, string $site, string $sentence, string $tells, MachineState $state, callable $record): Proposal
    {
        $seen = static fn (bool $abnormal): Evidence => new Evidence("{$action} {$site} ".($abnormal ? 'as before' : 'cured'), Evidence::COMPLAINT, $abnormal, $modes->rate('sickFalseAlarm'), $modes->rate('sickMiss'), [], [], [], 1.0, $state, '');

        return new Proposal($action, $site, $sentence, $tells, $action === 'plug' ? 'unplug' : $action, [
            new ProposedOutcome('as before', [$seen(true)], $record('as-before')),
            new ProposedOutcome('cured', [$seen(false)], $record('cured')),
        ]);
    }
}
