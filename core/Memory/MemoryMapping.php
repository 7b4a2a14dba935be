<?php

declare(strict_types=1);

namespace ZapTrace\Memory;

/**
 * What readings say of every bank and bit of a board.
 */
final readonly class MemoryMapping
{
    /**
     * @param  int  $readings  how many were made: a word typed as one counts once, a dump counts its bytes
     * @param  int  $failed  of them, those that differ from what was expected, in memory that a bank answers
     * @param  int  $outside  bytes at addresses where no bank answers under the settings of their reading
     * @param  array<string, array<int, BitTally>>  $bits  bank => data line => tally
     * @param  array<string, array<int, Pattern>>  $patterns  bank => data line => pattern
     * @param  list<PatternFinding>  $findings
     * @param  array<string, list<int>>  $apart  bank => address lines in which addresses differ that were read right and hold different bytes
     * @param  array<string, true>  $foreign  banks in which what was read wrong was written nowhere
     * @param  array<string, true>  $everywhere  banks in which all of many readings were wrong
     */
    public function __construct(
        public int $readings,
        public int $failed,
        public int $outside,
        public array $bits,
        public array $patterns,
        public array $findings,
        public array $apart = [],
        public array $foreign = [],
        public array $everywhere = [],
    ) {
    }

    /**
     * @return list<string> memory chips all of whose bits were read right where 0 and where 1 was expected
     */
    public function clearedChips(): array
    {
        $cleared = [];
        foreach ($this->bits as $bits) {
            foreach ($bits as $bit) {
                $cleared[$bit->chip] = ($cleared[$bit->chip] ?? true) && $bit->isCleared();
            }
        }

        return array_map(strval(...), array_keys(array_filter($cleared)));
    }
}
