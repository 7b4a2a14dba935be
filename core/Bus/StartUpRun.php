<?php

declare(strict_types=1);

namespace ZapTrace\Bus;

use ZapTrace\Parts\ProcessorBus;
use ZapTrace\Processors\Cpu6502;

/**
 * What a processor does with what its ROM holds, as far as that is sure: up to the first answer of a port, or of memory
 * that nothing was written to.
 */
final readonly class StartUpRun
{
    private const LONGEST = 2000;

    /**
     * @return CycleList|null null when no model of the processor executes, or the ROM is not known
     */
    public static function of(ProcessorBus $bus, MemoryPlan $plan): ?CycleList
    {
        if ($bus->start['at'] !== 0xFFFC || $plan->romByte(0xFFFC) === null) {
            return null;
        }
        $cpu = new Cpu6502;
        $cpu->reset();
        $cycles = new CycleList(0xFFFF, 0xFF);
        $memory = [];
        $read = null;
        for ($number = 0; $number < self::LONGEST; $number++) {
            [$address, $written] = $cpu->next($read);
            if ($number < 5) {
                $read = 0xFF;

                continue;
            }
            if ($written !== null) {
                $memory[$address] = $written;
                $read = null;
            } else {
                $read = $plan->romByte($address) ?? $memory[$address] ?? null;
                if ($read === null && $address < 0x200 && $address >= 0x100) {
                    $read = 0xFF; // A stack that is read without being used: nothing follows from it.
                } elseif ($read === null) {
                    break;
                }
            }
            $cycles->add($number, $written !== null ? CycleKind::Write : ($cpu->isFetching() ? CycleKind::Fetch : CycleKind::Read), $address, $written ?? (int) $read);
        }

        return $cycles;
    }
}
