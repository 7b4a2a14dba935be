<?php

declare(strict_types=1);

namespace ZapTrace\Memory\Tests;

/**
 * Runs a memory test against memory, as a machine would.
 */
final readonly class TestRunner
{
    /**
     * @param  non-empty-list<int>  $backgrounds
     * @param  float  $pause  seconds before the first read of 0 and of 1; 0 for none
     */
    public function __construct(private MemoryTest $test, private array $backgrounds, private float $pause = 0.0)
    {
    }

    /**
     * @param  int  $most  so many failures are kept
     * @return list<TestFailure> in the order they came
     */
    public function run(MemoryUnderTest $memory, int $from, int $to, int $most = PHP_INT_MAX): array
    {
        $failures = [];
        $pauses = $this->pause > 0.0 ? $this->test->pausesBefore() : [];
        foreach ($this->backgrounds as $background) {
            foreach ($this->test->elements as $place => $element) {
                if (in_array($place, $pauses, true)) {
                    $memory->wait($this->pause);
                }
                $down = $element->order === 'down';
                for ($address = $down ? $to : $from; $down ? $address >= $from : $address <= $to; $address += $down ? -1 : 1) {
                    $zero = $this->test->value($address, $background);
                    foreach ($element->operations as $operation) {
                        $value = $operation[1] === '1' ? $zero ^ 0xFF : $zero;
                        if ($operation[0] === 'w') {
                            $memory->write($address, $value);

                            continue;
                        }
                        $read = $memory->read($address);
                        if ($read !== $value && count($failures) < $most) {
                            $failures[] = new TestFailure($address, $value, $read);
                        }
                    }
                }
            }
        }

        return $failures;
    }
}
