<?php

declare(strict_types=1);

namespace ZapTrace\Reasoning;

use ZapTrace\Board\BoardProfile;
use ZapTrace\Board\RangeKind;
use ZapTrace\Board\Settings;
use ZapTrace\Diagnostics\Diagnostic;
use ZapTrace\Diagnostics\DiagnosticCode;
use ZapTrace\Diagnostics\DiagnosticResult;
use ZapTrace\Memory\Wording;
use ZapTrace\Rom\RomEvidence;
use ZapTrace\Rom\RomVerdict;
use ZapTrace\Signals\LineFaults;
use ZapTrace\Signals\Structure;

/**
 * Turns the runs of one diagnostic in one state of the machine into evidence.
 *
 * All runs of one that names one thing at a time are one report. One that reports everything it found, and one that
 * goes step by step, say something of each bit or step that they came to. Nothing speaks for what is not covered.
 */
final class DiagnosticEvidence
{
    /** What selects a part that a step names, beside the part itself. */
    private const BEHIND = 0.4;

    private ?RomEvidence $roms = null;

    public function __construct(private readonly BoardProfile $board, private readonly FailureModes $modes)
    {
    }

    public static function table(Diagnostic $diagnostic): string
    {
        return "table of the {$diagnostic->name}";
    }

    /**
     * @param  non-empty-list<DiagnosticResult>  $results  of each run
     * @param  list<string>  $observations  those the runs were recorded in
     * @param  int  $alike  states in which it got through, this one among them
     * @param  int  $passes  states in which it passed, this one among them where it did
     * @return list<Evidence>
     */
    public function of(Diagnostic $diagnostic, array $results, MachineState $state, array $observations = [], int $alike = 1, int $passes = 1): array
    {
        $id = sha1($state->key())."/{$diagnostic->id}";
        $keys = array_map(static fn (DiagnosticResult $result): string => $result->key, $results);
        $observation = count(array_unique($observations)) === 1 ? $observations[0] : null;
        $reach = $this->reach($diagnostic, $state->settings);
        if ($diagnostic->namesOne()) {
            $abnormal = array_filter($keys, static fn (string $key): bool => $key !== DiagnosticResult::PASS) !== [];

            return [new Evidence($id, Evidence::RUNS, $abnormal, $this->modes->rate('runOnce'), $this->modes->rate('passMiss'), [], [], [], 1.0, $state, $this->words($diagnostic, $results), $observation, setup: $abnormal ? self::table($diagnostic) : null, runs: new RunGroup($diagnostic, $keys, $reach, $alike, RunGroup::passed($keys) ? $passes : 1))];
        }
        // Whether it got through at all tells as much of one that reports everything as of one that names one thing. What goes
        // step by step runs by itself: how far it comes is what it says.
        $evidence = [];
        $hung = count(array_keys($keys, DiagnosticResult::NOTHING, true));
        foreach ($diagnostic->reports === 'step' ? [] : [DiagnosticResult::NOTHING => $hung, DiagnosticOutcome::THROUGH => count($keys) - $hung] as $key => $times) {
            if ($times > 0) {
                $words = "the {$diagnostic->name} gave ".($key === DiagnosticResult::NOTHING ? 'no' : 'a').' result ('.self::alike($times, count($keys)).')';
                $evidence[] = new Evidence("{$id}/{$key}", Evidence::RUNS, $key === DiagnosticResult::NOTHING, $this->modes->rate('runOnce'), $this->modes->rate('passMiss'), [], [], [], 1.0, $state, $words, $observation, runs: new RunGroup($diagnostic, array_fill(0, $times, $key), $reach, $alike));
            }
        }
        foreach (array_unique($keys) as $number => $key) {
            $times = count(array_keys($keys, $key, true));
            array_push($evidence, ...$this->everything($diagnostic, $results[$number], $times, "{$id}/{$key}", self::alike($times, count($results)), $reach, $state, $observation));
        }

        return $evidence;
    }

    private static function alike(int $times, int $of): string
    {
        return $of === 1 ? 'one run' : "{$times} of {$of} runs";
    }

    /**
     * @param  array<string, float>  $reach
     * @return list<Evidence>
     */
    private function everything(Diagnostic $diagnostic, DiagnosticResult $result, int $times, string $id, string $alike, array $reach, MachineState $state, ?string $observation): array
    {
        if ($result->key === DiagnosticResult::NOTHING) {
            return [];
        }
        $falseAlarm = $this->modes->rate($times > 1 ? 'readOften' : 'runOnce');
        $named = array_map(static fn (DiagnosticCode $code): string => strtolower($code->code), $result->codes);
        $evidence = [];
        $passed = true;
        foreach ($diagnostic->codes as $key => $code) {
            $key = (string) $key;
            $wrong = in_array($key, $named, true);
            // A diagnostic that goes step by step stops at the first that fails; later ones it never came to.
            if (! $wrong && (! $passed || ($code->bit !== null && ($reach[$code->bit['bank']] ?? 0.0) <= 0.0))) {
                continue;
            }
            $words = "the {$diagnostic->name} ".($wrong ? 'names' : 'finds nothing at')." {$code->words()} ({$alike})";
            $evidence[] = $code->bit !== null
                ? new Evidence("{$id}/{$key}", Evidence::NAMED, $wrong, $falseAlarm, $this->modes->rate('unnamed'), [$code->bit['bank']], [$code->bit['line']], [], $reach[$code->bit['bank']] ?? 1.0, $state, $words, $observation, setup: $wrong ? self::table($diagnostic) : null)
                : new Evidence("{$id}/{$key}", Evidence::STEP, $wrong, $falseAlarm, $this->modes->rate('unnamed'), [], [], [], 1.0, $state, $words, $observation, setup: $wrong ? self::table($diagnostic) : null, sites: $code->sites, strengths: $wrong ? $this->behind($code->sites) : []);
            if ($wrong && $diagnostic->reports === 'step') {
                $passed = false;
            }
        }
        // Bits of a bank that are named in one run are named by one cause, where one serves them all.
        $evidence = Evidence::sharing($evidence, $observation);
        foreach ($result->differing as $bit) {
            $evidence[] = new Evidence("{$id}/D{$bit['line']}", Evidence::NAMED, true, $falseAlarm, $this->modes->rate('unnamed'), [$bit['bank']], [$bit['line']], [], 1.0, $state, "the registers differ in bit {$bit['line']} ({$alike})", $observation);
        }

        return $evidence;
    }

    /**
     * A ROM that is named is one that does not answer as it should: what selects it can be why, what addresses it, or what
     * answers with it.
     *
     * @param  list<string>  $sites
     * @return array<string, float>
     */
    private function behind(array $sites): array
    {
        $strengths = [];
        foreach ($this->board->netlist->isEmpty() ? [] : $sites as $site) {
            if (in_array($this->board->chips[$site]->kind(), ['rom', 'eprom'], true)) {
                $this->roms ??= new RomEvidence(Structure::of($this->board));
                $strengths = LineFaults::together($strengths, array_map(static fn (float $strength): float => self::BEHIND * $strength, LineFaults::together($this->roms->onBoard($site, RomVerdict::Blank, [], [], false), $this->roms->misled($site), $this->roms->spoilt($site))));
            }
        }

        return array_diff_key($strengths, array_flip($sites));
    }

    /**
     * @param  non-empty-list<DiagnosticResult>  $results
     */
    private function words(Diagnostic $diagnostic, array $results): string
    {
        $runs = count($results);
        $said = [];
        foreach ($results as $result) {
            $what = match ($result->key) {
                DiagnosticResult::PASS => 'passed',
                DiagnosticResult::NOTHING => 'gave no result',
                default => 'names '.($result->codes[0] ?? null)?->words(),
            };
            $said[$what] = ($said[$what] ?? 0) + 1;
        }
        $words = "the {$diagnostic->name} ";
        if (count($said) === 1) {
            return $words.array_key_first($said).($runs > 1 ? " ({$runs} of {$runs} runs alike)" : ' (one run)');
        }

        return $words.Wording::list(array_map(static fn (string $what, int $times): string => "{$what} in {$times}", array_keys($said), $said))." of {$runs} runs";
    }

    /**
     * @return array<string, float> bank => the part of it that is covered as the links stand
     */
    private function reach(Diagnostic $diagnostic, Settings $settings): array
    {
        $reach = [];
        foreach ($this->board->map->reachedBy('read', $settings) as $range) {
            if ($range->kind === RangeKind::Ram && $range->bank !== null) {
                $share = $diagnostic->share($range->from, $range->to);
                if ($share > 0.0) {
                    $reach[$range->bank] = max($reach[$range->bank] ?? 0.0, $share);
                }
            }
        }

        return $reach;
    }
}
