<?php

declare(strict_types=1);

namespace ZapTrace\Bench;

use ZapTrace\Board\BoardProfile;
use ZapTrace\Board\MapRange;
use ZapTrace\Board\RangeKind;
use ZapTrace\Board\Setting;
use ZapTrace\Numbers\Radix;
use ZapTrace\Observations\PinsMeasured;
use ZapTrace\Reasoning\Step;
use ZapTrace\Signals\ContinuityPlan;
use ZapTrace\Signals\PinSeen;
use ZapTrace\Signals\ProbeState;
use ZapTrace\Signals\Situation;
use ZapTrace\Signals\Structure;

/**
 * Takes a proposed step on the simulated bench, and tells what was seen as the observation it is recorded as.
 */
final class Apprentice
{
    private const REPAIRS = ['exchange', 'replace', 'wire', 'fix', 'set', 'obtain'];

    /** Places of a bank that are read to look all over it. */
    private const SWEPT = 64;

    private const BASES = 12;

    private ?Structure $structure = null;

    /**
     * @param  Situation|null  $failingIn  something was seen wrong in this situation, and it is on yet
     */
    public function __construct(private readonly SimulatedBench $bench, private ?Situation $failingIn = null)
    {
    }

    /** The situation in which something is wrong and the machine is left on; null when it is not. */
    public function failingIn(): ?Situation
    {
        return $this->failingIn;
    }

    /** Switches it on anew, unless it fails now and can be left on for what is done next. */
    public function switchOn(string $action, Situation $situation): void
    {
        if (! $this->staysOn($action, $situation)) {
            $this->bench->powerOn();
            $this->failingIn = null;
        }
    }

    private function structure(): Structure
    {
        return $this->structure ??= Structure::of($this->bench->board);
    }

    /** Whether a step takes a part out, or mends something for good; a link that was seen set wrongly is mended by hand. */
    public static function isRepair(Step $step, BoardProfile $board): bool
    {
        return in_array($step->action, self::REPAIRS, true) || $step->action === 'reseat' && $board->findSetting($step->site) !== null;
    }

    /**
     * What a step took: of the power-ons that were to be made no more than were.
     *
     * @param  array{kind: string, payload: array<string, mixed>}|null  $seen  what came of it
     * @return float minutes
     */
    public static function minutes(Step $step, ?array $seen): float
    {
        $asked = $step->outcomes[0]['observation']['payload']['clean'] ?? 0;
        $clean = $seen['payload']['clean'] ?? 0;

        return ($seen['kind'] ?? '') === 'power-ons' && is_int($asked) && is_int($clean) && $clean < $asked ? $step->minutes * ($clean + 1) / $asked : $step->minutes;
    }

    /** Whether the machine is different after a step. */
    public static function changes(Step $step): bool
    {
        return in_array($step->action, [...self::REPAIRS, 'refit', 'swap', 'unplug', 'plug', 'bridge', 'reseat', 'clean'], true);
    }

    /**
     * @return array{kind: string, payload: array<string, mixed>}|null null when it cannot be taken here
     */
    public function take(Step $step): ?array
    {
        $bench = $this->bench;
        $foreseen = array_values(array_filter(array_column($step->outcomes, 'observation')));
        $this->switchOn($step->action, $this->situation($foreseen));
        $site = $step->site;
        switch ($step->action) {
            case 'probe':
            case 'walk':
                return $this->touched($step->action, $site, $this->situation($foreseen));
            case 'continuity':
                ['from' => $from, 'to' => $to] = $foreseen[0]['payload'] + ['from' => '', 'to' => ''];

                return is_string($from) && is_string($to) ? ['kind' => 'continuity', 'payload' => ['from' => $from, 'to' => $to, 'result' => $bench->continuity($from, $to) ? 'closed' : 'open']] : null;
            case 'pins':
                return $this->pinsOf($site);
            case 'drop':
                return $this->dropped($site);
            case 'rail':
                return ['kind' => 'rail', 'payload' => [...$foreseen[0]['payload'] ?? ['rail' => $site], 'volts' => $bench->rail($site)]];
            case 'read':
                $text = $this->readings($step, $foreseen);

                return $text === '' ? null : ['kind' => 'memory-readings', 'payload' => ['text' => $text, 'radix' => 16]];
            case 'run':
                $diagnostic = $bench->board->findDiagnostic($site);

                return $diagnostic === null ? null : ['kind' => 'diagnostic-run', 'payload' => ['diagnostic' => $site, 'result' => $bench->diagnostic($diagnostic)]];
            case 'rom':
                return ['kind' => 'rom-read', 'payload' => ['chip' => $site, 'where' => 'reader', 'reads' => [], 'result' => $bench->romMatches($site) ? 'match' : 'differs']];
            case 'capture':
                return ($payload = $bench->bus()) === [] ? null : ['kind' => 'bus-capture', 'payload' => $payload];
            case 'feel':
                return ['kind' => 'heat', 'payload' => ['site' => $site, 'feel' => $bench->warmth($site)]];
            case 'test':
                return ['kind' => 'chip-test', 'payload' => ['site' => $site, 'result' => $bench->tester($site) ? 'pass' : 'fail', 'method' => 'chip tester']];
            case 'function':
                // What does not start cannot be tested for what it does: that is what is seen then.
                return ! $bench->starts() ? ['kind' => 'sign', 'payload' => ['sign' => 'blank']] : ['kind' => 'function-test', 'payload' => ['function' => $site, 'result' => $bench->functionWorks($site) ? 'works' : 'fails']];
            case 'watch':
                return ['kind' => 'sign', 'payload' => ['sign' => $bench->sign()]];
            case 'try':
                return ['kind' => 'tried', 'payload' => ['result' => $bench->works() ? 'cured' : 'as-before']];
            case 'look-over':
                return $this->lookedOver();
            case 'widen':
                // All that the simulated board has is on its profile.
            case 'look':
                return ['kind' => 'setup-check', 'payload' => [...$foreseen[0]['payload'] ?? [], 'result' => 'right']];
            case 'prove':
                return $this->proved($foreseen);
            case 'swap':
                return $this->swapped($site, $foreseen);
            case 'cool':
            case 'warm':
                return $this->answered($foreseen, $bench->worksWith($site, $step->action === 'warm'));
            case 'piggyback':
                return $this->answered($foreseen, $bench->piggybacked($site));
            case 'reseat':
            case 'clean':
            case 'exchange':
            case 'replace':
            case 'refit':
            case 'wire':
            case 'bridge':
            case 'fix':
                $bench->do($step->action, $site);

                return $this->answered($foreseen, $bench->works());
            case 'obtain':
                // Another is to be had here; it is fitted.
                $action = $bench->isSocketed($site) ? 'exchange' : 'replace';
                $bench->do($action, $site);

                return ['kind' => 'intervention', 'payload' => ['action' => $action, 'site' => $site, 'result' => $bench->works() ? 'cured' : 'as-before']];
            case 'set':
                $position = $foreseen[0]['payload']['position'] ?? '';
                $bench->do('set', $site, is_string($position) ? $position : '');

                return $this->answered($foreseen, $bench->works());
            case 'unplug':
            case 'plug':
                $bench->do($step->action, $site);

                return $this->answered($foreseen, $bench->works());
            default:
                return null;
        }
    }

    /** What fails now is measured now, without a new start: it may not fail then. */
    private function staysOn(string $action, Situation $situation): bool
    {
        return match (true) {
            $this->failingIn === null => false,
            in_array($action, ['probe', 'walk'], true) => $situation === $this->failingIn,
            default => $action === 'drop' || $this->failingIn === Situation::Running && in_array($action, Step::WHILE_ON, true),
        };
    }

    /**
     * A pin, or all pins of a chip, while it is on.
     *
     * @param  string  $action  probe or walk
     * @return array{kind: string, payload: array<string, mixed>}
     */
    public function touched(string $action, string $site, Situation $situation): array
    {
        if ($action === 'walk') {
            $seen = $this->walked($site, $situation);
            $isWrong = $seen['payload']['wrong'] !== [];
        } else {
            $seen = $this->probed($site, $situation);
            $expected = ProbeState::tryFrom($seen['payload']['expected']);
            $isWrong = $expected !== null && ! PinSeen::fits($expected, ProbeState::from($seen['payload']['state']));
        }
        $this->failingIn = $isWrong ? $situation : $this->failingIn;

        return $seen;
    }

    /**
     * @param  list<array{kind: string, payload: array<string, mixed>}>  $foreseen
     */
    private function situation(array $foreseen): Situation
    {
        $situation = $foreseen[0]['payload']['situation'] ?? '';

        return is_string($situation) ? Situation::tryFrom($situation) ?? Situation::Running : Situation::Running;
    }

    /**
     * Links that stand otherwise than they should are seen by eye, and that they stand as they should.
     *
     * @return array{kind: string, payload: array<string, mixed>}
     */
    public function lookedOver(): array
    {
        $wrong = $this->bench->wrongLinks();
        $links = array_values(array_map(static fn (Setting $link): string => $link->ref, $this->bench->board->links()));

        return ['kind' => 'look', 'payload' => match (true) {
            $wrong !== [] => ['sites' => $wrong, 'finding' => 'wrong-setting'],
            default => ['sites' => $links === [] ? [$this->bench->board->processor->chip ?? ''] : $links, 'finding' => 'fine'],
        }];
    }

    /**
     * @return array{kind: string, payload: array{pin: string, situation: string, state: string, expected: string, by: string}}
     */
    public function probed(string $pin, Situation $situation): array
    {
        $expected = $this->bench->expected($pin, $situation);

        return ['kind' => 'probe', 'payload' => [
            'pin' => $pin, 'situation' => $situation->value, 'state' => $this->bench->probe($pin, $situation)->value,
            'expected' => $expected['state']->value ?? 'any', 'by' => $expected['source'],
        ]];
    }

    /**
     * Along a line that is held; one that is not, now, is seen as it is.
     *
     * @return array{kind: string, payload: array<string, mixed>}
     */
    public function dropped(string $net): array
    {
        $pin = $this->bench->board->netlist->nets[$net]->pins[0] ?? null;
        if ($pin !== null && ! $this->bench->isHeld($net)) {
            return $this->probed($pin, Situation::FreeRun);
        }

        return ['kind' => 'line-drop', 'payload' => ['net' => $net, 'pin' => $this->bench->pullsAt($net) ?? '']];
    }

    /**
     * Each pin of a place measured to the next point of its line.
     *
     * @return array{kind: string, payload: array<string, mixed>}
     */
    public function pinsOf(string $ref): array
    {
        $open = array_filter(ContinuityPlan::afterRemoval($this->bench->board, $ref), fn (array $each): bool => ! $this->bench->continuity($each['pin'], $each['to']));

        return ['kind' => PinsMeasured::KIND, 'payload' => ['chip' => $ref, 'open' => array_column($open, 'pin')]];
    }

    /**
     * @return array{kind: string, payload: array{chip: string, situation: string, wrong: list<array{pin: string, state: string, expected: string}>, pulsing: list<string>, high: list<string>, low: list<string>, unknown: list<string>}}
     */
    public function walked(string $ref, Situation $situation): array
    {
        $wrong = $unknown = [];
        $right = ['pulsing' => [], 'high' => [], 'low' => []];
        foreach ($this->bench->board->chips[$ref]->type?->pinList() ?? [] as $pin) {
            $name = "{$ref}.{$pin->number}";
            $net = $this->bench->board->netlist->netOf($name);
            if ($net === null || $net->isPower()) {
                continue;
            }
            $expected = $this->bench->expected($name, $situation)['state'];
            $seen = $this->bench->probe($name, $situation);
            if ($expected === null && $seen === ProbeState::Silent && $this->structure()->isAlwaysDriven($net)) {
                $wrong[] = ['pin' => $name, 'state' => $seen->value, 'expected' => 'any'];
            } elseif ($expected === null) {
                $unknown[] = $name;
            } elseif (! PinSeen::fits($expected, $seen)) {
                $wrong[] = ['pin' => $name, 'state' => $seen->value, 'expected' => $expected->value];
            } elseif (isset($right[$expected->value])) {
                $right[$expected->value][] = $name;
            }
        }

        return ['kind' => 'pin-walk', 'payload' => ['chip' => $ref, 'situation' => $situation->value, 'wrong' => $wrong, ...$right, 'unknown' => $unknown]];
    }

    /**
     * @param  list<array{kind: string, payload: array<string, mixed>}>  $foreseen
     * @return array{kind: string, payload: array<string, mixed>}|null
     */
    private function swapped(string $site, array $foreseen): ?array
    {
        $with = $foreseen[0]['payload']['with'] ?? '';
        if (! is_string($with) || $with === '') {
            return null;
        }
        $this->bench->do('swap', $site, $with);
        $here = $this->bench->isBitWrong($site);
        $result = match (true) {
            $here => 'as-before',
            $this->bench->isBitWrong($with) => 'moved',
            default => 'cured',
        };

        return ['kind' => 'intervention', 'payload' => ['action' => 'swap', 'site' => $site, 'with' => $with, 'result' => $result]];
    }

    /**
     * The outcome that fits what the complaint did.
     *
     * @param  list<array{kind: string, payload: array<string, mixed>}>  $foreseen
     * @return array{kind: string, payload: array<string, mixed>}|null
     */
    private function answered(array $foreseen, bool $works): ?array
    {
        foreach ($foreseen as $observation) {
            if (($observation['payload']['result'] ?? '') === ($works ? 'cured' : 'as-before')) {
                return $observation;
            }
        }

        return null;
    }

    /**
     * @param  list<array{kind: string, payload: array<string, mixed>}>  $foreseen
     * @return array{kind: string, payload: array<string, mixed>}|null
     */
    private function proved(array $foreseen): ?array
    {
        $first = $foreseen[0] ?? null;
        if ($first === null) {
            return null;
        }
        if ($first['kind'] === 'function-test') {
            $function = $first['payload']['function'] ?? '';

            return ['kind' => 'function-test', 'payload' => ['function' => $function, 'result' => is_string($function) && $this->bench->functionWorks($function) ? 'works' : 'fails']];
        }
        // By now it has run for long enough to be warm.
        $this->bench->do('warm', SimulatedBench::ALL);
        $clean = is_int($first['payload']['clean'] ?? null) ? $first['payload']['clean'] : 1;

        return $this->switchedOn($clean);
    }

    /**
     * It is switched on again and again until it fails, and is left on then.
     *
     * @return array{kind: string, payload: array{clean: int, failed?: int}}
     */
    public function switchedOn(int $times): array
    {
        for ($clean = 0; $clean < $times; $clean++) {
            $this->bench->powerOn();
            if (! $this->bench->works()) {
                $this->failingIn = Situation::Running;

                return ['kind' => 'power-ons', 'payload' => ['clean' => $clean, 'failed' => 1]];
            }
        }

        return ['kind' => 'power-ons', 'payload' => ['clean' => $times]];
    }

    /**
     * What the step names, with a few more bytes of the same bank; pairs for an address line.
     *
     * @param  list<array{kind: string, payload: array<string, mixed>}>  $foreseen
     */
    private function readings(Step $step, array $foreseen): string
    {
        if (preg_match('/^bank (.+)$/', $step->site, $match) === 1) {
            return $this->swept($match[1]);
        }
        $bytes = [];
        $text = $foreseen[0]['payload']['text'] ?? '';
        if (is_string($text) && preg_match('/^([0-9A-F]+) ([0-9A-F]+) /i', $text, $match) === 1 && $this->bench->board->radix === Radix::Hexadecimal) {
            $bytes[] = [(int) hexdec($match[1]), (int) hexdec($match[2])];
        } elseif (preg_match('/^A(\d+)$/', $step->site, $match) === 1 && preg_match('/at ([0-9A-F]+)/i', $step->sentence, $at) === 1) {
            $line = 1 << (int) $match[1];
            // Each bit is a 0 here and a 1 there: what always reads alike is then no lost line.
            foreach ([0 => 0x55, 0x11 => 0xAA, 0x23 => 0x5A, 0x45 => 0xA5] as $offset => $byte) {
                $low = ((int) hexdec($at[1]) + $offset) & ~$line;
                array_push($bytes, [$low, $byte], [$low | $line, $byte ^ 0xFF]);
            }
        } else {
            foreach ($this->bench->ranges() as $range) {
                foreach (self::reads($range) ? [0x21, 0x1A3, 0x2F0] : [] as $offset) {
                    array_push($bytes, [$range->from + $offset, 0x00], [$range->from + $offset + 1, 0xFF]);
                }
            }
        }

        return $this->bench->readingsOf($bytes, Radix::Hexadecimal);
    }

    /** Places all over a bank, each with a byte of its own. */
    private function swept(string $bank): string
    {
        $ranges = array_values(array_filter($this->bench->ranges(), static fn (MapRange $range): bool => $range->kind === RangeKind::Ram && $range->access === 'any' && $range->bank === $bank));
        $size = array_sum(array_map(static fn (MapRange $range): int => $range->to - $range->from + 1, $ranges));
        if ($size === 0) {
            return '';
        }
        // The stretches of the bank one behind the other.
        $at = static function (string $seed) use ($ranges, $size): int {
            $place = crc32($seed) % $size;
            foreach ($ranges as $range) {
                if ($place <= $range->to - $range->from) {
                    return $range->from + $place;
                }
                $place -= $range->to - $range->from + 1;
            }

            return $ranges[0]->from;
        };
        $holds = static fn (int $address): bool => array_filter($ranges, static fn (MapRange $range): bool => $address >= $range->from && $address <= $range->to) !== [];
        $bytes = [];
        for ($place = 0; $place < self::SWEPT; $place++) {
            $address = $at("sweep {$place}");
            $bytes[$address] = [$address, self::byteFor($address)];
        }
        // And a few places beside all that differ from them in one address line, each with a byte that tells it.
        for ($number = 0; $number < self::BASES; $number++) {
            $base = $at("base {$number}");
            $bytes[$base] = [$base, self::byteFor($base)];
            for ($line = 0; 1 << $line <= $ranges[count($ranges) - 1]->to; $line++) {
                $beside = $base ^ 1 << $line;
                if ($holds($beside)) {
                    $bytes[$beside] = [$beside, self::byteFor($beside)];
                }
            }
        }

        // Upwards, as a programme fills a bank: of two places that are one the higher then wins, always.
        ksort($bytes);

        return $this->bench->readingsOf(array_values($bytes), Radix::Hexadecimal);
    }

    /** Without a pattern: of two addresses that differ in one line the bytes may differ in any bit. */
    private static function byteFor(int $address): int
    {
        return ord(md5((string) $address, true));
    }

    private static function reads(MapRange $range): bool
    {
        return $range->kind === RangeKind::Ram && $range->access === 'any' && $range->to - $range->from > 0x400;
    }
}
