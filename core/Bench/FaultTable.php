<?php

declare(strict_types=1);

namespace ZapTrace\Bench;

use Random\Engine\Mt19937;
use Random\Randomizer;
use ZapTrace\Board\BoardProfile;
use ZapTrace\Board\Chip;
use ZapTrace\Board\Net;
use ZapTrace\Board\Setting;
use ZapTrace\Formats\JsonNode;

/**
 * What the simulated bench breaks, and how often; apart from what the reasoning believes.
 */
final readonly class FaultTable
{
    private const SCALE = 1000;

    /**
     * @param  list<array{kind: FaultKind, of: list<string>, weight: int}>  $entries
     * @param  float  $comeAndGo  share of the faults in parts, contacts and traces that come and go
     * @param  float  $rate  in which part of the runs these show
     * @param  float  $whenWarm  share of the faults in parts that show only when the machine is warm
     * @param  float  $tears  chance that taking a soldered part out breaks a trace
     */
    private function __construct(private array $entries, private float $comeAndGo, private float $rate, private float $whenWarm, public float $tears)
    {
    }

    /**
     * @throws \JsonException when the file is damaged
     */
    public static function fromJson(string $json): self
    {
        $node = JsonNode::decode($json);

        return new self(array_map(static fn (JsonNode $entry): array => ['kind' => FaultKind::from($entry->string('kind')), 'of' => $entry->strings('of'), 'weight' => $entry->integer('weight')], $node->each('faults')), $node->at('intermittent')->number('share'), $node->at('intermittent')->number('rate'), $node->at('warm')->number('share'), $node->at('soldering')->number('tears'));
    }

    /**
     * A machine is broken: the same for the same seed. Only faults that make a difference are kept.
     *
     * @param  callable(list<InjectedFault>): bool  $shows  whether a machine with these is sick
     * @return list<InjectedFault>
     */
    public function break(BoardProfile $board, int $seed, int $count, callable $shows): array
    {
        $random = new Randomizer(new Mt19937($seed));
        $faults = [];
        for ($try = 0; count($faults) < $count && $try < 60; $try++) {
            $fault = $this->draw($board, $random);
            $fault = $fault === null ? null : $this->timed($fault, $board, new Randomizer(new Mt19937(crc32("{$seed} {$try}"))));
            $sites = array_map(static fn (InjectedFault $known): string => $known->site(), $faults);
            if ($fault !== null && ! in_array($fault->site(), $sites, true) && $shows([$fault])) {
                $faults[] = $fault;
            }
        }

        return $faults;
    }

    /** A fault comes and goes now and then, or waits until the machine is warm; a short, a link and a rail do neither. */
    private function timed(InjectedFault $fault, BoardProfile $board, Randomizer $random): InjectedFault
    {
        $roll = $random->getInt(0, self::SCALE - 1) / self::SCALE;
        $warms = $fault->isInPart() && ($board->chips[$fault->site()] ?? null)?->kind() !== 'regulator';
        if ($roll < $this->comeAndGo && ($warms || in_array($fault->kind, [FaultKind::BadContact, FaultKind::OpenTrace], true))) {
            return $fault->timed($this->rate, false);
        }

        return $warms && $roll >= $this->comeAndGo && $roll < $this->comeAndGo + $this->whenWarm ? $fault->timed(1.0, true) : $fault;
    }

    private function draw(BoardProfile $board, Randomizer $random): ?InjectedFault
    {
        $total = array_sum(array_column($this->entries, 'weight'));
        $at = $random->getInt(0, $total - 1);
        $chosen = $this->entries[0];
        foreach ($this->entries as $entry) {
            if ($at < $entry['weight']) {
                $chosen = $entry;
                break;
            }
            $at -= $entry['weight'];
        }
        $kind = $chosen['kind'];
        if ($kind === FaultKind::WrongSetting) {
            $link = self::one(array_values(array_filter($board->links(), static fn (Setting $setting): bool => $setting->joins !== [])), $random);
            $others = $link === null ? [] : array_values(array_filter(array_map(strval(...), array_keys($link->positions)), static fn (string $position): bool => $position !== $link->default));
            $position = self::one($others, $random);

            return $link === null || $position === null ? null : new InjectedFault($kind, $link->ref, $position);
        }
        if (in_array($kind, [FaultKind::OpenTrace, FaultKind::Short], true)) {
            $nets = array_values(array_filter($board->netlist->nets, static fn (Net $net): bool => in_array($net->kind, $chosen['of'], true) && count($net->pins) > 1));
            $net = self::one($nets, $random);
            if ($net === null) {
                return null;
            }
            if ($kind === FaultKind::OpenTrace) {
                return new InjectedFault($kind, $net->name, $net->pins[$random->getInt(1, count($net->pins) - 1)]);
            }
            $like = array_values(array_filter($nets, static fn (Net $other): bool => $other->kind === $net->kind && $other->name !== $net->name && self::alike($other->name, $net->name)));
            $other = self::one($like, $random);

            return $other !== null ? new InjectedFault($kind, $net->name, $other->name) : null;
        }
        $chips = array_values(array_filter($board->chips, static fn (Chip $chip): bool => (in_array($chip->kind(), $chosen['of'], true) || in_array('socketed', $chosen['of'], true) && $chip->socketed && ! in_array($chip->kind(), ['discrete', 'connector'], true)) && $board->netlist->netOf("{$chip->ref}.1") !== null || $chip->kind() === 'regulator' && in_array('regulator', $chosen['of'], true)));
        $chip = self::one($chips, $random);
        if ($chip === null) {
            return null;
        }
        /** @return list<string> */
        $pins = static fn (string ...$directions): array => array_values(array_filter(array_map(static fn ($pin): string => in_array($pin->direction, $directions, true) ? "{$chip->ref}.{$pin->number}" : '', $chip->type?->pinList() ?? []), static fn (string $pin): bool => $pin !== '' && $board->netlist->netOf($pin) !== null));

        return match ($kind) {
            FaultKind::OutputLow, FaultKind::OutputHigh => ($pin = self::one($pins('out', 'both'), $random)) === null ? null : new InjectedFault($kind, $pin),
            FaultKind::HoldsLow, FaultKind::HoldsHigh => ($pin = self::one(array_values(array_filter($pins('in'), static fn (string $pin): bool => $board->netlist->netOf($pin)?->isPower() === false)), $random)) === null ? null : new InjectedFault($kind, $pin),
            FaultKind::BadContact => ($pin = self::one($pins('in', 'out', 'both'), $random)) === null ? null : new InjectedFault($kind, $pin),
            FaultKind::Cells => new InjectedFault($kind, $chip->ref, (string) self::one(['quarter 0', 'quarter 1', 'quarter 2', 'quarter 3', 'quarter 1 ones', 'quarter 2 ones'], $random)),
            FaultKind::AddressInput => new InjectedFault($kind, $chip->ref, (string) $random->getInt(0, 6)),
            default => new InjectedFault($kind, $chip->ref),
        };
    }

    /**
     * @template T
     *
     * @param  list<T>  $of
     * @return T|null
     */
    private static function one(array $of, Randomizer $random): mixed
    {
        return $of === [] ? null : $of[$random->getInt(0, count($of) - 1)];
    }

    /** A0 and A3, MD1 and MD2: lines that run side by side. */
    private static function alike(string $one, string $other): bool
    {
        return preg_replace('/\d+/', '', $one) === preg_replace('/\d+/', '', $other);
    }
}
