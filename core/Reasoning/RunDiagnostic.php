<?php

declare(strict_types=1);

namespace ZapTrace\Reasoning;

use ZapTrace\Diagnostics\Diagnostic;
use ZapTrace\Diagnostics\DiagnosticCode;
use ZapTrace\Diagnostics\DiagnosticResult;

/**
 * Runs a diagnostic that was not run in this state of the machine yet, or once more where it has given a code
 * once only: two of two alike is a result, one is not, and a third says nothing new. A pass, or none at all, is no
 * miscount; it is repeated where something may come and go.
 */
final readonly class RunDiagnostic implements Opener
{
    private const WORTH_FORESEEING = 0.03;

    /** From this chance on that something comes and goes a run that said nothing new is repeated. */
    private const COMES_AND_GOES = 0.3;

    public function propose(Conclusion $conclusion, StepCosts $costs, FailureModes $modes): array
    {
        $proposals = [];
        foreach ($conclusion->board->diagnostics as $diagnostic) {
            $before = $diagnostic->namesOne() ? $this->before($conclusion, $diagnostic) : null;
            $results = $before->runs->results ?? [];
            $runs = count($results);
            // A code may be miscounted; that it passes, or says nothing, is only worth seeing twice where something comes and goes.
            $plain = $runs === 1 && in_array($results[0], [DiagnosticResult::PASS, DiagnosticResult::NOTHING], true);
            if ($runs > 1 || $plain && $this->comesAndGoes($conclusion) < self::COMES_AND_GOES || ! $diagnostic->namesOne() && $this->ran($conclusion, $diagnostic)) {
                continue;
            }
            $proposals[] = new Proposal(
                'run', $diagnostic->id,
                $runs === 0
                    ? ucfirst(($diagnostic->insert === '' ? '' : "put {$diagnostic->insert} in and ")."run the {$diagnostic->name}: it tests {$this->coverage($conclusion, $diagnostic)}.")
                    : "Power off and on, and run the {$diagnostic->name} again: does it say the same?",
                $runs === 0 ? 'tells what is wrong where it looks, and nothing of the rest' : 'tells a result from a miscount',
                'run', $this->outcomes($conclusion, $modes, $diagnostic, $before), $diagnostic->minutes, Equipment::Diagnostic,
            );
        }

        return $proposals;
    }

    /**
     * @return list<ProposedOutcome>
     */
    private function outcomes(Conclusion $conclusion, FailureModes $modes, Diagnostic $diagnostic, ?Evidence $before): array
    {
        // What it said before nothing but contacts was tried it says again, but for what those cured.
        $lately = $before ?? ($diagnostic->namesOne() ? $this->lately($conclusion, $diagnostic) : null);
        $known = array_map(static fn (string $key): DiagnosticResult => $diagnostic->read($key), $lately->runs->results ?? []);
        // All it could say: what is foreseen has to add up.
        $codes = array_map(strval(...), array_keys($diagnostic->codes));
        if (! $diagnostic->namesOne()) {
            // It may report any set of them; one at a time, and only what is suspected, is enough to choose by.
            $codes = array_values(array_filter($codes, fn (string $code): bool => $this->share($conclusion, $diagnostic->codes[$code]) >= self::WORTH_FORESEEING));
        }
        $results = [...$codes, DiagnosticResult::PASS, DiagnosticResult::NOTHING];
        $outcomes = [];
        $alike = $lately?->runs !== null && RunGroup::hung($lately->runs->results) ? 1 : max(1, $this->throughs($conclusion, $diagnostic) + (int) ($lately === null));
        $foreseen = new DiagnosticEvidence($conclusion->board, $modes);
        $given = match (true) {
            $before !== null => [$before],
            $known !== [] => $foreseen->of($diagnostic, $known, $conclusion->now, alike: $alike),
            default => [],
        };
        $otherwise = $before === null && $lately !== null ? $conclusion->otherwiseSince($lately->state) : [];
        foreach ($results as $result) {
            $evidence = $foreseen->of($diagnostic, [...$known, $diagnostic->read($result)], $conclusion->now, alike: $alike);
            $words = match (true) {
                $result === DiagnosticResult::PASS => 'it passes',
                $result === DiagnosticResult::NOTHING => 'it gives no result',
                $diagnostic->isCounted() => "it counts {$result}",
                default => 'it gives '.strtoupper($result),
            };
            $afresh = $otherwise === [] ? [] : $foreseen->of($diagnostic, [$diagnostic->read($result)], $conclusion->now, alike: $alike);
            $outcomes[] = new ProposedOutcome($words, $evidence, ['kind' => 'diagnostic-run', 'payload' => ['diagnostic' => $diagnostic->id, 'result' => $result]], $given, $afresh, $otherwise);
        }

        return $outcomes;
    }

    private function share(Conclusion $conclusion, DiagnosticCode $code): float
    {
        $sites = $code->bit === null ? $code->sites : [$conclusion->board->banks[$code->bit['bank']]->chipOfLine[$code->bit['line']] ?? '', "D{$code->bit['line']}"];

        return array_sum(array_map(static fn (string $site): float => $conclusion->posterior->sites[$site] ?? 0.0, $sites));
    }

    /** The chance, at most, that one of the suspected faults comes and goes. */
    private function comesAndGoes(Conclusion $conclusion): float
    {
        $share = 0.0;
        foreach ($conclusion->suspected as $fault) {
            $share += $fault->mode->perRun > 0.0 ? $conclusion->posterior->faults[$fault->id] ?? 0.0 : 0.0;
        }

        return $share;
    }

    /** The runs that were made in the state the machine is in now. */
    private function before(Conclusion $conclusion, Diagnostic $diagnostic): ?Evidence
    {
        foreach ($conclusion->evidence as $seen) {
            if ($seen->runs !== null && $seen->runs->diagnostic->id === $diagnostic->id && $seen->state->key() === $conclusion->now->key()) {
                return $seen;
            }
        }

        return null;
    }

    /** The last runs that were made before nothing but contacts was tried. */
    private function lately(Conclusion $conclusion, Diagnostic $diagnostic): ?Evidence
    {
        $last = null;
        foreach ($conclusion->evidence as $seen) {
            if ($seen->runs !== null && $seen->runs->diagnostic->id === $diagnostic->id && $seen->state->sameButTried($conclusion->now) && $seen->state->moment >= ($last->state->moment ?? 0)) {
                $last = $seen;
            }
        }

        return $last;
    }

    /** In how many states of the machine it got through. */
    private function throughs(Conclusion $conclusion, Diagnostic $diagnostic): int
    {
        $results = [];
        foreach ($conclusion->evidence as $seen) {
            if ($seen->runs !== null && $seen->runs->diagnostic->id === $diagnostic->id) {
                $results[$seen->state->key()] = [...$results[$seen->state->key()] ?? [], ...$seen->runs->results];
            }
        }

        return count(array_filter($results, RunGroup::through(...)));
    }

    private function ran(Conclusion $conclusion, Diagnostic $diagnostic): bool
    {
        foreach ($conclusion->evidence as $seen) {
            if (str_contains($seen->id, "/{$diagnostic->id}/") && $seen->state->key() === $conclusion->now->key()) {
                return true;
            }
        }

        return false;
    }

    private function coverage(Conclusion $conclusion, Diagnostic $diagnostic): string
    {
        $digits = intdiv($conclusion->board->bus->addressWidth + 3, 4);

        return implode(' and ', array_map(static fn (array $range): string => sprintf("%0{$digits}X to %0{$digits}X", $range[0], $range[1]), $diagnostic->covers)).', and nothing else';
    }
}
