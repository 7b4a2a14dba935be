<?php

declare(strict_types=1);

/*
 * Measures, and only measures. Each figure is the median of several runs in a process of its own, so that the peak
 * of memory is that of the one thing measured.
 */

require __DIR__.'/../vendor/autoload.php';

use Tests\Support\Boards;
use Tests\Support\Map;
use ZapTrace\Board\Settings;
use ZapTrace\Memory\MemoryMapper;
use ZapTrace\Memory\ReadingSet;
use ZapTrace\Memory\ReadingsText;
use ZapTrace\Numbers\Radix;
use ZapTrace\Reasoning\Circumstances;
use ZapTrace\Reasoning\DiagnosisSearch;
use ZapTrace\Reasoning\Fault;
use ZapTrace\Reasoning\Finding;
use ZapTrace\Reasoning\MachineState;
use ZapTrace\Reasoning\MemoryEvidence;
use ZapTrace\Reasoning\Network;
use ZapTrace\Reasoning\Reasoner;
use ZapTrace\Reasoning\StepAdvisor;

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

$board = Boards::shipped('halyard-16');
$state = new MachineState(Settings::of($board));
$mapping = Map::text($board, "1000 0000 FF00\n1002 1234 FF34\n1004 5555 FF55\n2000 AAAA FFAA\n80000 1234 1234\n80002 EDCB EDCB");
$evidence = (new MemoryEvidence($board, Boards::modes()))->of($mapping, $state);
$times = [];
for ($run = 0; $run < 9; $run++) {
    $start = hrtime(true);
    $conclusion = (new Reasoner($board, Boards::modes()))->conclude($evidence, Circumstances::plain($state));
    $steps = StepAdvisor::usual(Boards::modes(), Boards::parts())->steps($conclusion);
    $times[] = (hrtime(true) - $start) / 1e6;
}
sort($times);
printf("\n%-32s %14.1f ms, %d steps over %d findings and %d faults\n", 'next step, largest demo board', $times[4], count($steps), count($evidence), count($conclusion->suspected));

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
