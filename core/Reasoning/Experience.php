<?php

declare(strict_types=1);

namespace ZapTrace\Reasoning;

use ZapTrace\Board\BoardProfile;

/**
 * What parts and boards failed of in earlier jobs: it makes the same likelier now, and says so.
 *
 * One failure of the same position on the same board counts about as much as three of the same type elsewhere; many
 * count less and less. Common practice.
 */
final readonly class Experience
{
    private const SAME_PLACE = 1.5;

    private const SAME_TYPE = 0.5;

    /**
     * @param  list<array{board: string, site: string, part: string}>  $failures  of earlier jobs: slug of the board, position, type number
     */
    public function __construct(private array $failures)
    {
    }

    /**
     * @return array<string, float> position => what it multiplies the likelihood of a fault there by; only where it is not 1
     */
    public function factors(BoardProfile $board): array
    {
        $factors = [];
        foreach ($board->chips as $chip) {
            [$here, $alike] = $this->count($board, $chip->ref, $chip->part);
            if ($here + $alike > 0) {
                $factors[$chip->ref] = 1.0 + self::SAME_PLACE * log(1.0 + $here) + self::SAME_TYPE * log(1.0 + $alike);
            }
        }

        return $factors;
    }

    /** What earlier jobs say of a part, as a sentence; "" when they say nothing. */
    public function words(BoardProfile $board, string $site): string
    {
        $chip = $board->chips[$site] ?? null;
        if ($chip === null) {
            return '';
        }
        [$here, $alike] = $this->count($board, $chip->ref, $chip->part);
        $times = static fn (int $number): string => $number === 1 ? 'once' : "{$number} times";

        return trim(($here > 0 ? "{$site} failed {$times($here)} on this board before. " : '').($alike > 0 ? "A {$chip->part} failed {$times($alike)} elsewhere." : ''));
    }

    /**
     * @return array{int, int} at this position of this board; of this type elsewhere
     */
    private function count(BoardProfile $board, string $site, string $part): array
    {
        $here = 0;
        $alike = 0;
        foreach ($this->failures as $failure) {
            if ($failure['board'] === $board->slug && $failure['site'] === $site) {
                $here++;
            } elseif (strcasecmp($failure['part'], $part) === 0) {
                $alike++;
            }
        }

        return [$here, $alike];
    }
}
