<?php

declare(strict_types=1);

namespace ZapTrace\Bench;

use ZapTrace\Board\Netlist;

/**
 * Something that is wrong with a simulated machine.
 */
final readonly class InjectedFault
{
    /**
     * @param  string  $at  a pin (U5.4), a chip (U14), a net, or a link, as the kind wants it
     * @param  string  $detail  the other net of a short; the position of a link; the place of a break in its net; which cells
     * @param  float  $rate  the chance that it shows in a run; 1 for one that is always there
     */
    public function __construct(public FaultKind $kind, public string $at, public string $detail = '', public float $rate = 1.0)
    {
    }

    /** The part that has to be replaced, the trace to be mended, the link to be set. */
    public function site(): string
    {
        return match ($this->kind) {
            FaultKind::OpenTrace, FaultKind::Short, FaultKind::WrongSetting => $this->at,
            default => Netlist::chipOf($this->at),
        };
    }

    /** Whether it lies in a part, so that a new part cures it. */
    public function isInPart(): bool
    {
        return ! in_array($this->kind, [FaultKind::OpenTrace, FaultKind::Short, FaultKind::WrongSetting, FaultKind::BadContact], true);
    }

    /** The same in another position, with the part it is in. */
    public function movedTo(string $chip): self
    {
        return new self($this->kind, $chip.substr($this->at, strlen(Netlist::chipOf($this->at))), $this->detail, $this->rate);
    }

    public function words(): string
    {
        return match ($this->kind) {
            FaultKind::OpenTrace => "trace of {$this->at} broken before {$this->detail}",
            FaultKind::Short => "{$this->at} shorted to {$this->detail}",
            FaultKind::WrongSetting => "{$this->at} set to {$this->detail}",
            FaultKind::Cells => "{$this->at}: bad cells, {$this->detail}",
            default => "{$this->at}: {$this->kind->words()}",
        }.($this->rate < 1.0 ? ', now and then' : '');
    }

    /**
     * @return array{kind: string, at: string, detail: string, rate: float}
     */
    public function toArray(): array
    {
        return ['kind' => $this->kind->value, 'at' => $this->at, 'detail' => $this->detail, 'rate' => $this->rate];
    }

    /**
     * @param  array{kind: string, at: string, detail: string, rate: float}  $fault
     */
    public static function fromArray(array $fault): self
    {
        return new self(FaultKind::from($fault['kind']), $fault['at'], $fault['detail'], $fault['rate']);
    }
}
