<?php

declare(strict_types=1);

namespace ZapTrace\Bench;

use ZapTrace\Board\Netlist;
use ZapTrace\Numbers\Notation;
use ZapTrace\Numbers\Radix;
use ZapTrace\Numbers\UnreadableNumber;
use ZapTrace\Observations\Intervention;
use ZapTrace\Observations\PinProbed;
use ZapTrace\Problems\InputRejected;
use ZapTrace\Problems\ProblemList;
use ZapTrace\Reasoning\SiteKind;
use ZapTrace\Reasoning\Step;
use ZapTrace\Reasoning\StepCosts;
use ZapTrace\Signals\Situation;

/**
 * The instruments of the practice bench: each is named and answers as the observation it would be noted as, with the
 * minutes it takes.
 */
final readonly class Instruments
{
    public const ACTS = ['reseat', 'clean', 'exchange', 'replace', 'refit', 'wire', 'bridge', 'fix', 'set', 'unplug', 'plug', 'piggyback', 'warm', 'cool'];

    /** Power-ons in a row, of a minute each, as long as all are clean. */
    private const IN_A_ROW = 5;

    /** Minutes until the whole machine is warm, or cold. */
    private const TEMPERATE = 15.0;

    private Apprentice $apprentice;

    /**
     * @param  Situation|null  $failingIn  something was seen wrong in this situation, and the machine was left on
     */
    public function __construct(private SimulatedBench $bench, private StepCosts $costs, ?Situation $failingIn = null)
    {
        $this->apprentice = new Apprentice($bench, $failingIn);
    }

    /** The situation in which something is wrong and the machine is left on; null when it is not. */
    public function failingIn(): ?Situation
    {
        return $this->apprentice->failingIn();
    }

    /**
     * @param  array<string, string>  $with  pin, chip, site, from, to, rail, address, value, diagnostic, function, situation, position
     * @return array{kind: string, payload: array<string, mixed>, minutes: float}
     *
     * @throws InputRejected when there is no such instrument, pin or part
     */
    public function use(string $instrument, array $with, Radix $radix): array
    {
        $board = $this->bench->board;
        $apprentice = $this->apprentice;
        $situation = Situation::tryFrom($with['situation'] ?? '') ?? Situation::Running;
        $apprentice->switchOn($instrument === 'frequency' ? 'probe' : $instrument, $situation);
        $minutes = fn (string $step): float => $this->costs->knowledge->step($step)['minutes'];
        switch ($instrument) {
            case 'probe':
                return self::seen($apprentice->touched('probe', $this->pin($with['pin'] ?? '', 'pin'), $situation), $minutes('probe'));
            case 'frequency':
                $pin = $this->pin($with['pin'] ?? '', 'pin');
                $expected = $this->bench->expected($pin, $situation);

                return self::seen(['kind' => 'probe', 'payload' => ['pin' => $pin, 'situation' => $situation->value, 'hz' => round($this->bench->frequency($pin, $situation), 1), 'expected' => $expected['state']->value ?? 'any', 'by' => $expected['source'], ...($expected['hz'] === null ? [] : ['expectedHz' => $expected['hz']])]], $minutes('probe'));
            case 'walk':
                $chip = $this->chip($with['chip'] ?? '');

                return self::seen($apprentice->touched('walk', $chip, $situation), StepCosts::allPins($board->chips[$chip]));
            case 'continuity':
                $from = $this->pin($with['from'] ?? '', 'from');
                $to = $this->pin($with['to'] ?? '', 'to');

                return self::seen(['kind' => 'continuity', 'payload' => ['from' => $from, 'to' => $to, 'result' => $this->bench->continuity($from, $to) ? 'closed' : 'open']], $minutes('continuity'));
            case 'pins':
                $chip = $this->chip($with['chip'] ?? '');

                return self::seen($apprentice->pinsOf($chip), StepCosts::allPins($board->chips[$chip]));
            case 'drop':
                $net = $board->netlist->netOf($this->pin($with['pin'] ?? '', 'pin'));
                if ($net === null || $net->isPower()) {
                    throw InputRejected::of('pin', 'That pin is on no line that could be followed. Name a pin of the line that is held.');
                }

                return self::seen($apprentice->dropped($net->name), $minutes('drop'));
            case 'rail':
                $rail = $board->findRail($with['rail'] ?? '') ?? throw InputRejected::of('rail', 'There is no rail "'.($with['rail'] ?? '').'" on this board.');

                return self::seen(['kind' => 'rail', 'payload' => ['rail' => $rail->name, 'volts' => $this->bench->rail($rail->name)]], $minutes('rail'));
            case 'read':
                return self::seen(['kind' => 'memory-readings', 'payload' => ['text' => $this->bench->readingsOf($this->bytes($with['address'] ?? '', $radix), Radix::Hexadecimal), 'radix' => 16]], $minutes('read'));
            case 'run':
                $diagnostic = $board->findDiagnostic($with['diagnostic'] ?? '') ?? throw InputRejected::of('diagnostic', 'There is no diagnostic "'.($with['diagnostic'] ?? '').'" for this board.');

                return self::seen(['kind' => 'diagnostic-run', 'payload' => ['diagnostic' => $diagnostic->id, 'result' => $this->bench->diagnostic($diagnostic)]], (float) $diagnostic->minutes);
            case 'test':
                $chip = $this->chip($with['site'] ?? '');

                return self::seen(['kind' => 'chip-test', 'payload' => ['site' => $chip, 'result' => $this->bench->tester($chip) ? 'pass' : 'fail', 'method' => 'chip tester']], $minutes('test'));
            case 'rom':
                $chip = $this->chip($with['chip'] ?? '');
                if (! in_array($board->chips[$chip]->kind(), ['rom', 'eprom'], true)) {
                    throw InputRejected::of('chip', "{$chip} is a {$board->chips[$chip]->part}, no ROM.");
                }

                return self::seen(['kind' => 'rom-read', 'payload' => ['chip' => $chip, 'where' => 'reader', 'reads' => [], 'result' => $this->bench->romMatches($chip) ? 'match' : 'differs']], $minutes('rom'));
            case 'capture':
                $payload = $this->bench->bus();
                if ($payload === []) {
                    throw InputRejected::of('instrument', 'The library does not know the bus of the processor of this board.');
                }

                return self::seen(['kind' => 'bus-capture', 'payload' => $payload], $minutes('capture'));
            case 'feel':
                $chip = $this->chip($with['site'] ?? '');

                return self::seen(['kind' => 'heat', 'payload' => ['site' => $chip, 'feel' => $this->bench->warmth($chip)]], $minutes('feel'));
            case 'look-over':
                return self::seen($apprentice->lookedOver(), $minutes('look-over'));
            case 'watch':
                return self::seen(['kind' => 'sign', 'payload' => ['sign' => $this->bench->sign()]], $minutes('watch'));
            case 'function':
                $function = $board->findFunction($with['function'] ?? '') ?? throw InputRejected::of('function', 'There is no function "'.($with['function'] ?? '').'" of this board.');
                if (! $this->bench->starts()) {
                    throw InputRejected::of('function', 'The machine does not start: its functions cannot be tested yet.');
                }

                return self::seen(['kind' => 'function-test', 'payload' => ['function' => $function->id, 'result' => $this->bench->functionWorks($function->id) ? 'works' : 'fails']], $minutes('function'));
            case 'try':
                return self::seen(['kind' => 'tried', 'payload' => ['result' => $this->bench->works() ? 'cured' : 'as-before']], 2.0);
            case 'warm-up':
            case 'let-cool':
                $warm = $instrument === 'warm-up';
                $this->bench->do($warm ? 'warm' : 'cool', SimulatedBench::ALL);

                return ['kind' => 'condition', 'payload' => ['condition' => $warm ? 'warm' : 'cold'], 'minutes' => self::TEMPERATE];
            case 'power-ons':
                $seen = $apprentice->switchedOn(self::IN_A_ROW);

                return self::seen($seen, (float) array_sum($seen['payload']));
        }
        if (! in_array($instrument, self::ACTS, true)) {
            throw InputRejected::of('instrument', "There is no instrument \"{$instrument}\" on this bench.");
        }

        return $this->act($instrument, Intervention::siteOf($with['site'] ?? '', $board), $with['position'] ?? '');
    }

    /**
     * Takes a step as it is advised.
     *
     * @return array{kind: string, payload: array<string, mixed>, minutes: float}
     *
     * @throws InputRejected when it is none for this bench
     */
    public function take(Step $step): array
    {
        if ($step->action === 'look-over') {
            return $this->use('look-over', [], $this->bench->board->radix);
        }

        $seen = $this->apprentice->take($step) ?? throw InputRejected::of('step', 'The practice bench cannot do this. Ask what else there is.');

        return self::seen($seen, Apprentice::minutes($step, $seen));
    }

    /**
     * @param  array{kind: string, payload: array<string, mixed>}  $observation
     * @return array{kind: string, payload: array<string, mixed>, minutes: float}
     */
    private static function seen(array $observation, float $minutes): array
    {
        return ['kind' => $observation['kind'], 'payload' => $observation['payload'], 'minutes' => $minutes];
    }

    /**
     * @return array{kind: string, payload: array<string, mixed>, minutes: float}
     *
     * @throws InputRejected
     */
    private function act(string $action, string $site, string $position): array
    {
        $board = $this->bench->board;
        if (in_array($action, ['exchange', 'replace'], true)) {
            if (! isset($board->chips[$site])) {
                throw InputRejected::of('site', "{$site} is no part that could be exchanged.");
            }
            $action = $this->bench->isSocketed($site) ? 'exchange' : 'replace';
        }
        if ($action === 'set' && ! isset($board->findSetting($site)->positions[$position])) {
            throw InputRejected::of('position', "{$site} has no position \"{$position}\".");
        }
        $minutes = match ($action) {
            'exchange' => 5.0,
            'replace' => $this->costs->repair($site, SiteKind::Chip) - $this->costs->knowledge->step('replace')['riskMinutes'],
            'fix' => $this->costs->knowledge->step('supply')['minutes'],
            default => $this->costs->knowledge->step($action)['minutes'],
        };
        if (in_array($action, Intervention::LOOKS, true)) {
            if (! isset($board->chips[$site])) {
                throw InputRejected::of('site', "{$site} is no chip of {$board->name}.");
            }
            $works = $action === 'piggyback' ? $this->bench->piggybacked($site) : $this->bench->worksWith($site, $action === 'warm');

            return ['kind' => 'intervention', 'payload' => ['action' => $action, 'site' => $site, 'result' => $works ? 'cured' : 'as-before'], 'minutes' => $minutes];
        }
        $this->bench->do($action, $site, $position);
        $result = $this->bench->works() ? 'cured' : 'as-before';

        return [
            'kind' => $action === 'set' ? 'setting' : 'intervention',
            'payload' => $action === 'set' ? ['ref' => $site, 'position' => $position, 'since' => 'now', 'result' => $result] : ['action' => $action, 'site' => $site, 'result' => $result],
            'minutes' => $minutes,
        ];
    }

    /**
     * @throws InputRejected
     */
    private function pin(string $text, string $place): string
    {
        $problems = new ProblemList;
        $pin = PinProbed::pin($text, $this->bench->board, $place, $problems);
        $problems->throwIfAny();

        return (string) $pin;
    }

    /**
     * @throws InputRejected
     */
    private function chip(string $text): string
    {
        return $this->bench->board->findChip(Netlist::chipOf($text === '' ? '-' : $text))->ref ?? throw InputRejected::of('site', "There is no {$text} on {$this->bench->board->name}.");
    }

    /**
     * "6C00" or "6C00 FF": an address, written with zeros and ones, or with one value.
     *
     * @return list<array{int, int}>
     *
     * @throws InputRejected
     */
    private function bytes(string $text, Radix $radix): array
    {
        $words = preg_split('/\s+/', trim($text)) ?: [];
        try {
            $address = Notation::parse($words[0], $radix);
            $value = isset($words[1]) ? Notation::parse($words[1], $radix) : null;
        } catch (UnreadableNumber $reason) {
            throw InputRejected::of('address', $reason->getMessage());
        }
        if ($address >= 1 << $this->bench->board->bus->addressWidth) {
            throw InputRejected::of('address', 'That address is beyond the bus of this board.');
        }

        return $value === null ? [[$address, 0x00], [$address, 0xFF], [$address ^ 1, 0x55], [$address ^ 1, 0xAA]] : [[$address, $value & 0xFF]];
    }
}
