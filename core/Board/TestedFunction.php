<?php

declare(strict_types=1);

namespace ZapTrace\Board;

/**
 * Something that has to be tested before the machine goes back to its owner.
 */
final readonly class TestedFunction
{
    /** How strongly a fault shows of a part that it exercises, and of one that only serves a bank it fills. */
    private const EXERCISED = 0.7;

    private const SERVES = 0.5;

    /**
     * @param  string  $how  in a sentence, "" when the name says it
     * @param  list<string>  $sites  parts it exercises
     * @param  list<string>  $banks  banks that it fills, all of each
     * @param  float|null  $minutes  what it takes, null when the profile does not say
     */
    public function __construct(public string $id, public string $name, public string $how, public array $sites, public array $banks = [], public ?float $minutes = null)
    {
    }

    /**
     * How strongly a fault of each part shows in it: chips of the banks it fills and what serves these included.
     *
     * @param  list<string>  $reached  banks that the processor reaches as the links stand
     * @return array<string, float> reference => 0 to 1
     */
    public function strengths(BoardProfile $board, array $reached): array
    {
        $strengths = array_fill_keys($this->sites, self::EXERCISED);
        foreach (array_intersect($this->banks, $reached) as $name) {
            foreach ($board->banks[$name]->chips() as $chip) {
                $strengths[$chip] = self::EXERCISED;
            }
            foreach ($board->banks[$name]->servers as $server) {
                $strengths[$server->chip] ??= self::SERVES;
            }
        }

        return $strengths;
    }

    /**
     * Whether it can be done as the links stand.
     *
     * @param  list<string>  $reached  banks that the processor reaches
     */
    public function isPossible(array $reached): bool
    {
        return array_diff($this->banks, $reached) === [];
    }
}
