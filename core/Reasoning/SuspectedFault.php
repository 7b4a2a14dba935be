<?php

declare(strict_types=1);

namespace ZapTrace\Reasoning;

/**
 * A mode of failure at a site of a board, and the evidence it can show in: which banks, data lines and address lines.
 */
final readonly class SuspectedFault
{
    /** Of what would show in more than was seen so much is left. */
    private const HARDLY = 0.1;

    /** A trace of an address carries so many lines at most, a row's and a column's; two that touch look as if more were lost. */
    private const OF_ONE_TRACE = 2;

    /**
     * @param  string  $id  unique on the board
     * @param  string  $site  what is suspected, as it is shown: U14, U14.14, D5, LK1
     * @param  list<string>|null  $banks  banks it shows in; all when null
     * @param  list<int>|null  $lines  data lines it shows on; all when null
     * @param  list<int>|null  $addressLines  address lines it concerns; all when null
     * @param  string|null  $part  the physical part that carries the fault with it; null when it belongs to the place
     * @param  string  $seat  the position it belongs to, or in which its part came
     * @param  string  $assembly  the assembly that position is on
     * @param  int  $onset  place in the log at which it was born; 0 when it was there from the start
     * @param  float  $prior  chance of it before anything was observed
     * @param  list<string>  $outputs  pins at which it shows and no others do, of a fault of one channel; none where they are not known
     */
    public function __construct(
        public string $id,
        public string $site,
        public SiteKind $kind,
        public FailureMode $mode,
        public ?array $banks,
        public ?array $lines,
        public ?array $addressLines,
        public ?string $part = null,
        public string $seat = '',
        public string $assembly = '',
        public int $onset = 0,
        public float $prior = 0.0,
        public array $outputs = [],
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
            || ($this->banks !== null && ! self::areAmong($banks, $this->banks))
            || ($this->lines !== null && ! self::areAmong($lines, $this->lines))
            || ($this->addressLines !== null && $addressLines !== [] && array_intersect($addressLines, $this->addressLines) === [])) {
            return 0.0;
        }
        if ($evidence === 'bank-multiplexer' && $this->addressLines !== null && ($this->kind !== SiteKind::Net || count($this->addressLines) > self::OF_ONE_TRACE && ! str_starts_with($this->mode->name, 'shorted to'))) {
            // What carries fewer lines cannot lose them all; what carries more would lose those as well.
            return array_diff($addressLines, $this->addressLines) !== [] ? 0.0 : $strength * (count($this->addressLines) > count($addressLines) ? self::HARDLY : 1.0);
        }

        return $strength;
    }

    /**
     * @param  list<int|string>  $some
     * @param  list<int|string>  $all
     */
    private static function areAmong(array $some, array $all): bool
    {
        foreach ($some as $one) {
            if (! in_array($one, $all, true)) {
                return false;
            }
        }

        return true;
    }

    /**
     * Whether it can lose so many address lines together; of two traces that touch more may seem lost.
     *
     * @param  list<int>  $addressLines  that are lost
     */
    public function loses(array $addressLines): bool
    {
        return $this->addressLines === null || count($addressLines) <= self::OF_ONE_TRACE || array_diff($addressLines, $this->addressLines) === [] || str_starts_with($this->mode->name, 'shorted to');
    }

    /** The same fault carried by another physical part, born at a moment, with a prior of its own. */
    public function carriedBy(string $part, float $prior, int $onset = 0): self
    {
        return new self("{$part}".substr($this->id, strlen($this->seat)).($onset > 0 ? "/since {$onset}" : ''), $part, $this->kind, $this->mode, $this->banks, $this->lines, $this->addressLines, $part, $this->seat, $this->assembly, $onset, $prior, $this->outputs);
    }
}
