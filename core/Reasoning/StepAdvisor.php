<?php

declare(strict_types=1);

namespace ZapTrace\Reasoning;

use ZapTrace\Board\Bank;
use ZapTrace\Board\Netlist;
use ZapTrace\Board\Server;
use ZapTrace\Observations\SetupCheck;
use ZapTrace\Parts\PartLibrary;
use ZapTrace\Signals\ContinuityPlan;
use ZapTrace\Signals\SignalEvidence;

/**
 * Chooses the next step: the one that saves most of the expected price of repairing from here, net of its own minutes
 * and risk under the workshop's school; where none does but something still informs, the one with most bits a minute;
 * and else the repair with the highest share for its price.
 *
 * Source: decision-theoretic troubleshooting; Heckerman, Breese and Rommelse, Communications of the ACM 38, 1995.
 */
final readonly class StepAdvisor
{
    private const REPAIRS = ['exchange', 'replace', 'wire', 'fix'];

    /** From this probability on that no fault is left, the work is to prove it. */
    private const NEARLY_PROVED = 0.85;

    /** From this share on what is not on the profile stops parts from coming out, when it leads. */
    private const BEYOND = 0.2;

    /** From this share on a site is to be repaired whatever else there is. */
    private const SURE = 0.95;

    /** A test of the whole machine that saves so many minutes does not wait for a likely repair. */
    private const CLEARLY = 3.0;

    /** Below this share nothing is unsoldered while anything else can be done. */
    private const WORTH_HEAT = 0.5;

    /** From this chance on the line of a memory chip is measured before the chip comes out: two minutes against half an hour. */
    private const MAY_BE_OPEN = 0.04;

    /** From this share on, of the buffer of a memory chip and of what holds its line, the buffer is touched before the chip comes out. */
    private const MAY_BE_WHY = 0.1;

    /** From this chance on an outcome that makes the leading suspect unlikely matters. */
    private const TURNS = 0.05;

    /** From this share on a repair need not wait for tests that would not change it. */
    private const LIKELY = 0.65;

    /** How many of the outcomes are shown, the likelier ones. */
    private const FORESEEN = 4;

    /** From this chance on what was not thought of counts as an outcome of its own. */
    private const BESIDE = 0.02;

    /** A touch that tells this much and wastes no more than these minutes comes before the iron. */
    private const TELLING = 0.1;

    private const WASTED = -0.5;

    /** A test that tells less than this tells nothing. */
    private const INFORMS = 0.05;

    /** A test that shows something unthought-of so seldom is not made for that. */
    private const UNLIKELY = 0.03;

    /** Another bank that tells as much as this is read before a memory chip is unsoldered. */
    private const ANOTHER_BANK = 0.5;

    /** Below this share of the leading suspect none stands out. */
    private const NOBODY = 0.2;

    /** A test of so many minutes waits until what the machine should do has been tried. */
    private const LONG = 8.0;

    /** What takes so much of a fault out of play mends it where the complaint goes. */
    private const MENDED = 0.5;

    /** Minutes in which what is not among the likeliest is found by measuring; nobody repairs his way down to it. Estimated. */
    private const SEARCHED = 40.0;

    /** From this share on a socketed part is exchanged when no test saves more than it costs. */
    private const MAY_WELL_BE = 0.35;

    /** Above this share a leading suspect is repaired when no test saves more than it costs. */
    private const CONVINCING = 0.5;

    /** A part that is cleared by so much as all its pins were touched stays in; where others drive its lines as well it may be dead. */
    private const SPARED = 0.7;

    /** Up to this share what tells so many bits in half of its minutes comes before it. */
    private const LIKELIER = 0.7;

    private const MUCH = 0.5;

    /** What comes and goes and was never seen here is looked for as if it showed in so many power-ons. Estimated. */
    private const SELDOM = 1.0 / 8.0;

    /**
     * @param  list<Proposer>  $proposers
     */
    public function __construct(private FailureModes $modes, private PartLibrary $parts, private StepKnowledge $knowledge, private array $proposers)
    {
    }

    public static function usual(FailureModes $modes, PartLibrary $parts, StepKnowledge $knowledge): self
    {
        return new self($modes, $parts, $knowledge, [new LookOver, new MeasureRails, new WatchSigns, new CheckSetup, new RunDiagnostic, new ReadMemory, new ChangeLayout, new FeelWarmth, new TestFunction, new ProbePins, new ReadRom, new CaptureBus, new TryOnPart]);
    }

    /**
     * @return list<Step> the best first; the rest are what "not now" offers
     */
    public function steps(Conclusion $conclusion, Workbench $bench, Outlook $outlook = new Outlook): array
    {
        $suspects = $conclusion->suspects();
        if ($outlook->untried) {
            return [$this->tryAgain($conclusion)];
        }
        $setAside = $outlook->setAside;
        $modes = $this->modes->overriddenBy($conclusion->board->reasoning);
        $costs = new StepCosts($conclusion->board, $this->parts, $this->knowledge, $conclusion->now, $bench);
        if ($suspects === [] && $conclusion->cured() === []) {
            $openers = $this->openers($conclusion, $bench, $costs, $modes, $setAside);
            $tried = array_filter($openers, static fn (Step $step): bool => $step->action !== 'look-over') === [];

            return $tried ? [...$openers, $this->tryMoreOften($conclusion, $outlook->proof)] : $openers;
        }
        $proved = $conclusion->nothingLeft() >= self::NEARLY_PROVED && ! $conclusion->now->isFailing();
        $shares = array_map(static fn (Diagnosis $diagnosis): float => $diagnosis->share, $conclusion->leading());
        $loss = $this->loss($conclusion, $costs, $shares);
        $order = $this->order($conclusion, $costs, $shares);
        $weigher = new Reasoner($conclusion->board, $this->modes);
        $involved = $this->involved($conclusion);
        $steps = [];
        foreach ($this->proposers as $proposer) {
            foreach ($proposer->propose($conclusion, $costs, $modes) as $proposal) {
                if ($this->possible($proposal, $bench, $costs) && ! isset($setAside["{$proposal->action} {$proposal->site}"]) && ! $this->known($proposal, $conclusion)) {
                    $steps[] = $this->weigh($proposal, $conclusion, $costs, $loss, $order, $bench->school, $weigher, $involved);
                }
            }
        }
        $steps = self::touchedFirst(self::sparing($this->ordered($steps, $conclusion, $suspects), $conclusion), $conclusion);
        if (! $conclusion->isQuiet() && ! $conclusion->now->isFailing() && ($suspects[0]->share ?? 0.0) < self::NOBODY) {
            // Where nothing stands out, what the machine does and what it does not tells more than one pin after another; of one
            // that was blank, first whether it is so still.
            $shows = self::showsNow($conclusion);
            $does = array_filter($steps, static fn (Step $step): bool => $step->action === 'function' && ($step->bits >= self::INFORMS || ! $shows));
            $does = $does === [] ? array_slice(array_filter($steps, static fn (Step $step): bool => $step->action === 'watch' && $step->saves > 0.0), 0, 1) : $does;
            $steps = self::ahead($steps, static fn (Step $step): bool => in_array($step, $does, true));
        }
        if (($steps[0] ?? null)?->risk === 'heat' && ! $conclusion->isQuiet() && ! self::measuredNow($conclusion)) {
            // It is as before, and nothing was measured since something was repaired: what was wrong then may have been that.
            $looks = array_filter($steps, static fn (Step $step): bool => $step->risk === 'none' && $step->bits > 0.0 && (in_array($step->action, ['run', 'read', 'function'], true) || $step->action === 'walk' && $step->site === $steps[0]->site));
            usort($looks, static fn (Step $a, Step $b): int => $b->bits / $b->price <=> $a->bits / $a->price);
            $steps = self::ahead($steps, static fn (Step $step): bool => $step === ($looks[0] ?? null));
        }
        if ($conclusion->now->isFailing()) {
            // It fails now, and may not when it is switched on again: what tells something without that comes first, then where a
            // trace is broken, and what can only be asked now.
            $asked = static fn (Step $step): bool => $step->leavesItOn() && ($step->action === 'function' || str_starts_with($step->site, 'bank '));
            $located = static fn (Step $step): bool => $step->bits >= self::INFORMS && in_array($step->action, ['continuity', 'drop'], true);
            $steps = self::ranked($steps, static fn (Step $step): int => match (true) {
                $step->leavesItOn() && $step->bits >= self::INFORMS => 0,
                $located($step) => 1,
                default => $asked($step) ? 2 : 3,
            });
        }
        if ($outlook->railOut !== '') {
            return $this->fixRail($outlook, $conclusion, $steps);
        }
        $open = array_filter($outlook->proof->open ?? [], static fn (string $ref): bool => ! isset($setAside["wire {$ref}"]), ARRAY_FILTER_USE_KEY);
        if ($open !== []) {
            return [$this->wireTorn($conclusion, (string) array_key_first($open), $open[array_key_first($open)]), ...$steps];
        }
        $unmeasured = array_values(array_filter($outlook->proof->unmeasured ?? [], static fn (string $ref): bool => ! isset($setAside["pins {$ref}"])));
        if ($unmeasured !== [] && ! $conclusion->now->isFailing() && $bench->owns(Equipment::Meter)) {
            // What was unsoldered is looked at before anything else: a trace torn there leads everything that follows astray.
            return [$this->measurePins($conclusion, $unmeasured[0]), ...$steps];
        }
        $moved = $conclusion->moved();
        if (($moved !== [] || $conclusion->now->unplugged !== []) && ($proved || $conclusion->isQuiet())) {
            // What a link keeps out of play, or is unplugged, is neither tested nor proved.
            $back = static fn (Step $step): bool => $step->action === 'plug' || $step->action === 'set' && ($step->outcomes[0]['observation']['payload']['position'] ?? '') === ($moved[$step->site] ?? null);

            return self::ahead($steps, $back);
        }
        // The complaint is gone and no test is worth its minutes: then it is the proof that shows whether anything is left.
        $rests = $conclusion->isQuiet() && ! $conclusion->now->isFailing() && ($suspects[0]->share ?? 0.0) < self::CONVINCING && array_filter($steps, static fn (Step $step): bool => $step->saves > 0.0) === [];
        // What is wrong only by what was seen before the last repair is not unsoldered: first the machine shows that it fails.
        $rests = $rests || $conclusion->isQuiet() && ! $conclusion->now->isFailing() && ($steps[0] ?? null)?->risk === 'heat' && ! self::showsNow($conclusion);
        if ($rests && ! $proved) {
            return [$this->prove($conclusion, $outlook->proof), ...$steps];
        }
        if ($proved) {
            return [$this->prove($conclusion, $outlook->proof), ...array_values(array_filter($steps, static fn (Step $step): bool => $step->action === 'refit'))];
        }
        if ($suspects !== [] && $suspects[0]->kind === SiteKind::Elsewhere && $suspects[0]->share >= self::BEYOND) {
            $cold = array_filter($steps, static fn (Step $step): bool => $step->risk !== 'heat' && $step->risk !== 'irreversible');
            // What the machine does and what it does not is known before the profile is blamed.
            $does = array_filter($cold, static fn (Step $step): bool => in_array($step->action, ['watch', 'function'], true));
            $whole = $conclusion->isSetUpRight(BoardFaults::ELSEWHERE) === true;
            $widen = $whole || isset($setAside['widen ']) ? [] : [$this->widen($suspects[0]->share)];
            $steps = [...array_values($does), ...$widen, ...array_values(array_diff_key($cold, $does)), ...($whole ? array_values(array_diff_key($steps, $cold)) : [])];
        }

        return $steps;
    }

    /**
     * No logic is unsoldered before all of its pins were touched: what is wrong at an output may come in at an input. And no
     * memory before its bank was read, where no reading has shown its bit, before its line was measured, and its
     * buffer touched where that may be why.
     *
     * @param  list<Step>  $steps
     * @return list<Step>
     */
    private static function touchedFirst(array $steps, Conclusion $conclusion): array
    {
        $first = $steps[0] ?? null;
        $net = $first?->action === 'fix' ? $conclusion->board->netlist->nets[$first->site] ?? null : null;
        if ($net !== null) {
            // Before anything is looked for along a line its own driver is touched, with what it goes by.
            $drivers = array_map(Netlist::chipOf(...), $conclusion->board->netlist->drivers($net));

            return self::ahead($steps, static fn (Step $step): bool => $step->action === 'drop' && $step->site === $net->name || $step->action === 'walk' && $drivers === [$step->site]);
        }
        $wired = $first?->action === 'wire' ? $conclusion->board->netlist->nets[$first->site] ?? null : null;
        if ($wired !== null) {
            // Before a wire is soldered: a leg that may not touch in its socket, whether that alone would cure it or not.
            $seated = array_map(Netlist::chipOf(...), $wired->pins);
            $loose = array_filter($wired->pins, static fn (string $pin): bool => ($conclusion->posterior->faults[SignalEvidence::lifted($wired->name, $pin)] ?? 0.0) >= self::NOBODY);

            return self::ahead($steps, static fn (Step $step): bool => $step->action === 'reseat' && ($step->bits >= self::INFORMS && in_array($step->site, $seated, true) || in_array($step->site, array_map(Netlist::chipOf(...), $loose), true)));
        }
        $steps = self::undisturbed($steps, $conclusion);
        if ($first === null || $first->action !== 'replace' || $first->risk !== 'heat') {
            return $steps;
        }
        $banks = array_values(array_filter($conclusion->board->banks, static fn (Bank $bank): bool => in_array($first->site, $bank->chips(), true)));
        $lines = ($conclusion->board->chips[$first->site] ?? null)?->dataOutputs() ?? [];
        $buffers = $conclusion->board->buffersOf($first->site);
        $why = [...$buffers, ...array_map(static fn (string $pin): string => $conclusion->board->netlist->netOf($pin)->name ?? '', $lines)];
        foreach ($banks as $bank) {
            array_push($why, ...array_map(static fn (int $line): string => "D{$line}", $bank->linesOf($first->site)));
        }
        // What a buffer of the memory goes by, or what strobes beside it, looks as if it were the buffer.
        $serves = array_filter($conclusion->board->banks, static fn (Bank $bank): bool => array_filter($bank->servers, static fn (Server $server): bool => $server->role === 'buffer' && $server->chip === $first->site) !== []) !== [];
        $mayBeBuffer = array_sum(array_intersect_key($conclusion->posterior->sites, array_flip($why))) >= self::MAY_BE_WHY;

        // What is all but sure waits for no walk and no whole bank that would leave it so.
        $isSure = ($conclusion->posterior->sites[$first->site] ?? 0.0) >= self::SURE;
        // As likely good as bad: then any touch that tells something comes before the iron.
        $isEven = ($conclusion->posterior->sites[$first->site] ?? 0.0) < self::LIKELY;

        // Of several bits of one chip one line is enough: no single break takes them all.
        return self::ahead($steps, static fn (Step $step): bool => match ($step->action) {
            'drop' => array_filter($conclusion->board->netlist->nets[$step->site]->pins ?? [], static fn (string $pin): bool => Netlist::chipOf($pin) === $first->site) !== [],
            // An address or a strobe that does not arrive looks as if the chip did not feel it.
            'walk' => $step->site === $first->site && ($banks === [] ? ! $isSure || $step->bits >= self::INFORMS || $step->turns : $step->saves > 0.0 && $step->turns) || $banks !== [] && $mayBeBuffer && in_array($step->site, $buffers, true),
            // Another bank tells the chip from the line it is on, and from what drives that from elsewhere.
            'read' => (! $isSure || $step->turns) && (in_array($step->site, array_map(static fn (Bank $bank): string => "bank {$bank->name}", $banks), true) || $banks !== [] && str_starts_with($step->site, 'bank ') && $step->bits >= self::ANOTHER_BANK),
            'continuity' => count($lines) === 1 && $step->site === $lines[0] && self::mayBeOpen($step),
            'probe' => $step->bits >= self::TELLING && ($isEven || $step->saves >= self::WASTED) || $serves && $step->bits >= self::INFORMS && $step->saves >= 2.0 * self::WASTED || $banks !== [] && Netlist::chipOf($step->site) === $first->site && $step->bits >= self::INFORMS,
            default => false,
        });
    }

    /**
     * Before a part is disturbed it is touched: what it goes by may not come to it.
     *
     * @param  list<Step>  $steps
     * @return list<Step>
     */
    private static function undisturbed(array $steps, Conclusion $conclusion): array
    {
        $walks = [];
        foreach ($steps as $step) {
            $walks += $step->action === 'walk' ? [$step->site => $step] : [];
        }
        $ordered = [];
        foreach ($steps as $step) {
            $walk = $walks[$step->site] ?? null;
            $disturbs = in_array($step->action, ['exchange', 'reseat', 'clean'], true) && in_array(($conclusion->board->chips[$step->site] ?? null)?->kind(), ['logic', 'programmed'], true);
            if ($disturbs && $walk !== null && $walk->minutes < $step->minutes && ! in_array($walk, $ordered, true)) {
                $ordered[] = $walk;
            }
            if (! in_array($step, $ordered, true)) {
                $ordered[] = $step;
            }
        }

        return $ordered;
    }

    /**
     * Those of the steps that are to come first, and the others after them; each in their order.
     *
     * @param  list<Step>  $steps
     * @param  callable(Step): bool  $first
     * @return list<Step>
     */
    private static function ahead(array $steps, callable $first): array
    {
        $ahead = array_filter($steps, $first);

        return [...array_values($ahead), ...array_values(array_diff_key($steps, $ahead))];
    }

    /**
     * The steps of the lowest rank first; each rank in its order.
     *
     * @param  list<Step>  $steps
     * @param  callable(Step): int  $rank
     * @return list<Step>
     */
    private static function ranked(array $steps, callable $rank): array
    {
        usort($steps, static fn (Step $a, Step $b): int => $rank($a) <=> $rank($b));

        return $steps;
    }

    /** Whether it would all but surely say what is thought anyway: of many such tests hardly one tells anything. */
    private static function isForeknown(Step $step): bool
    {
        return max([0.0, ...array_column($step->outcomes, 'chance')]) > 1.0 - self::UNLIKELY;
    }

    /** Whether it shows where the trace that is likely the culprit is broken or held: without that it cannot be repaired. */
    private static function locates(Step $step, Conclusion $conclusion): bool
    {
        $leads = $conclusion->suspects()[0] ?? null;
        if ($leads !== null && $leads->kind === SiteKind::Pin && $leads->share >= self::LIKELY) {
            return $step->action === 'continuity' && $step->site === $leads->site;
        }

        return $leads !== null && $leads->kind === SiteKind::Net && $leads->share >= self::LIKELY
            && (in_array($step->action, ['continuity', 'drop'], true) && $step->site === $leads->site || $step->action === 'probe' && $conclusion->board->netlist->netOf($step->site)?->name === $leads->site);
    }

    /** Whether anything was wrong with the parts that are in now. */
    private static function showsNow(Conclusion $conclusion): bool
    {
        foreach ($conclusion->evidence as $seen) {
            if ($seen->abnormal && $seen->kind !== Evidence::COMPLAINT && $seen->state->sameParts($conclusion->now)) {
                return true;
            }
        }

        return false;
    }

    /** Whether anything at all was measured since something was repaired. */
    private static function measuredNow(Conclusion $conclusion): bool
    {
        foreach ($conclusion->evidence as $seen) {
            if (! in_array($seen->kind, [Evidence::COMPLAINT, Evidence::CHANGED, Evidence::CLEAN], true) && $seen->state->sameButTried($conclusion->now)) {
                return true;
            }
        }

        return false;
    }

    /** Whether it is likely enough that a line is open to measure it before a chip comes out. */
    private static function mayBeOpen(Step $step): bool
    {
        foreach ($step->outcomes as ['chance' => $chance, 'observation' => $seen]) {
            if (($seen['payload']['result'] ?? '') === 'open' && $chance >= self::MAY_BE_OPEN) {
                return true;
            }
        }

        return false;
    }

    /**
     * What was touched or read all over and found right is not unsoldered while anything else can be done, unless it is sure;
     * nor what is hardly suspected, and what nobody would suspect comes last of all.
     *
     * @param  list<Step>  $steps
     * @return list<Step>
     */
    private static function sparing(array $steps, Conclusion $conclusion): array
    {
        $right = $wrong = [];
        foreach ($conclusion->evidence as $seen) {
            $now = $seen->state->sameParts($conclusion->now);
            $walked = $seen->abnormal ? null : $seen->walked();
            // Another part that came in since takes nothing away from it.
            if ($walked !== null && ($seen->strengths[$walked] ?? 0.0) >= self::SPARED && $seen->state->sameAt([$walked], $conclusion->now)) {
                $right[$walked] = true;
            }
            if ($now && in_array($seen->kind, ['places', 'high', 'low'], true) && count($seen->lines) === 1 && $seen->banks !== []) {
                $chip = $conclusion->board->banks[$seen->banks[0]]->chipOfLine[$seen->lines[0]] ?? '';
                $seen->abnormal ? $wrong[$chip] = true : ($seen->kind === 'places' ? $right[$chip] = true : null);
            }
        }
        $right = array_diff_key($right, $wrong);
        $shares = [];
        foreach ($conclusion->suspects() as $suspect) {
            foreach ([$suspect->site, (string) $suspect->seat] as $site) {
                $shares[$site] = max($shares[$site] ?? 0.0, $suspect->share);
            }
        }
        $spared = static fn (Step $step): bool => $step->action === 'replace' && $step->risk === 'heat' && ($shares[$step->site] ?? 0.0) < (isset($right[$step->site]) ? self::SURE : self::WORTH_HEAT);

        // Before what would tell nothing, all the same.
        $tells = static fn (Step $step): bool => self::locates($step, $conclusion) || $step->saves > 0.0 || $step->bits >= self::INFORMS || $step->kind !== 'measure' && ! in_array($step->action, ['piggyback', 'refit'], true) || in_array($step->action, ['obtain', 'widen'], true);

        $hardly = static fn (Step $step): bool => $spared($step) && ($shares[$step->site] ?? 0.0) < self::NOBODY;

        return array_filter($steps, $spared) === [] ? $steps : self::ranked($steps, static fn (Step $step): int => match (true) {
            $hardly($step) => 3,
            $spared($step) => 1,
            default => $tells($step) ? 0 : 2,
        });
    }

    /**
     * A rail out of limits is put right first; until then only measuring is proposed.
     *
     * @param  list<Step>  $steps
     * @return list<Step>
     */
    private function fixRail(Outlook $outlook, Conclusion $conclusion, array $steps): array
    {
        $fix = $this->mend($conclusion, 'fix', $outlook->fixFirst, "Put the supply right first. {$outlook->railOut} Begin with {$outlook->fixFirst}.", 'comes before all else: nothing can be concluded while a rail is out', 'supply', 'supply', 'put right');

        return [$fix, ...array_values(array_filter($steps, static fn (Step $step): bool => $step->action === 'rail'))];
    }

    /**
     * The profile beside the board.
     *
     * @param  float  $share  how surely what is wrong is not on it
     */
    private function widen(float $share): Step
    {
        $whole = 1.0 - $share * (1.0 - SetupCheck::OVERLOOKED);

        return new Step(
            'widen', '', 'What explains this best is not on the board profile. Go through the board beside it, and add what is missing before parts come out.', 'stops good parts from being removed',
            $this->knowledge->step('widen')['minutes'], 'none', '', 0.0, 0.0,
            [
                ['chance' => $whole] + self::answer('nothing is missing', SetupCheck::KIND, ['setup' => SetupCheck::PROFILE, 'result' => 'right']),
                ['words' => 'something is missing: add it under Boards', 'chance' => 1.0 - $whole, 'means' => '', 'observation' => null],
            ],
        );
    }

    /** The pins of a place that a part was unsoldered from. */
    private function measurePins(Conclusion $conclusion, string $ref): Step
    {
        $price = $this->knowledge->step('pins');
        $pins = count(ContinuityPlan::afterRemoval($conclusion->board, $ref));
        $chip = $conclusion->board->chips[$ref];
        $torn = $conclusion->posterior->sites[SignalEvidence::tracesAt($ref)] ?? 0.0;

        return new Step(
            'pins', $ref, "Power off: measure each leg of {$ref} to the next point of its line, {$pins} in all. Is every one connected?", 'shows what the iron tore off before it looks like another fault',
            StepCosts::allPins($chip), $price['risk'], $price['caution'], 0.0, 0.0,
            [
                ['chance' => 1.0 - $torn] + self::answer('all connected', 'pins-measured', ['chip' => $ref, 'open' => []]),
                ['words' => 'one is open: note which under Traces', 'chance' => $torn, 'means' => '', 'observation' => null],
            ],
            '', '', 'measure', $this->knowledge->cautions('continuity', $chip),
        );
    }

    /**
     * The wires where the pins of a place were found open: whatever else is wrong, those are needed.
     *
     * @param  list<array{pin: string, to: string, net: string}>  $open
     */
    private function wireTorn(Conclusion $conclusion, string $ref, array $open): Step
    {
        $wires = implode(' and ', array_map(static fn (array $each): string => "from {$each['pin']} to {$each['to']}", $open));

        return $this->mend($conclusion, 'wire', $ref, "Fit a wire {$wires}, and try it.", 'mends what was found open', 'pads', 'wire', 'wired');
    }

    /**
     * A repair that is needed whatever else is wrong.
     *
     * @param  string  $price  name of the step whose price it has
     * @param  string  $hurts  name of the step whose cautions it has
     * @param  string  $done  as a word
     */
    private function mend(Conclusion $conclusion, string $action, string $site, string $sentence, string $tells, string $price, string $hurts, string $done): Step
    {
        $costs = $this->knowledge->step($price);
        $answers = [];
        foreach (['cured' => "{$done}, and the complaint is gone", 'as-before' => "{$done}, and it is as before"] as $result => $words) {
            $answers[] = self::answer($words, 'intervention', ['action' => $action, 'site' => $site, 'result' => $result]);
        }

        return new Step($action, $site, $sentence, $tells, $costs['minutes'], $costs['risk'], $costs['caution'], 0.0, 0.0, $answers, '', '', 'repair', $this->knowledge->cautions($hurts, $conclusion->board->chips[$site] ?? null));
    }

    /** What is still to be done before the repair is proved. */
    private function prove(Conclusion $conclusion, ?ProofPlan $plan): Step
    {
        $minutes = $plan?->isProved() === true ? 2.0 : $this->knowledge->step('prove')['minutes'];
        $sentence = 'Prove it: several clean power-ons from cold, then the full memory.';
        $answers = [];
        if ($plan !== null) {
            $left = $plan->cleanRunsLeft();
            $function = $conclusion->board->findFunction($plan->wanting()[0] ?? '');
            $untried = array_map(static fn (string $id): string => $conclusion->board->findFunction($id)->name ?? $id, $plan->untested());
            $minutes = match (true) {
                $left > 0 => max(2.0, $left * $this->knowledge->step('power-on')['minutes']),
                $function !== null => $function->minutes ?? $this->knowledge->step('function')['minutes'],
                default => $minutes,
            };
            $sentence = match (true) {
                $plan->shows => 'It showed again, and nothing was repaired since: switch it off and on until it shows once more, then look while it fails.',
                $left > 0 => 'Prove it: '.($left === 1 ? 'one more clean power-on' : "{$left} ".($plan->clean > 0 ? 'more ' : '').'clean power-ons').' from cold.',
                $function !== null => "Prove it: {$function->name}.".($function->how === '' ? '' : " {$function->how}"),
                $plan->isProved() => 'It is proved. '.($untried === [] ? 'Write' : 'Before it goes back try what was not tried yet: '.implode('; ', $untried).'. Then write').' the record for the owner.',
                default => $sentence,
            };
            if ($left > 0) {
                $answers = [self::answer($left === 1 ? 'clean' : "all {$left} clean", 'power-ons', ['clean' => $left]), self::answer('one clean', 'power-ons', ['clean' => 1]), self::answer('the fault showed again', 'power-ons', ['failed' => 1])];
                $answers = $left === 1 ? [$answers[0], $answers[2]] : $answers;
            } elseif ($function !== null) {
                $answers = [self::answer('it works', 'function-test', ['function' => $function->id, 'result' => 'works']), self::answer('it does not', 'function-test', ['function' => $function->id, 'result' => 'fails'])];
            }
        }

        return new Step('prove', '', $sentence, $plan?->isProved() === true ? 'is all that is left to do' : 'tells a repair from a fault that is only resting', $minutes, 'none', '', 0.0, 0.0, $answers);
    }

    /**
     * Nothing was seen to be wrong, and all that is cheap was tried: it is warmed up and switched on until even what shows
     * seldom would have shown.
     */
    private function tryMoreOften(Conclusion $conclusion, ?ProofPlan $plan): Step
    {
        $clean = $plan->clean ?? 0;
        $left = ProofPlan::cleanRuns(self::SELDOM, $plan->confidence ?? 0.95) - $clean;
        if ($plan === null || $left <= 0) {
            return $plan === null || $plan->isProved()
                ? new Step('prove', '', "Nothing was found, and it stayed well {$clean} times: write the record, and ask the owner when it fails.", 'is all that is left to do', 2.0, 'none', '', 0.0, 0.0, [])
                : $this->prove($conclusion, $plan);
        }
        $again = $clean > 0 ? 'more times' : 'times';

        return new Step('prove', '', "Nothing shows. Leave it on, in its case, until it is warm; then switch it off and on {$left} {$again}, and try it each time.", 'finds what comes and goes, or comes with warmth', $this->knowledge->step('power-on')['minutes'] * $left, 'none', '', 0.0, 0.0, [
            self::answer("all {$left} clean", 'power-ons', ['clean' => $left]),
            self::answer('a fault showed', 'power-ons', ['failed' => 1]),
        ]);
    }

    /**
     * @param  array<string, mixed>  $payload
     * @return array{words: string, chance: float, means: string, observation: array{kind: string, payload: array<string, mixed>}}
     */
    private static function answer(string $words, string $kind, array $payload): array
    {
        return ['words' => $words, 'chance' => 0.0, 'means' => '', 'observation' => ['kind' => $kind, 'payload' => $payload]];
    }

    private function possible(Proposal $proposal, Workbench $bench, StepCosts $costs): bool
    {
        return ($proposal->needs === null || $bench->owns($proposal->needs)) && ($proposal->spareFor === '' || $costs->hasSpare($proposal->spareFor));
    }

    /** Whether the machine was tried just so already: the same complaint again would tell nothing. */
    private function known(Proposal $proposal, Conclusion $conclusion): bool
    {
        $foreseen = $proposal->outcomes[0]->evidence[0] ?? null;
        $back = $proposal->action === 'set' && ($proposal->outcomes[0]->observation['payload']['position'] ?? null) === ($conclusion->moved()[$proposal->site] ?? '');
        if ($foreseen === null || $foreseen->kind !== Evidence::COMPLAINT || $back && $conclusion->isQuiet()) {
            return false; // With the link as it came it is tried again, however often it was tried before: what it keeps out of play shows nowhere.
        }
        foreach ($conclusion->evidence as $seen) {
            if ($seen->kind === Evidence::COMPLAINT && $seen->observation !== null && $seen->state->key() === $foreseen->state->key()) {
                return true;
            }
        }

        return false;
    }

    /** After something was done: the cheapest test that showed the fault. */
    private function tryAgain(Conclusion $conclusion): Step
    {
        $best = null;
        foreach ($conclusion->evidence as $seen) {
            if (! $seen->abnormal || $seen->state->onSecond) {
                continue;
            }
            $candidate = match (true) {
                $seen->runs !== null => [(float) $seen->runs->diagnostic->minutes, 'run', $seen->runs->diagnostic->id, "Repeat the cheapest test that showed the fault: run the {$seen->runs->diagnostic->name}."],
                in_array($seen->kind, [Evidence::COMPLAINT, Evidence::CHANGED, Evidence::TESTER, Evidence::NAMED, Evidence::STEP], true) => null,
                default => [$this->knowledge->step('read')['minutes'], 'read', '', 'Repeat the cheapest test that showed the fault: read the addresses that failed.'],
            };
            if ($candidate !== null && ($best === null || $candidate[0] < $best[0])) {
                $best = $candidate;
            }
        }
        $best ??= [2.0, 'try', '', 'Switch it on and see: is the complaint as before?'];

        // Whichever test it is, the complaint itself can be answered with one click.
        $answers = array_map(static fn (string $result, string $words): array => ['words' => $words, 'chance' => 0.0, 'means' => '', 'observation' => ['kind' => 'tried', 'payload' => ['result' => $result]]], ['cured', 'as-before', 'different'], ['the complaint is gone', 'it is as before', 'it is different']);

        return new Step($best[1], $best[2], $best[3], 'tells whether what was done changed anything', $best[0], 'none', '', 0.0, 0.0, $answers);
    }

    /**
     * Nothing is suspected yet: what could be asked at all, cheapest first.
     *
     * @param  array<string, mixed>  $setAside
     * @return list<Step>
     */
    private function openers(Conclusion $conclusion, Workbench $bench, StepCosts $costs, FailureModes $modes, array $setAside): array
    {
        $steps = [];
        foreach ($this->proposers as $proposer) {
            foreach ($proposer instanceof Opener ? $proposer->propose($conclusion, $costs, $modes) : [] as $proposal) {
                if ($this->possible($proposal, $bench, $costs) && ! isset($setAside["{$proposal->action} {$proposal->site}"])) {
                    $steps[] = $this->opener($proposal);
                }
            }
        }
        // Of what the machine should do that is tried first which is the likeliest to fail for its minutes, and a long test when all
        // of it works.
        $functions = array_values(array_filter($steps, static fn (Step $step): bool => $step->action === 'function'));
        $reached = (new ReachedBanks($conclusion->board))->of($conclusion->now->settings);
        $worth = [];
        foreach ($functions as $step) {
            $serving = array_intersect_key($conclusion->board->findFunction($step->site)?->strengths($conclusion->board, $reached) ?? [], $conclusion->posterior->sites);
            $worth[$step->site] = array_sum(array_map(static fn (string $site): float => $serving[$site] * $conclusion->posterior->sites[$site], array_keys($serving))) / $step->minutes;
        }
        usort($functions, static fn (Step $a, Step $b): int => $worth[$b->site] <=> $worth[$a->site] ?: $a->minutes <=> $b->minutes);
        $long = static fn (Step $step): bool => $step->action === 'run' && $step->minutes >= self::LONG;

        return [...array_values(array_filter($steps, static fn (Step $step): bool => $step->action !== 'function' && ! $long($step))), ...$functions, ...array_values(array_filter($steps, $long))];
    }

    /**
     * Reversible before irreversible, heat only where nothing milder helps, and never on one unrepeated reading.
     *
     * @param  list<Step>  $steps
     * @param  list<Suspect>  $suspects
     * @return list<Step>
     */
    private function ordered(array $steps, Conclusion $conclusion, array $suspects): array
    {
        usort($steps, static fn (Step $a, Step $b): int => $b->saves <=> $a->saves ?: $b->bits / $b->price <=> $a->bits / $a->price ?: strnatcmp($a->site, $b->site));
        $repeated = $this->repeated($conclusion);
        $held = array_values(array_filter($steps, static fn (Step $step): bool => ! $repeated && ($step->risk === 'heat' || $step->risk === 'irreversible')));
        $steps = array_values(array_filter($steps, static fn (Step $step): bool => ! in_array($step, $held, true)));
        $saving = array_values(array_filter($steps, static fn (Step $step): bool => $step->saves > 0.0));
        $rest = array_values(array_filter($steps, static fn (Step $step): bool => $step->saves <= 0.0));
        // Cheap openers come before anything is taken apart, whatever else is to be gained; pins and traces have to earn it.
        $opener = static fn (Step $step): bool => ! in_array($step->action, ['walk', 'probe', 'continuity', 'drop', 'set', 'function'], true) && $step->risk === 'none' && $step->minutes <= 3.0 && $step->bits >= 3 * self::INFORMS && $step->saves >= -$step->minutes;
        if ($saving === []) {
            $informs = array_values(array_filter($rest, static fn (Step $step): bool => $step->kind !== 'repair' && $step->bits >= self::INFORMS && ! self::isForeknown($step)));
            $repairs = array_values(array_filter($rest, static fn (Step $step): bool => in_array($step->action, self::REPAIRS, true)));
            // What is likelier good than bad comes out only when nothing is left to measure.
            $shares = $conclusion->posterior->sites;
            $early = static fn (Step $step): bool => in_array($step->action, self::REPAIRS, true) && ($shares[$step->site] ?? 0.0) < self::CONVINCING;
            // Of several of these the one that is likeliest the culprit for its price: what is looked for is found soonest so.
            $worth = static fn (Step $step): float => ($early($step) ? $shares[$step->site] ?? 0.0 : $step->bits) / $step->price;
            usort($informs, static fn (Step $a, Step $b): int => $early($a) <=> $early($b) ?: $worth($b) <=> $worth($a));
            // But what can be taken back comes first where it may well be it, and else before a test that costs clearly more than it
            // is worth.
            $tried = array_filter($informs, static fn (Step $step): bool => $early($step) && $step->action === 'exchange' && $step->risk === 'handling' && ($shares[$step->site] ?? 0.0) >= self::NOBODY);
            $soon = array_filter($tried, static fn (Step $step): bool => $shares[$step->site] >= self::MAY_WELL_BE);
            $least = max([-INF, ...array_map(static fn (Step $step): float => $step->saves, $tried)]);
            $dear = array_filter($informs, static fn (Step $step): bool => ! $early($step) && $step->saves < $least);
            $last = array_filter(array_diff_key($informs, $tried), $early);
            $informs = [...array_values($soon), ...array_values(array_diff_key($informs, $tried, $dear, $last)), ...array_values(array_diff_key($tried, $soon)), ...array_values($dear), ...array_values($last)];
            // That one leg may be open is no reason to lay wires to all of them.
            $leads = static fn (Step $step): bool => $suspects !== [] && ($step->site === $suspects[0]->site || $step->site === $suspects[0]->seat && ($suspects[0]->kind !== SiteKind::Pin || $step->action !== 'wire'));
            $leading = $repeated && $suspects !== [] && $suspects[0]->share >= self::CONVINCING && array_filter($informs, $opener) === [] ? array_filter($repairs, $leads) : [];
            if ($suspects !== [] && $suspects[0]->share < self::LIKELIER) {
                // A test that tells much in half the time comes before a repair that may well be for nothing.
                $leading = array_filter($leading, static fn (Step $repair): bool => array_filter($informs, static fn (Step $step): bool => $step->bits >= self::MUCH && 2.0 * $step->minutes <= $repair->minutes) === []);
            }
            $first = [...self::socketedBefore(array_values($leading)[0] ?? null, $repairs, $shares), ...array_values($leading), ...$informs, ...$repairs];
            $rest = [...$first, ...$rest];
        }
        // A repair that is likely right goes before pins, traces and functions that would leave it the first thing to do anyway.
        $likely = array_values(array_filter($steps, static fn (Step $step): bool => in_array($step->action, [...self::REPAIRS, 'reseat', 'clean', 'set'], true) && $suspects !== [] && in_array($step->site, [$suspects[0]->site, $suspects[0]->seat], true) && $suspects[0]->share >= self::LIKELY));
        $waits = static fn (Step $step): bool => $likely !== [] && ! $step->turns && (in_array($step->action, ['walk', 'probe', 'continuity', 'drop', 'function', 'capture', 'rom', 'rail', 'feel'], true) || $step->saves < self::CLEARLY && in_array($step->action, ['run', 'watch', 'read'], true));
        $saving = [...array_values(array_filter($saving, static fn (Step $step): bool => ! $waits($step))), ...self::socketedBefore($likely[0] ?? null, $steps, $conclusion->posterior->sites), ...array_slice($likely, 0, 1), ...array_values(array_filter($saving, $waits))];
        $all = [...$saving, ...$rest];
        // A socketed part that is likely the one is read where it was named, and then exchanged: other bits wait, and what costs about
        // as much as it takes.
        $exchanged = array_values(array_filter($likely, static fn (Step $step): bool => $step->action === 'exchange' && $step->risk === 'handling'))[0]->site ?? null;
        $isDear = static fn (Step $step): bool => $step->site !== $exchanged && ($step->action !== 'read' ? $step->saves <= -0.5 * $step->minutes : $step->saves <= 0.0 && isset($conclusion->board->chips[$step->site]));
        $opener = static fn (Step $step): bool => $opener($step) && ($exchanged === null || ! $isDear($step));
        // What is as cheap and clearly saves more comes before them.
        $clear = array_filter($saving, static fn (Step $step): bool => $step->saves >= self::CLEARLY && $step->risk === 'none' && $step->minutes <= 3.0);
        $all = $saving === [] ? $all : self::ahead(self::ahead($all, $opener), static fn (Step $step): bool => $all[0] === $step && in_array($step, $clear, true));
        // A trace that has been walked up to is measured, or touched, before anything else is asked.
        $all = self::ahead($all, static fn (Step $step): bool => self::locates($step, $conclusion));
        $steps = [];
        foreach ($all as $step) {
            $steps[$step->act()] ??= $step;
        }
        $steps = $this->sureFirst(array_values($steps), $suspects, $repeated, $all !== [] && self::locates($all[0], $conclusion));
        if ($held !== [] && $steps !== []) {
            $steps[0] = $steps[0]->withMissing("Nothing is unsoldered on one unrepeated reading: {$held[0]->site} waits for a second that says the same.");
        }

        return $steps;
    }

    /**
     * Socketed parts that are likelier the culprit for their price are exchanged before anything is unsoldered.
     *
     * @param  list<Step>  $steps
     * @param  array<string, float>  $shares  by site
     * @return list<Step>
     */
    private static function socketedBefore(?Step $repair, array $steps, array $shares): array
    {
        $worth = static fn (Step $step): float => ($shares[$step->site] ?? 0.0) / $step->price;

        return $repair?->risk !== 'heat' ? [] : array_values(array_filter($steps, static fn (Step $step): bool => $step->action === 'exchange' && ($shares[$step->site] ?? 0.0) >= self::NOBODY && $worth($step) > $worth($repair)));
    }

    /**
     * What has to be repaired anyway is repaired first: it tells for nothing whether another fault hides behind it.
     *
     * @param  list<Step>  $steps
     * @param  list<Suspect>  $suspects
     * @param  bool  $locates  whether the first step shows where the trace is broken that leads
     * @return list<Step>
     */
    private function sureFirst(array $steps, array $suspects, bool $repeated, bool $locates): array
    {
        foreach ($repeated ? $suspects : [] as $place => $sure) {
            // A trace that leads is found first, as long as anything shows where it is broken.
            if ($sure->share < self::SURE || $place > 0 && $locates) {
                break;
            }
            $first = array_values(array_filter($steps, static fn (Step $step): bool => in_array($step->action, self::REPAIRS, true) && ($step->site === $sure->site || $step->site === $sure->seat)));
            if ($first === [] && in_array($sure->kind, [SiteKind::Chip, SiteKind::Part, SiteKind::Buffer, SiteKind::Multiplexer, SiteKind::Select, SiteKind::Strobe, SiteKind::Refresh], true)) {
                $first = [$this->plain('obtain', $sure->site, "It is {$sure->site}. Find another, from a second machine or programmed anew, and fit it; nothing more has to be measured for that.", "settles {$sure->site}", $this->knowledge->step('exchange')['minutes'])];
            }
            if ($first !== []) {
                return [...$first, ...array_values(array_filter($steps, static fn (Step $step): bool => ! in_array($step, $first, true)))];
            }
        }

        return $steps;
    }

    /** Whether anything abnormal was seen more than once. */
    private function repeated(Conclusion $conclusion): bool
    {
        $kinds = 0;
        foreach ($conclusion->evidence as $seen) {
            if (! $seen->abnormal || in_array($seen->kind, [Evidence::COMPLAINT, Evidence::CHANGED], true)) {
                continue;
            }
            if ($seen->runs !== null ? count(array_filter($seen->runs->results, static fn (string $result): bool => $result !== 'pass')) > 1 : $seen->falseAlarm < 0.005) {
                return true;
            }
            $kinds++;
        }

        return $kinds > 1;
    }

    /**
     * The faults of the leading diagnoses: no other matters for what an outcome would mean.
     *
     * @return list<SuspectedFault>
     */
    private function involved(Conclusion $conclusion): array
    {
        $ids = [];
        foreach ($conclusion->leading() as $diagnosis) {
            foreach ($diagnosis->faults as $fault) {
                $ids[$fault->id] = true;
            }
        }

        return array_values(array_filter($conclusion->suspected, static fn (SuspectedFault $fault): bool => isset($ids[$fault->id])));
    }

    /**
     * @param  list<string>  $order  in which sites would be repaired as things stand
     * @param  list<SuspectedFault>  $involved
     */
    private function weigh(Proposal $proposal, Conclusion $conclusion, StepCosts $costs, float $loss, array $order, School $school, Reasoner $reasoner, array $involved): Step
    {
        $leading = $conclusion->leading();
        $shares = array_map(static fn (Diagnosis $diagnosis): float => $diagnosis->share, $leading);
        $members = array_map(static fn (Diagnosis $diagnosis): array => array_map(static fn (Fault $fault): string => $fault->id, $diagnosis->faults), $leading);
        $chances = [];
        foreach ($proposal->outcomes as $number => $outcome) {
            foreach ($members as $place => $faults) {
                $chances[$number][$place] = 1.0;
            }
            $isOtherwise = array_map(static fn (array $faults): bool => array_intersect_key($outcome->otherwise, array_flip($faults)) !== [], $members);
            foreach ([[$outcome->evidence, 1, false], [$outcome->given, -1, false], ...($outcome->otherwise === [] ? [] : [[$outcome->afresh, 1, true]])] as [$list, $power, $afresh]) {
                foreach ($list as $evidence) {
                    $report = $reasoner->finding($evidence, $involved, $conclusion->circumstances->first);
                    foreach ($members as $place => $faults) {
                        if ($isOtherwise[$place] === $afresh) {
                            $chances[$number][$place] *= max(1e-12, $report->chance($faults)) ** $power;
                        }
                    }
                }
            }
        }
        $chances = self::addingUp($proposal, $chances);
        $total = max(1e-12, array_sum($shares));
        $outcomes = [];
        $expected = 0.0;
        $left = 0.0;
        $lead = $conclusion->suspects()[0]->site ?? '';
        $turns = false;
        $foreseen = array_map(static fn (int $place): float => array_sum(array_column($chances, $place)), array_keys($shares));
        // It can come out otherwise than was thought of: what is left of the chance of each diagnosis is an outcome, too.
        $beside = array_map(static fn (float $share, float $chance): float => $share * max(0.0, 1.0 - $chance), $shares, $foreseen);
        $counted = array_sum($beside) / $total >= self::BESIDE;
        foreach ($proposal->outcomes as $number => $outcome) {
            $weights = [];
            foreach ($shares as $place => $share) {
                $weights[$place] = $share * $chances[$number][$place] / max($counted ? 1.0 : 1e-12, $foreseen[$place]);
            }
            $chance = array_sum($weights) / $total;
            $expected += $chance * $this->loss($conclusion, $costs, $weights, $proposal->settles, $this->mendedBy($proposal, $outcome), $order);
            $left += $chance * $this->entropy($conclusion, $weights, $proposal->settles);
            $turns = $turns || $chance >= self::TURNS && $this->shareOf($lead, $conclusion, $weights) < self::CONVINCING;
            $outcomes[] = ['words' => $outcome->words, 'chance' => $chance, 'means' => $this->means($conclusion, $weights, $proposal->settles), 'observation' => $outcome->observation];
        }
        if ($counted) {
            $chance = array_sum($beside) / $total;
            $expected += $chance * $this->loss($conclusion, $costs, $beside, $proposal->settles, null, $order);
            $left += $chance * $this->entropy($conclusion, $beside, $proposal->settles);
            $turns = $turns || $chance >= self::TURNS && $this->shareOf($lead, $conclusion, $beside) < self::CONVINCING;
            $outcomes[] = ['words' => 'it comes out otherwise', 'chance' => $chance, 'means' => $this->means($conclusion, $beside, $proposal->settles), 'observation' => null];
        }
        usort($outcomes, static fn (array $a, array $b): int => $b['chance'] <=> $a['chance']);
        if (count($outcomes) > self::FORESEEN) {
            $shown = array_slice($outcomes, 0, self::FORESEEN);
            $others = 1.0 - array_sum(array_column($shown, 'chance'));
            $outcomes = [...$shown, ['words' => 'another result', 'chance' => max(0.0, $others), 'means' => '', 'observation' => null]];
        }
        $price = $costs->knowledge->step($proposal->price);
        $assembly = $proposal->site === '' || $price['risk'] === 'none' ? null : $costs->access($proposal->site);
        $minutes = ($proposal->minutes ?? $price['minutes']) + ($proposal->minutes === null ? $assembly->accessMinutes ?? 0.0 : 0.0);
        $bits = max(0.0, $this->entropy($conclusion, $shares) - $left);
        $weighed = $costs->knowledge->school($school, $price['kind']) * $minutes + $price['riskMinutes'];

        return new Step(
            $proposal->action, $proposal->site, $proposal->sentence, $proposal->tells, $minutes, $price['risk'], $price['caution'], $bits,
            $loss - $expected - $weighed, $outcomes,
            $assembly === null ? '' : $this->opened($conclusion, $costs, $proposal, $assembly->access, $assembly->id), '', $price['kind'], $costs->knowledge->cautions($proposal->price, $conclusion->board->chips[$proposal->site] ?? null), $turns, $weighed,
        );
    }

    /**
     * What is as it should be may clear nothing of what would show when it is not: then the other outcomes are no likelier than it leaves.
     *
     * @param  array<int, array<int, float>>  $chances  outcome => diagnosis => chance
     * @return array<int, array<int, float>>
     */
    private static function addingUp(Proposal $proposal, array $chances): array
    {
        $right = array_keys(array_filter($proposal->outcomes, static fn (ProposedOutcome $outcome): bool => $outcome->evidence !== [] && array_filter($outcome->evidence, static fn (Evidence $seen): bool => $seen->abnormal || $seen->kind !== Evidence::PROBE) === []));
        if (count($right) !== 1) {
            return $chances;
        }
        foreach ($chances[$right[0]] as $place => $chance) {
            $others = array_sum(array_column($chances, $place)) - $chance;
            if ($chance + $others > 1.0) {
                foreach ($chances as $number => $of) {
                    $chances[$number][$place] = $number === $right[0] ? min(1.0, $chance) : $of[$place] * max(0.0, 1.0 - $chance) / max(1e-12, $others);
                }
            }
        }

        return $chances;
    }

    /** A contact that cured it when it was disturbed is mended; what was only tried is not. */
    private function mendedBy(Proposal $proposal, ProposedOutcome $outcome): ?MachineState
    {
        $seen = in_array($proposal->action, ['reseat', 'clean'], true) ? $outcome->evidence[0] ?? null : null;

        return $seen !== null && $seen->kind === Evidence::COMPLAINT && ! $seen->abnormal ? $seen->state : null;
    }

    private function opener(Proposal $proposal): Step
    {
        $price = $this->knowledge->step($proposal->price);
        $answers = array_map(static fn (ProposedOutcome $outcome): array => ['words' => $outcome->words, 'chance' => 0.0, 'means' => '', 'observation' => $outcome->observation], $proposal->action === 'run' ? [] : $proposal->outcomes);

        return new Step($proposal->action, $proposal->site, $proposal->sentence, $proposal->tells, $proposal->minutes ?? $price['minutes'], $price['risk'], $price['caution'], 0.0, 0.0, $answers, '', '', $price['kind'], $this->knowledge->cautions($proposal->price, null));
    }

    /** What has to be opened, and what needs the same dismantling. */
    private function opened(Conclusion $conclusion, StepCosts $costs, Proposal $proposal, string $access, string $assembly): string
    {
        $also = [];
        foreach (array_slice($conclusion->suspects(), 0, 5) as $suspect) {
            if ($suspect->site !== $proposal->site && $suspect->share > 0.1 && $suspect->seat !== null && ($conclusion->board->chips[$suspect->seat]->assembly ?? '') === $assembly) {
                $also[] = $suspect->site;
            }
        }

        return "First {$access}.".($also === [] ? '' : ' While it is open: '.implode(', ', $also).' as well.');
    }

    /**
     * The expected price of repairing from here: sites in order of share for price until the true set is covered, good
     * parts removed on the way included; or what measuring all the way to it takes, where that is less. What a test shows
     * makes it no dearer: one may always go on as if it had not been made.
     *
     * @param  array<int, float>  $weights  by diagnosis
     * @param  string  $done  a site that is settled by then
     * @param  MachineState|null  $mended  the state in which the complaint is gone; null where it is not, or only for a try
     * @param  list<string>  $order  of the sites, as it is without what the weights come of
     */
    private function loss(Conclusion $conclusion, StepCosts $costs, array $weights, string $done = '', ?MachineState $mended = null, array $order = []): float
    {
        [$sets, $shares] = $this->open($conclusion, $weights, $done, $mended);
        $total = array_sum($weights);
        if ($total <= 0.0) {
            return 0.0;
        }
        $price = $this->prices($conclusion, $costs, $shares);
        $losses = [];
        foreach ([self::inOrder($shares, $price), ...($order === [] ? [] : [$order])] as $sites) {
            $spent = 0.0;
            $upTo = [];
            foreach ($sites as $site) {
                $spent += $price[$site] ?? 0.0;
                $upTo[$site] = $spent;
            }
            $loss = 0.0;
            foreach ($sets as $number => $ofSet) {
                $last = $own = 0.0;
                foreach (array_keys($ofSet) as $site) {
                    $last = max($last, $upTo[$site]);
                    $own += $price[$site];
                }
                $loss += $weights[$number] * min($last, $own + self::SEARCHED);
            }
            $losses[] = $loss / $total;
        }

        return min($losses);
    }

    /**
     * The sites that are repaired one after the other, as things stand.
     *
     * @param  array<int, float>  $weights  by diagnosis
     * @return list<string>
     */
    private function order(Conclusion $conclusion, StepCosts $costs, array $weights): array
    {
        $shares = $this->open($conclusion, $weights, '', null)[1];

        return self::inOrder($shares, $this->prices($conclusion, $costs, $shares));
    }

    /**
     * @param  array<string, float>  $shares  by site
     * @return array<string, float> what it costs to repair each of these sites
     */
    private function prices(Conclusion $conclusion, StepCosts $costs, array $shares): array
    {
        $price = [];
        foreach (array_keys($shares) as $site) {
            $price[$site] = $costs->repair((string) $site, $conclusion->kindOf((string) $site));
        }

        return $price;
    }

    /**
     * @param  array<string, float>  $shares  by site
     * @param  array<string, float>  $price  by site
     * @return list<string> sites, the likeliest for its price first
     */
    private static function inOrder(array $shares, array $price): array
    {
        $worth = [];
        foreach ($shares as $site => $share) {
            $worth[$site] = $share / $price[$site];
        }
        arsort($worth);

        return array_map(strval(...), array_keys($worth));
    }

    /**
     * Sites that are left to be repaired, of each of the leading diagnoses, and with their shares.
     *
     * @param  array<int, float>  $weights  by diagnosis
     * @return array{array<int, array<string, true>>, array<string, float>}
     */
    private function open(Conclusion $conclusion, array $weights, string $done, ?MachineState $mended): array
    {
        $isMended = [];
        foreach ($mended === null ? [] : $conclusion->suspected as $fault) {
            $isMended[$fault->id] = (float) $mended?->relieves($fault, $conclusion->circumstances->first) >= self::MENDED;
        }
        $shares = [];
        $sets = [];
        foreach ($conclusion->leading() as $number => $diagnosis) {
            $sets[$number] = [];
            foreach ($diagnosis->faults as $fault) {
                if ($fault->site !== $done && $conclusion->isLeft($fault) && ! isset($sets[$number][$fault->site]) && ! ($isMended[$fault->id] ?? false)) {
                    $sets[$number][$fault->site] = true;
                    $shares[$fault->site] = ($shares[$fault->site] ?? 0.0) + $weights[$number];
                }
            }
        }

        return [$sets, $shares];
    }

    /**
     * @param  array<int, float>  $weights
     */
    private function entropy(Conclusion $conclusion, array $weights, string $done = ''): float
    {
        $sets = $this->bySites($conclusion, $weights, $done);
        $total = array_sum($sets);
        $entropy = 0.0;
        foreach ($sets as $weight) {
            if ($weight > 0.0) {
                $entropy -= $weight / $total * log($weight / $total, 2);
            }
        }

        return $entropy;
    }

    /**
     * @param  array<int, float>  $weights
     */
    private function means(Conclusion $conclusion, array $weights, string $done): string
    {
        $sets = $this->bySites($conclusion, $weights, $done);
        $total = max(1e-12, array_sum($sets));
        $first = $this->first($conclusion, $weights, $done);
        $share = (int) round(100 * ($sets[$first] ?? 0.0) / $total);

        return $first === '' ? "nothing left, {$share} %" : str_replace("\0", ' and ', $first).", {$share} %";
    }

    /**
     * The likeliest set of sites faulty now.
     *
     * @param  array<int, float>  $weights
     */
    private function first(Conclusion $conclusion, array $weights, string $done): string
    {
        $sets = $this->bySites($conclusion, $weights, $done);
        arsort($sets);

        return (string) array_key_first($sets);
    }

    /**
     * The share of a site among diagnoses of these weights.
     *
     * @param  array<int, float>  $weights
     */
    private function shareOf(string $site, Conclusion $conclusion, array $weights): float
    {
        $share = 0.0;
        foreach ($conclusion->leading() as $number => $diagnosis) {
            foreach ($diagnosis->faults as $fault) {
                if ($fault->site === $site && $conclusion->isLeft($fault)) {
                    $share += $weights[$number];
                    break;
                }
            }
        }

        return $share / max(1e-12, array_sum($weights));
    }

    /**
     * Sets of sites faulty now: modes and history that lead to the same repair are not told apart.
     *
     * @param  array<int, float>  $weights
     * @return array<string, float>
     */
    private function bySites(Conclusion $conclusion, array $weights, string $done): array
    {
        $sets = [];
        foreach ($conclusion->leading() as $number => $diagnosis) {
            $sites = [];
            foreach ($diagnosis->faults as $fault) {
                if ($fault->site !== $done && $conclusion->isLeft($fault)) {
                    $sites[$fault->site] = $fault->site;
                }
            }
            natsort($sites);
            $key = implode("\0", $sites);
            $sets[$key] = ($sets[$key] ?? 0.0) + $weights[$number];
        }

        return $sets;
    }

    private function plain(string $action, string $site, string $sentence, string $tells, float $minutes): Step
    {
        return new Step($action, $site, $sentence, $tells, $minutes, 'none', '', 0.0, 0.0, []);
    }
}
