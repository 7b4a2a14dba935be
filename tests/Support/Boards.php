<?php

declare(strict_types=1);

namespace Tests\Support;

use RuntimeException;
use ZapTrace\Board\BoardProfile;
use ZapTrace\Board\BoardReader;
use ZapTrace\Board\Sign;
use ZapTrace\Parts\PartLibrary;
use ZapTrace\Reasoning\FailureModes;
use ZapTrace\Reasoning\StepKnowledge;

/**
 * Boards for tests: the shipped ones, and small ones built for a case.
 */
final class Boards
{
    /** @var array<string, BoardProfile> */
    private static array $shipped = [];

    public static function shipped(string $slug): BoardProfile
    {
        return self::$shipped[$slug] ??= self::reader()->read(self::file("boards/{$slug}.board.json"));
    }

    /**
     * @param  array<string, mixed>  $board
     */
    public static function build(array $board): BoardProfile
    {
        return self::reader()->read(json_encode($board, JSON_THROW_ON_ERROR));
    }

    public static function reader(): BoardReader
    {
        static $reader = null;

        return $reader ??= new BoardReader(json_decode(self::file('schemas/board.schema.json'), false, 64, JSON_THROW_ON_ERROR), self::parts(), Sign::generic(self::file('knowledge/signs.json')));
    }

    public static function parts(): PartLibrary
    {
        static $parts = null;

        return $parts ??= PartLibrary::fromJson(array_map(file_get_contents(...), glob(self::root().'/parts/*.json') ?: []));
    }

    public static function modes(): FailureModes
    {
        static $modes = null;

        return $modes ??= FailureModes::fromJson(self::file('knowledge/memory-reasoning.json'));
    }

    public static function file(string $path): string
    {
        $content = file_get_contents(self::root()."/{$path}");

        return $content === false ? throw new RuntimeException("Cannot read {$path}") : $content;
    }

    public static function steps(): StepKnowledge
    {
        static $steps = null;

        return $steps ??= StepKnowledge::fromJson(self::file('knowledge/steps.json'));
    }

    /**
     * A board with one bank of eight 4164 at 0000 to FFFF, and nothing else.
     *
     * @param  array<string, mixed>  $changes
     * @return array<string, mixed>
     */
    public static function plain(array $changes = []): array
    {
        return [
            'format' => 'zap-trace-board/1', 'slug' => 'plain', 'name' => 'Plain', 'revision' => '1',
            'bus' => ['dataWidth' => 8, 'addressWidth' => 16],
            'chips' => array_map(static fn (int $bit): array => ['ref' => 'U'.($bit + 1), 'part' => '4164'], range(0, 7)),
            'banks' => [[
                'name' => '0', 'width' => 8,
                'chips' => array_map(static fn (int $bit): array => ['chip' => 'U'.($bit + 1), 'lines' => ["D{$bit}"]], range(0, 7)),
                'multiplex' => [
                    'row' => array_map(static fn (int $bit): string => "A{$bit}", range(0, 7)),
                    'column' => array_map(static fn (int $bit): string => "A{$bit}", range(8, 15)),
                ],
            ]],
            'map' => [['from' => '0x0000', 'to' => '0xFFFF', 'kind' => 'ram', 'bank' => '0']],
            ...$changes,
        ];
    }

    private static function root(): string
    {
        return dirname(__DIR__, 2).'/resources';
    }
}
