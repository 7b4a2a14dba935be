<?php

declare(strict_types=1);

namespace ZapTrace\Board;

use ZapTrace\Parts\Logic\LogicFunction;
use ZapTrace\Parts\Logic\LogicMistake;

/**
 * What a netlist should be looked at twice for: two outputs that drive one net at once, inputs that nothing drives,
 * supply pins that hang in the air. A profile that is still being drawn has such places; they are no errors.
 */
final class NetlistCheck
{
    /** @var array<string, array<int|string, true>> equations => pins that can let go */
    private array $releasing = [];

    /**
     * @return list<array{net: string, sentence: string}>
     */
    public function notices(BoardProfile $board): array
    {
        $netlist = $board->netlist;
        $notices = [];
        $joined = [];
        foreach ($board->settings as $setting) {
            foreach ($setting->joins as $pairs) {
                foreach ($pairs as [$from, $to]) {
                    $joined[$from] = $joined[$to] = $setting->ref;
                }
            }
        }
        foreach ($netlist->nets as $net) {
            if ($net->isPower()) {
                continue;
            }
            $drivers = $netlist->drivers($net);
            $stiff = array_values(array_filter($drivers, fn (string $pin): bool => ! $this->canRelease($board, $pin)));
            if (count($stiff) > 1) {
                $notices[] = ['net' => $net->name, 'sentence' => "{$net->name} is driven by {$netlist->called($stiff[0])} and {$netlist->called($stiff[1])} at once, and neither can let go."];
            }
            if (count($stiff) === 1 && count($drivers) > 1 && array_filter($drivers, fn (string $pin): bool => $pin !== $stiff[0] && $netlist->pin($pin)?->direction === 'out') !== []) {
                $notices[] = ['net' => $net->name, 'sentence' => "{$net->name} has {$netlist->called($stiff[0])} that always drives, and other outputs beside it."];
            }
            $loads = $netlist->loads($net);
            if ($drivers === [] && $loads !== [] && $netlist->pull($net) === null && ! isset($joined[$net->name]) && ! $this->comesFromOutside($board, $net)) {
                $notices[] = ['net' => $net->name, 'sentence' => "Nothing drives {$net->name}, and nothing pulls it: {$netlist->called($loads[0])} floats."];
            }
        }
        foreach ($board->chips as $chip) {
            foreach ($netlist->isEmpty() ? [] : $chip->type?->pinList() ?? [] as $pin) {
                $net = $netlist->netOf("{$chip->ref}.{$pin->number}");
                if ($pin->direction === 'supply' && $net === null) {
                    $notices[] = ['net' => '', 'sentence' => "{$chip->ref}.{$pin->number} ({$pin->name}) is a supply pin on no net."];
                }
                if ($pin->direction === 'in' && $net === null && $chip->kind() !== 'programmed') {
                    $notices[] = ['net' => '', 'sentence' => "{$netlist->called("{$chip->ref}.{$pin->number}")} is an input on no net."];
                }
            }
        }

        return $notices;
    }

    /** Whether an output can stop driving: three-state, open collector, or a pin that also listens. */
    public function canRelease(BoardProfile $board, string $pin): bool
    {
        $known = $board->netlist->pin($pin);
        $chip = $board->chips[Netlist::chipOf($pin)] ?? null;
        if ($known === null || $chip === null || $known->direction === 'both' || in_array($chip->kind(), ['dram', 'sram', 'rom', 'eprom'], true)) {
            return true;
        }
        if (str_starts_with($known->name, 'IRQ') || $chip->equations() === '' && $chip->kind() === 'programmed') {
            return true;
        }
        $key = "{$chip->part} {$chip->equations()}";
        if (! isset($this->releasing[$key])) {
            $this->releasing[$key] = [];
            try {
                foreach ($chip->equations() === '' ? [] : LogicFunction::parse($chip->equations(), $chip->type->pinout ?? [])->units as $unit) {
                    foreach ($unit->outputs as $output) {
                        if ($output->when !== null || $output->open) {
                            $this->releasing[$key][(string) $output->pin] = true;
                        }
                    }
                }
            } catch (LogicMistake) {
                // The equations are looked at where the board is read.
            }
        }

        return isset($this->releasing[$key][(string) $known->number]);
    }

    private function comesFromOutside(BoardProfile $board, Net $net): bool
    {
        foreach ($net->pins as $pin) {
            if (in_array(($board->chips[Netlist::chipOf($pin)] ?? null)?->kind(), ['connector', 'custom', 'discrete'], true)) {
                return true;
            }
        }

        return false;
    }
}
