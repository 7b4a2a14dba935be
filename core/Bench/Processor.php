<?php

declare(strict_types=1);

namespace ZapTrace\Bench;

use ZapTrace\Processors\BusProgram;

/**
 * A processor as the source of bus cycles: it drives its pins in the order and at the clock edges at which the real one
 * does, and leaves what it does to a programme.
 */
abstract class Processor implements Device
{
    /** @var list<int> */
    protected array $address;

    /** @var list<int> */
    protected array $dataIn;

    /** @var list<int> */
    protected array $dataOut;

    /** @var array{int, int|null} */
    protected array $access = [0, null];

    protected ?int $read = null;

    private readonly int $clockNode;

    private readonly int $resetNode;

    private bool $clockHigh = false;

    private bool $held = true;

    public int $cycles = 0;

    public function __construct(protected readonly Socket $socket, protected readonly BusProgram $program, string $clock, string $reset)
    {
        $first = $socket->has('A0') ? 0 : 1;
        $this->address = $socket->drivers($socket->row('A', $first));
        $this->dataIn = $socket->nodes($socket->row('D'));
        $this->dataOut = $socket->drivers($socket->row('D'));
        $this->clockNode = $socket->node($clock);
        $this->resetNode = $socket->node($reset);
        $program->reset();
    }

    public function listens(): array
    {
        return [$this->clockNode, $this->resetNode];
    }

    public function deaf(): ?array
    {
        return null;
    }

    public function settle(Circuit $circuit): void
    {
        $high = $circuit->level($this->clockNode) === 1;
        if ($circuit->level($this->resetNode) === 0) {
            if (! $this->held) {
                $this->program->reset();
                $this->read = null;
            }
            $this->held = true;
            $this->rest($circuit, $high);
        } elseif ($high !== $this->clockHigh) {
            if ($this->held) {
                $this->held = false;
                $this->begin();
            }
            $this->edge($circuit, $high);
        }
        $this->clockHigh = $high;
    }

    protected function advance(): void
    {
        $this->access = $this->program->next($this->read);
        $this->read = null;
        $this->cycles++;
    }

    /** Out of reset: what comes first. */
    abstract protected function begin(): void;

    /** Held in reset. */
    abstract protected function rest(Circuit $circuit, bool $clockHigh): void;

    abstract protected function edge(Circuit $circuit, bool $high): void;

    protected function pin(string $name): int
    {
        return $this->socket->driver($name);
    }

    /** The part that sits there, by its type number; null when there is no model of it. */
    public static function of(Socket $socket, BusProgram $program): ?self
    {
        return match ($socket->chip->part) {
            '6502', '65C02' => new Processor6502($socket, $program, 'PHI0', '/RES'),
            'Z80' => new ProcessorZ80($socket, $program, 'CLK', '/RESET'),
            '68000' => new Processor68000($socket, $program, 'CLK', '/RESET'),
            default => null,
        };
    }
}
