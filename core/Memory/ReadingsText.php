<?php

declare(strict_types=1);

namespace ZapTrace\Memory;

use ZapTrace\Board\BoardProfile;
use ZapTrace\Board\MapRange;
use ZapTrace\Board\RangeKind;
use ZapTrace\Board\Settings;
use ZapTrace\Formats\Lines;
use ZapTrace\Numbers\Notation;
use ZapTrace\Numbers\Radix;
use ZapTrace\Numbers\UnreadableNumber;
use ZapTrace\Problems\InputRejected;
use ZapTrace\Problems\ProblemList;

/**
 * Readings as lines of text: address, expected, read, parted by blanks or commas ("6C00 00 20", "6C00,00,20"), or
 * with an arrow ("6C00 00>20"). A heading line and comments after ";" are left aside. An address may carry a page
 * before it ("2:C000") and a width after it ("C000.w"; .b byte, .w word, .l long word).
 */
final class ReadingsText
{
    private const PLAIN = ['address', 'expected', 'read'];

    private const COLUMNS = [
        'address' => 'address', 'addr' => 'address', 'location' => 'address',
        'expected' => 'expected', 'wrote' => 'expected', 'written' => 'expected', 'exp' => 'expected',
        'read' => 'read', 'got' => 'read', 'seen' => 'read', 'actual' => 'read',
    ];

    /** @var array<string, int> */
    private array $parsed = [];

    /** @var array<int|string, list<MapRange>> what a read reaches, by page */
    private array $reached = [];

    /** The memory that the reading before reached. */
    private ?MapRange $latest = null;

    /**
     * @param  Settings|null  $settings  when given, a reading that reaches no memory under them is refused
     */
    public function __construct(
        private readonly BoardProfile $board,
        private readonly Radix $radix,
        private readonly ?Settings $settings = null,
    ) {
    }

    /**
     * @param  float  $held  seconds waited between writing and reading
     *
     * @throws InputRejected with every line that cannot be read
     */
    public function read(string $text, float $held = 0.0): ReadingSet
    {
        $set = new ReadingSet($this->board->bus);
        $problems = new ProblemList;
        $order = self::PLAIN;
        $any = false;
        $first = true;
        $plain = $this->radix === Radix::Hexadecimal; // One or two hexadecimal digits are a byte on every bus.
        $highest = $this->board->bus->highestAddress();
        $codes = [];
        foreach (Lines::of($text) as $line => $content) {
            // The usual line, and by far the commonest in a file of a million: the same as below, without the detours.
            if ($plain && preg_match('/^([0-9A-Fa-f]{1,8})[ ,]+([0-9A-Fa-f]{1,2})[ ,>]+([0-9A-Fa-f]{1,2})$/D', $content, $match) === 1 && $order === self::PLAIN) {
                $address = (int) hexdec($match[1]);
                if ($address <= $highest) {
                    $first = false;
                    $any = true;
                    if ($this->isMemory($address, null, $line, $problems)) {
                        $codes[] = $address << 16 | (int) hexdec($match[2]) << 8 | (int) hexdec($match[3]);
                    }

                    continue;
                }
            }
            $semicolon = strpos($content, ';');
            if ($semicolon !== false) {
                $content = substr($content, 0, $semicolon);
            }
            $fields = $this->fields($content);
            if ($fields === []) {
                continue;
            }
            if ($first) {
                $first = false;
                $heading = $this->heading($fields);
                if ($heading !== null) {
                    $order = $heading;

                    continue;
                }
            }
            $any = true;
            if (count($fields) !== count($order)) {
                $problems->atLine($line, 'Expected address, expected value and value read, found '.count($fields).' '.(count($fields) === 1 ? 'field' : 'fields').' in "'.mb_strimwidth(mb_scrub(trim($content)), 0, 40, '…').'".');

                continue;
            }
            $named = array_combine($order, $fields);
            $reading = $this->reading($named['address'] ?? '', $named['expected'] ?? '', $named['read'] ?? '', $line, $problems);
            if ($reading !== null) {
                $set->add($reading, $held);
            }
        }
        if (! $any && $problems->isEmpty()) {
            $problems->add('', 'There is no reading here. One line each: address, expected value, value read, such as 6C00 00 20.');
        }
        $problems->throwIfAny();
        $set->addBytes($codes, null, $held);

        return $set;
    }

    /**
     * @return list<string>
     */
    private function fields(string $content): array
    {
        if (str_contains($content, '"')) {
            $content = implode(' ', array_map(strval(...), str_getcsv($content, ',', '"', '')));
        }
        $content = trim(strtr($content, ['>' => ' ', '→' => ' ', ',' => ' ', "\t" => ' ', '=' => ' ']));

        return $content === '' ? [] : (preg_split('/ +/', $content) ?: []);
    }

    /**
     * @param  list<string>  $fields
     * @return list<string>|null the columns in their order, or null when this is no heading
     */
    private function heading(array $fields): ?array
    {
        $columns = array_map(static fn (string $field): string => self::COLUMNS[strtolower($field)] ?? $field, $fields);

        return in_array('address', $columns, true) && in_array('expected', $columns, true) && in_array('read', $columns, true) ? $columns : null;
    }

    private function reading(string $address, string $expected, string $read, int $line, ProblemList $problems): ?Reading
    {
        $bits = null;
        $page = null;
        if (preg_match('/^(.+)\.([bwlBWL])$/', $address, $match) === 1) {
            $address = $match[1];
            $bits = ['b' => 8, 'w' => 16, 'l' => 32][strtolower($match[2])];
        }
        $good = true;
        if (preg_match('/^([^:]+):(.+)$/', $address, $match) === 1) {
            $address = $match[2];
            $page = $this->number($match[1], 'page', $line, $problems);
            $good = $page !== null;
        }
        $numbers = [
            $this->number($address, 'address', $line, $problems),
            $this->number($expected, 'expected value', $line, $problems),
            $this->number($read, 'value read', $line, $problems),
        ];
        [$at, $wanted, $got] = $numbers;
        if (! $good || $at === null || $wanted === null || $got === null) {
            return null;
        }

        $bits ??= $this->board->bus->dataWidth === 8 ? 8 : max($this->width($expected), $this->width($read));
        $bits = $bits <= 8 ? 8 : ($bits <= 16 ? 16 : 32);

        return $this->fits($at, $wanted, $got, $bits, $line, $problems) && $this->isMemory($at, $page, $line, $problems) ? new Reading($at, $wanted, $got, $bits, $page) : null;
    }

    /**
     * @param  8|16|32  $bits
     */
    private function fits(int $address, int $expected, int $read, int $bits, int $line, ProblemList $problems): bool
    {
        $bus = $this->board->bus;
        $good = true;
        if ($bits > $bus->dataWidth) {
            $problems->atLine($line, "A reading of {$bits} bits is wider than the bus, which has {$bus->dataWidth} data lines.");

            return false;
        }
        if ($address > $bus->highestAddress()) {
            $problems->atLine($line, 'Address '.$this->show($address).' is outside memory: the last address is '.$this->show($bus->highestAddress()).'.');
            $good = false;
        }
        foreach (['expected value' => $expected, 'value read' => $read] as $what => $value) {
            if ($value >= 1 << $bits) {
                $problems->atLine($line, "The {$what} ".$this->show($value)." is wider than the {$bits} bits of ".($bits === $bus->dataWidth ? 'the bus' : 'this access').'.');
                $good = false;
            }
        }
        if ($good && $address % intdiv($bits, 8) !== 0) {
            $problems->atLine($line, "A reading of {$bits} bits cannot start at ".$this->show($address).'. Give it as single bytes (address with .b), or mend the address.');
            $good = false;
        }

        return $good;
    }

    private function isMemory(int $address, ?int $page, int $line, ProblemList $problems): bool
    {
        if ($this->settings === null) {
            return true;
        }
        if ($page === null && $this->latest !== null && $address >= $this->latest->from && $address <= $this->latest->to && $this->latest->mask === 0) {
            return true;
        }
        $found = null;
        foreach ($this->reached["{$page}"] ??= $this->board->map->reachedBy('read', $this->settings, $page) as $range) {
            if ($range->holds($address)) {
                $found = $range;
                break;
            }
        }
        if ($found?->kind === RangeKind::Ram) {
            $this->latest = $page === null ? $found : null;

            return true;
        }
        $what = $found === null || $found->kind === RangeKind::Open
            ? 'nothing answers there'
            : "a read there reaches {$found->kind->words()}".($found->chip === null ? '' : " ({$found->chip})");
        $problems->atLine($line, 'Address '.$this->show($address)." is outside memory: {$what}".$this->wayIn($address, $page).'.');

        return false;
    }

    /** The setting, if there is one, under which the address is memory. */
    private function wayIn(int $address, ?int $page): string
    {
        foreach ($this->board->map->ranges as $range) {
            if ($range->kind === RangeKind::Ram && $range->answersTo('read') && $range->holds($address) && $range->answersOnPage($page)) {
                $ways = [];
                foreach ($range->when as $ref => $positions) {
                    if (! in_array($this->settings?->position($ref), $positions, true)) {
                        $ways[] = "{$ref} at {$positions[0]}";
                    }
                }

                return $ways === [] ? '' : '; with '.implode(' and ', $ways).' it is memory';
            }
        }

        return '';
    }

    private function width(string $text): int
    {
        return Notation::writtenBits($text, $this->radix);
    }

    private function show(int $value): string
    {
        return Notation::format($value, $this->radix);
    }

    private function number(string $text, string $what, int $line, ProblemList $problems): ?int
    {
        if (isset($this->parsed[$text])) {
            return $this->parsed[$text];
        }
        try {
            $value = Notation::parse($text, $this->radix);
        } catch (UnreadableNumber $reason) {
            $problems->atLine($line, ucfirst($what).': '.$reason->getMessage());

            return null;
        }
        if (strlen($text) <= 4 && count($this->parsed) < 70000) {
            $this->parsed[$text] = $value;
        }

        return $value;
    }
}
