<?php

declare(strict_types=1);

namespace ZapTrace\Bench;

use ZapTrace\Board\Chip;
use ZapTrace\Parts\Logic\LogicFunction;
use ZapTrace\Parts\Logic\LogicUnit;

/**
 * What was worked out once: logic functions that were read, with all the cases they have had, and the noise in ROMs.
 */
final class LogicShelf
{
    /** @var array<string, array<int, LogicUnit>> */
    private array $units = [];

    /** @var array<string, string> */
    private array $noise = [];

    /**
     * The units of a part, its channels that stand behind the same controls together; none for a part without equations.
     *
     * @return array<int, LogicUnit>
     */
    public function units(Chip $chip): array
    {
        $text = $chip->equations();

        return $text === '' || $chip->type === null ? [] : $this->units["{$chip->part} {$text}"] ??= LogicUnit::together(LogicFunction::parse($text, $chip->type->pinout)->units);
    }

    /** Bytes that mean nothing, always the same for a name. */
    public function noise(string $name, int $bytes): string
    {
        if (! isset($this->noise["{$name} {$bytes}"])) {
            $noise = '';
            for ($block = 0; strlen($noise) < $bytes; $block++) {
                $noise .= hash('sha256', "{$name} {$block}", true);
            }
            $this->noise["{$name} {$bytes}"] = substr($noise, 0, $bytes);
        }

        return $this->noise["{$name} {$bytes}"];
    }
}
