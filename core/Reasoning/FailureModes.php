<?php

declare(strict_types=1);

namespace ZapTrace\Reasoning;

use ZapTrace\Formats\JsonNode;
use ZapTrace\Problems\InputRejected;
use ZapTrace\Problems\ProblemList;

/**
 * The modes of failure that are weighed: how likely each is beforehand, how strongly it shows in each kind of
 * evidence, what relieves it, and how often the methods err. Read from its data file; a board profile can override it
 * for its machine.
 */
final readonly class FailureModes
{
    /**
     * @param  array<string, list<FailureMode>>  $byCause
     * @param  array<string, float>  $rates  error rates of the methods
     * @param  array<string, float>  $parts  what a fitted part multiplies priors by: new, tested, known-good, second
     * @param  array<string, array<string, float>>  $history  what a fact from the check-in, or a sight before power, multiplies priors by: mode => factor, "*" for the others
     * @param  array<string, Tester>  $testers  by method
     */
    private function __construct(private array $byCause, private array $rates, private array $parts, private array $history, private array $testers)
    {
    }

    /**
     * @throws \JsonException when the file is damaged
     */
    public static function fromJson(string $json): self
    {
        $node = JsonNode::decode($json);
        $byCause = [];
        foreach ($node->each('modes') as $mode) {
            $byCause[$mode->string('cause')][] = new FailureMode($mode->string('cause'), $mode->string('mode'), $mode->number('prior'), self::numbers($mode, 'shows'), self::numbers($mode, 'relief'), self::numbers($mode, 'under'), $mode->number('perRun', 0.0), $mode->number('crash', 0.0), $mode->boolean('ofPlace', false));
        }
        $testers = [];
        foreach ($node->each('testers') as $tester) {
            $testers[$tester->string('method')] = new Tester($tester->string('method'), $tester->strings('kinds'), $tester->number('falseAlarm'), $tester->number('miss'), $tester->number('blind'));
        }

        return new self($byCause, self::numbers($node, 'rates'), self::numbers($node, 'parts'), self::facts($node), $testers);
    }

    /**
     * The same with what a board profile says of its machine.
     *
     * @throws InputRejected when it overrides what does not exist
     */
    public function overriddenBy(?JsonNode $reasoning): self
    {
        if ($reasoning === null) {
            return $this;
        }
        $problems = new ProblemList;
        $byCause = $this->byCause;
        foreach ($reasoning->each('modes') as $number => $change) {
            $cause = $change->string('cause');
            $place = null;
            foreach ($byCause[$cause] ?? [] as $at => $mode) {
                $place = $mode->name === $change->string('mode') ? $at : $place;
            }
            if ($place === null) {
                $known = array_map(static fn (FailureMode $mode): string => $mode->name, $byCause[$cause] ?? []);
                $problems->add("/reasoning/modes/{$number}", $known === []
                    ? "There is no cause \"{$cause}\". There are ".implode(', ', array_keys($byCause)).'.'
                    : "A {$cause} has no mode \"{$change->string('mode')}\". It has ".implode(', ', $known).'.');

                continue;
            }
            $mode = $byCause[$cause][$place];
            $byCause[$cause][$place] = new FailureMode($mode->cause, $mode->name, $change->number('prior', $mode->prior), [...$mode->shows, ...self::numbers($change, 'shows')], $mode->relief, $mode->under, $mode->perRun, $mode->crash, $mode->ofPlace);
        }
        $rates = self::numbers($reasoning, 'rates');
        foreach (array_keys(array_diff_key($rates, $this->rates)) as $unknown) {
            $problems->add("/reasoning/rates/{$unknown}", "There is no rate \"{$unknown}\". There are ".implode(', ', array_keys($this->rates)).'.');
        }
        $problems->throwIfAny();

        return new self(array_map(array_values(...), $byCause), [...$this->rates, ...$rates], $this->parts, $this->history, $this->testers);
    }

    /**
     * @return list<FailureMode>
     */
    public function of(string $cause): array
    {
        return $this->byCause[$cause] ?? [];
    }

    public function rate(string $name): float
    {
        return $this->rates[$name] ?? 0.0;
    }

    /** What a fitted part multiplies priors by: new, tested, known-good or second. */
    public function ofPart(string $quality): float
    {
        return $this->parts[$quality] ?? 1.0;
    }

    /** What a fact from the check-in, or a sight before power, multiplies the prior of a mode by. */
    public function ofFact(string $fact, string $mode = '*'): float
    {
        return $this->history[$fact][$mode] ?? $this->history[$fact]['*'] ?? 1.0;
    }

    /**
     * A number stands for every mode.
     *
     * @return array<string, array<string, float>>
     */
    private static function facts(JsonNode $node): array
    {
        $facts = [];
        foreach ($node->members('history') as $fact => $factor) {
            if ($fact !== 'comment') {
                $facts[$fact] = is_object($factor->raw()) || is_array($factor->raw()) ? self::numbers($node->at('history'), $fact) : ['*' => $factor->asNumber()];
            }
        }

        return $facts;
    }

    public function tester(string $method): ?Tester
    {
        return $this->testers[$method] ?? null;
    }

    /**
     * @return list<string>
     */
    public function testers(): array
    {
        return array_keys($this->testers);
    }

    /**
     * @return array<string, float>
     */
    private static function numbers(JsonNode $from, string $member): array
    {
        return array_map(
            static fn (JsonNode $value): float => $value->asNumber(),
            array_filter($from->members($member), static fn (string $name): bool => $name !== 'comment', ARRAY_FILTER_USE_KEY),
        );
    }
}
