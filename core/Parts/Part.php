<?php

declare(strict_types=1);

namespace ZapTrace\Parts;

/**
 * A type of part, by its generic number.
 */
final readonly class Part
{
    /**
     * @param  string  $name  generic type number with its family: 74LS257, 4164
     * @param  string  $kind  dram, sram, rom, eprom, processor, peripheral, video, logic, programmed, regulator, oscillator, connector or discrete
     * @param  list<string>  $pinout  names of its pins from 1 on, "/" before what is active low; "-" where there is none; empty when unknown
     * @param  list<Supply>  $supply  what it wants of each rail
     * @param  string  $order  in which order its rails have to come and go, "" when that does not matter
     * @param  list<Equivalent>  $equivalents
     * @param  Levels|null  $levels  null when the library does not know them
     * @param  list<string>  $outputs  names of the pins that drive
     * @param  list<string>  $both  names of the pins that drive or listen
     * @param  string  $logic  what it makes of its inputs, as equations; "" when the library has none
     * @param  ProcessorBus|null  $bus  of a processor: how an analyser reads its bus
     * @param  bool  $wide  true when the pin rows are 0.6 inch apart, false for 0.3 inch
     */
    public function __construct(
        public string $name,
        public string $title,
        public string $kind,
        public int $pins,
        public bool $wide,
        public ?MemoryGeometry $memory,
        public string $source,
        public array $pinout = [],
        public array $supply = [],
        public string $order = '',
        public ?Regulator $regulator = null,
        public array $equivalents = [],
        public ?Levels $levels = null,
        public array $outputs = [],
        public array $both = [],
        public string $logic = '',
        public ?ProcessorBus $bus = null,
    ) {
    }

    /**
     * @return list<Pin> in order of their numbers; places without a pin are left out
     */
    public function pinList(): array
    {
        return PinLists::of($this);
    }

    /**
     * The same, read from the pinout anew.
     *
     * @return list<Pin>
     */
    public function readPins(): array
    {
        $pins = [];
        foreach ($this->pinout as $place => $name) {
            if ($name !== '-') {
                $low = strlen($name) > 1 && $name[0] === '/';
                $pins[] = new Pin($place + 1, $low ? substr($name, 1) : $name, $low, $this->direction($name));
            }
        }

        return $pins;
    }

    /**
     * What it makes of its inputs, to be read: an equation a line, with ! for not, & for and, | for or, ^ for either, ? : for a
     * choice, := for what is kept at a clock edge. Empty when the library has none.
     *
     * @return list<string>
     */
    public function equations(): array
    {
        return array_values(array_filter(array_map(
            static fn (string $equation): string => (string) preg_replace('/^\[(\w+)-(\w+)\] /', 'for # = $1 to $2: ', trim($equation)),
            explode(';', $this->logic),
        )));
    }

    /**
     * @return 'in'|'out'|'both'|'supply'|'passive'|'none'
     */
    private function direction(string $name): string
    {
        return match (true) {
            $name === 'NC' => 'none',
            in_array($name, ['VCC', 'VDD', 'VBB', 'VSS', 'GND', 'VPP'], true) => 'supply',
            in_array($name, $this->outputs, true) => 'out',
            in_array($name, $this->both, true) => 'both',
            in_array($this->kind, ['discrete', 'connector', 'custom'], true), $this->name === 'CRYSTAL' => 'passive',
            default => 'in',
        };
    }
}
