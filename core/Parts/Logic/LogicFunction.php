<?php

declare(strict_types=1);

namespace ZapTrace\Parts\Logic;

/**
 * What a part makes of its inputs, as equations over the names of its pins. A name is the level at the pin, so that
 * !/G reads "the enable, active low, is given".
 *
 *     1Y = !(1A & 1B)                        a gate
 *     Q = D when !/OC                        drives only then
 *     Y = !A open                            open collector
 *     Q := D rise CLK reset !/CLR set !/PRE  kept, taken at an edge (rise or fall)
 *     Q := D while G                         kept, taken as long as the latch is open
 *     .x = A & B                             a name for later; .x := ... for what is kept inside
 *     [1-4] #Y = #A & #B                     for each digit
 *
 * Statements are parted by semicolons. Programmed parts of a board are written in the same way.
 */
final readonly class LogicFunction
{
    /**
     * @param  list<LogicUnit>  $units
     */
    private function __construct(public array $units)
    {
    }

    /**
     * @param  list<string>  $pinout  names of the pins from 1 on
     *
     * @throws LogicMistake when the text cannot be read or names a pin that the part does not have
     */
    public static function parse(string $text, array $pinout): self
    {
        /** @var array<string, Expression> $meanings */
        $meanings = [];
        /** @var array<string, Register> $registers */
        $registers = [];
        $outputs = [];
        $pins = array_map(static fn (int $place): int => $place + 1, array_flip(array_filter($pinout, static fn (string $name): bool => ! in_array($name, ['-', 'NC'], true))));
        foreach (self::statements($text) as $statement) {
            if (preg_match('/^(\S+) := (.+?) (rise|fall|while) (.+?)(?: reset (.+?))?(?: set (.+?))?$/', $statement, $match) === 1) {
                $set = ($match[6] ?? '') === '' ? null : Expression::parse($match[6]);
                $reset = ($match[5] ?? '') === '' ? null : Expression::parse($match[5]);
                $registers[$match[1]] = (new Register($match[1], Expression::parse($match[2]), Expression::parse($match[4]), $match[3], $reset, $set))->with($meanings);
                if ($match[1][0] !== '.') {
                    $outputs[] = new Output($pins[$match[1]] ?? throw new LogicMistake("\"{$match[1]}\" is no pin of this part."), Expression::parse($match[1]), null, false);
                }
            } elseif (preg_match('/^(\S+) = (.+?)(?: when (.+?))?( open)?$/', $statement, $match) === 1) {
                $value = Expression::parse($match[2])->with($meanings);
                if ($match[1][0] === '.') {
                    $meanings[$match[1]] = $value;
                } else {
                    $outputs[] = new Output($pins[$match[1]] ?? throw new LogicMistake("\"{$match[1]}\" is no pin of this part."), $value, ($match[3] ?? '') === '' ? null : Expression::parse($match[3])->with($meanings), ($match[4] ?? '') !== '');
                }
            } else {
                throw new LogicMistake("\"{$statement}\" is no equation. Write NAME = expression, or NAME := expression rise CLOCK.");
            }
        }

        return new self(self::units($outputs, $registers, $pins));
    }

    /**
     * @return list<string>
     */
    private static function statements(string $text): array
    {
        $statements = [];
        foreach (array_filter(array_map(trim(...), explode(';', $text))) as $statement) {
            if (preg_match('/^\[(\d)-(\d)\] (.+)$/', $statement, $match) === 1) {
                foreach (range((int) $match[1], (int) $match[2]) as $digit) {
                    $statements[] = str_replace('#', (string) $digit, $match[3]);
                }
            } else {
                $statements[] = $statement;
            }
        }

        return $statements;
    }

    /**
     * Outputs that share what is kept, or listen to the same pins, are one unit.
     *
     * @param  list<Output>  $outputs
     * @param  array<string, Register>  $registers
     * @param  array<string, int>  $pins
     * @return list<LogicUnit>
     *
     * @throws LogicMistake when an equation names what is neither a pin nor kept
     */
    private static function units(array $outputs, array $registers, array $pins): array
    {
        /** @var list<array{outputs: list<Output>, kept: list<string>, inputs: list<string>}> $groups */
        $groups = [];
        foreach ($outputs as $output) {
            $kept = self::kept($output->names(), $registers);
            $inputs = self::inputs([...$output->names(), ...array_merge([], ...array_map(static fn (string $name): array => $registers[$name]->names(), $kept))], $registers);
            $groups[] = ['outputs' => [$output], 'kept' => $kept, 'inputs' => $inputs];
        }
        do {
            $before = count($groups);
            /** @var list<array{outputs: list<Output>, kept: list<string>, inputs: list<string>}> $merged */
            $merged = [];
            foreach ($groups as $group) {
                foreach ($merged as $place => $other) {
                    if (array_intersect($group['kept'], $other['kept']) !== [] || $group['kept'] === [] && $other['kept'] === [] && count($group['inputs']) === count($other['inputs']) && array_diff($group['inputs'], $other['inputs']) === []) {
                        $merged[$place] = ['outputs' => [...$other['outputs'], ...$group['outputs']], 'kept' => array_values(array_unique([...$other['kept'], ...$group['kept']])), 'inputs' => array_values(array_unique([...$other['inputs'], ...$group['inputs']]))];

                        continue 2;
                    }
                }
                $merged[] = $group;
            }
            $groups = $merged;
        } while (count($groups) < $before);

        $units = [];
        foreach ($groups as $group) {
            $units[] = new LogicUnit(
                array_map(static fn (string $name): int => $pins[$name] ?? throw new LogicMistake("\"{$name}\" is neither a pin of this part nor kept in it."), $group['inputs']),
                $group['inputs'], $group['outputs'], array_map(static fn (string $name): Register => $registers[$name], $group['kept']),
            );
        }

        return $units;
    }

    /**
     * @param  list<string>  $names
     * @param  array<string, Register>  $registers
     * @return list<string> the registers among them, and those that these listen to
     */
    private static function kept(array $names, array $registers): array
    {
        $kept = [];
        while ($names !== []) {
            $name = array_shift($names);
            if (isset($registers[$name]) && ! isset($kept[$name])) {
                $kept[$name] = $name;
                array_push($names, ...$registers[$name]->names());
            }
        }

        return array_values($kept);
    }

    /**
     * @param  list<string>  $names
     * @param  array<string, Register>  $registers
     * @return list<string>
     */
    private static function inputs(array $names, array $registers): array
    {
        return array_values(array_unique(array_filter($names, static fn (string $name): bool => ! isset($registers[$name]))));
    }
}
