<?php

declare(strict_types=1);

namespace ZapTrace\Memory\Listings;

use ZapTrace\Memory\Tests\MemoryTest;
use ZapTrace\Problems\ProblemList;

/**
 * Which test is to be listed, for what, over which range.
 */
final readonly class ListingRequest
{
    /** Room that a machine code program takes with its results, at most. */
    public const ROOM = 0x200;

    /**
     * @param  int  $from  first address
     * @param  int  $to  last address
     * @param  int  $at  where the program is put; for machine code
     * @param  float  $pause  seconds before the first read of 0 and of 1; 0 for none
     * @param  non-empty-list<int>  $backgrounds
     */
    private function __construct(
        public MemoryTest $test,
        public Language $language,
        public int $from,
        public int $to,
        public int $at,
        public float $pause,
        public array $backgrounds,
    ) {
    }

    /**
     * @param  int|null  $at  null: beside the range, where there is room
     *
     * @throws \ZapTrace\Problems\InputRejected with everything that is wrong with it
     */
    public static function of(MemoryTest $test, Language $language, int $from, int $to, ?int $at = null, float $pause = 0.0): self
    {
        $problems = new ProblemList;
        $hex = static fn (int $address): string => sprintf('%04X', $address);
        if ($to < $from) {
            $problems->add('to', "The range ends at {$hex($to)}, before it starts at {$hex($from)}.");
        }
        if ($to > $language->highest()) {
            $problems->add('to', "{$hex($to)} ({$to} in decimal) is beyond what {$language->words()} reaches: {$hex($language->highest())}.");
        }
        if ($pause < 0.0 || $pause > 60.0) {
            $problems->add('pause', 'A pause has 0 to 60 seconds.');
        }
        if (! $language->isBasic()) {
            if ($language === Language::I8088 && $to - self::segmentOf($from) * 16 > 0xFFFF) {
                $problems->add('to', 'On the 8088 a range has to lie within 64 KiB of its segment; test it in parts.');
            }
            if ($language === Language::Mos6502 && $from <= self::ZERO_PAGE + 7 && $to >= self::ZERO_PAGE) {
                $problems->add('from', 'The program itself needs '.$hex(self::ZERO_PAGE).' to '.$hex(self::ZERO_PAGE + 7).' of page zero; begin at 0100.');
            }
            $at ??= self::place($language, $from, $to);
            if ($at === null) {
                $problems->add('at', 'There is no room beside the range for the program: say where it is to be put, or make the range smaller.');
            } elseif ($language !== Language::I8088 && $at <= $to && $at + self::ROOM > $from) {
                $problems->add('at', "At {$hex($at)} the program would test itself away: it needs ".self::ROOM." bytes outside {$hex($from)} to {$hex($to)}.");
            } elseif ($language === Language::M68000 && $at % 2 === 1) {
                $problems->add('at', 'On the 68000 a program begins at an even address.');
            } elseif ($language !== Language::M68000 && $at + self::ROOM > 0x10000) {
                $problems->add('at', "At {$hex($at)} the program does not fit below 10000.");
            }
        }
        $problems->throwIfAny();

        return new self($test, $language, $from, $to, $at ?? 0, $pause, $test->backgrounds());
    }

    public const ZERO_PAGE = 0xF8;

    public static function segmentOf(int $from): int
    {
        return $from >> 4 & 0xF000;
    }

    private static function place(Language $language, int $from, int $to): ?int
    {
        if ($language === Language::I8088) {
            return 0x100;
        }
        $after = ($to + 0x10) & ~0xF;

        return match (true) {
            $after + self::ROOM <= min($language->highest(), 0xFFFF) + 1 || $language === Language::M68000 => $after,
            $from >= self::ROOM + 0x200 => ($from - self::ROOM) & ~0xF,
            default => null,
        };
    }
}
