<?php

declare(strict_types=1);

namespace ZapTrace\Memory;

use ZapTrace\Board\BoardProfile;
use ZapTrace\Board\ScreenLayout;
use ZapTrace\Problems\InputRejected;
use ZapTrace\Problems\ProblemList;

/**
 * Turns what is seen on the screen into a reading of memory: a wrong character into the bits of its code, a place
 * into an address, a stripe's column into a data line.
 */
final class ScreenReading
{
    /**
     * @param  string  $seen  the character seen
     * @param  string|null  $expected  the character that should stand there; an empty cell when null or ""
     * @param  int  $column  from 0 at the left
     * @param  int  $row  from 0 at the top
     *
     * @throws InputRejected
     */
    public static function character(string $seen, ?string $expected, int $column, int $row, BoardProfile $board): Reading
    {
        $screen = self::screenOf($board);
        $problems = new ProblemList;
        if ($screen->codes === []) {
            $problems->add('seen', "The screen of {$board->name} is bit-mapped: there are no character codes. Give a stripe instead.");
        }
        $code = $screen->codes === [] ? 0 : self::code($seen, 'seen', $screen, $problems);
        $wanted = match (true) {
            $screen->codes === [] => 0,
            $expected === null || $expected === '' => $screen->blank ?? self::code(' ', 'expected', $screen, $problems),
            default => self::code($expected, 'expected', $screen, $problems),
        };
        self::checkPlace($column, $row, $screen, $problems);
        $problems->throwIfAny();

        return new Reading($screen->addressOf($column, $row), $wanted, $code, 8);
    }

    /**
     * A stripe of set pixels where the screen should be empty.
     *
     * @param  int  $pixel  column of the stripe within its cell, from 0 at the left
     *
     * @throws InputRejected
     */
    public static function stripe(int $pixel, int $column, int $row, BoardProfile $board): Reading
    {
        $screen = self::screenOf($board);
        $problems = new ProblemList;
        if ($screen->linesLeftToRight === []) {
            $problems->add('pixel', "The screen of {$board->name} shows characters: a stripe within them comes from the character generator, not from memory. Give a wrong character instead.");
        } elseif (! isset($screen->linesLeftToRight[$pixel])) {
            $problems->add('pixel', 'A cell has the pixel columns 0 to '.(count($screen->linesLeftToRight) - 1).'.');
        }
        self::checkPlace($column, $row, $screen, $problems);
        $problems->throwIfAny();

        $line = $screen->linesLeftToRight[$pixel];
        $bits = count($screen->linesLeftToRight) > 16 ? 32 : (count($screen->linesLeftToRight) > 8 ? 16 : 8);

        return new Reading($screen->addressOf($column, $row), 0, 1 << $line, $bits);
    }

    private static function screenOf(BoardProfile $board): ScreenLayout
    {
        return $board->screen ?? throw InputRejected::of('screen', "The profile of {$board->name} does not say how its screen lies in memory (\"screen\").");
    }

    private static function code(string $character, string $place, ScreenLayout $screen, ProblemList $problems): int
    {
        if (mb_strlen($character) !== 1 || ! isset($screen->codes[$character])) {
            $problems->add($place, $character === '' ? 'A character is missing.' : "\"{$character}\" is not one character that this screen can show.");

            return 0;
        }

        return $screen->codes[$character];
    }

    private static function checkPlace(int $column, int $row, ScreenLayout $screen, ProblemList $problems): void
    {
        if ($column < 0 || $column >= $screen->columns) {
            $problems->add('column', "Column {$column} is off the screen: 0 to ".($screen->columns - 1).'.');
        }
        if ($row < 0 || $row >= $screen->rows) {
            $problems->add('row', "Row {$row} is off the screen: 0 to ".($screen->rows - 1).'.');
        }
    }
}
