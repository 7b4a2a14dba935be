<?php

declare(strict_types=1);

namespace ZapTrace\Board;

use stdClass;
use ZapTrace\Parts\Part;
use ZapTrace\Parts\PartLibrary;
use ZapTrace\Problems\InputRejected;
use ZapTrace\Problems\ProblemList;

/**
 * Draws a board by short lines, each a change of its file:
 *
 *     chip u9 4164 at 120,40 socket memory, bit 0
 *     move u9 130,40            remove u9
 *     u9.3 u14.12 u15.5 = A5    pins joined to a net; net A5 is address
 *     u9.3 = -                  taken off its net
 *     bank 0: u9 u10 u11 ...    its chips, bit 0 first
 *     range E000-FFFF rom u2    also ram 0, io u26, open
 *     link lk1 memory size: 16K, 32K
 *     codes test-rom flashes: 1 = 0 D0, 2 = 0 D1
 */
final readonly class BoardEditor
{
    public const FORMS = [
        ['form' => 'chip u9 4164 at 120,40 socket memory, bit 0', 'means' => 'a chip, where it sits in mm, in a socket, and what it does'],
        ['form' => 'move u9 130,40', 'means' => 'to another place; remove u9 takes it away'],
        ['form' => 'u9.3 u14.12 u15.5 = A5', 'means' => 'pins joined to net A5; u9.3 = - takes one off'],
        ['form' => 'net A5 is address', 'means' => 'its kind: data, address, control, clock, power or other'],
        ['form' => 'bank 0: u9 u10 u11 u12 u13 u14 u15 u16', 'means' => 'the chips of a bank, bit 0 first'],
        ['form' => 'range 0000-7FFF ram 0', 'means' => 'what answers there: ram with its bank, rom or io with the chip, open'],
        ['form' => 'link lk1 memory size: 16K, 32K', 'means' => 'a link and its positions, the usual one first'],
        ['form' => 'codes test-rom flashes: 1 = 0 D0, 2 = 0 D1', 'means' => 'what a diagnostic\'s results mean: bank and line, or a chip'],
    ];

    private const KINDS = ['data', 'address', 'control', 'clock', 'power', 'other'];

    /** Data lines that a bank can have, as in the schema of board files. */
    private const WIDTHS = [1, 4, 8, 16, 32];

    /** Between chips that were given no place, and to the edge of the board, in mm. */
    private const GAP = 6.0;

    /** How wide the body of a chip is at most, in mm. */
    private const BODY = 16.0;

    /** From row to row of those that were given no place, in mm. */
    private const ROW = 24.0;

    public function __construct(private PartLibrary $parts)
    {
    }

    /** A board with nothing on it yet. */
    public static function blank(string $slug, string $name, int $dataWidth, int $addressWidth): stdClass
    {
        return (object) [
            'format' => 'zap-trace-board/1', 'slug' => $slug, 'name' => $name, 'revision' => 'as drawn', 'radix' => 16,
            'bus' => (object) ['dataWidth' => $dataWidth, 'addressWidth' => $addressWidth, ...($dataWidth > 8 ? ['byteOrder' => 'big'] : [])],
            'plan' => (object) ['width' => 300, 'height' => 200, 'connectors' => [], 'holes' => []],
            'chips' => [], 'banks' => [], 'map' => [(object) ['from' => '0x0000', 'to' => '0x'.strtoupper(dechex((1 << $addressWidth) - 1)), 'kind' => 'open', 'name' => 'not described yet']],
            'nets' => [],
        ];
    }

    /**
     * @param  stdClass  $file  a decoded board file
     * @return stdClass the changed file; the one given is left as it is
     *
     * @throws InputRejected with what is wrong with the line
     */
    public function change(stdClass $file, string $line): stdClass
    {
        $changed = json_decode((string) json_encode($file), false);
        assert($changed instanceof stdClass);
        $line = trim((string) preg_replace('/\s+/', ' ', $line));
        if (preg_match('/^chip (\S+) (\S+)(?: at (\d+(?:\.\d+)?) ?, ?(\d+(?:\.\d+)?))?( turned)?( socket)?(?: (.+))?$/i', $line, $match) === 1) {
            $this->chip($changed, strtoupper($match[1]), $match[2], ($match[3] ?? '') === '' ? null : [(float) $match[3], (float) ($match[4] ?? 0)], ($match[5] ?? '') !== '', ($match[6] ?? '') !== '', $match[7] ?? '');
        } elseif (preg_match('/^move (\S+) (\d+(?:\.\d+)?) ?, ?(\d+(?:\.\d+)?)$/i', $line, $match) === 1) {
            $chip = self::find($changed, 'chips', 'ref', $match[1]);
            $at = ($chip->at ?? null) instanceof stdClass ? $chip->at : new stdClass;
            $at->x = (float) $match[2];
            $at->y = (float) $match[3];
            $chip->at = $at;
        } elseif (preg_match('/^remove (\S+)$/i', $line, $match) === 1) {
            $this->remove($changed, $match[1]);
        } elseif (preg_match('/^net (\S+) is (\S+)$/i', $line, $match) === 1) {
            if (! in_array(strtolower($match[2]), self::KINDS, true)) {
                throw InputRejected::of('line', 'A net is '.implode(', ', self::KINDS).", not \"{$match[2]}\".");
            }
            self::find($changed, 'nets', 'name', $match[1])->kind = strtolower($match[2]);
        } elseif (preg_match('/^bank (\S+?) ?: ?(.+)$/i', $line, $match) === 1) {
            $this->bank($changed, $match[1], preg_split('/[ ,]+/', trim($match[2])) ?: []);
        } elseif (preg_match('/^range ([0-9a-f]+) ?- ?([0-9a-f]+) (ram|rom|io|open)(?: (\S+))?$/i', $line, $match) === 1) {
            $this->range($changed, $match[1], $match[2], strtolower($match[3]), $match[4] ?? '');
        } elseif (preg_match('/^link (\S+) ([^:]+): ?(.+)$/i', $line, $match) === 1) {
            $positions = array_map(trim(...), explode(',', $match[3]));
            $links = array_values(array_filter(self::list($changed, 'links'), static fn (stdClass $link): bool => strcasecmp(self::text($link, 'ref'), $match[1]) !== 0));
            $changed->links = [...$links, (object) ['ref' => strtoupper($match[1]), 'name' => trim($match[2]), 'default' => $positions[0], 'positions' => array_map(static fn (string $name): stdClass => (object) ['name' => $name], $positions)]];
        } elseif (preg_match('/^codes (\S+) (flashes|tones|colour|chips|mask|step): ?(.+)$/i', $line, $match) === 1) {
            $this->codes($changed, $match[1], strtolower($match[2]), $match[3]);
        } elseif (preg_match('/^((?:\S+\.\S+ )+)= ?(\S+)$/', $line, $match) === 1) {
            $this->connect($changed, preg_split('/ /', trim($match[1])) ?: [], $match[2]);
        } else {
            throw InputRejected::of('line', 'That is not understood. '.self::instead($line));
        }

        return $changed;
    }

    /**
     * Pins that were on one net and are on another now: a pin is on one net only, so a slip of the keys takes it away
     * from where it was.
     *
     * @return list<string> a sentence for each
     */
    public static function moved(stdClass $before, stdClass $after): array
    {
        $netOf = static function (stdClass $file): array {
            $netOf = [];
            foreach (self::list($file, 'nets') as $net) {
                $netOf += array_fill_keys(explode(' ', self::text($net, 'pins')), self::text($net, 'name'));
            }

            return $netOf;
        };
        $now = $netOf($after);
        $moved = [];
        foreach ($netOf($before) as $pin => $net) {
            if (isset($now[$pin]) && $now[$pin] !== $net) {
                $moved[] = "{$pin} was on {$net}; it is on {$now[$pin]} now.";
            }
        }

        return $moved;
    }

    /**
     * Nets from a list: CSV lines of net, chip and pin, or "net: chip.pin chip.pin". A net that is there already is
     * replaced.
     *
     * @throws InputRejected with every line that is wrong
     */
    public function import(stdClass $file, string $text): stdClass
    {
        $changed = json_decode((string) json_encode($file), false);
        assert($changed instanceof stdClass);
        $problems = new ProblemList;
        $nets = [];
        foreach (preg_split('/\r\n|\r|\n/', $text) ?: [] as $number => $line) {
            $line = trim($line);
            if ($line === '' || $line[0] === '#' || preg_match('/^net\s*,\s*chip\s*,\s*pin$/i', $line) === 1) {
                continue;
            }
            if (preg_match('/^([^:,\s]+)\s*:\s*(.+)$/', $line, $match) === 1 && str_contains($match[2], '.')) {
                $pins = preg_split('/[\s,]+/', trim($match[2])) ?: [];
            } elseif (count($cells = array_map(static fn (?string $cell): string => trim((string) $cell), str_getcsv($line, ',', '"', ''))) === 3 && $cells[0] !== '') {
                [$match[1], $chip, $pin] = $cells;
                $pins = ["{$chip}.{$pin}"];
            } else {
                $problems->atLine($number + 1, 'Expected net,chip,pin or net: chip.pin chip.pin.');

                continue;
            }
            foreach ($pins as $pin) {
                try {
                    $nets[$match[1]][] = $this->pin($changed, $pin);
                } catch (InputRejected $rejected) {
                    $problems->atLine($number + 1, $rejected->problems[0]->sentence);
                }
            }
        }
        $problems->throwIfAny();
        if ($nets === []) {
            throw InputRejected::of('text', 'There is no net in it. Write net,chip,pin in each line, or net: chip.pin chip.pin.');
        }
        $changed->nets = array_values(array_filter(self::list($changed, 'nets'), static fn (stdClass $net): bool => ! isset($nets[self::text($net, 'name')])));
        foreach ($nets as $name => $pins) {
            $this->connect($changed, array_values(array_unique($pins)), (string) $name);
        }

        return $changed;
    }

    /**
     * @param  array{float, float}|null  $at
     */
    private function chip(stdClass $file, string $ref, string $part, ?array $at, bool $turned, bool $socketed, string $role): void
    {
        $type = $this->parts->find($part) ?? throw InputRejected::of('line', "The part library has no {$part}. Use a generic type number, such as 4164 or 74LS257.");
        $chips = array_values(array_filter(self::list($file, 'chips'), static fn (stdClass $chip): bool => strcasecmp(self::text($chip, 'ref'), $ref) !== 0));
        $place = $at ?? $this->free($file, $chips, self::length($type));
        $file->chips = [...$chips, (object) ['ref' => $ref, 'part' => $type->name, ...($role === '' ? [] : ['role' => $role]), ...($socketed ? ['socketed' => true] : []), 'at' => (object) ['x' => $place[0], 'y' => $place[1], ...($turned ? ['turn' => 90] : [])]]];
    }

    /** How long the body of a part is, in mm: its pins lie a tenth of an inch apart, in two rows. */
    private static function length(?Part $type): float
    {
        return max(14.0, ($type->pins ?? 0) / 2 * 2.54);
    }

    /**
     * Where a chip fits that was given no place: row by row, beside those that are there.
     *
     * @param  list<stdClass>  $chips
     * @return array{float, float} its middle in mm; below the board where it is full
     */
    private function free(stdClass $file, array $chips, float $length): array
    {
        $taken = array_map(function (stdClass $chip): array {
            $body = [self::length($this->parts->find(self::text($chip, 'part'))), self::BODY];
            $at = ($chip->at ?? null) instanceof stdClass ? $chip->at : new stdClass;

            return [self::number($at, 'x'), self::number($at, 'y'), ...(self::number($at, 'turn') === 90.0 ? array_reverse($body) : $body)];
        }, $chips);
        $plan = ($file->plan ?? null) instanceof stdClass ? $file->plan : new stdClass;
        $first = self::GAP + $length / 2.0;
        for ($y = self::ROW; ; $y += self::ROW) {
            for ($x = $first; $x === $first || $x + $first <= self::number($plan, 'width'); $x += self::GAP) {
                if (array_filter($taken, static fn (array $other): bool => abs($other[0] - $x) < ($other[2] + $length) / 2.0 + self::GAP && abs($other[1] - $y) < ($other[3] + self::BODY) / 2.0 + self::GAP) === []) {
                    return [round($x, 1), $y];
                }
            }
        }
    }

    /**
     * What to write instead of a line that is not understood: the form that begins as it does, where there is one.
     */
    private static function instead(string $line): string
    {
        $first = strtolower((string) strtok($line, ' :'));
        foreach (self::FORMS as ['form' => $form, 'means' => $means]) {
            if (strtok($form, ' :') === $first) {
                return "Write, for example, \"{$form}\": {$means}.";
            }
        }

        return 'Write, for example, "chip u9 4164 at 120,40" or "u9.3 u14.12 = A5".';
    }

    private function remove(stdClass $file, string $ref): void
    {
        $chip = self::find($file, 'chips', 'ref', $ref);
        $name = self::text($chip, 'ref');
        $file->chips = array_values(array_filter(self::list($file, 'chips'), static fn (stdClass $each): bool => $each !== $chip));
        foreach (self::list($file, 'nets') as $net) {
            $net->pins = implode(' ', array_filter(explode(' ', self::text($net, 'pins')), static fn (string $pin): bool => Netlist::chipOf($pin) !== $name));
        }
        $file->nets = array_values(array_filter(self::list($file, 'nets'), static fn (stdClass $net): bool => self::text($net, 'pins') !== ''));
    }

    /**
     * What several words of a line stand for; what is wrong with them is told of all at once.
     *
     * @template T
     *
     * @param  list<string>  $words
     * @param  callable(string): T  $of
     * @return list<T>
     */
    private static function each(array $words, callable $of): array
    {
        $problems = new ProblemList;
        $found = [];
        foreach ($words as $word) {
            try {
                $found[] = $of($word);
            } catch (InputRejected $rejected) {
                $problems->add('line', $rejected->problems[0]->sentence);
            }
        }
        $problems->throwIfAny();

        return $found;
    }

    /**
     * @param  list<string>  $pins
     */
    private function connect(stdClass $file, array $pins, string $net): void
    {
        $pins = self::each($pins, fn (string $pin): string => $this->pin($file, $pin));
        $nets = self::list($file, 'nets');
        foreach ($nets as $each) {
            $each->pins = implode(' ', array_filter(explode(' ', self::text($each, 'pins')), static fn (string $pin): bool => ! in_array($pin, $pins, true)));
        }
        if ($net !== '-') {
            $known = null;
            foreach ($nets as $each) {
                $known = strcasecmp(self::text($each, 'name'), $net) === 0 ? $each : $known;
            }
            if ($known === null) {
                $known = (object) ['name' => $net, 'kind' => self::kindOf($net), 'pins' => ''];
                $nets[] = $known;
            }
            $known->pins = trim(self::text($known, 'pins').' '.implode(' ', $pins));
        }
        $file->nets = array_values(array_filter($nets, static fn (stdClass $each): bool => self::text($each, 'pins') !== ''));
    }

    /** The kind that the name of a net suggests. */
    private static function kindOf(string $name): string
    {
        return match (true) {
            preg_match('/^(\+|-)\d|^GND$|^V(CC|SS|DD|BB)$/i', $name) === 1 => 'power',
            preg_match('/^B?A\d+$/i', $name) === 1 => 'address',
            preg_match('/^M?D\d+$/i', $name) === 1 => 'data',
            preg_match('/CLK|PHI|OSC/i', $name) === 1 => 'clock',
            default => 'control',
        };
    }

    private function pin(stdClass $file, string $text): string
    {
        if (preg_match('/^([^.\s]+)\.(\S+)$/', $text, $match) !== 1) {
            throw InputRejected::of('line', "\"{$text}\" is no pin. Write the part and the pin with a dot between: U9.3.");
        }
        $chip = self::find($file, 'chips', 'ref', $match[1]);
        $type = $this->parts->find(self::text($chip, 'part'));
        foreach ($type?->pinList() ?? [] as $pin) {
            if ((string) $pin->number === $match[2] || strcasecmp(($pin->activeLow ? '/' : '').$pin->name, $match[2]) === 0) {
                return self::text($chip, 'ref').".{$pin->number}";
            }
        }
        throw InputRejected::of('line', self::text($chip, 'ref').' is a '.self::text($chip, 'part')." and has no pin {$match[2]}.");
    }

    /**
     * @param  list<string>  $refs  bit 0 first; a chip of several bits stands once
     */
    private function bank(stdClass $file, string $name, array $refs): void
    {
        $memory = self::each($refs, function (string $ref) use ($file): array {
            $chip = self::find($file, 'chips', 'ref', $ref);

            return [self::text($chip, 'ref'), $this->parts->find(self::text($chip, 'part'))->memory->bits ?? throw InputRejected::of('line', self::text($chip, 'ref').' is a '.self::text($chip, 'part').', which is no memory.')];
        });
        $chips = [];
        $line = 0;
        foreach ($memory as [$ref, $bits]) {
            $chips[] = (object) ['chip' => $ref, 'lines' => array_map(static fn (int $bit): string => "D{$bit}", range($line, $line + $bits - 1))];
            $line += $bits;
        }
        if (! in_array($line, self::WIDTHS, true)) {
            throw InputRejected::of('line', 'A bank has '.implode(', ', array_slice(self::WIDTHS, 0, -1)).' or '.self::WIDTHS[count(self::WIDTHS) - 1]." data lines, and these chips give {$line}. Name all of its chips, bit 0 first.");
        }
        $banks = array_values(array_filter(self::list($file, 'banks'), static fn (stdClass $bank): bool => self::text($bank, 'name') !== $name));
        $file->banks = [...$banks, (object) ['name' => $name, 'width' => $line, 'chips' => $chips]];
    }

    private function range(stdClass $file, string $from, string $to, string $kind, string $what): void
    {
        $hex = static fn (string $text): string => '0x'.strtoupper(str_pad($text, 4, '0', STR_PAD_LEFT));
        $range = (object) ['from' => $hex($from), 'to' => $hex($to), 'kind' => $kind, 'name' => $kind === 'ram' ? "bank {$what}" : ($what === '' ? $kind : strtoupper($what))];
        if ($kind === 'ram') {
            $range->bank = self::text(self::bankNamed($file, $what), 'name');
        } elseif ($kind !== 'open' && $what !== '') {
            $range->chip = self::text(self::find($file, 'chips', 'ref', $what), 'ref');
        }
        // What was not described yet makes room.
        $map = array_values(array_filter(self::list($file, 'map'), static fn (stdClass $each): bool => self::text($each, 'name') !== 'not described yet' && ! (self::text($each, 'from') === $range->from && self::text($each, 'to') === $range->to)));
        $file->map = [...$map, $range];
    }

    private function codes(stdClass $file, string $id, string $reports, string $text): void
    {
        $codes = self::each(array_map(trim(...), explode(',', $text)), static fn (string $entry): stdClass => match (true) {
            preg_match('/^(\S+) ?= ?(\S+) (D\d+)$/i', $entry, $match) === 1 => (object) ['code' => $match[1], 'bank' => $match[2], 'line' => strtoupper($match[3])],
            preg_match('/^(\S+) ?= ?(\S+)$/', $entry, $match) === 1 => (object) ['code' => $match[1], 'sites' => [self::text(self::find($file, 'chips', 'ref', $match[2]), 'ref')]],
            default => throw InputRejected::of('line', "\"{$entry}\" is no code. Write 1 = 0 D0 for a bank and a line, or 1 = u9 for a chip."),
        });
        $covers = array_values(array_map(static fn (stdClass $range): stdClass => (object) ['from' => $range->from ?? '', 'to' => $range->to ?? ''], array_filter(self::list($file, 'map'), static fn (stdClass $range): bool => self::text($range, 'kind') === 'ram')));
        if ($covers === []) {
            throw InputRejected::of('line', 'A diagnostic tests memory, and no range of it is drawn yet. Write bank 0: u9 u10 u11 u12 u13 u14 u15 u16, then range 0000-7FFF ram 0, then the codes.');
        }
        $others = array_values(array_filter(self::list($file, 'diagnostics'), static fn (stdClass $each): bool => self::text($each, 'id') !== strtolower($id)));
        $file->diagnostics = [...$others, (object) ['id' => strtolower($id), 'name' => str_replace('-', ' ', $id), 'reports' => $reports, 'covers' => $covers, 'codes' => $codes]];
    }

    /**
     * @throws InputRejected when it is not drawn yet
     */
    private static function bankNamed(stdClass $file, string $name): stdClass
    {
        foreach (self::list($file, 'banks') as $bank) {
            if (strcasecmp(self::text($bank, 'name'), $name) === 0) {
                return $bank;
            }
        }
        throw InputRejected::of('line', "There is no bank \"{$name}\" yet. Write it first: bank ".($name === '' ? '0' : $name).': u9 u10 u11 u12 u13 u14 u15 u16.');
    }

    /**
     * @throws InputRejected when there is none of that name
     */
    private static function find(stdClass $file, string $list, string $member, string $name): stdClass
    {
        foreach (self::list($file, $list) as $each) {
            if (strcasecmp(self::text($each, $member), $name) === 0) {
                return $each;
            }
        }
        throw InputRejected::of('line', $list === 'nets' ? "There is no net {$name} yet." : "There is no {$name} on this board yet. Add it: chip ".strtolower($name).' 74LS00 at 40,40.');
    }

    /**
     * @return list<stdClass>
     */
    private static function list(stdClass $file, string $name): array
    {
        $list = $file->{$name} ?? [];

        return is_array($list) ? array_values(array_filter($list, static fn (mixed $each): bool => $each instanceof stdClass)) : [];
    }

    private static function number(stdClass $of, string $member): float
    {
        return is_numeric($of->{$member} ?? null) ? (float) $of->{$member} : 0.0;
    }

    private static function text(stdClass $of, string $member): string
    {
        $value = $of->{$member} ?? '';

        return is_scalar($value) ? (string) $value : '';
    }
}
