<?php

declare(strict_types=1);

namespace ZapTrace\Bus;

/**
 * What two machines that run the same programme hold alike, as far as the cycles so far tell. Memory comes up
 * differently in each, so a read of a place that nothing was written to may differ, and so may what is made of it.
 */
final class SharedMemory
{
    /** Cycles for which a processor carries what it read before it is written somewhere. */
    private const CARRIED = 64;

    /** @var array<int, true> addresses that hold the same in both */
    private array $alike = [];

    /** @var array<int, int> what the good one read, by address, where ROM lies */
    private array $rom = [];

    /** @var array<int, true> first addresses of ROM ranges that have been switched over to memory */
    private array $switched = [];

    private int $since = self::CARRIED;

    public function __construct(private readonly MemoryPlan $plan, private readonly int $dataMask)
    {
    }

    /**
     * Takes in one cycle of both, with the same address and direction, and says whether they agree: that their data are
     * the same, or need not be.
     *
     * @param  int  $address  as the one knows it that has more address lines
     */
    public function takes(CycleKind $kind, int $address, int $is, int $should): bool
    {
        $this->since++;
        $same = (($is ^ $should) & $this->dataMask) === 0;
        if (! $kind->isRead()) {
            if ($same) {
                $this->alike[$address] = true;

                return true;
            }
            unset($this->alike[$address]);

            return $this->since <= self::CARRIED;
        }
        $mayDiffer = $kind->isIo() || $this->mayDiffer($address, $should);
        if (! $same && $mayDiffer) {
            $this->since = 0;
        }

        return $same || $mayDiffer;
    }

    private function mayDiffer(int $address, int $should): bool
    {
        $range = $this->plan->at($address);
        if ($range === null) {
            return false;
        }
        if ($range['kind'] === 'rom' && ! isset($this->switched[$range['from']])) {
            $held = $this->plan->romByte($address) ?? $this->rom[$address] ?? $should;
            $this->rom[$address] = $should;
            if ((($held ^ $should) & $this->dataMask) === 0) {
                return false;
            }
            // The good one itself reads something else here than before: this is no ROM any more.
            $this->switched[$range['from']] = true;
        }

        return $range['kind'] === 'io' || ! isset($this->alike[$address]);
    }
}
