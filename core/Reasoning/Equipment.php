<?php

declare(strict_types=1);

namespace ZapTrace\Reasoning;

/**
 * What a workshop may own.
 */
enum Equipment: string
{
    case Probe = 'probe';
    case Meter = 'meter';
    case Scope = 'scope';
    case CurrentProbe = 'current-probe';
    case Analyser = 'analyser';
    case Exerciser = 'exerciser';
    case Tester = 'tester';
    case EpromReader = 'eprom-reader';
    case Diagnostic = 'diagnostic';
    case ThermalCamera = 'thermal-camera';
    case CoolingSpray = 'cooling-spray';
    case HotAir = 'hot-air';
    case SolderingStation = 'soldering-station';
    case SecondMachine = 'second-machine';

    public function words(): string
    {
        return match ($this) {
            self::Probe => 'logic probe',
            self::Meter => 'multimeter',
            self::Scope => 'oscilloscope',
            self::CurrentProbe => 'current probe',
            self::Analyser => 'logic analyser',
            self::Exerciser => 'in-circuit exerciser',
            self::Tester => 'chip tester',
            self::EpromReader => 'EPROM reader',
            self::Diagnostic => 'diagnostic ROM or disk',
            self::ThermalCamera => 'thermal camera',
            self::CoolingSpray => 'cooling spray',
            self::HotAir => 'hot air',
            self::SolderingStation => 'desoldering station',
            self::SecondMachine => 'a second machine of the same kind',
        };
    }
}
