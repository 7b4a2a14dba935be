<?php

declare(strict_types=1);

namespace ZapTrace\Parts\Logic;

/**
 * A piece of a part that stands by itself: one gate of four, a counter. What it gives follows from the levels at its
 * inputs and from what it keeps; each case is worked out once and then looked up.
 */
final class LogicUnit
{
    public const LOW = 0;

    public const HIGH = 1;

    /** It does not drive. */
    public const FLOATING = 2;

    private const REMEMBERED = 65536;

    /** @var array<int, array{int, int}> */
    private array $known = [];

    /**
     * @param  list<int>  $inputs  pins it listens to
     * @param  list<string>  $inputNames
     * @param  list<Output>  $outputs
     * @param  list<Register>  $registers
     */
    public function __construct(public readonly array $inputs, private readonly array $inputNames, public readonly array $outputs, private readonly array $registers)
    {
    }

    /** Bits of its state: what it keeps, then the levels its clocks had. */
    public function stateBits(): int
    {
        return 2 * count($this->registers);
    }

    public function keeps(): bool
    {
        return $this->registers !== [];
    }

    /**
     * What it keeps, without the memory of its clocks: for a state to begin with.
     */
    public function stateOf(int $kept, int $levels): int
    {
        $named = $this->named($levels, $kept);
        $state = $kept;
        foreach ($this->registers as $bit => $register) {
            $state |= $register->clock->value($named) << (count($this->registers) + $bit);
        }

        return $state;
    }

    /**
     * @param  int  $levels  bit n is the level at the nth input
     * @param  int  $state  as it was returned the last time
     * @return array{int, int} the new state; and of each output two bits: LOW, HIGH or FLOATING
     */
    public function settle(int $levels, int $state): array
    {
        $key = $state << count($this->inputs) | $levels;
        if (isset($this->known[$key])) {
            return $this->known[$key];
        }
        if (count($this->known) >= self::REMEMBERED) {
            $this->known = [];
        }

        return $this->known[$key] = $this->work($levels, $state);
    }

    /**
     * @return array{int, int}
     */
    private function work(int $levels, int $state): array
    {
        $count = count($this->registers);
        $kept = $state & ((1 << $count) - 1);
        $clocks = $state >> $count;
        // A register may be the clock of the next: once for each is enough.
        for ($round = 0; $round <= $count; $round++) {
            $named = $this->named($levels, $kept);
            $next = $kept;
            $nowClocks = 0;
            foreach ($this->registers as $bit => $register) {
                $clock = $register->clock->value($named);
                $nowClocks |= $clock << $bit;
                $before = $clocks >> $bit & 1;
                $takes = match ($register->when) {
                    'while' => $clock === 1,
                    'rise' => $before === 0 && $clock === 1,
                    'fall' => $before === 1 && $clock === 0,
                };
                $value = $takes ? $register->next->value($named) : $kept >> $bit & 1;
                if ($register->reset !== null && $register->reset->value($named) === 1) {
                    $value = 0;
                }
                if ($register->set !== null && $register->set->value($named) === 1) {
                    $value = 1;
                }
                $next = $next & ~(1 << $bit) | $value << $bit;
            }
            $settled = $next === $kept && $nowClocks === $clocks;
            $kept = $next;
            $clocks = $nowClocks;
            if ($settled) {
                break;
            }
        }
        $named = $this->named($levels, $kept);
        $drives = 0;
        foreach ($this->outputs as $place => $output) {
            $value = $output->value->value($named);
            if ($output->when !== null && $output->when->value($named) === 0 || $output->open && $value === 1) {
                $value = self::FLOATING;
            }
            $drives |= $value << 2 * $place;
        }

        return [$kept | $clocks << $count, $drives];
    }

    /**
     * @return array<string, int>
     */
    private function named(int $levels, int $kept): array
    {
        $named = [];
        foreach ($this->inputNames as $place => $name) {
            $named[$name] = $levels >> $place & 1;
        }
        foreach ($this->registers as $bit => $register) {
            $named[$register->name] = $kept >> $bit & 1;
        }

        return $named;
    }
}
