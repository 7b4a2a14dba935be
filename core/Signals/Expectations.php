<?php

declare(strict_types=1);

namespace ZapTrace\Signals;

use ZapTrace\Bench\LogicShelf;
use ZapTrace\Bench\Machine;
use ZapTrace\Board\BoardProfile;
use ZapTrace\Board\Net;
use ZapTrace\Board\Netlist;
use ZapTrace\Parts\Logic\LogicUnit;

/**
 * What each pin of a healthy board shows: by simulating it in that situation, or by the profile alone where it says
 * so - supplies, pull-ups, what nothing drives.
 */
final class Expectations
{
    public const BY_SIMULATION = 'simulation';

    public const BY_PROFILE = 'profile';

    private ?Machine $machine = null;

    private readonly Structure $structure;

    /**
     * @param  array<string, string>  $positions  link => position
     * @param  array<string, true>  $absent  chips and assemblies that are out
     */
    public function __construct(private readonly BoardProfile $board, private readonly array $positions = [], private readonly array $absent = [], private readonly LogicShelf $shelf = new LogicShelf)
    {
        $this->structure = Structure::of($board);
    }

    /**
     * What a pin should show; null when it can be anything.
     *
     * @return array{state: ProbeState|null, hz: float|null, source: string}
     */
    public function at(string $pin, Situation $situation): array
    {
        $net = $this->board->netlist->netOf($pin);
        if ($net === null) {
            return ['state' => null, 'hz' => null, 'source' => self::BY_PROFILE];
        }
        if ($net->isPower()) {
            return ['state' => str_starts_with($net->name, '-') || $net->name === 'GND' ? ProbeState::Low : ProbeState::High, 'hz' => null, 'source' => self::BY_PROFILE];
        }
        $pull = $situation === Situation::Reset && $net->name === ($this->board->processor->resetNet ?? '') ? null : $this->board->netlist->pull($net);
        if ($this->structure->driversOf($net) === [] && $pull !== null && $this->structure->joined($net, $this->positions) === []) {
            return ['state' => $pull['rail'] === 'GND' ? ProbeState::Low : ProbeState::High, 'hz' => null, 'source' => self::BY_PROFILE];
        }
        if ($situation === Situation::AsFound && $net->kind !== 'clock' || ! $this->isModelled($net)) {
            return ['state' => null, 'hz' => null, 'source' => self::BY_PROFILE];
        }
        $state = $this->machine()->probe($pin, $situation === Situation::AsFound ? Situation::Reset : $situation);
        if ($state !== ProbeState::Pulsing && $this->mayMoveLater($net, $situation)) {
            return ['state' => null, 'hz' => null, 'source' => self::BY_SIMULATION];
        }

        return ['state' => $state, 'hz' => $this->hz($pin, $net, $state, $situation), 'source' => self::BY_SIMULATION];
    }

    /** The frequency of what has one: clocks, sync, the address lines of a free run. */
    private function hz(string $pin, Net $net, ProbeState $state, Situation $situation): ?float
    {
        $video = $this->board->video;
        if ($video !== null && $net->name === $video->lineNet) {
            return $video->lineHz;
        }
        if ($video !== null && $net->name === $video->fieldNet) {
            return $video->fieldHz();
        }
        if ($state !== ProbeState::Pulsing || $net->kind !== 'clock' && ! ($situation === Situation::FreeRun && $net->kind === 'address' && $this->isOfProcessor($net))) {
            return null;
        }
        $hz = $this->machine()->frequency($pin, $situation === Situation::AsFound ? Situation::Reset : $situation);

        return $hz > 0.0 ? $hz : null;
    }

    /** A processor that counts halves its clock from line to line; what is multiplexed after it has no one frequency. */
    private function isOfProcessor(Net $net): bool
    {
        $drivers = $this->structure->driversOf($net);

        return count($drivers) === 1 && $this->board->chips[Netlist::chipOf($drivers[0])]->kind() === 'processor';
    }

    /** Whether anything that drives the net has a function that is known. */
    private function isModelled(Net $net): bool
    {
        $drivers = $this->structure->driversOf($net);
        if ($drivers === []) {
            return true;
        }
        foreach ($drivers as $driver) {
            $chip = $this->board->chips[Netlist::chipOf($driver)];
            if (in_array($chip->kind(), ['dram', 'sram', 'rom', 'eprom', 'processor', 'oscillator'], true) || $chip->equations() !== '' || $chip->part === '6845') {
                return true;
            }
        }

        return false;
    }

    /**
     * A counter or picture generator that did not move in a short look may well move in a long one; not what reset holds while
     * it lasts.
     */
    private function mayMoveLater(Net $net, Situation $situation): bool
    {
        foreach ($this->structure->driversOf($net) as $driver) {
            $unit = $this->structure->unitOf($driver);
            if ($unit?->keeps() === true && ! ($situation === Situation::Reset && $this->isForced($driver, $unit)) || $this->board->chips[Netlist::chipOf($driver)]->part === '6845') {
                return true;
            }
        }

        return false;
    }

    /** Whether what is steady in reset holds what a part keeps. */
    private function isForced(string $output, LogicUnit $unit): bool
    {
        $levels = $moving = 0;
        foreach ($unit->inputs as $bit => $pin) {
            $state = $this->machine()->probe(Netlist::chipOf($output).".{$pin}", Situation::Reset);
            $levels |= $state === ProbeState::Low || $state === ProbeState::Pulsing ? 0 : 1 << $bit;
            $moving |= $state === ProbeState::Pulsing ? 1 << $bit : 0;
        }

        return $unit->isForced($levels) && $unit->isForced($levels | $moving);
    }

    private function machine(): Machine
    {
        return $this->machine ??= new Machine($this->board, [], 1, $this->shelf, $this->positions, $this->absent);
    }
}
