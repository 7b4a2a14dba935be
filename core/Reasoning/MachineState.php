<?php

declare(strict_types=1);

namespace ZapTrace\Reasoning;

use ZapTrace\Board\Chip;
use ZapTrace\Board\Netlist;
use ZapTrace\Board\Settings;
use ZapTrace\Signals\SignalEvidence;

/**
 * How the machine stood when something was seen: links and latches, which physical part sat where, which contacts had
 * been disturbed, what had been mended or unplugged, and the conditions.
 *
 * A physical part is named by where it came from: "U14" came in position U14 of this machine, "new U14" was fitted
 * there, "U14 of the second machine" was borrowed. A position of the second machine is written the same way.
 */
final readonly class MachineState
{
    public const SECOND = ' of the second machine';

    /** The condition of a machine that was switched on, and failed, and is on yet. */
    public const FAILING = 'failing';

    /** What comes and goes shows so strongly while it fails. */
    private const SHOWS_NOW = 0.9;

    /** What is done for the moment only, while one looks. */
    private const MOMENTARY = ['piggyback', 'warm', 'cool', 'load', 'unload'];

    /**
     * @param  array<string, string>  $done  site => the last thing done to it
     * @param  array<string, string>  $seats  position => the part in it, "" when empty; only where it is not the one that came there
     * @param  array<string, string>  $contacts  position => how its contacts were last disturbed: reseat or clean
     * @param  array<string, string>  $mended  site => bridge, wire, set or fix
     * @param  array<string, true>  $conditions  warm, cold, load, ... for the whole machine
     * @param  array<string, true>  $unplugged  assemblies that are out
     * @param  array<string, int>  $fitted  position => how many new parts it has had
     * @param  bool  $onSecond  seen on the second machine
     * @param  int  $moment  place in the log: a fault born later was not there yet
     */
    public function __construct(
        public Settings $settings,
        public array $done = [],
        public array $seats = [],
        public array $contacts = [],
        public array $mended = [],
        public array $conditions = [],
        public array $unplugged = [],
        public array $fitted = [],
        public bool $onSecond = false,
        public int $moment = 0,
    ) {
    }

    /**
     * The state after something was done to a site; for a swap, to two.
     *
     * @param  string  $with  the other position of a swap; "" otherwise
     */
    public function after(string $action, string $site, string $with = ''): self
    {
        $done = $this->done;
        unset($done[$site]);
        if ($action !== 'refit') {
            $done[$site] = $action;
        }
        $changes = ['done' => $done];
        $here = $this->partAt($site);
        switch ($action) {
            case 'reseat':
            case 'clean':
                $changes['contacts'] = [...$this->contacts, $site => $action];
                break;
            case 'exchange':
            case 'replace':
                $number = ($this->fitted[$site] ?? 0) + 1;
                $changes['fitted'] = [...$this->fitted, $site => $number];
                $changes['seats'] = $this->seated([$site => "new {$site}".($number > 1 ? " ({$number})" : '')]);
                $changes['contacts'] = [...$this->contacts, $site => $action === 'replace' ? 'clean' : 'reseat'];
                $changes['mended'] = array_diff_key($this->mended, [$site => true]);
                break;
            case 'exchange-second':
                $there = $site.self::SECOND;
                $changes['seats'] = $this->seated([$site => $this->partAt($there), $there => $here]);
                $changes['contacts'] = [...$this->contacts, $site => 'reseat'];
                break;
            case 'swap':
                $changes['done'] = [...$done, $site => 'swap', $with => 'swapped'];
                $changes['seats'] = $this->seated([$site => $this->partAt($with), $with => $here]);
                $changes['contacts'] = [...$this->contacts, $site => 'reseat', $with => 'reseat'];
                break;
            case 'remove':
                $changes['seats'] = $this->seated([$site => '']);
                $changes['contacts'] = [...$this->contacts, $site => 'reseat'];
                break;
            case 'refit':
                // The part that came there goes back; whatever sat where it was goes home as well.
                $elsewhere = $this->seatOf($site);
                $moves = [$site => $site];
                if ($elsewhere !== null && $elsewhere !== $site) {
                    $moves[$elsewhere] = $elsewhere;
                    unset($changes['done'][$elsewhere]);
                }
                $changes['seats'] = $this->seated($moves);
                $changes['contacts'] = [...$this->contacts, $site => 'reseat'];
                $changes['mended'] = array_filter($this->mended, static fn (string $how, string $where): bool => $where !== $site || $how !== 'bridge', ARRAY_FILTER_USE_BOTH);
                break;
            case 'bridge':
            case 'wire':
            case 'set':
            case 'fix':
                $changes['mended'] = [...$this->mended, $site => $action];
                break;
            case 'unplug':
                $changes['unplugged'] = [...$this->unplugged, $site => true];
                break;
            case 'plug':
                unset($changes['done'][$site]);
                $changes['unplugged'] = array_diff_key($this->unplugged, [$site => true]);
                $changes['contacts'] = [...$this->contacts, $site => 'reseat'];
                break;
        }

        return $this->changed($changes);
    }

    /**
     * Whether these positions hold the same parts, mended in the same way, as in another state.
     *
     * @param  list<string>  $sites
     */
    public function sameAt(array $sites, self $other): bool
    {
        foreach ($sites as $site) {
            if ($this->partAt($site) !== $other->partAt($site) || ($this->mended[$site] ?? '') !== ($other->mended[$site] ?? '')) {
                return false;
            }
        }

        return true;
    }

    /**
     * Whether no contact of these chips was moved between this state and another.
     *
     * @param  list<string>  $refs
     */
    public function sameContactsAt(array $refs, self $other): bool
    {
        return array_intersect_key($this->contacts, array_flip($refs)) == array_intersect_key($other->contacts, array_flip($refs)); // In whatever order they were moved.
    }

    public function with(Settings $settings): self
    {
        return $this->changed(['settings' => $settings]);
    }

    public function under(string $condition, bool $on): self
    {
        $conditions = $this->conditions;
        unset($conditions[$condition]);

        return $this->changed(['conditions' => $on ? [...$conditions, $condition => true] : $conditions]);
    }

    public function at(int $moment): self
    {
        return $this->changed(['moment' => $moment]);
    }

    public function seenOnSecond(): self
    {
        return $this->changed(['onSecond' => true]);
    }

    /** The state that remains after looking: what was done for the moment is undone. */
    public function lasting(): self
    {
        return $this->changed(['done' => array_filter($this->done, static fn (string $action): bool => ! in_array($action, self::MOMENTARY, true)), 'onSecond' => false]);
    }

    /** The machine put together again: what was unplugged or taken out to look is still to be dealt with. */
    public function whole(): self
    {
        return $this->changed(['unplugged' => [], 'seats' => array_filter($this->seats, static fn (string $part): bool => $part !== '')]);
    }

    /** The part in this position; "" when it is empty. */
    public function partAt(string $seat): string
    {
        return $this->seats[$seat] ?? $seat;
    }

    /** Whether a position holds a part, and its assembly is plugged in. */
    public function isIn(Chip $chip): bool
    {
        return $this->partAt($chip->ref) !== '' && ! isset($this->unplugged[$chip->assembly]);
    }

    /** The position this part sits in; null when it is in neither machine. */
    public function seatOf(string $part): ?string
    {
        $seat = array_search($part, $this->seats, true);
        if ($seat !== false) {
            return (string) $seat;
        }

        return isset($this->seats[$part]) || str_starts_with($part, 'new ') ? null : $part;
    }

    /** The part of the fault that this state takes out of play, 0 to 1. */
    public function relieves(SuspectedFault $fault, Settings $first): float
    {
        if ($fault->onset > $this->moment) {
            return 1.0;
        }
        if ($fault->kind === SiteKind::Setup || $fault->kind === SiteKind::Elsewhere) {
            return $fault->kind === SiteKind::Elsewhere && $this->onSecond ? 1.0 : 0.0;
        }
        if ($fault->kind === SiteKind::SecondMachine) {
            return $this->onSecond ? 0.0 : 1.0;
        }
        if (isset($this->unplugged[$fault->assembly])) {
            return 1.0;
        }
        $assembly = $fault->assembly === '' ? '' : $this->seatOf($fault->assembly);
        if ($assembly !== $fault->assembly && $fault->part !== $fault->assembly) {
            // Its assembly was exchanged as a whole; it went along.
            return $assembly === $fault->assembly.self::SECOND && $this->onSecond ? 0.0 : 1.0;
        }
        if ($fault->part !== null) {
            return $this->relievesPart($fault);
        }
        if ($this->onSecond) {
            return 1.0;
        }
        if ($fault->kind === SiteKind::Link) {
            $untouched = $this->settings->position($fault->seat) === $first->position($fault->seat) && ! isset($this->done[$fault->seat]);

            return $untouched ? 0.0 : 1.0;
        }
        $relief = $fault->mode->relief;
        $mended = $this->mended[$fault->seat] ?? null;
        if ($mended !== null && (($relief[$mended] ?? 0.0) > 0.0 || ($fault->kind === SiteKind::Net && in_array($mended, ['bridge', 'wire'], true)))) {
            // A wire lies beside an open trace; it does not lift a short.
            return $relief[$mended] ?? (str_starts_with($fault->mode->name, 'open') ? 1.0 : 0.0);
        }
        $contact = $this->contacts[$fault->seat] ?? $this->contacts[Netlist::chipOf(SignalEvidence::liftedPin($fault->mode->name) ?? '')] ?? null;
        if ($contact !== null && isset($relief[$contact]) && $fault->onset < $this->moment) {
            return $relief[$contact];
        }

        return $relief[$this->done[$fault->seat] ?? ''] ?? 0.0;
    }

    private function relievesPart(SuspectedFault $fault): float
    {
        $seat = $this->seatOf((string) $fault->part);
        if ($seat === null) {
            return 1.0;
        }
        $inSecond = str_ends_with($seat, self::SECOND);
        if ($inSecond !== $this->onSecond) {
            return 1.0;
        }
        $mended = $this->mended[$seat] ?? null;
        if ($mended !== null && isset($fault->mode->relief[$mended])) {
            return $fault->mode->relief[$mended];
        }

        return $fault->mode->relief[$this->done[$seat] ?? ''] ?? 0.0;
    }

    /** Whether the fault shows while one looks. */
    public function isFailing(): bool
    {
        return isset($this->conditions[self::FAILING]);
    }

    /** What the conditions make of the strength of a fault: a weak part shows more when warm or loaded. */
    public function sharpens(SuspectedFault $fault): float
    {
        $factor = 1.0;
        foreach ($fault->mode->under as $condition => $times) {
            $seat = $fault->part === null ? $fault->seat : $this->seatOf($fault->part);
            if (isset($this->conditions[$condition]) || ($this->done[$seat ?? ''] ?? '') === $condition || ($this->done['machine'] ?? '') === $condition) {
                $factor *= $times;
            }
        }

        return isset($this->conditions[self::FAILING]) && $fault->mode->perRun > 0.0 ? max($factor, self::SHOWS_NOW / $fault->mode->perRun) : $factor;
    }

    /**
     * Chips that do not sit where they came.
     *
     * @return array<string, string|null> part that came with one of the machines => where it sits now; null when it is out
     */
    public function displaced(): array
    {
        $displaced = [];
        foreach ($this->seats as $seat => $part) {
            if ($part !== $seat) {
                $displaced[(string) $seat] = $this->seatOf((string) $seat);
            }
        }
        ksort($displaced, SORT_NATURAL);

        return $displaced;
    }

    public function key(): string
    {
        return json_encode([$this->settings->positions, $this->done, $this->seats, $this->contacts, $this->mended, $this->conditions, $this->unplugged, $this->onSecond], JSON_THROW_ON_ERROR);
    }

    public function sameParts(self $other): bool
    {
        return $this->lasting()->done === $other->lasting()->done && $this->sameSeats($other);
    }

    /** The same parts, and nothing done since but contacts and bridges that were tried. */
    public function sameButTried(self $other): bool
    {
        $lasting = static fn (self $state): array => array_filter($state->lasting()->done, static fn (string $action): bool => ! in_array($action, ['reseat', 'clean', 'bridge'], true));

        return $lasting($this) === $lasting($other) && $this->sameSeats($other);
    }

    private function sameSeats(self $other): bool
    {
        return $this->seats === $other->seats && $this->unplugged === $other->unplugged;
    }

    /** A position of the board, without the machine it is in. */
    public static function position(string $seat): string
    {
        return str_ends_with($seat, self::SECOND) ? substr($seat, 0, -strlen(self::SECOND)) : $seat;
    }

    /**
     * @param  array<string, string>  $moves
     * @return array<string, string>
     */
    private function seated(array $moves): array
    {
        $seats = [...$this->seats, ...$moves];
        ksort($seats);

        return array_filter($seats, static fn (string $part, string $seat): bool => $part !== $seat, ARRAY_FILTER_USE_BOTH);
    }

    /**
     * @param  array{settings?: Settings, done?: array<string, string>, seats?: array<string, string>, contacts?: array<string, string>, mended?: array<string, string>, conditions?: array<string, true>, unplugged?: array<string, true>, fitted?: array<string, int>, onSecond?: bool, moment?: int}  $changes
     */
    private function changed(array $changes): self
    {
        return new self(
            $changes['settings'] ?? $this->settings,
            $changes['done'] ?? $this->done,
            $changes['seats'] ?? $this->seats,
            $changes['contacts'] ?? $this->contacts,
            $changes['mended'] ?? $this->mended,
            $changes['conditions'] ?? $this->conditions,
            $changes['unplugged'] ?? $this->unplugged,
            $changes['fitted'] ?? $this->fitted,
            $changes['onSecond'] ?? $this->onSecond,
            $changes['moment'] ?? $this->moment,
        );
    }
}
