<?php

declare(strict_types=1);

namespace ZapTrace\Rom;

use ZapTrace\Parts\Part;
use ZapTrace\Parts\Pin;
use ZapTrace\Problems\InputRejected;

/**
 * One type of ROM in the socket of another: what each of its pins has to be joined to. The chip sits with its lower end
 * at the lower end of the socket, as a longer chip in a shorter socket must.
 */
final readonly class Adapter
{
    /**
     * @param  list<AdapterPin>  $pins  of the chip, in order of their numbers
     * @param  list<string>  $notes
     */
    private function __construct(public Part $chip, public Part $socket, public array $pins, public array $notes)
    {
    }

    /**
     * @param  array<string, string>  $selects  select of the socket's mask-programmed type => "high" or "low", where the board wants it so
     *
     * @throws InputRejected when either is no ROM with a known pinout
     */
    public static function of(Part $chip, Part $socket, array $selects = []): self
    {
        foreach (['chip' => $chip, 'socket' => $socket] as $place => $part) {
            if (! in_array($part->kind, ['rom', 'eprom', 'sram'], true) || $part->pinout === []) {
                throw InputRejected::of($place, "{$part->name} is no ROM with a pinout in the library.");
            }
        }
        $shift = intdiv($chip->pins - $socket->pins, 2);
        $byName = $bySocket = [];
        foreach ($socket->pinList() as $pin) {
            $byName[self::name($pin)] = $pin;
            $bySocket[$pin->number] = $pin;
        }
        $used = [];
        $pins = [];
        $notes = [];
        $selecting = array_values(array_filter($socket->pinList(), static fn (Pin $pin): bool => preg_match('/^(CE|CS\d?|OE|S\d)$/', $pin->name) === 1));
        foreach ($chip->pinList() as $pin) {
            $under = $pin->number - $shift;
            $straight = $bySocket[$under] ?? null;
            [$to, $how, $why] = self::target($pin, $byName, $selecting, $selects);
            if ($to !== null) {
                $used[$to->number] = true;
            }
            $pins[] = new AdapterPin($pin->number, ($pin->activeLow ? '/' : '').$pin->name, $straight?->number, $to?->number, $how, $why, $to !== null && $straight !== null && $to->number === $straight->number && $how === 'join');
        }
        if ($shift > 0) {
            $notes[] = "The {$chip->name} is {$chip->pins} pins long and the socket {$socket->pins}: pins ".implode(', ', [...range(1, $shift), ...range($chip->pins - $shift + 1, $chip->pins)]).' hang over its upper end and are wired by hand.';
        } elseif ($shift < 0) {
            $notes[] = "The {$chip->name} has fewer pins than the socket: put it at the lower end, away from the notch.";
        }
        foreach ($selecting as $pin) {
            if (! isset($used[$pin->number])) {
                $notes[] = 'Select '.($pin->activeLow ? '/' : '')."{$pin->name} of the socket (pin {$pin->number}) is not used by the {$chip->name}: if the board drives it to choose between chips, an inverter or a gate is wanted; if it is tied, leave it.";
            }
        }
        foreach ($selects as $name => $level) {
            if ($level === 'high') {
                $notes[] = "The board selects with {$name} high, the {$chip->name} with a low level: put an inverter between, half of a spare gate does.";
            }
        }
        foreach ($socket->pinList() as $pin) {
            if (preg_match('/^A\d+$/', $pin->name) === 1 && ! isset($used[$pin->number])) {
                $notes[] = "{$pin->name} of the socket leads nowhere: the {$chip->name} is too small for all of the image.";
            }
        }

        return new self($chip, $socket, $pins, $notes);
    }

    /**
     * @param  array<string, Pin>  $byName
     * @param  list<Pin>  $selecting
     * @param  array<string, string>  $selects
     * @return array{Pin|null, 'join'|'low'|'high'|'open', string}
     */
    private static function target(Pin $pin, array $byName, array $selecting, array $selects): array
    {
        $name = self::name($pin);
        if (isset($byName[$name]) && $name !== 'VPP') {
            return [$byName[$name], 'join', ''];
        }
        if ($name === 'OE' || $name === 'CE') {
            // Of a mask ROM's selects the first becomes the output enable, the next the chip enable.
            $free = array_values(array_filter($selecting, static fn (Pin $select): bool => ! in_array($select->name, ['CE', 'OE'], true)));
            $chosen = $free[$name === 'OE' ? 0 : 1] ?? null;
            if ($chosen !== null) {
                return [$chosen, 'join', ($selects[$chosen->name] ?? 'low') === 'high' ? "through an inverter: the board selects with {$chosen->name} high" : "the board selects with {$chosen->name} low"];
            }

            return [null, 'low', $name === 'CE' ? 'always enabled; the output enable selects it' : 'always on; the chip enable selects it'];
        }

        return match (true) {
            $name === 'VPP' => [$byName['VCC'] ?? null, 'join', 'programming voltage: at the supply while it is read'],
            $name === 'PGM', $name === 'WE' => [$byName['VCC'] ?? null, 'high', 'never programmed here'],
            preg_match('/^A\d+$/', $name) === 1 => [$byName['GND'] ?? null, 'low', 'a spare address line: low, or any level with a repeated image'],
            default => [null, 'open', 'left open'],
        };
    }

    private static function name(Pin $pin): string
    {
        return match ($pin->name) {
            'VSS' => 'GND',
            'VDD' => 'VCC',
            'O0', 'O1', 'O2', 'O3', 'O4', 'O5', 'O6', 'O7' => 'D'.$pin->name[1],
            default => $pin->name,
        };
    }
}
