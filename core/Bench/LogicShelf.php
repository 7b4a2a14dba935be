<?php

declare(strict_types=1);

namespace ZapTrace\Bench;

use ZapTrace\Board\Chip;
use ZapTrace\Parts\Logic\LogicFunction;

/**
 * Logic functions that were read once, with all the cases they have worked out already.
 */
final class LogicShelf
{
    /** @var array<string, LogicFunction> */
    private array $functions = [];

    /** Null for a part without equations. */
    public function of(Chip $chip): ?LogicFunction
    {
        $text = $chip->equations();

        return $text === '' || $chip->type === null ? null : $this->functions["{$chip->part} {$text}"] ??= LogicFunction::parse($text, $chip->type->pinout);
    }
}
