<?php

declare(strict_types=1);

namespace ZapTrace\Reasoning;

/**
 * A mode of failure at a site of a board, and the evidence it can show in: which banks, data lines and address lines.
 */
final readonly class SuspectedFault
{
    /**
     * @param  string  $id  unique on the board
     * @param  list<string>|null  $banks  banks it shows in; all when null
     * @param  list<int>|null  $lines  data lines it shows on; all when null
     * @param  list<int>|null  $addressLines  address lines it concerns; all when null
     */
    public function __construct(
        public string $id,
        public string $site,
        public SiteKind $kind,
        public FailureMode $mode,
        public ?array $banks,
        public ?array $lines,
        public ?array $addressLines,
    ) {
    }

    /**
     * How strongly the fault shows in this evidence.
     *
     * @param  list<string>  $banks
     * @param  list<int>  $lines
     * @param  list<int>  $addressLines
     */
    public function showsIn(string $evidence, array $banks, array $lines, array $addressLines): float
    {
        $strength = $this->mode->shows[$evidence] ?? 0.0;
        if ($strength <= 0.0
            || ($this->banks !== null && array_diff($banks, $this->banks) !== [])
            || ($this->lines !== null && array_diff($lines, $this->lines) !== [])
            || ($this->addressLines !== null && $addressLines !== [] && array_intersect($addressLines, $this->addressLines) === [])) {
            return 0.0;
        }

        return $strength;
    }
}
