<?php

declare(strict_types=1);

namespace ZapTrace\Diagnostics;

use ZapTrace\Board\BoardProfile;
use ZapTrace\Reasoning\Conclusion;

/**
 * Points out a count that is one off from a likelier chip, when the rest of the evidence says so.
 */
final class SlipNotice
{
    /** How much likelier the neighbour must be. */
    private const LIKELIER = 2.0;

    private const LIKELY = 0.3;

    /**
     * @param  list<string>  $results  codes in small letters, or "pass"
     * @return list<string>
     */
    public static function of(Diagnostic $diagnostic, array $results, Conclusion $conclusion, BoardProfile $board): array
    {
        $shares = [];
        foreach ($conclusion->suspects() as $suspect) {
            $shares[$suspect->site] = $suspect->share;
        }
        $notices = [];
        foreach (array_unique($results) as $result) {
            $named = ($diagnostic->codes[$result] ?? null)?->bit;
            if ($named === null) {
                continue;
            }
            $chip = self::chip($board, $named['bank'], $named['line']);
            foreach ($diagnostic->oneOff($result) as $other) {
                $neighbour = $other->bit === null ? '' : self::chip($board, $other->bit['bank'], $other->bit['line']);
                $share = $shares[$neighbour] ?? 0.0;
                if ($share >= self::LIKELY && $share > self::LIKELIER * ($shares[$chip] ?? 0.0)) {
                    $notices[] = "{$result} is one off from {$neighbour}, which everything else makes likelier than {$chip}: count again.";
                }
            }
        }

        return $notices;
    }

    private static function chip(BoardProfile $board, string $bank, int $line): string
    {
        return $board->banks[$bank]->chipOfLine[$line] ?? '';
    }
}
