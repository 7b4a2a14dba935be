<?php

declare(strict_types=1);

namespace ZapTrace\Bus;

/**
 * Cycles in the order they were made, packed: 17 bytes each, so that a million of them are kept.
 */
final class CycleList
{
    private const BYTES = 17;

    private const KINDS = [CycleKind::Fetch, CycleKind::Read, CycleKind::Write, CycleKind::IoRead, CycleKind::IoWrite];

    /**
     * @param  int  $addressMask  address bits that were probed
     * @param  int  $dataMask  data bits that were probed
     * @param  float  $unit  seconds in a unit of time
     * @param  int  $end  the last moment of the capture
     */
    public function __construct(public readonly int $addressMask, public readonly int $dataMask, public readonly float $unit = 1e-9, public int $end = 0, private string $packed = '')
    {
    }

    public function add(int $time, CycleKind $kind, int $address, int $data): void
    {
        $this->packed .= pack('qCVV', $time, array_search($kind, self::KINDS, true), $address, $data);
    }

    public function count(): int
    {
        return intdiv(strlen($this->packed), self::BYTES);
    }

    public function at(int $number): Cycle
    {
        /** @var array{t: int, k: int, a: int, d: int} $cycle */
        $cycle = unpack('qt/Ck/Va/Vd', $this->packed, $number * self::BYTES);

        return new Cycle($cycle['t'], self::KINDS[$cycle['k']], $cycle['a'], $cycle['d']);
    }

    /** Whether two cycles are alike in all that was probed here. */
    public function agrees(Cycle $one, Cycle $other): bool
    {
        return $one->kind->goesLike($other->kind) && (($one->address ^ $other->address) & $this->addressMask) === 0 && (($one->data ^ $other->data) & $this->dataMask) === 0;
    }

    /** All of it as bytes, to be kept. */
    public function packed(): string
    {
        return pack('VVeq', $this->addressMask, $this->dataMask, $this->unit, $this->end).$this->packed;
    }

    public static function unpacked(string $bytes): self
    {
        /** @var array{a: int, d: int, u: float, e: int} $head */
        $head = unpack('Va/Vd/eu/qe', $bytes);

        return new self($head['a'], $head['d'], $head['u'], $head['e'], substr($bytes, 24));
    }
}
