<?php

declare(strict_types=1);

namespace ZapTrace\Board;

use ZapTrace\Diagnostics\Diagnostic;
use ZapTrace\Formats\JsonNode;
use ZapTrace\Numbers\Radix;

/**
 * One revision of one board, read and checked. Built by BoardReader only.
 */
final readonly class BoardProfile
{
    /**
     * @param  non-empty-list<Assembly>  $assemblies
     * @param  array<string, Chip>  $chips  by reference
     * @param  array<string, Setting>  $settings  links and latches by reference
     * @param  array<string, Bank>  $banks  by name
     * @param  list<Diagnostic>  $diagnostics
     * @param  list<Rail>  $rails  in the order in which they have to come
     * @param  array<string, Sign>  $signs  known signs by id, the board's own first, then the generic ones
     * @param  list<TestedFunction>  $functions  what has to be tested before the machine goes back
     * @param  list<array{words: string, site: string}>  $checks  what to look at before power
     * @param  array<string, Firmware>  $firmware  by what it runs: "boot", or the id of a diagnostic
     * @param  JsonNode|null  $reasoning  what this machine fails of otherwise than others: priors, strengths and rates
     */
    public function __construct(
        public string $slug,
        public string $name,
        public string $revision,
        public string $summary,
        public Radix $radix,
        public Bus $bus,
        public ?Plan $plan,
        public array $assemblies,
        public array $chips,
        public array $settings,
        public array $banks,
        public MemoryMap $map,
        public ?ScreenLayout $screen,
        public ?FreeMemoryRule $freeMemory,
        public array $diagnostics = [],
        public ?JsonNode $reasoning = null,
        public ?Processor $processor = null,
        public array $rails = [],
        public array $signs = [],
        public array $functions = [],
        public array $checks = [],
        public Netlist $netlist = new Netlist([], []),
        public ?Video $video = null,
        public array $firmware = [],
    ) {
    }

    public function findSetting(string $ref): ?Setting
    {
        foreach ($this->settings as $setting) {
            if (strcasecmp($setting->ref, $ref) === 0) {
                return $setting;
            }
        }

        return null;
    }

    public function findChip(string $ref): ?Chip
    {
        foreach ($this->chips as $chip) {
            if (strcasecmp($chip->ref, $ref) === 0) {
                return $chip;
            }
        }

        return null;
    }

    public function findRail(string $name): ?Rail
    {
        foreach ($this->rails as $rail) {
            if ($rail->name === $name) {
                return $rail;
            }
        }

        return null;
    }

    /** The pin that gives a data line of a bank; null where it is not known. */
    public function dataPin(Bank $bank, int $line): ?string
    {
        $chip = $bank->chipOfLine[$line] ?? '';
        $place = array_search($line, $bank->linesOf($chip), true);
        $pin = $place === false ? null : $this->chips[$chip]->dataPins[$place] ?? null;

        return $pin === null ? null : "{$chip}.{$pin}";
    }

    /**
     * @return list<string> ROMs that the processor reads its programme from
     */
    public function programmes(): array
    {
        $mapped = array_unique(array_map(static fn (MapRange $range): string => $range->chip ?? '', $this->map->ranges));

        return array_values(array_filter($mapped, fn (string $ref): bool => in_array(($this->chips[$ref] ?? null)?->kind(), ['rom', 'eprom'], true)));
    }

    /**
     * @return list<string> what buffers the data of a memory chip
     */
    public function buffersOf(string $chip): array
    {
        $buffers = [];
        foreach ($this->banks as $bank) {
            foreach (in_array($chip, $bank->chips(), true) ? $bank->serversIn('buffer') : [] as $server) {
                $buffers[] = $server->chip;
            }
        }

        return $buffers;
    }

    /** How many places a bank has: by its rows and columns, or by the addresses it answers at. */
    public function cellsOf(string $bank): int
    {
        $multiplexed = ($this->banks[$bank] ?? null)?->multiplex?->cells();
        $sizes = array_map(static fn (MapRange $range): int => $range->bank === $bank && $range->access === 'any' ? $range->to - $range->from + 1 : 0, $this->map->ranges);

        return $multiplexed ?? max([0, ...$sizes]);
    }

    public function findFunction(string $id): ?TestedFunction
    {
        foreach ($this->functions as $function) {
            if (strcasecmp($function->id, $id) === 0) {
                return $function;
            }
        }

        return null;
    }

    public function findAssembly(string $name): ?Assembly
    {
        foreach ($this->assemblies as $assembly) {
            if (strcasecmp($assembly->id, $name) === 0 || strcasecmp($assembly->name, $name) === 0) {
                return $assembly;
            }
        }

        return null;
    }

    public function findDiagnostic(string $id): ?Diagnostic
    {
        foreach ($this->diagnostics as $diagnostic) {
            if (strcasecmp($diagnostic->id, $id) === 0) {
                return $diagnostic;
            }
        }

        return null;
    }

    /**
     * @return array<string, Setting> the jumpers and switches, without the latches
     */
    public function links(): array
    {
        return array_filter($this->settings, static fn (Setting $setting): bool => ! $setting->isLatch);
    }
}
