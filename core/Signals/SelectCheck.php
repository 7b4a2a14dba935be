<?php

declare(strict_types=1);

namespace ZapTrace\Signals;

use ZapTrace\Bench\Exercise;
use ZapTrace\Bench\Machine;
use ZapTrace\Board\Netlist;

/**
 * For a chip and an address that should reach it: the level that every input and output of the decoding on the way must
 * have at that moment, in the order to measure.
 */
final readonly class SelectCheck
{
    /**
     * @param  string  $select  the pin by which the chip is selected
     * @param  list<array{chip: string, inputs: list<array{pin: string, level: int}>, output: array{pin: string, level: int}}>  $stages  the source first
     * @param  bool  $reached  whether the healthy board selects the chip there at all
     */
    private function __construct(public string $chip, public int $address, public string $select, public array $stages, public bool $reached)
    {
    }

    public static function of(Machine $healthy, Structure $structure, string $chip, int $address, bool $write = false): ?self
    {
        $select = self::selectOf($structure, $chip);
        if ($select === null) {
            return null;
        }
        $program = new Exercise([[$address, $write ? 0x55 : null]], again: true);
        $reached = false;
        ['circuit' => $circuit] = $healthy->power($program, [], null, 12);
        $node = $circuit->nodeOf($select);
        for ($half = 0; $half < 400 && ! $reached; $half++) {
            $circuit->run(1);
            $reached = $circuit->level($node) === 0;
        }
        $stages = [];
        $known = [];
        $edge = [$select];
        while ($edge !== [] && count($stages) < 12) {
            $pin = array_shift($edge);
            $net = $structure->board->netlist->netOf($pin);
            if ($net === null || $net->isPower() || isset($known[$net->name])) {
                continue;
            }
            $known[$net->name] = true;
            foreach (array_slice($structure->driversOf($net), 0, 1) as $driver) {
                $inputs = [];
                foreach ($structure->unitOf($driver)?->keeps() === true ? [] : $structure->inputsOf($driver) as $input) {
                    $inputs[] = ['pin' => $input, 'level' => $circuit->level($circuit->nodeOf($input))];
                    $edge[] = $input;
                }
                if ($inputs !== []) {
                    array_unshift($stages, ['chip' => Netlist::chipOf($driver), 'inputs' => $inputs, 'output' => ['pin' => $driver, 'level' => $circuit->level($circuit->nodeOf($driver))]]);
                }
            }
        }

        return new self($chip, $address, $select, $stages, $reached);
    }

    /**
     * The pins to measure one after the other: the select of the chip, then the output before it, and so on.
     *
     * @return list<string>
     */
    public function inOrder(): array
    {
        return array_values(array_unique([$this->select, ...array_reverse(array_map(static fn (array $stage): string => $stage['output']['pin'], $this->stages))]));
    }

    /** The pin that selects a chip. */
    public static function selectOf(Structure $structure, string $ref): ?string
    {
        $chip = $structure->board->chips[$ref] ?? null;
        foreach (['CE', 'CS', 'CS1', 'CS2', 'CAS', 'G', '1G', 'OE'] as $name) {
            foreach ($chip?->type?->pinList() ?? [] as $pin) {
                $net = $structure->board->netlist->netOf("{$ref}.{$pin->number}");
                if ($pin->activeLow && $pin->name === $name && $net !== null && ! $net->isPower()) {
                    return "{$ref}.{$pin->number}";
                }
            }
        }

        return null;
    }

    /**
     * The first stage whose inputs were seen as they must be, and whose output was not.
     *
     * @param  array<string, ProbeState>  $seen  pin => level while the address is read
     */
    public function broken(array $seen): ?string
    {
        foreach ($this->stages as $stage) {
            $output = $seen[$stage['output']['pin']] ?? null;
            if ($output === null || self::agrees($output, $stage['output']['level'])) {
                continue;
            }
            $wrong = array_filter($stage['inputs'], static fn (array $input): bool => isset($seen[$input['pin']]) && ! self::agrees($seen[$input['pin']], $input['level']));
            if ($wrong === []) {
                return $stage['chip'];
            }
        }

        return null;
    }

    private static function agrees(ProbeState $seen, int $level): bool
    {
        return $seen === ProbeState::Pulsing || $seen === ($level === 0 ? ProbeState::Low : ProbeState::High);
    }
}
