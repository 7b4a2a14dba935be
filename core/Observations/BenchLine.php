<?php

declare(strict_types=1);

namespace ZapTrace\Observations;

use ZapTrace\Board\Settings;
use ZapTrace\Diagnostics\Diagnostic;
use ZapTrace\Formats\JsonNode;
use ZapTrace\Memory\FreeMemoryFigure;
use ZapTrace\Memory\MemoryMapper;
use ZapTrace\Memory\ReadingsText;
use ZapTrace\Memory\Stuck;
use ZapTrace\Memory\Wording;
use ZapTrace\Numbers\Notation;
use ZapTrace\Problems\InputRejected;
use ZapTrace\Signals\ProbeState;
use ZapTrace\Signals\Situation;

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
        ['form' => 'reseat u3 same', 'means' => 'reseated, and it is as before; also clean, piggyback, remove, refit, bridge, wire, fix, warm, cool, load, unload'],
        ['form' => 'swap u14 u15 moved', 'means' => 'two like chips changed places, and the bad bit moved along; same when it stays'],
        ['form' => 'exchange u14 second cured fails', 'means' => 'U14 exchanged with the second machine: cured here, the fault is there now'],
        ['form' => 'second works', 'means' => 'the second machine works as it stands; second fails when it does not'],
        ['form' => 'unplug riser cured', 'means' => 'what is plugged in taken out, and the complaint is gone; plug to put it back'],
        ['form' => 'fit u14 new', 'means' => 'U14 replaced, not tried yet; fit u14 tested when it was tested first'],
        ['form' => 'test u14 pass', 'means' => 'the chip tester passes U14: weak evidence; fail is good evidence; test new u14 for the one fitted'],
        ['form' => 'count 3 x2', 'means' => 'the diagnostic counted 3, twice alike; count pass when it passed, count nothing when it gave none'],
        ['form' => 'tried cured', 'means' => 'tried as it stands, and the complaint is gone; same, better, worse or different otherwise'],
        ['form' => 'now warm', 'means' => 'the machine is warm from here on; also cold, load, low-mains, failing while the fault shows, or a diagnostic that is in; not warm ends it'],
        ['form' => 'u14 corroded', 'means' => 'seen before power; also unseated, backwards, bulged, leaking, bridged, loose, flux, burnt and others; u14 fine when nothing is wrong'],
        ['form' => '+5 u9 4.71', 'means' => 'the +5 V rail measures 4.71 V at U9; +5 4.98 at its regulator, +5 vr1 5.02 unloaded'],
        ['form' => '+5 ripple 40', 'means' => '40 mV of ripple on it; +5 u9 ripple 40 at a chip; +5 amps 1.2 drawn; +5 in 9.2 before the regulator'],
        ['form' => 'u12 warm 48', 'means' => 'U12 feels warm, 48 degrees; also cold, cool, hot, or the figure alone; u12 hot with fault when only then; room 21'],
        ['form' => 'sign blank', 'means' => 'what the machine does by itself, by the name of the sign; sign crashes after 5 (minutes), sign blank at 2 (second power-on)'],
        ['form' => 'keys works', 'means' => 'a function of this board works; keys fails when it does not'],
        ['form' => 'u31.7 silent', 'means' => 'pin 7 of U31 probed: also high, low, pulsing, between, 2.1 v, 1.02 mhz; u31.7 high free in a free run, reset, found'],
        ['form' => 'open u9.3 u14.12', 'means' => 'with the power off, these two pins are not connected; closed when they are'],
        ['form' => 'drop ma4 u6.4', 'means' => 'MA4 measured at each of its pins, to the millivolt: it is pulled at U6.4; without a pin, none stands out'],
        ['form' => 'pins u14 ok', 'means' => 'after U14 was out, each of its legs is connected to the next point of its line; pins u14 open 3 5 when these two are not'],
        ['form' => 'walk u5 ok free', 'means' => 'every pin of U5 touched in a free run, each as it should be; also reset, found'],
        ['form' => 'mark u14 A3 in drawer 2', 'means' => 'A3 is written on the chip that came in U14, and it lies in drawer 2; mark new u14 N1'],
        ['form' => 'power-ons 20', 'means' => '20 clean power-ons; power-ons 5 failed 1 when the fault showed in one of five; ran 60 clean for a run of 60 minutes'],
        ['form' => 'leak u14 u15', 'means' => 'a cell leaked near these: weak evidence; also liquid, soldered, touched, over-voltage (+5), recapped, missing, theory; stored 20 (years)'],
        ['form' => 'lk1 16k cured', 'means' => 'link 1 moved to 16K, and the complaint is gone'],
        ['form' => 'free 15700 15700', 'means' => 'free-memory figure at two power-ons'],
        ['form' => 'screen $ at 3,2', 'means' => '"$" where a blank should be, column 3, row 2'],
        ['form' => 'screen $ for A at 3,2', 'means' => '"$" where "A" should be'],
        ['form' => 'stripe 5 at 3,2', 'means' => 'stripe at pixel 5 of the cell at column 3, row 2'],
    ];

    /** What can be said of the complaint, and how it is recorded. */
    private const RESULTS = ['moved' => 'moved', 'moves' => 'moved', 'stays' => 'as-before', 'same' => 'as-before', 'as before' => 'as-before', 'before' => 'as-before', 'better' => 'better', 'cured' => 'cured', 'good' => 'cured', 'worse' => 'worse', 'different' => 'different'];

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
        if (preg_match('/^swap +(\S+) +(?:and +|with +)?(\S+)(?: +(.+))?$/i', $line, $match) === 1) {
            return $this->intervention('swap', $match[1], strtolower($match[3] ?? ''), $match[2]);
        }
        if (preg_match('/^(reseat|clean|piggyback|exchange|replace|fit|remove|refit|bridge|wire|fix|warm|cool|load|unload|unplug|plug) +(\S+)(?: +(.+))?$/i', $line, $match) === 1) {
            return $this->intervention(strtolower($match[1]), $match[2], strtolower($match[3] ?? ''));
        }
        if (preg_match('/^test +((?:new +)?\S+) +(pass|passes|good|fail|fails|bad)(?: +(?:in |by )?(?:the )?(.+))?$/i', $line, $match) === 1) {
            return $this->tested($match[1], strtolower($match[2]), strtolower($match[3] ?? ''));
        }
        if (preg_match('/^second(?: machine)? +(works|good|fails|same|bad)$/i', $line, $match) === 1) {
            return $this->recorded('second-machine', ['result' => in_array(strtolower($match[1]), ['works', 'good'], true) ? 'works' : 'fails'], new SecondMachine);
        }
        if (preg_match('/^(?:tried|tried it|it is) +(same|as before|before|better|cured|good|worse|different)$/i', $line, $match) === 1) {
            return $this->recorded(Tried::KIND, ['result' => self::RESULTS[strtolower($match[1])]], new Tried);
        }
        if (preg_match('/^(now|not) +(\S+)$/i', $line, $match) === 1) {
            return $this->condition(strtolower($match[2]), strtolower($match[1]) === 'now');
        }
        if (preg_match('/^(leak|liquid|soldered|touched|over-voltage|recapped|missing|theory)((?: +[^ ,]+,?)*)$/i', $line, $match) === 1) {
            return $this->history(strtolower($match[1]), preg_split('/[ ,]+/', trim($match[2]), -1, PREG_SPLIT_NO_EMPTY) ?: []);
        }
        if (preg_match('/^stored(?: +(\d+(?:\.\d+)?))?(?: +years?)?$/i', $line, $match) === 1) {
            return $this->recorded(History::KIND, ['fact' => 'stored', ...(isset($match[1]) ? ['years' => (float) $match[1]] : [])], new History);
        }
        $round = $this->round($line);
        if ($round !== null) {
            return $round;
        }
        if (preg_match('/^(?:count|code|run) +(.+?)(?: +x *(\d{1,2}))?$/i', $line, $match) === 1) {
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

    /** "u31.7 silent", "u20.11 1.02 mhz", "u9.3 2.1 v free", "open u9.3 u14.12", "drop d5 u4.7" and "drop d5" where no pin stands out. */
    private function probed(string $line): ?Understanding
    {
        if (preg_match('/^(open|closed) +(\S+\.\S+) +(\S+\.\S+)$/i', $line, $match) === 1) {
            return $this->recorded(ContinuityTested::KIND, ['from' => strtoupper($match[2]), 'to' => strtoupper($match[3]), 'result' => strtolower($match[1])], new ContinuityTested);
        }
        if (preg_match('/^drop +(\S+)(?: +(\S+\.\S+))?$/i', $line, $match) === 1) {
            return $this->recorded(LineDropMeasured::KIND, ['net' => $this->moment->board->netlist->find($match[1])->name ?? $match[1], 'pin' => strtoupper($match[2] ?? '')], new LineDropMeasured);
        }
        if (preg_match('/^pins +(\S+) +(?:ok|fine|closed|(open)((?: +[^ ,]+,?)+))$/i', $line, $match) === 1) {
            $chip = strtoupper($match[1]);
            $open = isset($match[2]) ? array_map(static fn (string $pin): string => strtoupper(str_contains($pin, '.') ? $pin : "{$chip}.{$pin}"), preg_split('/[ ,]+/', trim($match[3] ?? '', ' ,')) ?: []) : [];

            return $this->recorded(PinsMeasured::KIND, ['chip' => $chip, 'open' => $open], new PinsMeasured);
        }
        if (preg_match('/^walk +(\S+) +(?:ok|fine|right)(?: +(reset|free|free-run|running|found))?$/i', $line, $match) === 1) {
            return $this->recorded(PinsWalked::KIND, ['chip' => strtoupper($match[1]), 'situation' => self::situation($match[2] ?? '')->value], new PinsWalked);
        }
        if (preg_match('/^([a-z]+\d+\.\S+) +(?:([a-z]+|[01])|(\d+(?:\.\d+)?) *(v|hz|khz|mhz))(?: +(reset|free|free-run|running|found))?$/i', $line, $match) !== 1) {
            return null;
        }
        $state = ($match[2] ?? '') === '' ? null : ProbeState::parse($match[2]);
        if (($match[2] ?? '') !== '' && $state === null) {
            return null;
        }
        $figure = match (strtolower($match[4] ?? '')) {
            'v' => ['volts' => (float) $match[3]],
            'hz', 'khz', 'mhz' => ['hz' => (float) $match[3] * ['hz' => 1.0, 'khz' => 1e3, 'mhz' => 1e6][strtolower($match[4])]],
            default => ['state' => $state->value ?? ''],
        };

        return $this->recorded(PinProbed::KIND, ['pin' => strtoupper($match[1]), 'situation' => self::situation($match[5] ?? '')->value, ...$figure], new PinProbed);
    }

    private static function situation(string $word): Situation
    {
        return match (strtolower($word)) {
            'reset' => Situation::Reset,
            'free', 'free-run' => Situation::FreeRun,
            'found' => Situation::AsFound,
            default => Situation::Running,
        };
    }

    /** What is seen, felt and measured on the way round the machine. */
    private function round(string $line): ?Understanding
    {
        if (preg_match('/^(.+?) +('.implode('|', array_keys(Look::FINDINGS)).')$/i', $line, $match) === 1) {
            return $this->recorded(Look::KIND, ['sites' => preg_split('/[ ,]+/', trim($match[1]), -1, PREG_SPLIT_NO_EMPTY) ?: [], 'finding' => strtolower($match[2])], new Look);
        }
        if (preg_match('/^([+-]\d+(?:\.\d+)?)(?: +([a-z]\S*))?? +(?:(ripple|amps|in) +)?([+-]?\d+(?:\.\d+)?)(?: *(?:v|mv|a))?( +unloaded)?$/i', $line, $match) === 1) {
            $member = ['' => 'volts', 'ripple' => 'ripple', 'amps' => 'amps', 'in' => 'input'][strtolower($match[3])];

            return $this->recorded(RailMeasured::KIND, ['rail' => $match[1], ...($match[2] === '' ? [] : ['site' => strtoupper($match[2])]), $member => (float) $match[4], ...(isset($match[5]) ? ['unloaded' => true] : [])], new RailMeasured);
        }
        $probed = $this->probed($line);
        if ($probed !== null) {
            return $probed;
        }
        if (preg_match('/^(?:mark|label) +(\S+(?: of the second machine)?|new +\S+) +(\S+)(?: +in +(.+))?$/i', $line, $match) === 1) {
            return $this->recorded(PartLabelled::KIND, ['part' => $match[1], 'label' => $match[2], ...(isset($match[3]) ? ['drawer' => $match[3]] : [])], new PartLabelled);
        }
        if (preg_match('/^room +(\d+(?:\.\d+)?)$/i', $line, $match) === 1) {
            return $this->recorded(Heat::KIND, ['room' => (float) $match[1]], new Heat);
        }
        if (preg_match('/^(\S+) +(cold|cool|warm|hot)(?: +(-?\d+(?:\.\d+)?))?( +with (?:the )?fault)?$/i', $line, $match) === 1 || (preg_match('/^([a-z]+\d+) +()(-?\d{1,3}(?:\.\d+)?)(?: *(?:°)? ?c)?( +with (?:the )?fault)?$/i', $line, $match) === 1 && $this->moment->board->findChip($match[1]) !== null)) {
            return $this->recorded(Heat::KIND, ['site' => $match[1], ...($match[2] === '' ? [] : ['feel' => strtolower($match[2])]), ...(($match[3] ?? '') === '' ? [] : ['celsius' => (float) $match[3]]), ...(isset($match[4]) ? ['onlyWithFault' => true] : [])], new Heat);
        }
        if (preg_match('/^sign +(\S+)(?: +at +(\d{1,3}))?(?: +after +(\d+(?:\.\d+)?))?$/i', $line, $match) === 1) {
            return $this->recorded(SignSeen::KIND, ['sign' => strtolower($match[1]), ...(($match[2] ?? '') === '' ? [] : ['powerOn' => (int) $match[2]]), ...(isset($match[3]) ? ['minutes' => (float) $match[3]] : [])], new SignSeen);
        }
        if (preg_match('/^(\S+) +(works|fails)$/i', $line, $match) === 1 && $this->moment->board->findFunction($match[1]) !== null) {
            return $this->recorded(FunctionTest::KIND, ['function' => strtolower($match[1]), 'result' => strtolower($match[2])], new FunctionTest);
        }
        if (preg_match('/^power-?ons? +(\d{1,4})(?: +failed +(\d{1,4}))?$/i', $line, $match) === 1) {
            $failed = (int) ($match[2] ?? 0);

            return $this->recorded(PowerOns::KIND, ['clean' => max(0, (int) $match[1] - $failed), 'failed' => $failed], new PowerOns);
        }
        if (preg_match('/^ran +(\d{1,4})(?: *min(?:utes)?)? +(clean|failed)$/i', $line, $match) === 1) {
            return $this->recorded(PowerOns::KIND, [strtolower($match[2]) => 1, 'minutes' => (float) $match[1]], new PowerOns);
        }

        return null;
    }

    /**
     * @param  list<string>  $words
     */
    private function history(string $fact, array $words): Understanding
    {
        $payload = ['fact' => $fact];
        if ($fact === 'over-voltage' && count($words) === 1 && preg_match('/^[+-]/', $words[0]) === 1) {
            $payload['rail'] = $words[0];
        } elseif ($words !== []) {
            $payload['sites'] = $words;
        }

        return $this->recorded(History::KIND, $payload, new History);
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
        $result = null;
        if ($since === 'now' && preg_match('/^(\S+) (same|better|cured|worse|different)$/i', $wanted, $match) === 1) {
            $wanted = $match[1];
            $result = strtolower($match[2]) === 'same' ? 'as-before' : strtolower($match[2]);
        }
        if ($wanted === '') {
            throw InputRejected::of('', "{$ref}, {$setting->name}: which position? ".Wording::list(array_map(strval(...), array_keys($setting->positions))).'.');
        }
        $settings = Settings::of($this->moment->board, [$ref => $wanted]);
        $position = $settings->position($ref);

        return new Understanding('setting', ['ref' => $ref, 'position' => $position, 'since' => $since, ...($result === null ? [] : ['result' => $result])], $since === 'start'
            ? "{$ref} ({$setting->name}) stood at {$position} all along"
            : "{$ref} ({$setting->name}) moved to {$position} now".($result === null ? '' : ': '.Intervention::RESULTS[$result]));
    }

    private function tested(string $site, string $result, string $method): Understanding
    {
        $payload = ['site' => $site, 'result' => $result[0] === 'f' || $result === 'bad' ? 'fail' : 'pass'];
        if ($method !== '') {
            $payload['method'] = $method;
        }

        return $this->recorded('chip-test', $payload, new ChipTest);
    }

    /** A count of the first diagnostic, or of the one that is named first. */
    private function run(string $text, int $times): Understanding
    {
        $board = $this->moment->board;
        $first = $board->diagnostics[0] ?? throw InputRejected::of('', "The profile of {$board->name} describes no diagnostic.");
        $words = explode(' ', $text, 2);
        $named = isset($words[1]) ? $board->findDiagnostic($words[0]) : null;

        return $this->recorded('diagnostic-run', ['diagnostic' => ($named ?? $first)->id, 'result' => strtolower($named === null ? $text : $words[1]), 'times' => max(1, $times)], new DiagnosticRun);
    }

    private function condition(string $condition, bool $on): Understanding
    {
        if (! isset(Condition::CONDITIONS[$condition]) && $this->moment->board->findDiagnostic($condition) === null) {
            throw InputRejected::of('', "\"{$condition}\" is no condition. Say ".Wording::list([...array_keys(Condition::CONDITIONS), ...array_map(static fn (Diagnostic $diagnostic): string => $diagnostic->id, $this->moment->board->diagnostics)]).'.');
        }

        return $this->recorded('condition', ['condition' => $condition, 'on' => $on], new Condition);
    }

    /**
     * @param  array<string, mixed>  $payload
     */
    private function recorded(string $kind, array $payload, Interpreter $interpreter): Understanding
    {
        return new Understanding($kind, $payload, $interpreter->interpret(new Observation('', $kind, JsonNode::of((object) $payload)), $this->moment, new NoAttachments)->title);
    }

    private function intervention(string $action, string $site, string $result, string $with = ''): Understanding
    {
        $action = $action === 'fit' ? 'replace' : $action;
        $payload = ['action' => $action, 'site' => Intervention::siteOf($site, $this->moment->board)];
        if ($with !== '') {
            $payload['with'] = Intervention::siteOf($with, $this->moment->board);
        }
        if ($action === 'exchange' && preg_match('/^(?:with )?(?:the )?second(?: machine)?(?: (.*?))?(?: (works|fails))?$/', $result, $match) === 1) {
            $payload['action'] = $action = 'exchange-second';
            $result = $match[1] ?? '';
            if (isset($match[2])) {
                $payload['secondResult'] = $match[2];
            }
        }
        if ($action === 'replace' && preg_match('/^(?:new )?tested\b ?(.*)$/', $result, $match) === 1) {
            $payload['tested'] = true;
            $result = $match[1];
        }
        $result = trim((string) preg_replace('/^new\b/', '', $result));
        if ($result !== '') {
            $payload['result'] = self::RESULTS[$result] ?? throw InputRejected::of('', "\"{$result}\" says nothing of the complaint. Say same, better, cured, worse or different.");
        }
        $understood = $this->recorded(Intervention::KIND, $payload, new Intervention);

        return new Understanding(Intervention::KIND, $payload, $understood->words.($result === '' && ! in_array($action, ['remove', 'unplug'], true) ? ', not tried yet' : ''));
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
