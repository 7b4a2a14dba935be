<?php

declare(strict_types=1);

namespace ZapTrace\Reasoning;

use ZapTrace\Board\Chip;
use ZapTrace\Formats\JsonNode;

/**
 * What steps take and put at risk, what repairs cost, and what each school makes of kinds of step. From a data file.
 */
final readonly class StepKnowledge
{
    /**
     * @param  array<string, array{kind: string, minutes: float, risk: string, riskMinutes: float, caution: string}>  $steps
     * @param  array<string, float>  $repair
     * @param  array<string, array<string, float>>  $schools
     * @param  list<Caution>  $cautions
     */
    private function __construct(private array $steps, private array $repair, private array $schools, private array $cautions)
    {
    }

    /**
     * @throws \JsonException when the file is damaged
     */
    public static function fromJson(string $json): self
    {
        $node = JsonNode::decode($json);
        $numbers = static fn (JsonNode $of, string $member): array => array_map(
            static fn (JsonNode $value): float => $value->asNumber(),
            array_filter($of->members($member), static fn (string $name): bool => $name !== 'comment', ARRAY_FILTER_USE_KEY),
        );
        $schools = array_map(static fn (School $school): string => $school->value, School::cases());

        return new self(
            array_map(static fn (JsonNode $step): array => [
                'kind' => $step->string('kind'), 'minutes' => $step->number('minutes'), 'risk' => $step->string('risk'),
                'riskMinutes' => $step->number('riskMinutes'), 'caution' => $step->string('caution', ''),
            ], $node->members('steps')),
            $numbers($node, 'repair'),
            array_combine($schools, array_map(static fn (string $school): array => $numbers($node->at('schools'), $school), $schools)),
            array_map(static fn (JsonNode $caution): Caution => new Caution($caution->string('kind'), $caution->string('name'), $caution->string('words'), $caution->strings('actions'), $caution->strings('parts')), $node->each('cautions')),
        );
    }

    /**
     * @return array{kind: string, minutes: float, risk: string, riskMinutes: float, caution: string}
     */
    public function step(string $name): array
    {
        return $this->steps[$name] ?? ['kind' => 'measure', 'minutes' => 5.0, 'risk' => 'none', 'riskMinutes' => 0.0, 'caution' => ''];
    }

    /**
     * What can hurt at a step, and at the part it is done to.
     *
     * @return list<Caution>
     */
    public function cautions(string $action, ?Chip $chip): array
    {
        return array_values(array_filter($this->cautions, static fn (Caution $caution): bool => in_array($action, $caution->actions, true)
            || ($chip !== null && array_intersect([$chip->part, $chip->kind()], $caution->parts) !== [])));
    }

    /**
     * @return list<Caution>
     */
    public function allCautions(): array
    {
        return $this->cautions;
    }

    /** Minutes. */
    public function repair(string $what): float
    {
        return $this->repair[$what] ?? 0.0;
    }

    /** What the school multiplies the price of this kind of step by. */
    public function school(School $school, string $kind): float
    {
        return $this->schools[$school->value][$kind] ?? 1.0;
    }
}
