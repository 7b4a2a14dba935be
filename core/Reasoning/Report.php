<?php

declare(strict_types=1);

namespace ZapTrace\Reasoning;

/**
 * An observation interpreted: one result, whose chance depends on a set of faults only through those it touches.
 */
interface Report
{
    /** Whether some fault would make this report likelier than health does. */
    public function isAbnormal(): bool;

    /**
     * @return array<string, float> fault => how strongly it bears on this report in its context, more than 0 to 1
     */
    public function touches(): array;

    /**
     * @return list<string> the faults that would explain it; none when it is normal
     */
    public function explainedBy(): array;

    /**
     * Faults with the same mark do the same to this report.
     */
    public function mark(string $fault): string;

    /**
     * The chance of this very report when exactly these faults are there.
     *
     * @param  list<string>  $faults
     * @return float 0 to 1
     */
    public function chance(array $faults): float;
}
