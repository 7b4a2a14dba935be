<?php

declare(strict_types=1);

namespace ZapTrace\Bus;

use ZapTrace\Parts\ProcessorBus;
use ZapTrace\Problems\InputRejected;

/**
 * Which channel of the analyser is on which signal of the bus, and which are inverted. Signals may be left out.
 */
final readonly class SignalMap
{
    /**
     * @param  array<string, array{channel: int, inverted: bool}>  $signals  signal => channel
     */
    private function __construct(public array $signals)
    {
    }

    /**
     * By the names of the channels: A0, /AS, D[3], R//W; case and punctuation do not matter.
     *
     * @param  list<string>  $channels
     */
    public static function byName(array $channels, ProcessorBus $bus): self
    {
        $plain = static fn (string $name): string => strtolower((string) preg_replace('/[^A-Za-z0-9]/', '', $name));
        $byName = [];
        foreach ($channels as $number => $name) {
            $byName[$plain($name)] ??= $number;
        }
        $signals = [];
        foreach ($bus->signals() as $signal) {
            $names = [$plain($signal), ...match ($signal) {
                'R//W' => ['rnw', 'wr', 'rwb'],
                '/RES' => ['reset', 'resb', 'nreset', 'rst'],
                '/RESET' => ['res', 'nreset', 'rst'],
                'PHI2' => ['clk2', 'o2', 'phi'],
                default => [],
            }, ...(str_starts_with($signal, '/') ? ['n'.$plain($signal), $plain($signal).'n', $plain($signal).'b'] : [])];
            foreach ($names as $name) {
                if (isset($byName[$name])) {
                    $signals[$signal] = ['channel' => $byName[$name], 'inverted' => false];
                    break;
                }
            }
        }

        return new self($signals);
    }

    /**
     * @param  array<string, array{channel: int, inverted: bool}>  $signals
     */
    public static function of(array $signals): self
    {
        return new self($signals);
    }

    /**
     * The same with some signals given by hand: "A0" => "CH3", or "!CH3" for an inverted one, "" for none.
     *
     * @param  array<string, string>  $given
     * @param  list<string>  $channels
     *
     * @throws InputRejected with every name that is not there
     */
    public function with(array $given, array $channels, ProcessorBus $bus): self
    {
        $problems = new \ZapTrace\Problems\ProblemList;
        $signals = $this->signals;
        foreach ($given as $signal => $channel) {
            $signal = (string) $signal;
            if (! in_array($signal, $bus->signals(), true)) {
                $problems->add($signal, "The bus has no signal \"{$signal}\"; it has ".implode(', ', $bus->signals()).'.');

                continue;
            }
            $inverted = str_starts_with($channel, '!');
            $name = ltrim($channel, '!');
            unset($signals[$signal]);
            if ($name === '') {
                continue;
            }
            $number = array_search($name, $channels, true);
            if ($number === false) {
                $problems->add($signal, "The capture has no channel \"{$name}\"; it has ".implode(', ', $channels).'.');
            } else {
                $signals[$signal] = ['channel' => (int) $number, 'inverted' => $inverted];
            }
        }
        $problems->throwIfAny();

        return new self($signals);
    }

    /**
     * @param  list<string>  $channels
     * @return array<string, string> signal => channel, as it is written
     */
    public function written(array $channels): array
    {
        return array_map(static fn (array $at): string => ($at['inverted'] ? '!' : '').$channels[$at['channel']], $this->signals);
    }

    public function has(string $signal): bool
    {
        return isset($this->signals[$signal]);
    }
}
