<?php

declare(strict_types=1);

namespace ZapTrace\Bus;

use ZapTrace\Bench\Machine;
use ZapTrace\Board\BoardProfile;
use ZapTrace\Board\Settings;
use ZapTrace\Signals\SelectCheck;
use ZapTrace\Signals\Structure;

/**
 * From a divergence to the probe: the chip that should have answered, and the pins to measure, the nearest first.
 */
final readonly class HandOver
{
    /** Pins that are named at once. */
    private const PINS = 5;

    /** From so many wrong data bits on it is no longer a line but who answers. */
    private const BITS = 4;

    private function __construct(public string $chip, public int $address, public string $words)
    {
    }

    /** Null where the address does not say who should answer, or nothing is known of its select. */
    public static function of(Divergence $found, BoardProfile $board, Settings $settings): ?self
    {
        $asks = in_array($found->kind, [Divergence::NOTHING_SELECTED, Divergence::WRONG_TARGET], true) || $found->kind === Divergence::DATA_BITS && count($found->bits) >= self::BITS;
        if (! $asks || $found->address === null || $board->netlist->isEmpty()) {
            return null;
        }
        $structure = Structure::of($board);
        $chip = (new BusEvidence($structure, $settings))->chipAt($found->address, $found->cycle, $found->bits);
        $check = $chip === '' ? null : SelectCheck::of(new Machine($board, [], 1, positions: $settings->positions), $structure, $chip, $found->address);

        return $check === null ? null : new self($chip, $found->address, sprintf('%s should answer at %04X. Measure %s.', $chip, $found->address, implode(', then ', array_slice($check->inOrder(), 0, self::PINS))));
    }
}
