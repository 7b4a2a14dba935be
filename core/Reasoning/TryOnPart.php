<?php

declare(strict_types=1);

namespace ZapTrace\Reasoning;

/**
 * Steps that do something to a suspected part and watch the complaint: reseat, piggyback, exchange, replace, bridge,
 * and putting an exchanged part back.
 */
final readonly class TryOnPart implements Proposer
{
    private const LEADING = 8;

    public function __construct(private FailureModes $modes)
    {
    }

    public function propose(Conclusion $conclusion, StepCosts $costs): array
    {
        $proposals = [];
        foreach (array_slice($conclusion->suspects(), 0, self::LEADING) as $suspect) {
            $site = $suspect->site;
            $part = $costs->partOf($site);
            if ($suspect->kind === SiteKind::Link) {
                $proposals[] = $this->proposal($conclusion, 'reseat', $site, "Look whether {$site} really stands at {$conclusion->now->settings->position($site)}, press it home, and try it.", 'tells a link that is set or sits wrong from a bad part', 1.0, 'none', 0.0, 'Power off while you touch the link.');
            }
            if (! $costs->isChip($site)) {
                if ($suspect->kind === SiteKind::Net && preg_match('/^D\d+$/', $site) === 1) {
                    $proposals[] = $this->proposal($conclusion, 'bridge', $site, "Bridge {$site} from the memory chip to the line with a clip lead, and try it.", "tells an open trace of {$site} from a bad chip", 10.0, 'handling', 1.0, 'Power off while you clip; a slip shorts two pins.');
                }

                continue;
            }
            if ($costs->isSocketed($site)) {
                $proposals[] = $this->proposal($conclusion, 'reseat', $site, "Take {$site} out of its socket, put it back, and try it.", "tells a bad contact of {$site} from a bad part", 3.0, 'handling', 1.0, 'Power off; touch ground first, static kills.');
                $proposals[] = $this->proposal($conclusion, 'exchange', $site, "Exchange {$site} for a known good {$part}, and try it.", "tells whether the fault goes with {$site}", 5.0, 'handling', 2.0, 'Power off; mind the direction of the notch; static kills.');
            } else {
                $sentence = $suspect->kind === SiteKind::Supply
                    ? "Measure what {$site} gives, at the supply pins of the memory; replace it only if that is out of limits, and try it."
                    : "Replace {$site} with a good {$part} in a socket, and try it.";
                $proposals[] = $this->proposal($conclusion, 'replace', $site, $sentence, "settles {$site}", $costs->repair($site, $suspect->kind) - 12.0, 'heat', 12.0, 'Solder fume and lead: air the place, wash your hands. Shield the neighbours from heat.');
            }
            if ($suspect->kind === SiteKind::Chip) {
                $proposals[] = $this->proposal($conclusion, 'piggyback', $site, "Press a good {$part} on top of {$site}, power on, and try it.", "tells {$site} with a dead output from one that drives hard", 4.0, 'handling', 1.0, 'Power off while you place it; pin 1 over pin 1.');
            }
        }
        foreach ($conclusion->now->done as $site => $action) {
            if ($action === 'exchange') {
                $proposals[] = $this->proposal($conclusion, 'refit', (string) $site, "Put the original {$site} back, and try it.", 'tells a bad part from a contact that was only disturbed', 5.0, 'handling', 2.0, 'Power off; mind the direction of the notch.');
            }
        }

        return $proposals;
    }

    private function proposal(Conclusion $conclusion, string $action, string $site, string $sentence, string $tells, float $minutes, string $risk, float $riskMinutes, string $caution): Proposal
    {
        return new Proposal($action, $site, $sentence, $tells, $minutes, $risk, $riskMinutes, $caution, new Evidence(
            "{$action} {$site}", Evidence::COMPLAINT, true, $this->modes->rate('sickFalseAlarm'), $this->modes->rate('sickMiss'),
            [], [], [], 1.0, $conclusion->now->after($action, $site), '',
        ), ['as-before', 'cured'], ['as before', 'cured']);
    }
}
