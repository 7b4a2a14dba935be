<?php

declare(strict_types=1);

/*
 * Measures, and only measures. Each figure is the median of several runs in a process of its own, so that the peak
 * of memory is that of the one thing measured.
 */

require __DIR__.'/../vendor/autoload.php';

use Tests\Support\Bench;
use Tests\Support\Boards;
use Tests\Support\Captures;
use Tests\Support\Map;
use ZapTrace\Bench\FreeRun;
use ZapTrace\Bench\Machine;
use ZapTrace\Board\Settings;
use ZapTrace\Memory\MemoryMapper;
use ZapTrace\Memory\ReadingSet;
use ZapTrace\Memory\ReadingsText;
use ZapTrace\Numbers\Radix;
use ZapTrace\Reasoning\DiagnosisSearch;
use ZapTrace\Reasoning\Fault;
use ZapTrace\Reasoning\Finding;
use ZapTrace\Reasoning\Network;
use ZapTrace\Reasoning\StepAdvisor;
use ZapTrace\Reasoning\Workbench;
use ZapTrace\Rom\RomComparer;
use ZapTrace\Rom\RomImage;

const RUNS = 5;

/**
 * @return array<string, callable(int): callable(): mixed> name => prepares a case of that size and gives what is measured
 */
function cases(): array
{
    $map = static function (callable $damage): callable {
        return static function (int $bytes) use ($damage): callable {
            $board = Boards::shipped('halyard-16');
            $expected = Map::noise($bytes);
            $read = $damage($expected);
            $settings = Settings::of($board);

            return static function () use ($board, $expected, $read, $settings): void {
                $set = new ReadingSet($board->bus);
                $set->addDump(0, $expected, $read);
                $mapping = (new MemoryMapper($board))->map([[$settings, $set]]);
                Map::suspects($board, $mapping);
            };
        };
    };

    return [
        'dump, healthy' => $map(static fn (string $bytes): string => $bytes),
        'dump, one bit stuck' => $map(static fn (string $bytes): string => $bytes | str_repeat("\x00\x08", intdiv(strlen($bytes), 2))),
        'dump, address line lost' => $map(static fn (string $bytes): string => implode('', array_map(
            static fn (string $pair): string => substr($pair, 4096).substr($pair, 4096),
            str_split($bytes, 8192),
        ))),
        'dump, bank not driven' => $map(static fn (string $bytes): string => str_repeat("\xFF", strlen($bytes))),
        'dump, rubbish' => $map(static fn (string $bytes): string => strrev($bytes)),
        'readings as text, a line each' => static function (int $bytes): callable {
            $board = Boards::shipped('larkspur-64');
            $text = '';
            for ($i = 0; $i < $bytes; $i++) {
                $text .= sprintf("%04X %02X %02X\n", ($i * 7) % 0xD000, $i & 0xFF, ($i & 0xFF) | 0x20);
            }

            return static function () use ($board, $text): void {
                $set = (new ReadingsText($board, Radix::Hexadecimal, Settings::of($board)))->read($text);
                (new MemoryMapper($board))->map([[Settings::of($board), $set]]);
            };
        },
    ];
}

/**
 * A network as large as a big board makes it: each finding explained by some twenty faults, two of them real.
 */
function network(int $faults, int $findings, int $seed): Network
{
    mt_srand($seed);
    $all = [];
    for ($i = 0; $i < $faults; $i++) {
        $all[] = new Fault("f{$i}", "U{$i}", mt_rand(1, 200) / 10000);
    }
    $real = [mt_rand(0, $faults - 1) => true, mt_rand(0, $faults - 1) => true];
    $reports = [];
    for ($j = 0; $j < $findings; $j++) {
        $explains = [];
        for ($k = 0; $k < 20; $k++) {
            $explains['f'.mt_rand(0, $faults - 1)] = mt_rand(30, 98) / 100;
        }
        if (mt_rand(0, 2) === 0) {
            $explains['f'.array_rand($real)] = 0.9;
        }
        $q = 1.0;
        foreach (array_keys($real) as $fault) {
            $q *= 1.0 - ($explains["f{$fault}"] ?? 0.0);
        }
        $shows = mt_rand() / mt_getrandmax() > $q;
        $reports[] = new Finding("i{$j}", $shows ? mt_rand(0, 99) >= 5 : mt_rand(0, 99) < 2, 0.02, 0.05, $explains);
    }

    return new Network($all, $reports);
}

if (($argv[1] ?? '') === '--one') {
    $measured = cases()[$argv[2]]((int) $argv[3]);
    $before = memory_get_usage();
    $times = [];
    for ($run = 0; $run < RUNS; $run++) {
        $start = hrtime(true);
        $measured();
        $times[] = (hrtime(true) - $start) / 1e6;
    }
    sort($times);
    echo json_encode(['ms' => $times[intdiv(RUNS, 2)], 'peak' => memory_get_peak_usage() / 1048576]), "\n";
    exit;
}

$sizes = [64 => 65536, 256 => 262144, 1024 => 1048576];
printf("%-32s %14s %14s %14s   %s\n", 'memory mapping (ms)', '64 KiB', '256 KiB', '1 MiB', 'peak of PHP memory at 1 MiB');
foreach (array_keys(cases()) as $name) {
    $row = [];
    $peak = 0.0;
    foreach ($sizes as $bytes) {
        $out = shell_exec(implode(' ', array_map(escapeshellarg(...), [PHP_BINARY, '-d', 'opcache.enable_cli=1', '-d', 'memory_limit=1G', __FILE__, '--one', $name, (string) $bytes])));
        $figure = json_decode((string) $out, true, 8, JSON_THROW_ON_ERROR);
        $row[] = $figure['ms'];
        $peak = $figure['peak'];
    }
    printf("%-32s %14.1f %14.1f %14.1f   %.1f MiB\n", $name, $row[0], $row[1], $row[2], $peak);
}

printf("\n%-32s %14s %14s %14s %14s\n", 'ranking, 150 findings (ms)', '50 faults', '100 faults', '200 faults', '400 faults');
$row = [];
foreach ([50, 100, 200, 400] as $faults) {
    $times = [];
    for ($seed = 1; $seed <= 9; $seed++) {
        $network = network($faults, 150, $seed);
        $start = hrtime(true);
        (new DiagnosisSearch)->search($network);
        $times[] = (hrtime(true) - $start) / 1e6;
    }
    sort($times);
    $row[] = $times[4];
}
printf("%-32s %14.1f %14.1f %14.1f %14.1f\n", 'median of nine networks', ...$row);

$cases = [
    'a lane on the largest demo board' => Bench::with('halyard-16')->read("1000 0000 FF00\n1002 1234 FF34\n1004 5555 FF55\n2000 AAAA FFAA\n80000 1234 1234\n80002 EDCB EDCB"),
    'one bad bit' => Bench::with('tamarisk-two')->read("8000 00 04\n8001 FF FF\n8100 00 04\n4000 00 00\n4001 FF FF"),
    'a count of a diagnostic' => Bench::with('larkspur-64')->note('count 3 x2'),
    'two bad chips, two groups of runs' => Bench::with('tamarisk-two')->note('count 11 x2', '8000 00>04', '8001 ff>ff', '8100 00>04', 'swap u33 u34 moved', 'refit u33', 'exchange u33 different', 'count 2 x2', '4000 00>02', '4001 ff>ff', '4100 00>02'),
    'rail, contact and chip, the whole round' => Bench::with('larkspur-64')->note('c1 bulged', 'u2 unseated', '+5 vr1 4.52', 'sign blank at 1', 'fit c1 new same', '+5 vr1 5.02', 'sign blank at 1', 'reseat u2 better', 'sign garbage', 'count 5 x2', '9000 00>10', '9001 ff>ff', '9100 00>10', 'room 20', 'u13 hot 61', 'u12 cool 24', 'u14 cool 25'),
    'an over-voltage weakened every chip' => Bench::with('tamarisk-two')->note('over-voltage +5', '+5 vr1 6.9 unloaded', 'fit vr1 tested same', '+5 vr1 5.01', 'sign at-signs at 1', 'sign at-signs at 2', 'sign garbage at 3', 'room 22', 'u40 hot 71', 'u43 warm 41', 'fit u40 new different', 'test u40 fails', 'count 3', 'count 3'),
];
printf("\n%-36s %14s %14s %10s\n", 'a job, median of five (ms)', 'weighed', 'next step', 'faults');
foreach ($cases as $name => $bench) {
    $times = [[], []];
    for ($run = 0; $run < 5; $run++) {
        $start = hrtime(true);
        $assessment = $bench->afresh()->assess();
        $times[0][] = (hrtime(true) - $start) / 1e6;
        $start = hrtime(true);
        StepAdvisor::usual(Boards::modes(), Boards::parts(), Boards::steps())->steps($assessment->conclusion, Workbench::usual(), $assessment->outlook($bench->board(), 0.95));
        $times[1][] = (hrtime(true) - $start) / 1e6;
    }
    sort($times[0]);
    sort($times[1]);
    printf("%-36s %14.1f %14.1f %10d\n", $name, $times[0][2], $times[1][2], count($assessment->conclusion->suspected));
}

/** A recording of a 6502 of about so many bytes, the start-up of a board over and over. */
function recording(int $bytes): string
{
    $file = (string) tempnam(sys_get_temp_dir(), 'zap');
    $one = Captures::vcd(Captures::run(), Captures::plainChannels());
    $at = (int) strpos($one, "\n#") + 1;
    $stream = fopen($file, 'w');
    assert($stream !== false);
    $written = (int) fwrite($stream, substr($one, 0, $at));
    $lines = explode("\n", substr($one, $at));
    for ($turn = 0; $written < $bytes; $turn++) {
        $text = '';
        foreach ($lines as $line) {
            $text .= ($line !== '' && $line[0] === '#' ? '#'.((int) substr($line, 1) + 120_000 * $turn) : $line)."\n";
        }
        $written += (int) fwrite($stream, $text);
    }
    fclose($stream);

    return $file;
}

printf("\n%-32s %14s %14s %14s %14s\n", 'capture decoded', 'MiB/s', 'wc -l, MiB/s', 'cycles', 'peak MiB');
foreach ([4, 16, 64] as $size) {
    $file = recording($size * 1048576 - 200_000);
    $bytes = (int) filesize($file);
    $start = hrtime(true);
    shell_exec('wc -l '.escapeshellarg($file));
    $count = (hrtime(true) - $start) / 1e9;
    $code = 'require "vendor/autoload.php"; $bus = Tests\Support\Captures::bus("6502"); $start = hrtime(true); $capture = ZapTrace\Formats\Capture::open(fopen($argv[1], "r"), "x"); $decoder = new ZapTrace\Bus\CycleDecoder($bus, ZapTrace\Bus\SignalMap::byName($capture->channels(), $bus)); $capture->read($decoder); echo json_encode([(hrtime(true) - $start) / 1e9, $decoder->cycles()->count(), memory_get_peak_usage(true)]);';
    [$seconds, $cycles, $peak] = json_decode((string) shell_exec('cd '.escapeshellarg(dirname(__DIR__)).' && '.PHP_BINARY.' -d opcache.enable_cli=1 -d memory_limit=64M -r '.escapeshellarg($code).' '.escapeshellarg($file)), true, 8, JSON_THROW_ON_ERROR);
    printf("%-32s %14.1f %14.1f %14d %14.1f\n", "{$size} MiB", $bytes / 1048576 / $seconds, $bytes / 1048576 / max(1e-6, $count), $cycles, $peak / 1048576);
    unlink($file);
}

$good = Map::noise(1 << 20);
$odd = $good;
$odd[77_777] = chr(ord($odd[77_777]) ^ 8);
$swapped = '';
foreach (str_split($good, 4) as $word) {
    $swapped .= $word[0].$word[2].$word[1].$word[3];
}
printf("\n%-32s %14s\n", '1 MiB of ROM beside a good image', 'ms');
foreach (['the same' => $good, 'one bit wrong' => $odd, 'a data bit stuck' => $good | str_repeat("\x10", 1 << 20), 'an address line lost' => str_repeat(substr($good, 0, 1 << 19), 2), 'two address lines swapped' => $swapped] as $name => $read) {
    $times = [];
    for ($run = 0; $run < RUNS; $run++) {
        $start = hrtime(true);
        (new RomComparer)->compare([RomImage::of($read, 'read')], RomImage::of($good, 'good'));
        $times[] = (hrtime(true) - $start) / 1e6;
    }
    sort($times);
    printf("%-32s %14.1f\n", $name, $times[2]);
}

printf("\n%-32s %14s %14s\n", 'simulated free run, 20,000 accesses', 'chips', 'seconds');
foreach (['larkspur-64', 'tamarisk-two', 'halyard-16'] as $slug) {
    $board = Boards::shipped($slug);
    $step = $board->bus->dataWidth === 8 ? 1 : 2;
    $start = hrtime(true);
    (new Machine($board, [], 1))->power(new FreeRun(str_starts_with($board->processor->part ?? '', '65') ? 2 : 1, $step, (1 << $board->bus->addressWidth) - $step), [], null, 20_000);
    printf("%-32s %14d %14.2f\n", $slug, count($board->chips), (hrtime(true) - $start) / 1e9);
}

$scripts = glob(__DIR__.'/../public/build/assets/*.js') ?: [];
$first = [];
$manifest = json_decode((string) file_get_contents(__DIR__.'/../public/build/manifest.json'), true, 16, JSON_THROW_ON_ERROR);
$collect = static function (string $key) use (&$collect, &$first, $manifest): void {
    $entry = $manifest[$key];
    if (isset($first[$entry['file']])) {
        return;
    }
    $first[$entry['file']] = strlen((string) gzencode((string) file_get_contents(__DIR__."/../public/build/{$entry['file']}"), 9));
    array_map($collect, $entry['imports'] ?? []);
};
$collect('resources/js/main.tsx');
printf("\n%-32s %14.1f KB gzipped, of %.1f KB in all\n", 'script at first load', array_sum($first) / 1000, array_sum(array_map(static fn (string $path): int => strlen((string) gzencode((string) file_get_contents($path), 9)), $scripts)) / 1000);
