<?php

declare(strict_types=1);

namespace ZapTrace\Board;

use JsonException;
use ZapTrace\Diagnostics\Diagnostic;
use ZapTrace\Diagnostics\DiagnosticCode;
use ZapTrace\Formats\JsonNode;
use ZapTrace\Formats\SchemaValidator;
use ZapTrace\Numbers\Radix;
use ZapTrace\Parts\PartLibrary;
use ZapTrace\Problems\InputRejected;
use ZapTrace\Problems\ProblemList;
use ZapTrace\Rom\ChecksumKind;
use ZapTrace\Rom\FirmwareChecksum;

/**
 * Reads a board file: JSON, then the schema, then what a schema cannot say. All problems come at once.
 */
final readonly class BoardReader
{
    public const MAX_BYTES = 4 * 1024 * 1024;

    /**
     * @param  object|bool  $schema  the decoded board schema
     * @param  list<Sign>  $genericSigns  signs that any machine can show
     */
    public function __construct(
        private object|bool $schema,
        private PartLibrary $parts,
        private array $genericSigns = [],
        private SchemaValidator $validator = new SchemaValidator,
    ) {
    }

    /**
     * @throws InputRejected with every problem, each with its JSON pointer
     */
    public function read(string $json): BoardProfile
    {
        if (strlen($json) > self::MAX_BYTES) {
            throw InputRejected::of('', sprintf('The board file has %.1f MiB; at most %d MiB are read.', strlen($json) / 1048576, self::MAX_BYTES / 1048576));
        }
        if (str_starts_with($json, "\xEF\xBB\xBF")) {
            $json = substr($json, 3);
        }
        if (trim($json) === '') {
            throw InputRejected::of('', 'The board file is empty.');
        }

        try {
            $value = json_decode($json, false, 64, JSON_THROW_ON_ERROR);
        } catch (JsonException $reason) {
            throw InputRejected::of('', "This is not a JSON file: {$reason->getMessage()}. A board file is JSON text that starts with {.");
        }

        $problems = new ProblemList;
        $this->validator->validate($value, $this->schema, $problems);
        $problems->throwIfAny();

        $board = $this->build(JsonNode::of($value));
        (new BoardCheck($this->parts))->check(JsonNode::of($value), $board, $problems);
        $problems->throwIfAny();

        return $board;
    }

    private function build(JsonNode $node): BoardProfile
    {
        $assemblies = array_map($this->assembly(...), $node->each('assemblies'));
        if ($assemblies === []) {
            $assemblies = [new Assembly('main', 'main board', false, true, null)];
        }

        $chips = [];
        foreach ($node->each('chips') as $chip) {
            $chips[$chip->string('ref')] = $this->chip($chip, $assemblies[0]->id);
        }
        $settings = [];
        foreach (['links' => false, 'latches' => true] as $list => $isLatch) {
            foreach ($node->each($list) as $setting) {
                $settings[$setting->string('ref')] = $this->setting($setting, $isLatch);
            }
        }
        $banks = [];
        foreach ($node->each('banks') as $bank) {
            $banks[$bank->string('name')] = $this->bank($bank);
        }
        $bus = $node->at('bus');
        $width = $bus->integer('dataWidth');

        return new BoardProfile(
            $node->string('slug'),
            $node->string('name'),
            $node->string('revision'),
            $node->string('summary', ''),
            Radix::from($node->integer('radix', 16)),
            new Bus($width === 8 ? 8 : ($width === 16 ? 16 : 32), $bus->integer('addressWidth'), $bus->string('byteOrder', 'little') === 'big'),
            $node->has('plan') ? $this->plan($node->at('plan')) : null,
            $assemblies,
            $chips,
            $settings,
            $banks,
            new MemoryMap(array_map($this->range(...), $node->each('map'))),
            $node->has('screen') ? $this->screen($node->at('screen')) : null,
            $node->has('freeMemory') ? $this->freeMemory($node->at('freeMemory')) : null,
            array_map($this->diagnostic(...), $node->each('diagnostics')),
            $node->has('reasoning') ? $node->at('reasoning') : null,
            $node->has('processor') ? $this->processor($node->at('processor'), $chips) : null,
            array_map($this->rail(...), $node->each('rails')),
            $this->signs($node),
            array_map(static fn (JsonNode $function): TestedFunction => new TestedFunction($function->string('id'), $function->string('name'), $function->string('how', ''), $function->strings('sites'), $function->strings('banks'), $function->has('minutes') ? $function->number('minutes') : null), $node->each('functions')),
            array_map(static fn (JsonNode $check): array => ['words' => $check->string('words'), 'site' => $check->string('site')], $node->each('checks')),
            self::netlist($node, $chips),
            $node->has('video') ? new Video($node->at('video')->integer('lines'), $node->at('video')->boolean('interlaced', false), $node->at('video')->string('lineNet'), $node->at('video')->string('fieldNet'), $node->at('video')->integer('lineClocks', 64), $node->at('video')->number('lineHz', 15625.0)) : null,
            self::firmware($node),
        );
    }

    /**
     * @param  array<string, Chip>  $chips
     */
    private static function netlist(JsonNode $node, array $chips): Netlist
    {
        $nets = [];
        foreach ($node->each('nets') as $net) {
            $kind = $net->string('kind');
            assert(in_array($kind, ['data', 'address', 'control', 'clock', 'power', 'other'], true));
            $nets[$net->string('name')] = new Net($net->string('name'), $kind, preg_split('/\s+/', trim($net->string('pins'))) ?: []);
        }

        return new Netlist($nets, $chips);
    }

    /**
     * @param  array<string, Chip>  $chips
     */
    private function processor(JsonNode $node, array $chips): Processor
    {
        $basic = $node->string('basic', '');

        return new Processor(
            $node->string('chip'), $chips[$node->string('chip')]->part ?? '', $node->integer('clockHz'),
            $basic === 'peek' || $basic === 'indirect' ? $basic : null, $node->number('statementsPerSecond', 300.0), $node->string('resetNet', ''),
        );
    }

    private function rail(JsonNode $node): Rail
    {
        return new Rail(
            $node->string('name'), $node->number('volts'), $node->string('regulator'),
            $node->has('input') ? $node->number('input') : null, $node->strings('feeds'), $node->number('rippleMillivolts', 50.0),
        );
    }

    /**
     * @return array<string, Sign>
     */
    private function signs(JsonNode $node): array
    {
        $signs = [];
        foreach ([...array_map(Sign::fromNode(...), $node->each('signs')), ...$this->genericSigns] as $sign) {
            $signs[$sign->id] ??= $sign;
        }

        return $signs;
    }

    private function assembly(JsonNode $node): Assembly
    {
        $outline = $node->has('outline') ? $node->at('outline') : null;

        return new Assembly(
            $node->string('id'),
            $node->string('name'),
            $node->boolean('removable', false),
            $node->boolean('needed', true),
            $outline === null ? null : ['x' => $outline->number('x'), 'y' => $outline->number('y'), 'width' => $outline->number('width'), 'height' => $outline->number('height')],
            $node->has('access') ? $node->at('access')->string('words') : '',
            $node->has('access') ? $node->at('access')->number('minutes') : 0.0,
        );
    }

    private function chip(JsonNode $node, string $mainAssembly): Chip
    {
        $at = $node->has('at') ? $node->at('at') : null;

        return new Chip(
            $node->string('ref'),
            $node->string('part'),
            $node->string('role', ''),
            $node->string('assembly', $mainAssembly),
            $node->boolean('socketed', false),
            $at?->number('x'),
            $at?->number('y'),
            match ($at?->integer('turn', 0)) {
                90 => 90,
                180 => 180,
                270 => 270,
                default => 0,
            },
            $this->parts->find($node->string('part'))->memory->dataPins ?? [],
            $this->parts->find($node->string('part')),
            $node->string('logic', ''),
            $node->number('hz', 0.0),
            $node->string('contents', ''),
            $node->has('checksum') ? new FirmwareChecksum(
                ChecksumKind::from($node->at('checksum')->string('kind')), $node->at('checksum')->address('from'), $node->at('checksum')->address('to'),
                $node->at('checksum')->has('at') ? $node->at('checksum')->address('at') : null, $node->at('checksum')->has('is') ? $node->at('checksum')->integer('is') : null,
            ) : null,
        );
    }

    private function setting(JsonNode $node, bool $isLatch): Setting
    {
        $joins = [];
        $positions = [];
        foreach ($node->each('positions') as $position) {
            $positions[$position->string('name')] = $position->string('changes', '');
            foreach ($position->each('joins') as $pair) {
                [$from, $to] = array_map(static fn (JsonNode $net): string => $net->asString(), $pair->elements());
                $joins[$position->string('name')][] = [(string) $from, (string) $to];
            }
        }
        assert($positions !== []);
        $at = $node->has('at') ? $node->at('at') : null;

        return new Setting($node->string('ref'), $node->string('name'), $positions, $node->string('default'), $isLatch, $at?->number('x'), $at?->number('y'), $joins);
    }

    private function bank(JsonNode $node): Bank
    {
        $chipOfLine = [];
        foreach ($node->each('chips') as $entry) {
            foreach ($entry->strings('lines') as $line) {
                $chipOfLine[(int) substr($line, 1)] = $entry->string('chip');
            }
        }
        ksort($chipOfLine);
        $servers = [];
        foreach ($node->each('servedBy') as $server) {
            $role = $server->string('role');
            assert(in_array($role, ['select', 'strobe', 'multiplexer', 'buffer', 'refresh', 'supply'], true));
            $servers[] = new Server($server->string('chip'), $role, $server->strings('lines'));
        }

        return new Bank(
            $node->string('name'),
            $node->integer('width'),
            $node->integer('firstLine', 0),
            $chipOfLine,
            $node->has('multiplex') ? $this->multiplex($node->at('multiplex')) : null,
            $servers,
        );
    }

    private function multiplex(JsonNode $node): Multiplex
    {
        $bits = static fn (string $name): array => array_map(static fn (string $line): int => (int) substr($line, 1), $node->strings($name));
        $row = $bits('row');
        $column = $bits('column');
        assert($row !== [] && $column !== []);

        return new Multiplex($row, $column);
    }

    private function range(JsonNode $node): MapRange
    {
        $kind = RangeKind::from($node->string('kind'));
        $when = [];
        foreach ($node->members('when') as $ref => $positions) {
            $when[$ref] = array_map(static fn (JsonNode $position): string => $position->asString(), $positions->elements());
        }
        $access = $node->string('access', 'any');
        $where = $node->has('where') ? $node->at('where') : null;

        return new MapRange(
            $node->address('from'),
            $node->address('to'),
            $kind,
            $node->string('name', $kind->words()),
            $node->has('bank') ? $node->string('bank') : null,
            $node->address('bankAddress', 0),
            $node->has('chip') ? $node->string('chip') : null,
            $access === 'read' || $access === 'write' ? $access : 'any',
            $node->has('page') ? $node->integer('page') : null,
            $when,
            $where === null ? 0 : $where->address('mask'),
            $where === null ? 0 : $where->address('value'),
        );
    }

    private function plan(JsonNode $node): Plan
    {
        return new Plan(
            $node->number('width'),
            $node->number('height'),
            array_map(static fn (JsonNode $connector): array => [
                'name' => $connector->string('name'),
                'edge' => $connector->string('edge'),
                'at' => $connector->number('at'),
                'length' => $connector->number('length'),
            ], $node->each('connectors')),
            array_map(static fn (JsonNode $hole): array => ['x' => $hole->number('x'), 'y' => $hole->number('y')], $node->each('holes')),
        );
    }

    private function screen(JsonNode $node): ScreenLayout
    {
        $codes = [];
        foreach ($node->each('codes') as $run) {
            foreach (mb_str_split($run->string('characters')) as $i => $character) {
                $codes[$character] ??= $run->integer('first') + $i;
            }
        }
        $columns = $node->integer('columns');
        $step = $node->integer('step', 1);

        return new ScreenLayout(
            $node->address('from'),
            $columns,
            $node->integer('rows'),
            $node->integer('stride', $columns * $step),
            $step,
            array_map(static fn (string $line): int => (int) substr($line, 1), $node->strings('bitsLeftToRight')),
            $node->has('blank') ? $node->integer('blank') : null,
            $codes,
        );
    }

    /**
     * @return array<string, Firmware>
     */
    private static function firmware(JsonNode $node): array
    {
        $firmware = [];
        foreach ($node->each('firmware') as $entry) {
            $parts = [];
            foreach ($entry->each('parts') as $part) {
                $parts[$part->address('at')] = (string) hex2bin(strtr($part->string('bytes'), [' ' => '']));
            }
            $firmware[$entry->string('runs')] = new Firmware($entry->string('runs'), $entry->string('chip'), $parts, $entry->address('signal'));
        }

        return $firmware;
    }

    private function diagnostic(JsonNode $node): Diagnostic
    {
        $codes = [];
        foreach ($node->each('codes') as $code) {
            $codes[strtolower($code->string('code'))] = new DiagnosticCode(
                $code->string('code'),
                $code->string('name', ''),
                $code->has('bank') ? ['bank' => $code->string('bank'), 'line' => (int) substr($code->string('line'), 1)] : null,
                $code->strings('sites'),
            );
        }
        assert($codes !== []);
        $registers = $node->has('registers') ? $node->at('registers') : null;

        return new Diagnostic(
            $node->string('id'),
            $node->string('name'),
            $node->string('reports'),
            array_map(static fn (JsonNode $range): array => [$range->address('from'), $range->address('to')], $node->each('covers')),
            $codes,
            $node->string('revision', ''),
            $node->string('names', 'unknown'),
            $node->integer('minutes', 3),
            $node->string('insert', ''),
            $registers === null ? null : ['written' => $registers->string('written'), 'read' => $registers->string('read'), 'bank' => $registers->string('bank')],
        );
    }

    private function freeMemory(JsonNode $node): FreeMemoryRule
    {
        return new FreeMemoryRule(
            $node->address('from'),
            $node->integer('overhead', 0),
            $node->integer('unit', 1),
            $node->has('healthy') ? $node->integer('healthy') : null,
        );
    }
}
