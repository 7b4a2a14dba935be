<?php

declare(strict_types=1);

namespace Tests\Support;

use ZapTrace\Bench\Machine;
use ZapTrace\Bus\Cycle;
use ZapTrace\Bus\CycleDecoder;
use ZapTrace\Bus\CycleKind;
use ZapTrace\Bus\CycleList;
use ZapTrace\Bus\MemoryPlan;
use ZapTrace\Bus\SignalMap;
use ZapTrace\Bus\StartUpRun;
use ZapTrace\Formats\Capture;
use ZapTrace\Formats\VcdWriter;
use ZapTrace\Parts\ProcessorBus;
use ZapTrace\Rom\RomImage;

/**
 * Captures for tests: files, runs and what is made of them.
 */
final class Captures
{
    public static function bus(string $processor): ProcessorBus
    {
        return Boards::parts()->find($processor)->bus ?? throw new \LogicException("No bus of {$processor}.");
    }

    /**
     * @return resource
     */
    public static function stream(string $content)
    {
        $stream = fopen('php://temp', 'w+');
        assert($stream !== false);
        fwrite($stream, $content);
        rewind($stream);

        return $stream;
    }

    public static function open(string $content): Capture
    {
        return Capture::open(self::stream($content), 'capture');
    }

    /**
     * @param  array<string, string>  $given
     */
    public static function decode(string $content, ProcessorBus $bus, array $given = []): CycleList
    {
        $capture = self::open($content);
        $decoder = new CycleDecoder($bus, SignalMap::byName($capture->channels(), $bus)->with($given, $capture->channels(), $bus), $capture->unit());
        $capture->read($decoder);

        return $decoder->cycles($capture->end());
    }

    public static function plan(): MemoryPlan
    {
        $board = Boards::shipped('larkspur-64');

        return MemoryPlan::of($board, ['U2' => RomImage::of((new Machine($board, [], 1))->image('U2'), 'U2')]);
    }

    /** What the Larkspur does from its vector on, as far as that follows from its ROM. */
    public static function run(): CycleList
    {
        return StartUpRun::of(self::bus('6502'), self::plan()) ?? throw new \LogicException('No run.');
    }

    /**
     * A list of cycles made from others, each changed or left out.
     *
     * @param  callable(int, Cycle): (Cycle|null)  $change
     */
    public static function changed(CycleList $cycles, callable $change): CycleList
    {
        $list = new CycleList($cycles->addressMask, $cycles->dataMask, $cycles->unit, $cycles->end);
        for ($number = 0; $number < $cycles->count(); $number++) {
            $cycle = $change($number, $cycles->at($number));
            if ($cycle !== null) {
                $list->add($cycle->time, $cycle->kind, $cycle->address, $cycle->data);
            }
        }

        return $list;
    }

    /**
     * Cycles of a 6502 as a recording, a microsecond each.
     *
     * @param  array<string, array{string, bool}>  $channels  signal => name of its channel, and whether that is inverted
     */
    public static function vcd(CycleList $cycles, array $channels): string
    {
        $writer = new VcdWriter(array_column($channels, 0));
        $order = array_keys($channels);
        $at = static function (int $time, array $levels) use ($writer, $channels, $order): void {
            $of = [];
            foreach ($order as $number => $signal) {
                if (isset($levels[$signal])) {
                    $of[$number] = $levels[$signal] ^ ($channels[$signal][1] ? 1 : 0);
                }
            }
            $writer->at($time, $of);
        };
        $at(0, ['/RES' => 0, 'PHI2' => 0]);
        $at(200, ['/RES' => 1]);
        for ($number = 0; $number < $cycles->count(); $number++) {
            $cycle = $cycles->at($number);
            $levels = ['PHI2' => 0, 'R//W' => $cycle->kind->isRead() ? 1 : 0, 'SYNC' => $cycle->kind === CycleKind::Fetch ? 1 : 0];
            for ($bit = 0; $bit < 16; $bit++) {
                $levels["A{$bit}"] = $cycle->address >> $bit & 1;
            }
            $at(1000 * $number + 500, $levels);
            $data = ['PHI2' => 1];
            for ($bit = 0; $bit < 8; $bit++) {
                $data["D{$bit}"] = $cycle->data >> $bit & 1;
            }
            $at(1000 * $number + 1000, $data);
        }
        $at(1000 * $cycles->count() + 500, ['PHI2' => 0]);

        return $writer->finish(1000 * $cycles->count() + 600);
    }

    /**
     * All signals of a 6502 on channels called as they are.
     *
     * @return array<string, array{string, bool}>
     */
    public static function plainChannels(): array
    {
        $channels = [];
        foreach (['/RES', 'PHI2', 'R//W', 'SYNC', ...array_map(static fn (int $bit): string => "A{$bit}", range(0, 15)), ...array_map(static fn (int $bit): string => "D{$bit}", range(0, 7))] as $signal) {
            $channels[$signal] = [$signal, false];
        }

        return $channels;
    }
}
