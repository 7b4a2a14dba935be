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
     * @param  bool  $whenWarm  it shows only once the machine, or the part, is warm
     */
    public function __construct(public FaultKind $kind, public string $at, public string $detail = '', public float $rate = 1.0, public bool $whenWarm = false)
    {
    }

    /** The same, but that comes and goes, or shows only when it is warm. */
    public function timed(float $rate, bool $whenWarm): self
    {
        return new self($this->kind, $this->at, $this->detail, $rate, $whenWarm);
    }

    /** Whether it is there in each run, cold or warm. */
    public function isSteady(): bool
    {
        return $this->rate >= 1.0 && ! $this->whenWarm;
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
        return new self($this->kind, $chip.substr($this->at, strlen(Netlist::chipOf($this->at))), $this->detail, $this->rate, $this->whenWarm);
    }

    public function words(): string
    {
        return match ($this->kind) {
            FaultKind::OpenTrace => "trace of {$this->at} broken before {$this->detail}",
            FaultKind::Short => "{$this->at} shorted to {$this->detail}",
            FaultKind::WrongSetting => "{$this->at} set to {$this->detail}",
            FaultKind::Cells => "{$this->at}: bad cells, {$this->detail}",
            default => "{$this->at}: {$this->kind->words()}",
        }.($this->rate < 1.0 ? ', now and then' : '').($this->whenWarm ? ', when it is warm' : '');
    }

    /**
     * @return array{kind: string, at: string, detail: string, rate: float, whenWarm: bool}
     */
    public function toArray(): array
    {
        return ['kind' => $this->kind->value, 'at' => $this->at, 'detail' => $this->detail, 'rate' => $this->rate, 'whenWarm' => $this->whenWarm];
    }

    /**
     * @param  array{kind: string, at: string, detail: string, rate: float, whenWarm?: bool}  $fault
     */
    public static function fromArray(array $fault): self
    {
        return new self(FaultKind::from($fault['kind']), $fault['at'], $fault['detail'], $fault['rate'], $fault['whenWarm'] ?? false);
    }
}
