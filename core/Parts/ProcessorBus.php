<?php

declare(strict_types=1);

namespace ZapTrace\Parts;

use ZapTrace\Formats\JsonNode;

/**
 * How an analyser reads the bus of a processor: which pins carry what, and at which edge of which strobe a cycle is
 * complete.
 */
final readonly class ProcessorBus
{
    /**
     * @param  list<string>  $address  pins, the number in a name is its bit
     * @param  list<string>  $data
     * @param  array{signal: string, edge: string}|null  $latch  at which lines that carry both have the address
     * @param  list<array{kind: string, strobe: string, edge: string, when: array<string, int>}>  $cycles  the first that fits is the kind of a cycle
     * @param  list<string>  $interrupts
     * @param  list<string>  $waits
     * @param  array{how: string, at: int, order: string, vectors: list<int>}  $start
     */
    private function __construct(
        public array $address,
        public array $data,
        public ?array $latch,
        public array $cycles,
        public string $reset,
        public string $clock,
        public array $interrupts,
        public array $waits,
        public array $start,
    ) {
    }

    public static function read(JsonNode $node): self
    {
        $words = static fn (string $name): array => $node->string($name, '') === '' ? [] : explode(' ', $node->string($name));

        return new self(
            self::expanded($node->string('address')),
            self::expanded($node->string('data')),
            $node->has('latch') ? ['signal' => $node->at('latch')->string('signal'), 'edge' => $node->at('latch')->string('edge')] : null,
            array_map(static fn (JsonNode $cycle): array => [
                'kind' => $cycle->string('kind'), 'strobe' => $cycle->string('strobe'), 'edge' => $cycle->string('edge'),
                'when' => array_map(static fn (JsonNode $level): int => $level->asInteger(), $cycle->members('when')),
            ], $node->each('cycles')),
            $node->string('reset'),
            $node->string('clock'),
            $words('interrupts'),
            $words('waits'),
            [
                'how' => $node->at('start')->string('how'), 'at' => $node->at('start')->integer('at'), 'order' => $node->at('start')->string('order'),
                'vectors' => array_map(static fn (JsonNode $vector): int => $vector->asInteger(), $node->at('start')->each('vectors')),
            ],
        );
    }

    /** The bit that a pin of the address or data bus carries: 12 for A12, 3 for AD3. */
    public static function bitOf(string $signal): int
    {
        return (int) preg_replace('/\D+/', '', $signal);
    }

    /**
     * @return list<string> every signal that it takes to tell the cycles apart
     */
    public function strobes(): array
    {
        $signals = $this->latch === null ? [] : [$this->latch['signal']];
        foreach ($this->cycles as $cycle) {
            array_push($signals, $cycle['strobe'], ...array_keys($cycle['when']));
        }

        return array_values(array_unique($signals));
    }

    /**
     * @return list<string> address, data, strobes and the lines that are watched beside them
     */
    public function signals(): array
    {
        return array_values(array_unique([...$this->address, ...$this->data, ...$this->strobes(), $this->reset, $this->clock, ...$this->interrupts, ...$this->waits]));
    }

    /**
     * @return list<string>
     */
    private static function expanded(string $ranges): array
    {
        $names = [];
        foreach (explode(' ', $ranges) as $range) {
            if (preg_match('/^(\D+)(\d+)-\D+(\d+)$/', $range, $match) === 1) {
                for ($number = (int) $match[2]; $number <= (int) $match[3]; $number++) {
                    $names[] = "{$match[1]}{$number}";
                }
            } else {
                $names[] = $range;
            }
        }

        return $names;
    }
}
