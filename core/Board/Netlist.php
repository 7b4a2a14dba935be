<?php

declare(strict_types=1);

namespace ZapTrace\Board;

use ZapTrace\Parts\Pin;

/**
 * The nets of a board, and which pin is on which. A profile need not have any.
 */
final readonly class Netlist
{
    /** @var array<string, string> pin => name of its net */
    private array $netOfPin;

    /** @var array<string, array<int, Pin>> by chip, by number */
    private array $pinsOf;

    /** @var array<string, list<string>> name of a net => pins that can drive it */
    private array $driversOf;

    /**
     * @param  array<string, Net>  $nets  by name
     * @param  array<string, Chip>  $chips
     */
    public function __construct(public array $nets, private array $chips)
    {
        $netOfPin = [];
        foreach ($nets as $net) {
            foreach ($net->pins as $pin) {
                $netOfPin[$pin] = $net->name;
            }
        }
        $this->netOfPin = $netOfPin;
        $ofType = [];
        $pinsOf = [];
        foreach ($chips as $ref => $chip) {
            if ($chip->type !== null) {
                $pinsOf[$ref] = $ofType[spl_object_id($chip->type)] ??= array_column($chip->type->pinList(), null, 'number');
            }
        }
        $this->pinsOf = $pinsOf;
        $this->driversOf = array_map(fn (Net $net): array => $this->thoseThat($net, ['out', 'both']), $nets);
    }

    /**
     * @return list<string> the chips that are on it
     */
    public function chips(): array
    {
        $chips = [];
        foreach ($this->nets as $net) {
            $chips += array_flip(array_map(self::chipOf(...), $net->pins));
        }

        return array_map(strval(...), array_keys($chips));
    }

    public function isEmpty(): bool
    {
        return $this->nets === [];
    }

    public function netOf(string $pin): ?Net
    {
        return $this->nets[$this->netOfPin[$pin] ?? ''] ?? null;
    }

    public function find(string $name): ?Net
    {
        if (isset($this->nets[$name])) {
            return $this->nets[$name];
        }
        foreach ($this->nets as $net) {
            if (strcasecmp($net->name, $name) === 0) {
                return $net;
            }
        }

        return null;
    }

    public static function chipOf(string $pin): string
    {
        return (string) strtok($pin, '.');
    }

    public static function numberOf(string $pin): int
    {
        return (int) substr((string) strrchr($pin, '.'), 1);
    }

    /** What the library knows of a pin; null when the part has no such pin, or its pinout is not known. */
    public function pin(string $pin): ?Pin
    {
        return $this->pinsOf[self::chipOf($pin)][self::numberOf($pin)] ?? null;
    }

    /** "U14.3 (/RAS)" */
    public function called(string $pin): string
    {
        $known = $this->pin($pin);

        return $known === null ? $pin : "{$pin} (".($known->activeLow ? '/' : '')."{$known->name})";
    }

    /**
     * @return list<string> pins of the net that can drive it
     */
    public function drivers(Net $net): array
    {
        return $this->driversOf[$net->name] ?? $this->thoseThat($net, ['out', 'both']);
    }

    /**
     * The pins that lose a net: those that a break before a pin, or a leg that does not touch, parts from the processor, or
     * from what drives it where the processor is not on it; all of them where it is held.
     *
     * @param  int|null  $before  place of the pin that the trace is broken before
     * @param  string|null  $lifted  the pin that does not touch
     * @return list<string>
     */
    public function cutOff(Net $net, ?int $before, ?string $lifted, string $processor): array
    {
        $from = array_values(array_filter($net->pins, static fn (string $pin): bool => self::chipOf($pin) === $processor));
        $from = $from === [] ? $this->drivers($net) : $from;
        if ($lifted !== null) {
            return $from === [$lifted] ? $net->pins : [$lifted];
        }
        if ($before === null) {
            return $net->pins;
        }
        $head = array_slice($net->pins, 0, $before);
        $tail = array_slice($net->pins, $before);

        return array_intersect($from, $head) === [] && $from !== [] ? $head : $tail;
    }

    /**
     * @return list<string> pins of the net that only listen
     */
    public function loads(Net $net): array
    {
        return $this->thoseThat($net, ['in']);
    }

    /**
     * @param  list<string>  $directions
     * @return list<string>
     */
    private function thoseThat(Net $net, array $directions): array
    {
        return array_values(array_filter($net->pins, fn (string $pin): bool => in_array($this->pin($pin)?->direction, $directions, true)));
    }

    /**
     * The rail that a net hangs on by a resistor.
     *
     * @return array{resistor: string, rail: string}|null "GND" for one that is pulled down
     */
    public function pull(Net $net): ?array
    {
        foreach ($net->pins as $pin) {
            foreach ($this->otherEnds($pin) as $other) {
                $far = $this->netOf($other);
                if ($far !== null && $far->isPower()) {
                    return ['resistor' => self::chipOf($pin), 'rail' => $far->name];
                }
            }
        }

        return null;
    }

    /**
     * @return list<string> the pins that a resistor, a pack or a fuse joins this one to
     */
    public function otherEnds(string $pin): array
    {
        $chip = self::chipOf($pin);

        return match ($this->chips[$chip]->part ?? '') {
            'RESISTOR', 'FUSE' => [$chip.(self::numberOf($pin) === 1 ? '.2' : '.1')],
            'RPACK8' => self::numberOf($pin) === 1 ? [] : ["{$chip}.1"],
            default => [],
        };
    }
}
