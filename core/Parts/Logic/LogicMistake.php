<?php

declare(strict_types=1);

namespace ZapTrace\Parts\Logic;

use RuntimeException;

/**
 * The text of a logic function cannot be read; its message says what is wrong.
 */
final class LogicMistake extends RuntimeException
{
}
