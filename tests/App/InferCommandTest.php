<?php

declare(strict_types=1);

namespace Tests\App;

use PHPUnit\Framework\TestCase as PhpUnitTestCase;
use Tests\Support\Artisan;

final class InferCommandTest extends PhpUnitTestCase
{
    public function test_a_network_gives_suspects_and_diagnoses(): void
    {
        [$code, $out, $err] = Artisan::run(['zap:infer', '-', '--json'], (string) json_encode([
            'maxFaults' => 2,
            'faults' => [['id' => 'a', 'site' => 'U1', 'prior' => 0.01], ['id' => 'b', 'site' => 'U2', 'prior' => 0.02]],
            'findings' => [
                ['id' => 'f1', 'reported' => 'abnormal', 'falseAlarm' => 0.02, 'miss' => 0.05, 'explains' => ['a' => 0.95, 'b' => 0.5]],
                ['id' => 'f2', 'reported' => 'normal', 'falseAlarm' => 0.02, 'miss' => 0.05, 'explains' => ['a' => 0.95, 'b' => 0.5], 'cured' => ['a' => 1.0]],
            ],
        ]));
        $answer = json_decode($out, true, 16, JSON_THROW_ON_ERROR);

        // By hand: empty 0.02 x 0.98; a odds 1/99, 0.9035 (= 0.02 x 0.05 + 0.95 x 0.95) x 0.98; b odds 2/98, 0.485 x 0.515; both 0.9266 x 0.515.
        $weights = ['' => 0.02 * 0.98, 'a' => (0.02 * 0.05 + 0.95 * 0.95) * 0.98 / 99, 'b' => (0.02 * 0.5 + 0.95 * 0.5) * (1 - 0.485) * 2 / 98, 'a,b' => (0.02 * 0.025 + 0.95 * 0.975) * (1 - 0.485) * 2 / 98 / 99];
        $total = array_sum($weights);
        self::assertSame([0, ''], [$code, $err]);
        self::assertSame(['U1', 'U2'], array_column($answer['suspects'], 'site'));
        self::assertEqualsWithDelta(($weights['a'] + $weights['a,b']) / $total, $answer['suspects'][0]['share'], 1e-9);
        foreach ($answer['diagnoses'] as $diagnosis) {
            self::assertEqualsWithDelta($weights[implode(',', $diagnosis['faults'])] / $total, $diagnosis['share'], 1e-9);
        }
        self::assertCount(4, $answer['diagnoses']);
    }

    public function test_everything_wrong_with_a_network_is_told_at_once(): void
    {
        [$code, $out, $err] = Artisan::run(['zap:infer', '-', '--json'], (string) json_encode([
            'faults' => [['id' => 'a', 'site' => 'U1', 'prior' => 0], ['id' => 'a', 'site' => 'U1', 'prior' => 1.5]],
            'findings' => [
                ['id' => 'f1', 'reported' => 'odd', 'falseAlarm' => -0.1, 'miss' => 2, 'explains' => ['zz' => 0.5, 'a' => 7]],
                ['id' => 'f1', 'reported' => 'normal', 'falseAlarm' => 0.1, 'miss' => 0.1, 'explains' => ['a' => 0.5], 'cured' => ['yy' => 1]],
            ],
        ]));

        self::assertSame([2, ''], [$code, $out]);
        foreach (['/faults/0/prior', '/faults/1/prior', '/faults/1/id', '/findings/0/reported', '/findings/0/falseAlarm', '/findings/0/miss', '/findings/0/explains/zz', '/findings/0/explains/a', '/findings/1/id', '/findings/1/cured/yy'] as $pointer) {
            self::assertStringContainsString("{$pointer}:", $err);
        }
    }

    public function test_what_is_no_network_is_refused(): void
    {
        foreach (['' => 'empty', '{' => 'not JSON', '[]' => 'an object is wanted'] as $input => $says) {
            [$code, , $err] = Artisan::run(['zap:infer', '-'], $input);
            self::assertSame(2, $code);
            self::assertStringContainsString($says, $err);
        }
    }
}
