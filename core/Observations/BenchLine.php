<?php

declare(strict_types=1);

namespace ZapTrace\Observations;

use ZapTrace\Board\Settings;
use ZapTrace\Formats\JsonNode;
use ZapTrace\Memory\FreeMemoryFigure;
use ZapTrace\Memory\MemoryMapper;
use ZapTrace\Memory\ReadingsText;
use ZapTrace\Memory\Stuck;
use ZapTrace\Memory\Wording;
use ZapTrace\Numbers\Notation;
use ZapTrace\Problems\InputRejected;

/**
 * The bench line: a short note read as an observation.
 *
 *     6c00 00>20            wrote 00, read 20 at 6C00
 *     lk1 16k               link moved
 *     free 15700 15700      free-memory figure at two power-ons
 *     screen $ at 3,2       "$" where a blank should be, column 3, row 2
 *     screen $ for A at 3,2
 *     exchange u14 cured    part exchanged, and what the complaint did
 *     stripe 5 at 3,2       pixel column 5 of that cell
 */
final readonly class BenchLine
{
    public const FORMS = [
        ['form' => '6c00 00>20', 'means' => 'wrote 00, read 20 at 6C00'],
        ['form' => '6c00 00>20 after 30', 'means' => 'the same, read 30 seconds after writing'],
        ['form' => 'lk1 16k', 'means' => 'link 1 moved to 16K'],
        ['form' => 'lk1 was 16k', 'means' => 'link 1 stood at 16K all along'],
        ['form' => 'exchange u14 cured', 'means' => 'U14 exchanged for a known good one, and the complaint is gone'],
        ['form' => 'reseat u3 same', 'means' => 'reseated, and it is as before; also clean, piggyback, remove, refit, bridge'],
        ['form' => 'fit u14 new', 'means' => 'U14 replaced, not tried yet'],
        ['form' => 'test u14 pass', 'means' => 'the chip tester passes U14: weak evidence; fail is good evidence'],
        ['form' => 'count 3 x2', 'means' => 'the diagnostic counted 3, twice alike; count pass when it passed'],
        ['form' => 'free 15700 15700', 'means' => 'free-memory figure at two power-ons'],
        ['form' => 'screen $ at 3,2', 'means' => '"$" where a blank should be, column 3, row 2'],
        ['form' => 'screen $ for A at 3,2', 'means' => '"$" where "A" should be'],
        ['form' => 'stripe 5 at 3,2', 'means' => 'stripe at pixel 5 of the cell at column 3, row 2'],
    ];

    public function __construct(private Moment $moment)
    {
    }

    /**
     * @throws InputRejected with what cannot be understood, in words
     */
    public function understand(string $line): Understanding
    {
        $line = trim((string) preg_replace('/\s+/', ' ', $line));
        if ($line === '') {
            throw InputRejected::of('', 'Type a short note, such as 6c00 00>20.');
        }
        if (preg_match('/^free(?: memory)?((?:[ ,]+\d{1,9})+)$/i', $line, $match) === 1) {
            return $this->freeMemory(array_map(intval(...), preg_split('/[ ,]+/', trim($match[1], ' ,')) ?: []));
        }
        if (preg_match('/^(reseat|clean|piggyback|exchange|replace|fit|remove|refit|bridge) +(\S+)(?: +(.+))?$/i', $line, $match) === 1) {
            return $this->intervention(strtolower($match[1]), $match[2], strtolower($match[3] ?? ''));
        }
        if (preg_match('/^test +(\S+) +(pass|passes|good|fail|fails|bad)$/i', $line, $match) === 1) {
            return $this->tested($match[1], strtolower($match[2]));
        }
        if (preg_match('/^(?:count|code) +(\\S+)(?: +x *(\\d{1,2}))?$/i', $line, $match) === 1) {
            return $this->run($match[1], (int) ($match[2] ?? 1));
        }
        if (preg_match('/^screen (\S)(?: for (\S))? at (\d{1,5}) ?, ?(\d{1,5})$/iu', $line, $match) === 1) {
            return $this->screen('screen-character', ['seen' => $match[1], 'expected' => $match[2], 'column' => (int) $match[3], 'row' => (int) $match[4]]);
        }
        if (preg_match('/^stripe (\d{1,3}) at (\d{1,5}) ?, ?(\d{1,5})$/i', $line, $match) === 1) {
            return $this->screen('screen-stripe', ['pixel' => (int) $match[1], 'column' => (int) $match[2], 'row' => (int) $match[3]]);
        }
        $setting = $this->moment->board->findSetting(explode(' ', $line)[0]);
        if ($setting !== null) {
            return $this->setting($setting->ref, trim(substr($line, strlen($setting->ref))));
        }

        return $this->memory($line);
    }

    private function memory(string $line): Understanding
    {
        $held = null;
        if (preg_match('/^(.*?) after (\d+(?:\.\d+)?) ?s?$/i', $line, $match) === 1) {
            [$line, $held] = [$match[1], (float) $match[2]];
        }
        if (preg_match('/^\S+ +\S+ *(?:>|→| ) *\S+$/u', $line) !== 1) {
            throw InputRejected::of('', "\"{$line}\" is not a note the bench line knows yet. A memory reading is an address, what was written, and what came back: 6c00 00>20.");
        }
        $set = (new ReadingsText($this->moment->board, $this->moment->radix, $this->moment->settings))->read($line, $held ?? 0.0);
        $mapping = (new MemoryMapper($this->moment->board))->map([[$this->moment->settings, $set]]);
        $words = [];
        foreach ($mapping->bits as $bits) {
            foreach ($bits as $bit) {
                if ($bit->failed() > 0) {
                    $words[] = "bit {$bit->line} ".($bit->stuck() === Stuck::High ? 'high' : 'low').", {$bit->chip}";
                }
            }
        }
        $block = $set->blocks()[0]['block'];
        $radix = $this->moment->radix;
        $width = 8 * $set->count();
        $value = fn (string $bytes): string => Notation::format((int) hexdec(bin2hex($this->moment->board->bus->bigEndian ? $bytes : strrev($bytes))), $radix, $width);
        $payload = ['text' => $line, 'radix' => $radix->value];
        if ($held !== null) {
            $payload['heldSeconds'] = $held;
        }

        return new Understanding('memory-readings', $payload, sprintf(
            'memory: wrote %s, read %s at %s%s: %s',
            $value($block->expected), $value($block->read),
            Notation::format($block->from, $radix, $this->moment->board->bus->addressWidth),
            $held === null ? '' : " after {$held} s",
            $words === [] ? 'as it should be' : implode('; ', array_slice($words, 0, 4)).(count($words) > 4 ? ' and '.(count($words) - 4).' more' : ''),
        ));
    }

    private function setting(string $ref, string $rest): Understanding
    {
        $setting = $this->moment->board->settings[$ref];
        $since = 'now';
        if (preg_match('/^(?:was|stood at)\s+(.*)$/i', $rest, $match) === 1) {
            $since = 'start';
            $rest = $match[1];
        }
        $wanted = trim((string) preg_replace('/^(?:to|at|=)\s*/i', '', $rest));
        if ($wanted === '') {
            throw InputRejected::of('', "{$ref}, {$setting->name}: which position? ".Wording::list(array_map(strval(...), array_keys($setting->positions))).'.');
        }
        $settings = Settings::of($this->moment->board, [$ref => $wanted]);
        $position = $settings->position($ref);

        return new Understanding('setting', ['ref' => $ref, 'position' => $position, 'since' => $since], $since === 'start'
            ? "{$ref} ({$setting->name}) stood at {$position} all along"
            : "{$ref} ({$setting->name}) moved to {$position} now");
    }

    private function tested(string $site, string $result): Understanding
    {
        $payload = ['site' => $site, 'result' => $result[0] === 'f' || $result === 'bad' ? 'fail' : 'pass'];
        $title = (new ChipTest)->interpret(new Observation('', 'chip-test', JsonNode::of((object) $payload)), $this->moment, new NoAttachments)->title;

        return new Understanding('chip-test', $payload, $title);
    }

    private function run(string $result, int $times): Understanding
    {
        $first = $this->moment->board->diagnostics[0] ?? throw InputRejected::of('', "The profile of {$this->moment->board->name} describes no diagnostic.");
        $payload = ['diagnostic' => $first->id, 'result' => strtolower($result), 'times' => max(1, $times)];
        $contribution = (new DiagnosticRun)->interpret(new Observation('', 'diagnostic-run', JsonNode::of((object) $payload)), $this->moment, new NoAttachments);

        return new Understanding('diagnostic-run', $payload, $contribution->title);
    }

    private function intervention(string $action, string $site, string $result): Understanding
    {
        $action = $action === 'fit' ? 'replace' : $action;
        $payload = ['action' => $action, 'site' => Intervention::siteOf($site, $this->moment->board)];
        $results = ['same' => 'as-before', 'as before' => 'as-before', 'before' => 'as-before', 'better' => 'better', 'cured' => 'cured', 'good' => 'cured', 'worse' => 'worse', 'different' => 'different'];
        $result = trim((string) preg_replace('/^new\b/', '', $result));
        if ($result !== '') {
            $payload['result'] = $results[$result] ?? throw InputRejected::of('', "\"{$result}\" says nothing of the complaint. Say same, better, cured, worse or different.");
        }
        $title = (new Intervention)->interpret(new Observation('', Intervention::KIND, JsonNode::of((object) $payload)), $this->moment, new NoAttachments)->title;

        return new Understanding(Intervention::KIND, $payload, $title.($result === '' ? ', not tried yet' : ''));
    }

    /**
     * @param  list<int>  $figures
     */
    private function freeMemory(array $figures): Understanding
    {
        if ($figures === []) {
            throw InputRejected::of('', 'Give the figure once for each power-on: free 15700 15700.');
        }
        $reading = FreeMemoryFigure::interpret($figures, $this->moment->board, $this->moment->settings);

        return new Understanding('free-memory', ['figures' => $figures], $reading->sentence);
    }

    /**
     * @param  'screen-character'|'screen-stripe'  $kind
     * @param  array<string, int|string>  $payload
     */
    private function screen(string $kind, array $payload): Understanding
    {
        $interpreter = $kind === 'screen-character' ? new ScreenCharacter : new ScreenStripe;
        $contribution = $interpreter->interpret(
            new Observation('', $kind, JsonNode::of((object) $payload)),
            $this->moment,
            new NoAttachments,
        );
        $bits = [];
        if ($contribution->readings !== null) {
            foreach ((new MemoryMapper($this->moment->board))->map([[$this->moment->settings, $contribution->readings]])->bits as $tallies) {
                foreach ($tallies as $bit) {
                    if ($bit->failed() > 0) {
                        $bits[] = "bit {$bit->line}, {$bit->chip}";
                    }
                }
            }
        }

        return new Understanding($kind, $payload, $contribution->title.($bits === [] ? '' : ': '.implode('; ', $bits)));
    }
}
