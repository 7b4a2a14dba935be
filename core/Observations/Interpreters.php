<?php

declare(strict_types=1);

namespace ZapTrace\Observations;

/**
 * The interpreters there are, by kind of observation.
 */
final readonly class Interpreters
{
    /** @var array<string, Interpreter> */
    private array $byKind;

    public function __construct(Interpreter ...$interpreters)
    {
        $byKind = [];
        foreach ($interpreters as $interpreter) {
            $byKind[$interpreter->kind()] = $interpreter;
        }
        $this->byKind = $byKind;
    }

    public static function all(): self
    {
        return new self(new MemoryReadings, new MemoryFile, new FreeMemory, new ScreenCharacter, new ScreenStripe, new SettingMoved, new Intervention, new DiagnosticRun, new ChipTest, new SecondMachine, new Condition, new History, new SetAside, new SetupCheck, new Tried, new Look, new RailMeasured, new Heat, new SignSeen, new FunctionTest, new PowerOns, new Photo, new PhotoMark, new PartLabelled, new MemoryTestRun, new PinProbed, new PinsWalked, new ContinuityTested, new PinsMeasured, new LineDropMeasured, new RomRead, new BusCaptured);
    }

    public function find(string $kind): ?Interpreter
    {
        return $this->byKind[$kind] ?? null;
    }

    /**
     * @return list<string> the kinds that do something to the machine, or tell of its state
     */
    public function changing(): array
    {
        return [SettingMoved::KIND, ...array_keys(array_filter($this->byKind, static fn (Interpreter $interpreter): bool => $interpreter instanceof ChangesMachine))];
    }

    /**
     * @return list<WeighsTogether>
     */
    public function together(): array
    {
        return array_values(array_filter($this->byKind, static fn (Interpreter $interpreter): bool => $interpreter instanceof WeighsTogether));
    }

    /**
     * @return list<string>
     */
    public function kinds(): array
    {
        return array_keys($this->byKind);
    }
}
