<?php

declare(strict_types=1);

namespace ZapTrace\Reasoning;

use ZapTrace\Signals\Situation;

/**
 * Something that was seen, before it is known which faults would explain it: what kind of evidence, where, reported
 * normal or abnormal, and in which state of the machine.
 */
final readonly class Evidence
{
    public const COMPLAINT = 'complaint';

    /** A part was tested by itself. */
    public const TESTER = 'tester';

    /** A diagnostic that reports everything it found names a bit, or does not. */
    public const NAMED = 'named';

    /** A diagnostic names chips by a step or code. */
    public const STEP = 'step';

    /** The runs of a diagnostic that names one thing at a time, in one state of the machine. */
    public const RUNS = 'runs';

    /** What is measured with was looked at itself: the right table, the right pin. */
    public const SETUP = 'setup';

    /** The machine behaves differently from before something was done to it. */
    public const CHANGED = 'changed';

    /** A supply rail was measured. */
    public const RAIL = 'rail';

    /** A part is hotter than its like. */
    public const HOT = 'hot';

    /** A part is stone cold among warm ones. */
    public const COLD = 'cold';

    /** What the machine does by itself. */
    public const SIGN = 'sign';

    /** A function of the machine was tested. */
    public const FUNCTION = 'function';

    /** A pin was probed. */
    public const PROBE = 'probe';

    /** Two pins were found connected, or not. */
    public const CONTINUITY = 'continuity';

    /** It was measured where along a line the current goes that holds it. */
    public const DROP = 'drop';

    /** A ROM was read in its place, through the board. */
    public const ROM = 'rom';

    /** A ROM was read by itself, in a reader. */
    public const ROM_OUT = 'rom-out';

    /** A capture of the bus parts from what it should be. */
    public const BUS = 'bus';

    /** Bus contention, two outputs that drive one line at once: what drives nothing cannot be one of them. */
    public const CONTENTION = 'contention';

    /** Memory reads as if a latch laid something else over it; or does not. */
    public const OVERLAY = 'overlay';

    /** What says of parts and traces, by their position, how strongly a fault there would show. */
    public const OF_SITES = [self::SIGN, self::FUNCTION, self::PROBE, self::CONTINUITY, self::DROP, self::ROM, self::ROM_OUT, self::BUS, self::CONTENTION, self::OVERLAY];

    /** What looks at single traces. */
    public const OF_TRACES = [self::PROBE, self::CONTINUITY, self::DROP, self::ROM, self::BUS, self::CONTENTION, self::OVERLAY];

    /** Several clean power-ons, or a long run. */
    public const CLEAN = 'clean';

    /**
     * @param  string  $kind  high, low, places, ... as in the data file; or the complaint itself
     * @param  list<string>  $banks
     * @param  list<int>  $lines
     * @param  list<int>  $addressLines
     * @param  float  $reach  0 to 1: the part of the places in which the fault could be that was looked at
     * @param  string  $words  the evidence as a sentence
     * @param  string|null  $observation  the observation behind it, when it is one alone
     * @param  string|null  $site  the part that was tested, for the tester
     * @param  list<string>  $sites  chips that were named
     * @param  RunGroup|null  $runs  for a diagnostic that names one thing at a time
     * @param  Tester|null  $tester  for the tester
     * @param  string  $type  type number of the part that was tested
     * @param  list<int>  $alike  bits of one bank that say the same in one observation, its own among them: a common cause shows in all of them or in none
     * @param  array<string, float>  $strengths  position => how strongly a fault of the part there would show; for what is about parts, not memory
     * @param  int  $times  how many runs it stands for
     * @param  int  $failed  how many of the same runs were not clean, or of the readings were wrong
     * @param  list<int>  $unlike  bits of the bank that say otherwise then
     * @param  bool  $foreign  what was read was written nowhere: it comes of no other cell
     * @param  bool  $constant  the bit reads so whatever is written: what would make it read otherwise may be hidden
     * @param  bool  $everywhere  all of many readings were wrong: no cell was reached as it should
     * @param  list<string>  $but  it says nothing of faults that show in one of these kinds
     * @param  array<string, float>  $instead  nor of these, by how strongly they show in what was seen of the same bits instead
     * @param  string|null  $setup  what was measured with, when its error would repeat itself
     */
    public function __construct(
        public string $id,
        public string $kind,
        public bool $abnormal,
        public float $falseAlarm,
        public float $miss,
        public array $banks,
        public array $lines,
        public array $addressLines,
        public float $reach,
        public MachineState $state,
        public string $words,
        public ?string $observation = null,
        public ?string $site = null,
        public ?string $setup = null,
        public array $sites = [],
        public ?RunGroup $runs = null,
        public ?Tester $tester = null,
        public string $type = '',
        public array $alike = [],
        public array $strengths = [],
        public int $times = 1,
        public int $failed = 0,
        public array $but = [],
        public array $unlike = [],
        public bool $foreign = false,
        public array $instead = [],
        public bool $everywhere = false,
        public bool $constant = false,
    ) {
    }

    /**
     * What was seen of single bits in one observation: which of them say the same, and which otherwise.
     *
     * @param  list<self>  $evidence
     * @return list<self>
     */
    public static function sharing(array $evidence, ?string $observation): array
    {
        $lines = [];
        foreach ($evidence as $seen) {
            if (count($seen->lines) === 1) {
                $lines["{$seen->kind} {$seen->banks[0]}"][(int) $seen->abnormal][] = $seen->lines[0];
            }
        }

        return array_map(static function (self $seen) use ($lines, $observation): self {
            $same = count($seen->lines) === 1 ? $lines["{$seen->kind} {$seen->banks[0]}"] : [];

            return $seen->readIn($observation, $same[(int) $seen->abnormal] ?? [], $same[(int) ! $seen->abnormal] ?? []);
        }, $evidence);
    }

    /** The same of what serves the whole bank. */
    public function ofBank(): self
    {
        return new self($this->id, "bank-{$this->kind}", $this->abnormal, $this->falseAlarm, $this->miss, $this->banks, $this->lines, $this->addressLines, $this->reach, $this->state, $this->words, $this->observation, times: $this->times);
    }

    /** The chip whose pins were all touched, where that is what was seen; in this situation, where one is given. */
    public function walked(?Situation $in = null): ?string
    {
        return $this->kind === self::PROBE && preg_match('/^walk .* (\S+)$/s', $this->id, $match) === 1 && ($in === null || $this->situation() === $in) ? $match[1] : null;
    }

    /** What ran while pins were touched; null where none were. */
    public function situation(): ?Situation
    {
        return in_array($this->kind, [self::PROBE, self::CONTENTION], true) && preg_match('/^(?:walk|probe) \[.*\] ([a-z-]+) /s', $this->id, $match) === 1 ? Situation::tryFrom($match[1]) : null;
    }

    /**
     * The same, with other strengths.
     *
     * @param  array<string, float>  $strengths
     */
    public function withStrengths(array $strengths): self
    {
        return $this->changed(['strengths' => $strengths]);
    }

    /**
     * The same, saying nothing of faults that show in one of these kinds.
     *
     * @param  list<string>  $kinds
     * @param  array<string, float>  $instead  nor of faults here: position => how strongly they show in what was seen instead
     */
    public function but(array $kinds, array $instead = []): self
    {
        return $this->changed(['but' => $kinds, 'instead' => $instead]);
    }

    /**
     * The same, beside bits that say otherwise.
     *
     * @param  list<int>  $bits
     */
    public function beside(array $bits): self
    {
        return $this->changed(['unlike' => $bits]);
    }

    /**
     * The same, with the observation it was read in.
     *
     * @param  list<int>  $alike  bits of the bank that say the same
     * @param  list<int>  $unlike  bits of the bank that say otherwise
     */
    public function readIn(?string $observation, array $alike, array $unlike): self
    {
        return $this->changed(['observation' => $observation, 'alike' => $alike, 'unlike' => $unlike]);
    }

    /**
     * @param  array{observation?: string|null, alike?: list<int>, unlike?: list<int>, strengths?: array<string, float>, but?: list<string>, instead?: array<string, float>}  $changes
     */
    private function changed(array $changes): self
    {
        return new self(
            $this->id, $this->kind, $this->abnormal, $this->falseAlarm, $this->miss, $this->banks, $this->lines, $this->addressLines, $this->reach, $this->state, $this->words,
            array_key_exists('observation', $changes) ? $changes['observation'] : $this->observation,
            $this->site, $this->setup, $this->sites, $this->runs, $this->tester, $this->type,
            $changes['alike'] ?? $this->alike, $changes['strengths'] ?? $this->strengths, $this->times, $this->failed, $changes['but'] ?? $this->but, $changes['unlike'] ?? $this->unlike, $this->foreign, $changes['instead'] ?? $this->instead, $this->everywhere, $this->constant,
        );
    }
}
