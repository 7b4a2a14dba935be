<?php

declare(strict_types=1);

namespace ZapTrace\Observations;

use ZapTrace\Reasoning\MachineState;

/**
 * Something measured, with the observation it was made in and the state of the machine then.
 */
final readonly class Sample
{
    public function __construct(public string $observation, public MachineState $state, public Measured $what)
    {
    }

    /**
     * Those of one kind.
     *
     * @template T of Measured
     *
     * @param  list<self>  $samples
     * @param  class-string<T>  $kind
     * @return list<array{observation: string, state: MachineState, what: T}>
     */
    public static function of(array $samples, string $kind): array
    {
        $found = [];
        foreach ($samples as $sample) {
            if ($sample->what instanceof $kind) {
                $found[] = ['observation' => $sample->observation, 'state' => $sample->state, 'what' => $sample->what];
            }
        }

        return $found;
    }
}
