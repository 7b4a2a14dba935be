<?php

declare(strict_types=1);

namespace Tests\Support;

use ZapTrace\Bench\Apprentice;
use ZapTrace\Bench\InjectedFault;
use ZapTrace\Bench\LogicShelf;
use ZapTrace\Bench\SimulatedBench;
use ZapTrace\Reasoning\Step;

/**
 * Shipped boards on the simulated bench, broken on purpose. Nothing tears when parts come out.
 */
final class SickBench
{
    private static ?LogicShelf $shelf = null;

    public static function with(string $slug, InjectedFault ...$faults): SimulatedBench
    {
        return new SimulatedBench(Boards::shipped($slug), array_values($faults), 3, self::$shelf ??= new LogicShelf, 0.0);
    }

    /** All of a bank, read as the advice asks for it. */
    public static function swept(SimulatedBench $bench, string $bank): string
    {
        $text = (new Apprentice($bench))->take(new Step('read', "bank {$bank}", '', '', 5.0, 'none', '', 0.0, 0.0, []))['payload']['text'] ?? '';

        return is_string($text) ? $text : '';
    }
}
