<?php

declare(strict_types=1);

namespace ZapTrace\Formats;

use ZapTrace\Problems\InputRejected;
use ZapTrace\Problems\ProblemList;

/**
 * Value Change Dump, as in IEEE Std 1364-2005 clause 18: scopes, scalar and vector variables, $dumpvars and changes.
 * Read piece by piece: what is kept does not grow with the file.
 */
final class Vcd extends Capture
{
    private const SCALES = ['s' => 1.0, 'ms' => 1e-3, 'us' => 1e-6, 'ns' => 1e-9, 'ps' => 1e-12, 'fs' => 1e-15];

    private const LEVELS = ['0' => 0, '1' => 1, 'x' => 2, 'X' => 2, 'z' => 2, 'Z' => 2];

    private const MOST_CHANNELS = 512;

    /** @var array<string, int> identifier => first channel */
    private array $channelOf = [];

    /** @var array<string, int> identifier => width, of those wider than one bit */
    private array $widths = [];

    private int $line = 0;

    /**
     * @param  resource  $stream
     */
    public function __construct(private $stream, private readonly string $name)
    {
        $this->header();
    }

    public function read(CaptureSink $sink, ?callable $progress = null): bool
    {
        $watched = array_fill_keys($sink->watches(), true);
        $levels = array_fill(0, count($this->channels), 2);
        $problems = new ProblemList;
        $pending = [];
        $time = 0;
        $heard = false;
        $rest = '';
        $read = (int) ftell($this->stream);
        $line = $this->line;
        $vector = false;
        $inDump = false;
        $channelOf = $this->channelOf;
        while (! feof($this->stream)) {
            $chunk = (string) fread($this->stream, self::CHUNK);
            $read += strlen($chunk);
            $lines = explode("\n", $rest.$chunk);
            $rest = array_pop($lines);
            if (feof($this->stream) && $rest !== '') {
                $lines[] = $rest;
                $rest = '';
            }
            foreach ($lines as $text) {
                $line++;
                $first = $text[0] ?? '';
                if ($first === '0' || $first === '1') {
                    $channel = $channelOf[substr($text, 1)] ?? null;
                    if ($channel === null) {
                        $channel = $channelOf[rtrim(substr($text, 1))] ?? $this->unknown(trim(substr($text, 1)), $line, $problems);
                        if ($channel < 0) {
                            continue;
                        }
                    }
                    $pending[$channel] = $first === '1' ? 1 : 0;
                    $heard = $heard || isset($watched[$channel]);

                    continue;
                }
                if ($first === '#') {
                    $next = (int) substr($text, 1);
                    if ($next < $time) {
                        $problems->atLine($line, "The time goes back from {$time} to {$next}: two recordings in one file, or a damaged one.");
                    }
                    if ($heard) {
                        $sink->moment($time, $pending, $levels);
                        $heard = false;
                    }
                    if ($pending !== []) {
                        foreach ($pending as $channel => $level) {
                            $levels[$channel] = $level;
                        }
                        $this->changes += count($pending);
                        $pending = [];
                    }
                    $time = $next;

                    continue;
                }
                $text = trim($text);
                if ($text === '') {
                    continue;
                }
                $first = $text[0];
                if (isset(self::LEVELS[$first])) {
                    $channel = $channelOf[substr($text, 1)] ?? $this->unknown(substr($text, 1), $line, $problems);
                    if ($channel >= 0) {
                        $pending[$channel] = self::LEVELS[$first];
                        $heard = $heard || isset($watched[$channel]);
                    }
                } elseif ($first === 'b' || $first === 'B') {
                    [$bits, $id] = [...preg_split('/\s+/', substr($text, 1)) ?: [], ''];
                    if ($id === '') {
                        $problems->atLine($line, "\"{$text}\" is no change of a vector: its bits and then its identifier are wanted.");

                        continue;
                    }
                    $channel = $channelOf[$id] ?? $this->unknown($id, $line, $problems);
                    if ($channel < 0) {
                        continue;
                    }
                    $width = $this->widths[$id] ?? 1;
                    // Shorter values are filled up with zeros, or with what they begin with when that is no digit.
                    $bits = str_pad($bits, $width, in_array($bits[0] ?? '0', ['x', 'X', 'z', 'Z'], true) ? $bits[0] : '0', STR_PAD_LEFT);
                    for ($bit = 0; $bit < $width; $bit++) {
                        $level = self::LEVELS[$bits[strlen($bits) - 1 - $bit]] ?? 2;
                        if ($level !== ($pending[$channel + $bit] ?? $levels[$channel + $bit])) {
                            $pending[$channel + $bit] = $level;
                            $heard = $heard || isset($watched[$channel + $bit]);
                        }
                    }
                } elseif ($first === '$') {
                    $inDump = $text !== '$end' && ! str_ends_with($text, '$end');
                } elseif ($first !== 'r' && $first !== 'R') {
                    $problems->atLine($line, '"'.substr($text, 0, 40).'" is no change, no time and no command of a Value Change Dump.');
                }
            }
            if ($progress !== null && ! $progress($read)) {
                return false;
            }
        }
        if ($inDump) {
            $problems->atLine($line, 'The file ends inside a $dumpvars that has no $end: it was cut off. Save the recording again.');
        }
        if ($this->cutOff) {
            $problems->atLine($line, 'The file ends in the middle of a line: it was cut off. Save the recording again.');
        }
        $problems->throwIfAny();
        if ($heard) {
            $sink->moment($time, $pending, $levels);
        }
        $this->changes += count($pending);
        $this->end = $time;

        return true;
    }

    private bool $cutOff = false;

    private function unknown(string $id, int $line, ProblemList $problems): int
    {
        if ($id === '') {
            $this->cutOff = true;
        } else {
            $problems->atLine($line, 'A change of "'.substr($id, 0, 20).'", which no $var declares: it was cut off, or joined from two files.');
        }

        return -1;
    }

    private function header(): void
    {
        $problems = new ProblemList;
        $tokens = [];
        $scopes = [];
        $open = '';
        $done = false;
        while (! $done && ($text = fgets($this->stream, 65536)) !== false) {
            $this->line++;
            foreach (preg_split('/\s+/', trim($text)) ?: [] as $token) {
                if ($token === '') {
                    continue;
                }
                if ($open === '' && $token[0] === '$') {
                    $open = $token;
                    $tokens = [];
                } elseif ($token === '$end') {
                    $done = $open === '$enddefinitions';
                    $this->command($open, $tokens, $scopes, $problems);
                    $open = '';
                } else {
                    $tokens[] = $token;
                }
            }
            if (count($this->channels) > self::MOST_CHANNELS) {
                throw InputRejected::of($this->name, 'It has more than '.self::MOST_CHANNELS.' channels: leave out what was not probed.');
            }
        }
        if (! $done) {
            $problems->add($this->name, 'The file ends before $enddefinitions: it was cut off in its header. Save the recording again.');
        } elseif ($this->channels === []) {
            $problems->add($this->name, 'It declares no variable: nothing was recorded.');
        }
        $problems->throwIfAny();
    }

    /**
     * @param  list<string>  $tokens
     * @param  list<string>  $scopes
     */
    private function command(string $command, array $tokens, array &$scopes, ProblemList $problems): void
    {
        if ($command === '$timescale') {
            if (preg_match('/^(1|10|100)\s*(s|ms|us|ns|ps|fs)$/', implode('', $tokens), $match) !== 1) {
                $problems->atLine($this->line, 'The timescale "'.implode(' ', $tokens).'" is none: 1, 10 or 100 and s, ms, us, ns, ps or fs.');
            } else {
                $this->unit = (int) $match[1] * self::SCALES[$match[2]];
            }
        } elseif ($command === '$scope') {
            $scopes[] = $tokens[1] ?? '';
        } elseif ($command === '$upscope') {
            array_pop($scopes);
        } elseif ($command === '$var') {
            $width = (int) ($tokens[1] ?? 0);
            $id = $tokens[2] ?? '';
            $name = $tokens[3] ?? '';
            if ($width < 1 || $width > 64 || $id === '' || $name === '') {
                $problems->atLine($this->line, 'A $var wants a type, a width of 1 to 64, an identifier and a name.');

                return;
            }
            if (isset($this->channelOf[$id])) {
                return; // The same net under a second name.
            }
            $this->channelOf[$id] = count($this->channels);
            if ($width === 1) {
                $this->channels[] = $name.(preg_match('/^\[\d+\]$/', $tokens[4] ?? '') === 1 ? trim($tokens[4], '[]') : '');

                return;
            }
            $this->widths[$id] = $width;
            $lowest = preg_match('/\[(\d+):(\d+)\]/', implode('', array_slice($tokens, 3)), $match) === 1 ? min((int) $match[1], (int) $match[2]) : 0;
            $name = (string) preg_replace('/\[.*$/', '', $name);
            for ($bit = 0; $bit < $width; $bit++) {
                $this->channels[] = $name.($lowest + $bit);
            }
        }
    }
}
