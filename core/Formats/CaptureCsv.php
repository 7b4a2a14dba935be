<?php

declare(strict_types=1);

namespace ZapTrace\Formats;

use ZapTrace\Problems\InputRejected;
use ZapTrace\Problems\ProblemList;

/**
 * A capture as a table: a column of times, and one for each channel with 0 and 1. The first row names them. Without a
 * column of times, the rows are as far apart as they are.
 */
final class CaptureCsv extends Capture
{
    private const UNITS = ['s' => 1e12, 'ms' => 1e9, 'us' => 1e6, 'µs' => 1e6, 'ns' => 1e3, 'ps' => 1.0];

    private readonly string $separator;

    private readonly bool $timed;

    private readonly float $factor;

    /**
     * @param  resource  $stream
     */
    public function __construct(private $stream, private readonly string $name)
    {
        $text = (string) fgets($this->stream, 65536);
        if (str_starts_with($text, Lines::BYTE_ORDER_MARK)) {
            $text = substr($text, 3);
        }
        $this->separator = substr_count($text, ';') > substr_count($text, ',') ? ';' : (substr_count($text, "\t") > substr_count($text, ',') ? "\t" : ',');
        $names = array_map(static fn (?string $name): string => trim((string) $name), str_getcsv(rtrim($text, "\r\n"), $this->separator, '"', ''));
        if (count($names) < 2 || array_filter($names, static fn (string $name): bool => ! is_numeric($name)) === []) {
            throw InputRejected::of($this->name, 'This is no recording: a Value Change Dump begins with $, a table with a row that names its channels (time, A0, A1, …).');
        }
        $this->timed = preg_match('/^(time|t|sample|timestamp)\b/i', $names[0]) === 1;
        $unit = preg_match('/[\[(]\s*(s|ms|us|µs|ns|ps)\s*[\])]/u', $names[0], $match) === 1 ? $match[1] : 's';
        $this->factor = preg_match('/^sample/i', $names[0]) === 1 ? 1.0 : self::UNITS[$unit];
        $this->unit = preg_match('/^sample/i', $names[0]) === 1 || ! $this->timed ? 1e-9 : 1e-12;
        $this->channels = $this->timed ? array_slice($names, 1) : $names;
    }

    public function read(CaptureSink $sink, ?callable $progress = null): bool
    {
        $watched = array_fill_keys($sink->watches(), true);
        $levels = array_fill(0, count($this->channels), 2);
        $problems = new ProblemList;
        $columns = count($this->channels) + ($this->timed ? 1 : 0);
        $time = 0;
        $line = 1;
        while (($text = fgets($this->stream, 65536)) !== false) {
            $line++;
            $text = rtrim($text, "\r\n");
            if ($text === '') {
                continue;
            }
            $cells = explode($this->separator, $text);
            if (count($cells) !== $columns) {
                $problems->atLine($line, 'It has '.count($cells)." columns and the first row {$columns}: the columns change, or the line was cut off.");

                continue;
            }
            $next = $this->timed ? $this->moment((string) array_shift($cells)) : $time + ($line > 2 ? 1 : 0);
            if ($next === null) {
                $problems->atLine($line, 'It does not begin with a time.');

                continue;
            }
            if ($next < $time && $line > 2) {
                $problems->atLine($line, 'The time goes back: two recordings in one file, or a damaged one.');
            }
            $time = $next;
            $changes = [];
            $heard = false;
            foreach ($cells as $channel => $cell) {
                $cell = trim($cell, " \"\t");
                $level = $cell === '1' ? 1 : ($cell === '0' ? 0 : (in_array($cell, ['x', 'X', 'z', 'Z', ''], true) ? 2 : -1));
                if ($level < 0) {
                    $problems->atLine($line, "\"{$cell}\" in column {$this->channels[$channel]} is no level: 0 or 1 are wanted.");

                    continue 2;
                }
                if ($level !== $levels[$channel]) {
                    $changes[$channel] = $level;
                    $heard = $heard || isset($watched[$channel]);
                }
            }
            if ($heard) {
                $sink->moment($time, $changes, $levels);
            }
            foreach ($changes as $channel => $level) {
                $levels[$channel] = $level;
            }
            $this->changes += count($changes);
            if ($progress !== null && $line % 4096 === 0 && ! $progress((int) ftell($this->stream))) {
                return false;
            }
        }
        if ($line === 1) {
            $problems->add($this->name, 'It has a row of names and nothing below: nothing was recorded.');
        }
        $problems->throwIfAny();
        $this->end = $time;

        return true;
    }

    private function moment(string $cell): ?int
    {
        $cell = trim($cell, " \"\t");
        $cell = $this->separator === ';' ? strtr($cell, [',' => '.']) : $cell;

        return is_numeric($cell) ? (int) round((float) $cell * $this->factor) : null;
    }
}
