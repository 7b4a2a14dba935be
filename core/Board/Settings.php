<?php

declare(strict_types=1);

namespace ZapTrace\Board;

use ZapTrace\Problems\InputRejected;
use ZapTrace\Problems\ProblemList;

/**
 * The positions of all links and latches of a board at one moment.
 */
final readonly class Settings
{
    /**
     * @param  array<string, string>  $positions  reference => position, for every link and latch of the board
     */
    private function __construct(public array $positions)
    {
    }

    /**
     * The factory positions with some of them changed.
     *
     * @param  array<string, string>  $changed  reference => position, written in any case
     *
     * @throws InputRejected when a link or a position does not exist
     */
    public static function of(BoardProfile $board, array $changed = []): self
    {
        $positions = array_map(static fn (Setting $setting): string => $setting->default, $board->settings);
        $problems = new ProblemList;
        foreach ($changed as $ref => $position) {
            $setting = $board->findSetting($ref);
            if ($setting === null) {
                $known = implode(', ', array_keys($board->settings));
                $problems->add($ref, "{$board->name} has no link or latch called {$ref}.".($known === '' ? ' It has none at all.' : " It has {$known}."));

                continue;
            }
            $found = self::positionOf($setting, $position);
            if ($found === null) {
                $problems->add($setting->ref, "{$setting->ref} has no position \"{$position}\". Its positions are ".implode(', ', array_keys($setting->positions)).'.');

                continue;
            }
            $positions[$setting->ref] = $found;
        }
        $problems->throwIfAny();

        return new self($positions);
    }

    public function position(string $ref): string
    {
        return $this->positions[$ref] ?? '';
    }

    /** The same positions give the same key. */
    public function key(): string
    {
        return json_encode($this->positions, JSON_THROW_ON_ERROR);
    }

    /**
     * @return array<string, string> the positions that differ from the factory's
     */
    public function changedFrom(BoardProfile $board): array
    {
        return array_filter(
            $this->positions,
            static fn (string $position, string $ref): bool => isset($board->settings[$ref]) && $board->settings[$ref]->default !== $position,
            ARRAY_FILTER_USE_BOTH,
        );
    }

    private static function positionOf(Setting $setting, string $wanted): ?string
    {
        foreach (array_keys($setting->positions) as $name) {
            if (strcasecmp((string) $name, $wanted) === 0) {
                return (string) $name;
            }
        }

        return null;
    }
}
