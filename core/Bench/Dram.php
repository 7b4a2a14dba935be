<?php

declare(strict_types=1);

namespace ZapTrace\Bench;

/**
 * Dynamic memory chips that share their strobes and addresses: a row is taken at the falling row strobe and refreshed
 * by it, a column at the falling column strobe; what is not refreshed in time fades.
 */
final class Dram implements Device
{
    /** A real chip keeps its contents longer than its maker promises. */
    private const PATIENCE = 4.0;

    /** @var array<int, int> a word for each cell, the bits of the first chip lowest */
    private array $cells = [];

    /** @var array<int, float> row => when it was refreshed last, in seconds */
    private array $refreshed = [];

    private readonly int $ras;

    private readonly int $cas;

    private readonly int $we;

    private readonly int $oe;

    private int $row = 0;

    private int $column = 0;

    private bool $rasLow = false;

    private bool $casLow = false;

    private bool $weLow = false;

    private readonly int $columnBits;

    private readonly int $mask;

    private bool $drives = false;

    /**
     * @param  array{ras: int, cas: int, we: int, oe: int, address: list<int>}  $lines  nodes they share
     * @param  list<int>  $in  nodes of all their data, the first chip's lowest
     * @param  list<int>  $out  drivers
     * @param  list<array{fault: InjectedFault, bits: int}>  $faults  with the bits of the chip each is in
     * @param  float  $retention  seconds in which every row has to be refreshed
     * @param  bool  $unstable  their supply is not what it should be
     */
    public function __construct(private readonly array $lines, private readonly array $in, private readonly array $out, private readonly array $faults, private readonly int $seed, private readonly float $retention, private readonly bool $unstable)
    {
        ['ras' => $this->ras, 'cas' => $this->cas, 'we' => $this->we, 'oe' => $this->oe] = $lines;
        $this->columnBits = count($lines['address']);
        $this->mask = (1 << count($out)) - 1;
    }

    /**
     * One device for each group of chips that share everything but their data.
     *
     * @param  list<Socket>  $sockets
     * @param  array<string, list<InjectedFault>>  $faults  by chip
     * @return list<self>
     */
    public static function grouped(array $sockets, array $faults, int $seed, float $retention, bool $unstable): array
    {
        $groups = [];
        foreach ($sockets as $socket) {
            $ref = $socket->chip->ref;
            $address = $socket->nodes($socket->row('A'));
            foreach ($faults[$ref] ?? [] as $fault) {
                if ($fault->kind === FaultKind::AddressInput) {
                    $address[(int) $fault->detail] = -1;
                }
            }
            $io = $socket->row('IO', 1);
            $lines = ['ras' => $socket->node('/RAS'), 'cas' => $socket->node('/CAS'), 'we' => $socket->node('/WE'), 'oe' => $socket->node('/OE'), 'address' => array_values($address)];
            $key = implode(' ', [$lines['ras'], $lines['cas'], $lines['we'], $lines['oe'], ...$address]);
            $groups[$key] ??= ['lines' => $lines, 'in' => [], 'out' => [], 'faults' => [], 'seed' => crc32("{$seed} {$ref}")];
            $in = $socket->nodes($io === [] ? ['DI'] : $io);
            foreach ($faults[$ref] ?? [] as $fault) {
                $groups[$key]['faults'][] = ['fault' => $fault, 'bits' => ((1 << count($in)) - 1) << count($groups[$key]['in'])];
            }
            array_push($groups[$key]['in'], ...$in);
            array_push($groups[$key]['out'], ...$socket->drivers($io === [] ? ['DO'] : $io));
        }

        return array_values(array_map(static fn (array $group): self => new self($group['lines'], $group['in'], $group['out'], $group['faults'], $group['seed'], $retention, $unstable), $groups));
    }

    public function listens(): array
    {
        return [$this->ras, $this->cas, $this->we, $this->oe];
    }

    public function deaf(): ?array
    {
        return null;
    }

    public function settle(Circuit $circuit): void
    {
        $ras = $circuit->level($this->ras) === 0;
        $cas = $circuit->level($this->cas) === 0;
        $we = $circuit->level($this->we) === 0;
        if ($ras && ! $this->rasLow) {
            $this->row = $circuit->word($this->lines['address']);
            $now = $circuit->seconds();
            if ($now - ($this->refreshed[$this->row] ?? $now) > $this->retention * self::PATIENCE) {
                $this->fade($this->row);
            }
            $this->refreshed[$this->row] = $now;
        }
        if ($ras && $cas && ! $this->casLow) {
            $this->column = $circuit->word($this->lines['address']);
            if ($we) {
                $this->cells[$this->row << $this->columnBits | $this->column] = $circuit->word($this->in);
            }
        } elseif ($ras && $cas && $we && ! $this->weLow) {
            $this->cells[$this->row << $this->columnBits | $this->column] = $circuit->word($this->in);
        }
        $this->rasLow = $ras;
        $this->casLow = $cas;
        $this->weLow = $we;
        $drives = $ras && $cas && ! $we && ($this->oe < 0 || $circuit->level($this->oe) === 0);
        if ($drives) {
            $circuit->driveWord($this->out, $this->read($circuit->now));
        } elseif ($this->drives) {
            $circuit->release($this->out);
        }
        $this->drives = $drives;
    }

    private function read(int $moment): int
    {
        $cell = $this->row << $this->columnBits | $this->column;
        $word = $this->cells[$cell] ?? crc32("{$this->seed} {$cell}") & $this->mask;
        foreach ($this->faults as ['fault' => $fault, 'bits' => $bits]) {
            $word = match (true) {
                $fault->kind === FaultKind::Cells && $this->isBad($fault->detail) => str_contains($fault->detail, 'ones') ? $word | $bits : $word & ~$bits,
                $fault->kind === FaultKind::ReadsLow => $word & ~$bits,
                $fault->kind === FaultKind::ReadsHigh => $word | $bits,
                $fault->kind === FaultKind::Weak => crc32("{$this->seed} {$moment}") % 4 === 0 ? $word ^ $bits : $word,
                default => $word,
            };
        }

        return $this->unstable && crc32("{$this->seed} {$moment}") % 5 === 0 ? $word ^ (1 << $moment % max(1, count($this->out))) : $word;
    }

    /** "row 12", "column 7", "quarter 2", and whether they read ones. */
    private function isBad(string $which): bool
    {
        [$kind, $number] = [...explode(' ', $which), '', ''];

        return match ($kind) {
            'row' => $this->row === (int) $number,
            'column' => $this->column === (int) $number,
            default => $this->row >> ($this->columnBits - 1) << 1 === ((int) $number & 2) && $this->column >> ($this->columnBits - 1) === ((int) $number & 1),
        };
    }

    private function fade(int $row): void
    {
        foreach (array_keys($this->cells) as $cell) {
            if ($cell >> $this->columnBits === $row) {
                $this->cells[$cell] = 0;
            }
        }
    }
}
