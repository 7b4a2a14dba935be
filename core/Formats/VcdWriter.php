<?php

declare(strict_types=1);

namespace ZapTrace\Formats;

/**
 * Writes a Value Change Dump (IEEE Std 1364-2005 clause 18) of scalar channels.
 */
final class VcdWriter
{
    private string $text;

    /** @var array<int, string> */
    private array $ids = [];

    /** @var array<int, int> */
    private array $levels = [];

    private int $time = -1;

    /**
     * @param  list<string>  $channels
     * @param  string  $timescale  such as "1 ns"
     */
    public function __construct(array $channels, string $scope = 'bus', string $timescale = '1 ns')
    {
        $this->text = "\$timescale {$timescale} \$end\n\$scope module {$scope} \$end\n";
        foreach ($channels as $channel => $name) {
            $this->ids[$channel] = self::id($channel);
            $this->text .= "\$var wire 1 {$this->ids[$channel]} {$name} \$end\n";
        }
        $this->text .= "\$upscope \$end\n\$enddefinitions \$end\n";
    }

    /**
     * @param  array<int, int>  $levels  channel => 0, 1, or 2 for what floats
     */
    public function at(int $time, array $levels): void
    {
        foreach ($levels as $channel => $level) {
            if (($this->levels[$channel] ?? null) === $level) {
                continue;
            }
            if ($time !== $this->time) {
                $this->text .= "#{$time}\n";
                $this->time = $time;
            }
            $this->levels[$channel] = $level;
            $this->text .= ($level === 2 ? 'z' : (string) $level)."{$this->ids[$channel]}\n";
        }
    }

    public function finish(int $time): string
    {
        return $this->text.($time > $this->time ? "#{$time}\n" : '');
    }

    private static function id(int $channel): string
    {
        $id = '';
        do {
            $id .= chr(33 + $channel % 94);
            $channel = intdiv($channel, 94);
        } while ($channel > 0);

        return $id;
    }
}
