<?php

declare(strict_types=1);

namespace ZapTrace\Board;

use ZapTrace\Formats\JsonNode;
use ZapTrace\Parts\Logic\LogicFunction;
use ZapTrace\Parts\Logic\LogicMistake;
use ZapTrace\Parts\PartLibrary;
use ZapTrace\Problems\ProblemList;

/**
 * What must hold in a board file beyond its schema: names that refer to something, banks that cover their width,
 * ranges that do not collide.
 */
final readonly class BoardCheck
{
    public function __construct(private PartLibrary $parts)
    {
    }

    public function check(JsonNode $file, BoardProfile $board, ProblemList $problems): void
    {
        $this->names($file, $problems);
        $this->chips($file, $board, $problems);
        $this->settings($file, $problems);
        foreach ($file->each('banks') as $node) {
            $this->bank($node, $board, $problems);
        }
        foreach ($file->each('map') as $i => $node) {
            $this->range($node, $board->map->ranges[$i], $board, $problems);
        }
        $this->collisions($file, $board, $problems);
        $this->screen($file, $board, $problems);
        $this->diagnostics($file, $board, $problems);
        $this->supply($file, $board, $problems);
        $this->signsAndFunctions($file, $board, $problems);
        $this->nets($file, $board, $problems);
    }

    private function nets(JsonNode $file, BoardProfile $board, ProblemList $problems): void
    {
        $seen = [];
        $names = [];
        foreach ($file->each('nets') as $node) {
            $name = $node->string('name');
            if (isset($names[$name])) {
                $problems->add("{$node->pointer}/name", "There are two nets called {$name}.");
            }
            $names[$name] = true;
            foreach (preg_split('/\s+/', trim($node->string('pins'))) ?: [] as $pin) {
                $chip = $board->chips[Netlist::chipOf($pin)] ?? null;
                if ($chip === null) {
                    $problems->add("{$node->pointer}/pins", "Net {$name} goes to {$pin}, but there is no ".Netlist::chipOf($pin).' on this board.');
                } elseif (preg_match('/^[^.]+\.\d+$/', $pin) !== 1 || ! self::hasPin($chip, Netlist::numberOf($pin))) {
                    $problems->add("{$node->pointer}/pins", "Net {$name} goes to {$pin}, but a {$chip->part} has no such pin".($chip->type === null ? '.' : "; its pins are 1 to {$chip->type->pins}."));
                } elseif (isset($seen[$pin])) {
                    $problems->add("{$node->pointer}/pins", "{$pin} is on two nets, {$seen[$pin]} and {$name}.");
                }
                $seen[$pin] ??= $name;
            }
        }
        foreach ([...$file->each('links'), ...$file->each('latches')] as $setting) {
            foreach ($setting->each('positions') as $position) {
                foreach ($position->each('joins') as $pair) {
                    foreach ($pair->elements() as $net) {
                        if ($names !== [] && ! isset($names[(string) $net->asString()])) {
                            $problems->add($pair->pointer, "{$setting->string('ref')} joins {$net->asString()}, but there is no such net.");
                        }
                    }
                }
            }
        }
        foreach ($file->has('video') && $names !== [] ? ['lineNet', 'fieldNet'] : [] as $member) {
            if (! isset($names[$file->at('video')->string($member)])) {
                $problems->add("/video/{$member}", "There is no net {$file->at('video')->string($member)}.");
            }
        }
        foreach ($file->each('chips') as $node) {
            $chip = $board->chips[$node->string('ref')];
            if ($chip->logic !== '') {
                try {
                    LogicFunction::parse($chip->logic, $chip->type->pinout ?? []);
                } catch (LogicMistake $mistake) {
                    $problems->add("{$node->pointer}/logic", "The equations of {$chip->ref} cannot be read: {$mistake->getMessage()}");
                }
            }
        }
    }

    private static function hasPin(Chip $chip, int $number): bool
    {
        if ($chip->type === null) {
            return $number >= 1;
        }

        return $number >= 1 && $number <= max($chip->type->pins, count($chip->type->pinout)) && ($chip->type->pinout[$number - 1] ?? '') !== '-' || $chip->part === 'ELCAP';
    }

    private function supply(JsonNode $file, BoardProfile $board, ProblemList $problems): void
    {
        foreach ($file->each('rails') as $node) {
            $regulator = $node->string('regulator');
            $this->knownChip("{$node->pointer}/regulator", $regulator, "Rail {$node->string('name')}", $board, $problems);
            foreach ($node->strings('feeds') as $place => $ref) {
                $this->knownChip("{$node->pointer}/feeds/{$place}", $ref, "Rail {$node->string('name')}", $board, $problems);
            }
            $gives = $board->chips[$regulator]->type->regulator->rail ?? null;
            if ($gives !== null && $gives !== $node->string('name')) {
                $problems->add("{$node->pointer}/regulator", "{$regulator} is a {$board->chips[$regulator]->part}, which gives {$gives} V, not {$node->string('name')} V.");
            }
        }
        if ($file->has('processor')) {
            $this->knownChip("{$file->at('processor')->pointer}/chip", $file->at('processor')->string('chip'), 'The processor', $board, $problems);
        }
    }

    private function signsAndFunctions(JsonNode $file, BoardProfile $board, ProblemList $problems): void
    {
        foreach ($file->each('signs') as $node) {
            foreach (array_keys($node->members('sites')) as $ref) {
                $this->knownChip("{$node->pointer}/sites/{$ref}", (string) $ref, "The sign \"{$node->string('words')}\"", $board, $problems);
            }
            foreach ($node->strings('excludes') as $place => $id) {
                if (! isset($board->signs[$id])) {
                    $problems->add("{$node->pointer}/excludes/{$place}", "The sign \"{$node->string('words')}\" excludes \"{$id}\", which is no sign of this board nor one of those any machine can show. Take it out, or add it to \"signs\".");
                }
            }
        }
        foreach ($file->each('functions') as $node) {
            foreach ($node->strings('sites') as $place => $ref) {
                $this->knownChip("{$node->pointer}/sites/{$place}", $ref, "The function \"{$node->string('name')}\"", $board, $problems);
            }
            foreach ($node->strings('banks') as $place => $bank) {
                if (! isset($board->banks[$bank])) {
                    $problems->add("{$node->pointer}/banks/{$place}", "The function \"{$node->string('name')}\" fills bank {$bank}, which is not on this board.");
                }
            }
        }
        foreach ($file->each('checks') as $node) {
            $site = $node->string('site');
            if (! isset($board->chips[$site]) && $board->findSetting($site) === null && $board->findAssembly($site) === null) {
                $problems->add("{$node->pointer}/site", "There is no {$site} on this board to look at.");
            }
        }
    }

    private function diagnostics(JsonNode $file, BoardProfile $board, ProblemList $problems): void
    {
        foreach ($file->each('diagnostics') as $node) {
            $seen = [];
            foreach ($node->each('codes') as $code) {
                $bank = $code->has('bank') ? $board->banks[$code->string('bank')] ?? null : null;
                if ($code->has('bank') && ($bank === null || ! isset($bank->chipOfLine[(int) substr($code->string('line'), 1)]))) {
                    $problems->add($code->pointer, "Code {$code->string('code')} of the {$node->string('name')} names {$code->string('line')} of bank {$code->string('bank')}, where there is no chip.");
                }
                if (! $code->has('bank') && $code->strings('sites') === []) {
                    $problems->add($code->pointer, "Code {$code->string('code')} of the {$node->string('name')} names nothing. Give it a bank and a line, or the chips it names (\"sites\").");
                }
                foreach ($code->strings('sites') as $place => $site) {
                    if (! isset($board->chips[$site])) {
                        $problems->add("{$code->pointer}/sites/{$place}", "Code {$code->string('code')} of the {$node->string('name')} names {$site}, which is not on the board.");
                    }
                }
                if (isset($seen[strtolower($code->string('code'))])) {
                    $problems->add("{$code->pointer}/code", "Code {$code->string('code')} stands twice in the table of the {$node->string('name')}.");
                }
                $seen[strtolower($code->string('code'))] = true;
            }
        }
    }

    private function names(JsonNode $file, ProblemList $problems): void
    {
        foreach ([['chips', 'links', 'latches'], ['banks'], ['assemblies']] as $lists) {
            $seen = [];
            foreach ($lists as $list) {
                foreach ($file->each($list) as $node) {
                    $member = $list === 'banks' ? 'name' : ($list === 'assemblies' ? 'id' : 'ref');
                    $name = $node->string($member);
                    $key = strtolower($name);
                    if (isset($seen[$key])) {
                        $problems->add("{$node->pointer}/{$member}", "{$name} is used twice; the first is at {$seen[$key]}.");
                    }
                    $seen[$key] ??= $node->pointer;
                }
            }
        }
    }

    private function chips(JsonNode $file, BoardProfile $board, ProblemList $problems): void
    {
        $assemblies = array_map(static fn (Assembly $assembly): string => $assembly->id, $board->assemblies);
        foreach ($file->each('chips') as $node) {
            $ref = $node->string('ref');
            $part = $node->string('part');
            if ($this->parts->find($part) === null) {
                $problems->add("{$node->pointer}/part", "{$ref} is a {$part}, which is not in the part library. Use a generic type number, such as 4164 or 74LS257.");
            }
            if ($node->has('assembly') && ! in_array($node->string('assembly'), $assemblies, true)) {
                $problems->add("{$node->pointer}/assembly", "{$ref} sits on \"{$node->string('assembly')}\", but the assemblies are ".implode(', ', $assemblies).'.');
            }
            if ($node->has('at') && $board->plan !== null) {
                $at = $node->at('at');
                if ($at->number('x') < 0 || $at->number('x') > $board->plan->width || $at->number('y') < 0 || $at->number('y') > $board->plan->height) {
                    $problems->add("{$node->pointer}/at", "{$ref} lies outside the plan, which is {$board->plan->width} x {$board->plan->height} mm.");
                }
            }
        }
    }

    private function settings(JsonNode $file, ProblemList $problems): void
    {
        foreach ([...$file->each('links'), ...$file->each('latches')] as $node) {
            $names = array_map(static fn (JsonNode $position): string => $position->string('name'), $node->each('positions'));
            if (! in_array($node->string('default'), $names, true)) {
                $problems->add("{$node->pointer}/default", "{$node->string('ref')} has the default \"{$node->string('default')}\", but its positions are ".implode(', ', $names).'.');
            }
            if (count(array_unique(array_map(strtolower(...), $names))) < count($names)) {
                $problems->add("{$node->pointer}/positions", "{$node->string('ref')} has two positions with one name.");
            }
        }
    }

    private function bank(JsonNode $node, BoardProfile $board, ProblemList $problems): void
    {
        $name = $node->string('name');
        $first = $node->integer('firstLine', 0);
        $width = $node->integer('width');
        if ($first + $width > $board->bus->dataWidth) {
            $problems->add("{$node->pointer}/width", "Bank {$name} answers on D{$first} to D".($first + $width - 1).", but the bus has {$board->bus->dataWidth} data lines.");
        }

        $holder = [];
        foreach ($node->each('chips') as $entry) {
            $chip = $entry->string('chip');
            $lines = $entry->strings('lines');
            $this->knownChip("{$entry->pointer}/chip", $chip, "Bank {$name}", $board, $problems);
            foreach ($lines as $line) {
                $number = (int) substr($line, 1);
                if ($number < $first || $number >= $first + $width) {
                    $problems->add("{$entry->pointer}/lines", "{$chip} holds {$line}, which is outside bank {$name} (D{$first} to D".($first + $width - 1).').');
                }
                if (isset($holder[$number])) {
                    $problems->add("{$entry->pointer}/lines", "{$line} of bank {$name} is held by both {$holder[$number]} and {$chip}.");
                }
                $holder[$number] ??= $chip;
            }
            $geometry = isset($board->chips[$chip]) ? $this->parts->find($board->chips[$chip]->part)?->memory : null;
            if ($geometry !== null && count($lines) > $geometry->bits) {
                $problems->add("{$entry->pointer}/lines", "{$chip} is a {$board->chips[$chip]->part}, {$geometry->bits} bit".($geometry->bits > 1 ? 's' : '').' wide, but is given '.count($lines).' data lines.');
            }
        }
        $missing = array_diff(range($first, $first + $width - 1), array_keys($holder));
        if ($missing !== []) {
            $problems->add("{$node->pointer}/chips", "Bank {$name} is {$width} bits wide, but no chip holds ".implode(', ', array_map(static fn (int $line): string => "D{$line}", $missing)).'.');
        }

        foreach ($node->each('servedBy') as $server) {
            $this->knownChip("{$server->pointer}/chip", $server->string('chip'), "Bank {$name}", $board, $problems);
        }
        if ($node->has('multiplex')) {
            $multiplex = $node->at('multiplex');
            $bits = [...$multiplex->strings('row'), ...$multiplex->strings('column')];
            if (count(array_unique($bits)) < count($bits)) {
                $problems->add($multiplex->pointer, "An address bit of bank {$name} appears twice among its rows and columns.");
            }
        }
    }

    private function range(JsonNode $node, MapRange $range, BoardProfile $board, ProblemList $problems): void
    {
        if ($range->to < $range->from) {
            $problems->add($node->pointer, "The range ends at {$node->string('to')}, before it starts at {$node->string('from')}.");
        }
        if ($range->to > $board->bus->highestAddress()) {
            $problems->add("{$node->pointer}/to", "{$node->string('to')} is beyond the last address of {$board->bus->addressWidth} address lines.");
        }
        if (($range->value & ~$range->mask) !== 0) {
            $problems->add("{$node->pointer}/where", 'The value has bits that the mask leaves out, so no address can match.');
        }
        foreach ($range->when as $ref => $positions) {
            $setting = $board->settings[$ref] ?? null;
            if ($setting === null) {
                $problems->add("{$node->pointer}/when/{$ref}", "There is no link or latch called {$ref}.");

                continue;
            }
            foreach ($positions as $position) {
                if (! isset($setting->positions[$position])) {
                    $problems->add("{$node->pointer}/when/{$ref}", "{$ref} has no position \"{$position}\"; it has ".implode(', ', array_keys($setting->positions)).'.');
                }
            }
        }
        if ($range->chip !== null) {
            $this->knownChip("{$node->pointer}/chip", $range->chip, 'This range', $board, $problems);
        }
        if ($range->kind === RangeKind::Ram) {
            $this->ramRange($node, $range, $board, $problems);
        } elseif ($range->bank !== null) {
            $problems->add("{$node->pointer}/bank", 'Only a range of kind ram has a bank.');
        }
    }

    private function ramRange(JsonNode $node, MapRange $range, BoardProfile $board, ProblemList $problems): void
    {
        $bank = $range->bank === null ? null : ($board->banks[$range->bank] ?? null);
        if ($bank === null) {
            $problems->add($node->pointer.($range->bank === null ? '' : '/bank'), $range->bank === null
                ? 'A range of kind ram needs a bank.'
                : "There is no bank \"{$range->bank}\"; the banks are ".implode(', ', array_keys($board->banks)).'.');

            return;
        }
        foreach ($bank->chips() as $ref) {
            $geometry = isset($board->chips[$ref]) ? $this->parts->find($board->chips[$ref]->part)?->memory : null;
            if ($geometry === null || $range->to < $range->from) {
                continue;
            }
            // A bank's chips see the address without the lines that pick lanes and interleaved banks.
            $picked = substr_count(decbin($range->mask), '1') + (int) log($board->bus->lanes(), 2);
            $words = ($range->bankAddressOf($range->to) + 1) >> $picked;
            if ($words > $geometry->words) {
                $problems->add($node->pointer, "This range reaches word {$words} of {$ref}, a {$board->chips[$ref]->part} with {$geometry->words} words.");

                return;
            }
        }
    }

    private function collisions(JsonNode $file, BoardProfile $board, ProblemList $problems): void
    {
        $nodes = $file->each('map');
        $ranges = $board->map->ranges;
        // Quadratic in the ranges of one board file: some dozens at the most.
        foreach ($ranges as $i => $a) {
            for ($j = 0; $j < $i; $j++) {
                $b = $ranges[$j];
                if ($this->collide($a, $b)) {
                    $problems->add($nodes[$i]->pointer, "{$a->name} ({$this->span($a)}) collides with {$b->name} ({$this->span($b)}) at {$nodes[$j]->pointer}: the same access under the same settings would reach both. Tell them apart by access, when, page or where.");
                }
            }
        }
    }

    private function collide(MapRange $a, MapRange $b): bool
    {
        if ($a->from > $b->to || $b->from > $a->to) {
            return false;
        }
        if ((($a->value ^ $b->value) & $a->mask & $b->mask) !== 0) {
            return false;
        }
        if ($a->access !== 'any' && $b->access !== 'any' && $a->access !== $b->access) {
            return false;
        }
        if ($a->page !== null && $b->page !== null && $a->page !== $b->page) {
            return false;
        }
        foreach ($a->when as $ref => $positions) {
            if (isset($b->when[$ref]) && array_intersect($positions, $b->when[$ref]) === []) {
                return false;
            }
        }

        return true;
    }

    private function screen(JsonNode $file, BoardProfile $board, ProblemList $problems): void
    {
        if ($board->screen === null) {
            return;
        }
        $last = $board->screen->addressOf($board->screen->columns - 1, $board->screen->rows - 1);
        if ($last > $board->bus->highestAddress()) {
            $problems->add('/screen', 'The last cell of the screen lies beyond the last address.');
        }
    }

    private function knownChip(string $pointer, string $chip, string $who, BoardProfile $board, ProblemList $problems): void
    {
        if (! isset($board->chips[$chip])) {
            $problems->add($pointer, "{$who} names {$chip}, but there is no such chip on the board.");
        }
    }

    private function span(MapRange $range): string
    {
        return sprintf('%04X to %04X', $range->from, $range->to);
    }
}
