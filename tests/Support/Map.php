<?php

declare(strict_types=1);

namespace Tests\Support;

use ZapTrace\Board\BoardProfile;
use ZapTrace\Board\Settings;
use ZapTrace\Memory\MemoryMapper;
use ZapTrace\Memory\MemoryMapping;
use ZapTrace\Memory\ReadingSet;
use ZapTrace\Memory\ReadingsText;
use ZapTrace\Numbers\Radix;
use ZapTrace\Reasoning\Circumstances;
use ZapTrace\Reasoning\MachineState;
use ZapTrace\Reasoning\MemoryEvidence;
use ZapTrace\Reasoning\Reasoner;
use ZapTrace\Reasoning\Suspect;

/**
 * Short ways to map readings in tests.
 */
final class Map
{
    /**
     * @param  array<string, string>  $links
     */
    public static function text(BoardProfile $board, string $text, array $links = [], float $held = 0.0): MemoryMapping
    {
        return self::set($board, (new ReadingsText($board, Radix::Hexadecimal))->read($text, $held), $links);
    }

    /**
     * @param  array<string, string>  $links
     */
    public static function dump(BoardProfile $board, int $from, string $expected, string $read, array $links = []): MemoryMapping
    {
        $set = new ReadingSet($board->bus);
        $set->addDump($from, $expected, $read);

        return self::set($board, $set, $links);
    }

    /**
     * @param  array<string, string>  $links
     */
    public static function set(BoardProfile $board, ReadingSet $set, array $links = []): MemoryMapping
    {
        return (new MemoryMapper($board))->map([[Settings::of($board, $links), $set]]);
    }

    /**
     * @return list<Suspect>
     */
    public static function suspects(BoardProfile $board, MemoryMapping $mapping): array
    {
        $state = new MachineState(Settings::of($board));

        return (new Reasoner($board, Boards::modes()))->conclude((new MemoryEvidence($board, Boards::modes()))->of($mapping, $state), Circumstances::plain($state))->suspects();
    }

    public static function leading(BoardProfile $board, MemoryMapping $mapping): string
    {
        return self::suspects($board, $mapping)[0]->site ?? 'nobody';
    }

    /**
     * @return array<string, float> site => share
     */
    public static function shares(BoardProfile $board, MemoryMapping $mapping): array
    {
        $suspects = self::suspects($board, $mapping);

        return array_combine(
            array_map(static fn (Suspect $suspect): string => $suspect->site, $suspects),
            array_map(static fn (Suspect $suspect): float => $suspect->share, $suspects),
        );
    }

    /** Bytes that look random but are the same at every run. */
    public static function noise(int $bytes, int $seed = 1): string
    {
        mt_srand($seed);
        $noise = '';
        for ($i = 0; $i < $bytes; $i += 4) {
            $noise .= pack('V', mt_rand(0, 0x7FFFFFFF) << 1 ^ mt_rand(0, 0x7FFFFFFF));
        }

        return substr($noise, 0, $bytes);
    }
}
