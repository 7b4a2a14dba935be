<?php

declare(strict_types=1);

namespace ZapTrace\Bench;

use ZapTrace\Parts\Logic\LogicUnit;

/**
 * A static memory chip or a ROM: it gives what it holds as long as it is selected.
 */
final class StaticMemory implements Device
{
    /** @var list<int> */
    private array $address;

    /** @var list<int> */
    private array $in;

    /** @var list<int> */
    private array $out;

    /** @var list<int> nodes that have to be low */
    private array $low = [];

    /** @var list<int> nodes that have to be high */
    private array $high = [];

    private int $we;

    private int $oe;

    /** @var array<int, int> */
    private array $cells = [];

    private bool $drives = false;

    /**
     * @param  string|null  $contents  of a ROM; null for memory that is written
     */
    public function __construct(Socket $socket, private readonly ?string $contents, private readonly int $seed)
    {
        $this->address = $socket->nodes($socket->row('A'));
        $data = $socket->row('IO', 1);
        $data = $data === [] ? $socket->row('D') : $data;
        $this->in = $socket->nodes($data);
        $this->out = $socket->drivers($data);
        foreach (['/CE', '/CS', '/CS1'] as $select) {
            if ($socket->has($select)) {
                $this->low[] = $socket->node($select);
            }
        }
        if ($socket->has('CS2')) {
            $this->high[] = $socket->node('CS2');
        }
        $this->we = $contents === null && $socket->has('/WE') ? $socket->node('/WE') : -1;
        $this->oe = $socket->has('/OE') ? $socket->node('/OE') : -1;
    }

    public function listens(): array
    {
        return [...$this->address, ...$this->low, ...$this->high, $this->we, $this->oe, ...($this->we >= 0 ? $this->in : [])];
    }

    public function deaf(): ?array
    {
        return $this->low === [] || $this->low[0] < 0 ? null : [$this->low[0], LogicUnit::HIGH];
    }

    public function settle(Circuit $circuit): void
    {
        $gives = $this->isSelected($circuit) ? $this->answers($circuit) : null;
        if ($gives !== null) {
            $circuit->driveWord($this->out, $gives);
        } elseif ($this->drives) {
            $circuit->release($this->out);
        }
        $this->drives = $gives !== null;
    }

    private function isSelected(Circuit $circuit): bool
    {
        foreach ($this->low as $node) {
            if ($circuit->level($node) === 1) {
                return false;
            }
        }
        foreach ($this->high as $node) {
            if ($circuit->level($node) === 0) {
                return false;
            }
        }

        return true;
    }

    /** What it gives; null when it is written to, or its outputs are not enabled. */
    private function answers(Circuit $circuit): ?int
    {
        $writes = $this->we >= 0 && $circuit->level($this->we) === 0;
        if (! $writes && $this->oe >= 0 && $circuit->level($this->oe) === 1) {
            return null;
        }
        $address = $circuit->word($this->address);
        if ($writes) {
            $this->cells[$address] = $circuit->word($this->in);

            return null;
        }

        return $this->contents !== null ? ord($this->contents[$address % strlen($this->contents)]) : $this->cells[$address] ?? crc32("{$this->seed} {$address}") & 255;
    }
}
