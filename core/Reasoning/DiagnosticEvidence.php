<?php

declare(strict_types=1);

namespace ZapTrace\Reasoning;

use ZapTrace\Board\BoardProfile;
use ZapTrace\Board\RangeKind;
use ZapTrace\Diagnostics\Diagnostic;

/**
 * Turns the runs of one diagnostic in one state of the machine into evidence.
 *
 * Runs that agree are one finding, not many: a wrong table repeats its error every time, and is a fault of the set-up
 * with a site of its own. A result names one bit, and acquits none of the others. A pass speaks only for what the
 * diagnostic covers.
 */
final readonly class DiagnosticEvidence
{
    public function __construct(private BoardProfile $board, private FailureModes $modes)
    {
    }

    /**
     * @param  list<string>  $results  codes in small letters, or "pass", one for each run
     * @return list<Evidence>
     */
    public function of(Diagnostic $diagnostic, array $results, MachineState $state): array
    {
        $counts = array_count_values($results);
        $evidence = [];
        foreach ($counts as $result => $times) {
            $result = (string) $result;
            $prefix = sha1($state->key())."/{$diagnostic->id}/{$result}";
            $alike = count($counts) === 1 ? ($times > 1 ? "{$times} of {$times} runs alike" : 'one run') : "{$times} of ".count($results).' runs';
            if ($result === 'pass') {
                $evidence[] = new Evidence($prefix, Evidence::NAMED, false, $this->modes->rate('runOnce'), $this->modes->rate(count($counts) === 1 ? 'passMiss' : 'passMissUnsteady'), [], [], [], 1.0, $state, "the {$diagnostic->name} passed ({$alike})", also: $this->covered($diagnostic, $state));

                continue;
            }
            $bit = $diagnostic->bitOf($result);
            if ($bit === null) {
                continue;
            }
            // Results that change from run to run are of little worth, each of them.
            $falseAlarm = $this->modes->rate(count($counts) > 1 ? 'runUnsteady' : ($times > 1 ? 'runAgain' : 'runOnce'));
            $slip = $this->modes->rate($times > 1 ? 'slipAgain' : 'slipOnce');
            $evidence[] = new Evidence(
                $prefix, Evidence::NAMED, true, $falseAlarm, $this->modes->rate('unnamed'), [$bit['bank']], [$bit['line']], [], 1.0, $state,
                "the {$diagnostic->name} names bit {$bit['line']} of bank {$bit['bank']} ({$alike})",
                also: array_map(static fn (array $other): array => ['bank' => $other['bank'], 'line' => $other['line'], 'weight' => $slip], $diagnostic->oneOff($result)),
                setup: "table of the {$diagnostic->name}",
            );
        }

        return $evidence;
    }

    /**
     * @return list<array{bank: string, line: int, weight: float}>
     */
    private function covered(Diagnostic $diagnostic, MachineState $state): array
    {
        $covered = [];
        $named = [];
        foreach ($diagnostic->codes as $bit) {
            $named["{$bit['bank']}/{$bit['line']}"] = true;
        }
        foreach ($this->board->map->reachedBy('read', $state->settings) as $range) {
            if ($range->kind !== RangeKind::Ram || $range->bank === null) {
                continue;
            }
            $share = $diagnostic->share($range->from, $range->to);
            foreach ($share > 0.0 ? $this->board->banks[$range->bank]->lines() : [] as $line) {
                if (isset($named["{$range->bank}/{$line}"])) {
                    $covered[] = ['bank' => $range->bank, 'line' => $line, 'weight' => 1.0];
                }
            }
        }

        return $covered;
    }
}
