<?php

declare(strict_types=1);

namespace ZapTrace\Ledger;

use ZapTrace\Parts\PartLibrary;

/**
 * The spares in the drawers, and which of them can stand in for what.
 */
final readonly class Stock
{
    /**
     * @param  list<Spare>  $spares
     */
    public function __construct(private array $spares, private PartLibrary $parts)
    {
    }

    /**
     * What is there for a part: itself first, then what works in its place, then what nearly does.
     *
     * @return list<array{spare: Spare, works: bool, but: string}>
     */
    public function for(string $part): array
    {
        $found = [];
        foreach ($this->spares as $spare) {
            if ($spare->count > 0 && strcasecmp($spare->part, $part) === 0) {
                $found[] = ['spare' => $spare, 'works' => true, 'but' => ''];
            }
        }
        foreach ([true, false] as $wanted) {
            foreach ($this->parts->find($part)->equivalents ?? [] as $equivalent) {
                foreach ($this->spares as $spare) {
                    if ($spare->count <= 0 || strcasecmp($spare->part, $equivalent->number) !== 0) {
                        continue;
                    }
                    $fast = $equivalent->nanoseconds === null || ($spare->nanoseconds !== null && $spare->nanoseconds <= $equivalent->nanoseconds);
                    $works = $equivalent->works && $fast;
                    if ($works === $wanted) {
                        $found[] = ['spare' => $spare, 'works' => $works, 'but' => $equivalent->nanoseconds === null ? $equivalent->but : "Works if its speed is {$equivalent->nanoseconds} ns or better. {$equivalent->but}"];
                    }
                }
            }
        }

        return $found;
    }

    /**
     * Every part number that something in the drawers can be fitted for.
     *
     * @return list<string>
     */
    public function fits(): array
    {
        $fits = [];
        foreach ($this->parts->all() as $part) {
            foreach ($this->for($part->name) as $match) {
                if ($match['works']) {
                    $fits[] = $part->name;
                    break;
                }
            }
        }
        foreach ($this->spares as $spare) {
            if ($spare->count > 0 && $this->parts->find($spare->part) === null) {
                $fits[] = $spare->part;
            }
        }

        return $fits;
    }
}
