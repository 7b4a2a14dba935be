<?php

declare(strict_types=1);

namespace ZapTrace\Bench;

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

    public function settle(Circuit $circuit): void
    {
        foreach ($this->low as $node) {
            if ($circuit->level($node) === 1) {
                $circuit->release($this->out);

                return;
            }
        }
        foreach ($this->high as $node) {
            if ($circuit->level($node) === 0) {
                $circuit->release($this->out);

                return;
            }
        }
        $address = $circuit->word($this->address);
        if ($this->we >= 0 && $circuit->level($this->we) === 0) {
            $circuit->release($this->out);
            $this->cells[$address] = $circuit->word($this->in);
        } elseif ($this->oe >= 0 && $circuit->level($this->oe) === 1) {
            $circuit->release($this->out);
        } else {
            $circuit->driveWord($this->out, $this->contents !== null ? ord($this->contents[$address % strlen($this->contents)]) : $this->cells[$address] ?? crc32("{$this->seed} {$address}") & 255);
        }
    }
}
