<?php

declare(strict_types=1);

namespace ZapTrace\Board;

/**
 * What to look at on a board before power is put on: what its profile says, and what follows from its parts.
 */
final readonly class Checklist
{
    /**
     * @return list<array{words: string, site: string}>
     */
    public static function of(BoardProfile $board): array
    {
        $list = $board->checks;
        $known = array_column($list, 'site');
        foreach ($board->chips as $chip) {
            $words = match (true) {
                $chip->kind() === 'connector' => "{$chip->role}: fully plugged at both ends, the right way round, not bent sharply.",
                $chip->part === 'ELCAP' => "{$chip->ref} ({$chip->role}): not bulged, not leaking.",
                $chip->kind() === 'regulator' => "{$chip->ref}: its heatsink is on and tight.",
                $chip->socketed && $chip->kind() !== 'discrete' => "{$chip->ref} ({$chip->part}) sits fully down, its notch the right way, no pin bent under.",
                default => null,
            };
            if ($words !== null && ! ($chip->kind() === 'connector' && in_array($chip->ref, $known, true))) {
                $list[] = ['words' => ucfirst($words), 'site' => $chip->ref];
            }
        }
        foreach ($board->assemblies as $assembly) {
            if ($assembly->removable && ! in_array($assembly->id, $known, true)) {
                $list[] = ['words' => ucfirst("{$assembly->name}: fully seated in its connector."), 'site' => $assembly->id];
            }
        }

        return $list;
    }
}
