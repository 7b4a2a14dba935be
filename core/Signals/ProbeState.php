<?php

declare(strict_types=1);

namespace ZapTrace\Signals;

/**
 * What a logic probe or an oscilloscope shows at a pin.
 */
enum ProbeState: string
{
    case Low = 'low';
    case High = 'high';
    case Pulsing = 'pulsing';

    /** Nothing lights: nothing drives it. */
    case Silent = 'silent';

    /** A level that is neither low nor high: outputs that fight, or one that is too weak. */
    case Between = 'between';

    public static function parse(string $text): ?self
    {
        return match (strtolower($text)) {
            'l', 'low', '0' => self::Low,
            'h', 'high', '1' => self::High,
            'p', 'pulsing', 'pulse', 'pulses', 'active' => self::Pulsing,
            's', 'silent', 'floating', 'float', 'open', 'nothing' => self::Silent,
            'b', 'between', 'mid', 'half' => self::Between,
            default => null,
        };
    }
}
