<?php

declare(strict_types=1);

namespace ZapTrace\Reasoning;

/**
 * Something that was seen, before it is known which faults would explain it: what kind of evidence, where, reported
 * normal or abnormal, and in which state of the machine.
 */
final readonly class Evidence
{
    public const COMPLAINT = 'complaint';

    /** A part was tested by itself. */
    public const TESTER = 'tester';

    /** A diagnostic names a bit, or passes what it covers. */
    public const NAMED = 'named';

    /**
     * @param  string  $kind  high, low, places, ... as in the data file; or the complaint itself
     * @param  list<string>  $banks
     * @param  list<int>  $lines
     * @param  list<int>  $addressLines
     * @param  float  $reach  0 to 1: the part of the places in which the fault could be that was looked at
     * @param  string  $words  the evidence as a sentence
     * @param  string|null  $observation  the observation behind it, when it is one alone
     * @param  list<array{bank: string, line: int, weight: float}>  $also  other bits that could be behind it, and how far
     * @param  string|null  $site  the part that was tested, for the tester
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
        public array $also = [],
        public ?string $site = null,
        public ?string $setup = null,
    ) {
    }
}
