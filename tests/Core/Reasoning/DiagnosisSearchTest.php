<?php

declare(strict_types=1);

namespace Tests\Core\Reasoning;

use Eris\Generators;
use Eris\TestTrait;
use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\Attributes\TestWith;
use PHPUnit\Framework\TestCase;
use ZapTrace\Reasoning\Diagnosis;
use ZapTrace\Reasoning\DiagnosisSearch;
use ZapTrace\Reasoning\Fault;
use ZapTrace\Reasoning\Finding;
use ZapTrace\Reasoning\Network;

final class DiagnosisSearchTest extends TestCase
{
    use TestTrait;

    /**
     * Source: Russell and Norvig, Artificial Intelligence: A Modern Approach, the fever table: inhibitors 0.6 (cold),
     * 0.2 (flu), 0.1 (malaria).
     *
     * @return iterable<string, array{list<string>, float}>
     */
    public static function feverTable(): iterable
    {
        yield 'none' => [[], 0.0];
        yield 'malaria' => [['malaria'], 0.9];
        yield 'flu' => [['flu'], 0.8];
        yield 'flu, malaria' => [['flu', 'malaria'], 0.98];
        yield 'cold' => [['cold'], 0.4];
        yield 'cold, malaria' => [['cold', 'malaria'], 0.94];
        yield 'cold, flu' => [['cold', 'flu'], 0.88];
        yield 'cold, flu, malaria' => [['cold', 'flu', 'malaria'], 0.988];
    }

    /**
     * @param  list<string>  $present
     */
    #[DataProvider('feverTable')]
    public function test_the_fever_table_row_by_row(array $present, float $chance): void
    {
        $fever = new Finding('fever', true, 0.0, 0.0, ['cold' => 0.4, 'flu' => 0.8, 'malaria' => 0.9]);
        $q = 1.0;
        foreach ($present as $cause) {
            $q *= 1.0 - $fever->strength($cause);
        }

        self::assertEqualsWithDelta($chance, $fever->likelihood($q), 1e-12);
    }

    public function test_small_networks_agree_with_every_set_weighed_one_by_one(): void
    {
        $this->limitTo(150)->forAll(Generators::choose(1, 10_000_000), Generators::choose(1, 11), Generators::choose(0, 10), Generators::choose(0, 4))->disableShrinking()
            ->then(function (int $seed, int $faults, int $findings, int $maxFaults): void {
                $this->assertAgrees($this->random($seed, $faults, $findings, $maxFaults), 1e-9, 0.0005);
            });
    }

    public function test_larger_networks_with_weak_evidence_agree_to_0_002(): void
    {
        foreach (range(1, 6) as $seed) {
            $this->assertAgrees($this->random($seed, 28, 24, 4), 0.002, 0.002);
        }
    }

    public function test_what_was_seen_often_of_several_faults_is_explained_however_many_could_be_why(): void
    {
        // Four things are wrong, each seen fifty times and each with sixty alike faults that could be why.
        $faults = $findings = [];
        foreach (range(0, 3) as $thing) {
            $why = [];
            foreach (range(1, 60) as $number) {
                $faults[] = new Fault("{$thing}/{$number}", "{$thing}/{$number}", $number === 7 ? 0.004 : 0.002);
                $why["{$thing}/{$number}"] = 0.9;
            }
            foreach (range(1, 50) as $time) {
                $findings[] = new Finding("{$thing} {$time}", true, 0.0001, 0.05, $why);
            }
        }
        $posterior = (new DiagnosisSearch)->search(new Network($faults, $findings, 4, true));

        self::assertSame([], array_filter($posterior->faults, is_nan(...)));
        self::assertEqualsCanonicalizing(['0/7', '1/7', '2/7', '3/7'], array_map(static fn (Fault $fault): string => $fault->id, $posterior->diagnoses[0]->faults));
        self::assertEqualsWithDelta(1.0, array_sum(array_filter($posterior->faults, static fn (string $id): bool => $id[0] === '2', ARRAY_FILTER_USE_KEY)), 0.01);
    }

    public function test_what_is_added_once_may_explain_all_of_a_long_record(): void
    {
        // Seen three hundred times; sets grow from one fault that explains it half as well as the one that is added.
        $findings = array_map(static fn (int $time): Finding => new Finding((string) $time, true, 0.0001, 0.05, ['grown' => 0.4, 'added' => 0.9]), range(1, 300));
        $posterior = (new DiagnosisSearch)->search(new Network([new Fault('grown', 'A', 0.002), new Fault('added', 'B', 0.002, grows: false)], $findings, 2, true));

        self::assertEqualsWithDelta(1.0, $posterior->faults['added'], 1e-6);
        self::assertContains('added', array_map(static fn (Fault $fault): string => $fault->id, $posterior->diagnoses[0]->faults));
    }

    public function test_what_is_added_once_also_takes_the_place_of_what_sets_grew_from(): void
    {
        // Two things were seen; of the second there are fifteen causes, and sets grow from fourteen of them.
        $grown = array_map(static fn (int $number): Fault => new Fault("g{$number}", "G{$number}", 0.01), range(1, 14));
        $second = [...array_fill_keys(array_map(static fn (Fault $fault): string => $fault->id, $grown), 0.9), 'added' => 0.9];
        $findings = [new Finding('one', true, 0.0001, 0.05, ['first' => 0.95]), new Finding('two', true, 0.0001, 0.05, $second)];
        $network = static fn (Fault $added, bool $addOthers): Network => new Network([new Fault('first', 'A', 0.01), ...$grown, $added], $findings, 3, $addOthers);
        $exact = $this->everySet($network(new Fault('added', 'C', 0.02), false))[0];
        $posterior = (new DiagnosisSearch)->search($network(new Fault('added', 'C', 0.02, grows: false), true));

        self::assertGreaterThan(0.1, $exact['C']);
        self::assertEqualsWithDelta($exact['C'], $posterior->sites['C'], 0.01);
        self::assertEqualsWithDelta($exact['G1'], $posterior->sites['G1'], 0.01);
    }

    public function test_what_is_outshone_in_each_thing_may_be_what_explains_all_of_them(): void
    {
        // Of eight things each is laid to one of five likelier faults; all eight together rather to the one that is rare.
        $weak = array_map(static fn (int $number): Fault => new Fault("w{$number}", "W{$number}", 0.05), range(1, 5));
        $causes = [...array_fill_keys(array_map(static fn (Fault $fault): string => $fault->id, $weak), 0.3), 'rare' => 0.95];
        $findings = [...array_map(static fn (int $time): Finding => new Finding("cut{$time}", true, 0.0001, 0.05, ['cut' => 0.95]), range(1, 3)), ...array_map(static fn (int $time): Finding => new Finding("seen{$time}", true, 0.0001, 0.05, $causes), range(1, 8))];
        $network = static fn (bool $addOthers): Network => new Network([new Fault('cut', 'A', 0.001), ...$weak, new Fault('rare', 'R', 0.00006)], $findings, 4, $addOthers);
        $exact = $this->everySet($network(false))[0];

        self::assertGreaterThan(0.1, $exact['R']);
        self::assertEqualsWithDelta($exact['R'], (new DiagnosisSearch)->search($network(true))->sites['R'], 0.01);
    }

    /**
     * What was repaired explains what was seen before; that it is as before since is something else that is left, one of many of
     * which nothing else is known. Of each of the rivals it is the one fault that explains both.
     */
    #[TestWith([false])]
    #[TestWith([true])]
    public function test_what_was_repaired_may_have_been_one_of_two_faults_when_it_is_as_before(bool $grow): void
    {
        $rivals = array_map(static fn (int $number): Fault => new Fault("r{$number}", "R{$number}", 0.0001), range(1, 20));
        $hidden = array_map(static fn (int $number): Fault => new Fault("h{$number}", "H{$number}", 0.01, grows: $grow), range(1, 30));
        $of = static fn (array $faults): array => array_fill_keys(array_map(static fn (Fault $fault): string => $fault->id, $faults), 0.9);
        $findings = [new Finding('before', true, 1e-5, 0.05, [...$of($rivals), 'repaired' => 0.9]), new Finding('as before', true, 1e-6, 0.05, [...$of($rivals), ...$of($hidden)])];
        $network = static fn (bool $addOthers): Network => new Network([new Fault('repaired', 'U', 0.01, live: false), ...$rivals, ...$hidden], $findings, 2, $addOthers);
        $exact = $this->everySet($network(false))[0];
        $posterior = (new DiagnosisSearch)->search($network(true));

        self::assertGreaterThan(0.5, $exact['U']);
        self::assertEqualsWithDelta($exact['U'], $posterior->sites['U'], 0.04);
        self::assertEqualsWithDelta($exact['H7'], $posterior->sites['H7'], 0.005);
        self::assertEqualsWithDelta($exact['R7'], $posterior->sites['R7'], 0.005);
    }

    public function test_a_second_fault_keeps_its_chance_however_many_could_be_the_first(): void
    {
        $alike = array_map(static fn (int $number): Fault => new Fault("f{$number}", "S{$number}", 0.002), range(1, 60));
        $findings = [new Finding('seen', true, 0.0001, 0.05, array_fill_keys(array_map(static fn (Fault $fault): string => $fault->id, $alike), 0.9))];
        $posterior = (new DiagnosisSearch)->search(new Network([...$alike, new Fault('hidden', 'H', 0.02, grows: false)], $findings, 2, true));

        self::assertEqualsWithDelta(0.02, $posterior->sites['H'], 0.002);
        self::assertEqualsWithDelta(1.0, array_sum(array_map(static fn (Fault $fault): float => $posterior->sites[$fault->site], $alike)), 0.15);
    }

    /** The order of findings and faults is the order of typing; it must not matter. */
    public function test_the_order_of_findings_and_faults_does_not_matter(): void
    {
        $this->limitTo(60)->forAll(Generators::choose(1, 10_000_000))->disableShrinking()
            ->then(function (int $seed): void {
                $network = $this->random($seed, 9, 12, 4);
                $faults = $network->faults;
                $findings = $network->findings;
                shuffle($faults);
                shuffle($findings);
                $one = (new DiagnosisSearch)->search($network)->sites;
                $other = (new DiagnosisSearch)->search(new Network($faults, $findings, 4))->sites;
                ksort($one);
                ksort($other);
                self::assertEqualsWithDelta($one, $other, 1e-9);
            });
    }

    public function test_a_fault_that_explains_no_abnormal_finding_stays_out(): void
    {
        $posterior = (new DiagnosisSearch)->search(new Network(
            [new Fault('a', 'U1', 0.01), new Fault('b', 'U2', 0.4)],
            [new Finding('i', true, 0.02, 0.05, ['a' => 0.9]), new Finding('j', false, 0.02, 0.05, ['b' => 0.1])],
        ));

        self::assertSame(0.0, $posterior->sites['U2']);
        self::assertGreaterThan(0.3, $posterior->sites['U1']);
    }

    public function test_what_is_cured_in_the_context_of_a_finding_does_not_show_there(): void
    {
        $faults = [new Fault('a', 'U1', 0.01), new Fault('b', 'U2', 0.01)];
        $sick = new Finding('before', true, 0.0001, 0.05, ['a' => 0.95, 'b' => 0.95]);
        $exchanged = static fn (bool $abnormal): Finding => new Finding('U1 exchanged', $abnormal, 0.02, 0.05, ['a' => 0.95, 'b' => 0.95], ['a' => 1.0]);

        $cured = (new DiagnosisSearch)->search(new Network($faults, [$sick, $exchanged(false)]));
        self::assertGreaterThan(0.9, $cured->sites['U1']);
        $still = (new DiagnosisSearch)->search(new Network($faults, [$sick, $exchanged(true)]));
        self::assertGreaterThan(0.9, $still->sites['U2']);
        self::assertLessThan(0.1, $still->sites['U1']);
    }

    public function test_two_modes_of_one_site_make_one_suspect_with_their_joint_share(): void
    {
        $network = new Network(
            [new Fault('low', 'U1', 0.02), new Fault('high', 'U1', 0.02), new Fault('b', 'U2', 0.01)],
            [new Finding('i', true, 0.02, 0.05, ['low' => 0.9, 'high' => 0.9, 'b' => 0.9])],
        );
        $posterior = (new DiagnosisSearch)->search($network);
        $sum = 0.0;
        foreach ($posterior->diagnoses as $diagnosis) {
            $sum += in_array('U1', array_map(static fn (Fault $fault): string => $fault->site, $diagnosis->faults), true) ? $diagnosis->share : 0.0;
        }

        self::assertEqualsWithDelta($sum, $posterior->sites['U1'], 0.001);
        self::assertLessThan($posterior->faults['low'] + $posterior->faults['high'], $posterior->sites['U1']);
    }

    /**
     * Source: de Kleer and Williams, "Diagnosing multiple faults", Artificial Intelligence 32 (1987): three multipliers
     * and two adders, the first output wrong, the second right. Minimal diagnoses {A1}, {M1}, {A2, M2}, {M2, M3}; the
     * single ones first and equal; the best next probe is the output of M1.
     *
     * Left out by the noisy-OR form: a fault here either shows at an output or not. That a wrong M2 must show at both
     * outputs unless A2 or M3 makes up for it is said by a second report that M2, M3 and A2 would make abnormal; two
     * faults that hide each other ({A2, M2}, {M2, M3}) therefore rank below the single ones but are not told apart
     * from other pairs.
     */
    public function test_three_multipliers_and_two_adders(): void
    {
        $names = ['A1', 'A2', 'M1', 'M2', 'M3'];
        $faults = array_map(static fn (string $name): Fault => new Fault($name, $name, 0.01), $names);
        $reports = [
            new Finding('F', true, 0.001, 0.001, ['A1' => 0.99, 'M1' => 0.99, 'M2' => 0.99]),
            new Finding('G', false, 0.001, 0.001, ['A2' => 0.99, 'M2' => 0.99, 'M3' => 0.99]),
        ];
        $posterior = (new DiagnosisSearch)->search(new Network($faults, $reports));
        $single = array_map(static fn (Diagnosis $diagnosis): array => array_map(static fn (Fault $fault): string => $fault->id, $diagnosis->faults), array_slice($posterior->diagnoses, 0, 2));
        sort($single);

        self::assertSame([['A1'], ['M1']], $single);
        self::assertEqualsWithDelta($posterior->diagnoses[0]->share, $posterior->diagnoses[1]->share, 1e-9);
        self::assertEqualsWithDelta($posterior->sites['A1'], $posterior->sites['M1'], 1e-9);
        self::assertLessThan($posterior->sites['A1'], $posterior->sites['M2']);

        // The outputs of the multipliers, as probes: the one whose result is least certain tells most.
        $chance = static fn (string $multiplier): float => $posterior->sites[$multiplier];
        $uncertainty = static fn (float $p): float => -$p * log($p, 2) - (1 - $p) * log(1 - $p, 2);
        $best = ['M1' => $uncertainty($chance('M1')), 'M2' => $uncertainty($chance('M2')), 'M3' => $uncertainty(max(1e-12, $chance('M3')))];
        arsort($best);
        self::assertSame('M1', array_key_first($best));
    }

    private function assertAgrees(Network $network, float $delta, float $listed): void
    {
        [$sites, $diagnoses] = $this->everySet($network);
        $posterior = (new DiagnosisSearch)->search($network);
        $found = $posterior->sites;
        ksort($sites);
        ksort($found);
        self::assertEqualsWithDelta($sites, $found, $delta === 1e-9 ? 0.0005 : $delta);
        foreach ($posterior->diagnoses as $diagnosis) {
            $key = array_map(static fn (Fault $fault): string => $fault->id, $diagnosis->faults);
            sort($key);
            self::assertEqualsWithDelta($diagnoses[implode(',', $key)], $diagnosis->share, $listed);
        }
    }

    /**
     * @return array{array<string, float>, array<string, float>} shares by site, shares by set
     */
    private function everySet(Network $network): array
    {
        $candidates = array_values(array_filter($network->faults, static function (Fault $fault) use ($network): bool {
            foreach ($network->findings as $finding) {
                if ($finding->abnormal && ($finding->explains[$fault->id] ?? 0.0) > 0.0) {
                    return true;
                }
            }

            return false;
        }));
        $sites = [];
        foreach ($network->faults as $fault) {
            $sites[$fault->site] = 0.0;
        }
        $sets = [];
        $total = 0.0;
        $visit = function (int $from, array $set) use (&$visit, &$sites, &$sets, &$total, $candidates, $network): void {
            $weight = 1.0;
            foreach ($set as $fault) {
                $weight *= $fault->prior / (1.0 - $fault->prior);
            }
            foreach ($network->findings as $finding) {
                $q = 1.0;
                foreach ($set as $fault) {
                    $q *= 1.0 - ($finding->explains[$fault->id] ?? 0.0) * (1.0 - ($finding->cured[$fault->id] ?? 0.0));
                }
                $abnormal = $finding->falseAlarm * $q + (1.0 - $finding->miss) * (1.0 - $q);
                $weight *= $finding->abnormal ? $abnormal : 1.0 - $abnormal;
            }
            $total += $weight;
            $ids = array_map(static fn (Fault $fault): string => $fault->id, $set);
            sort($ids);
            $sets[implode(',', $ids)] = $weight;
            foreach (array_unique(array_map(static fn (Fault $fault): string => $fault->site, $set)) as $site) {
                $sites[$site] += $weight;
            }
            if (count($set) < $network->maxFaults) {
                for ($i = $from; $i < count($candidates); $i++) {
                    $visit($i + 1, [...$set, $candidates[$i]]);
                }
            }
        };
        $visit(0, []);

        return [array_map(static fn (float $weight): float => $weight / $total, $sites), array_map(static fn (float $weight): float => $weight / $total, $sets)];
    }

    private function random(int $seed, int $faults, int $findings, int $maxFaults): Network
    {
        mt_srand($seed);
        $unit = static fn (): float => mt_rand(1, 999) / 1000;
        $all = [];
        for ($i = 0; $i < $faults; $i++) {
            $all[] = new Fault("f{$i}", 'U'.intdiv($i * 3, 4), 0.001 + 0.2 * $unit() ** 3);
        }
        $reports = [];
        for ($i = 0; $i < $findings; $i++) {
            $explains = [];
            $cured = [];
            foreach ($all as $fault) {
                if (mt_rand(0, 2) === 0) {
                    $explains[$fault->id] = $unit();
                    if (mt_rand(0, 3) === 0) {
                        $cured[$fault->id] = mt_rand(0, 2) / 2;
                    }
                }
            }
            $reports[] = new Finding("i{$i}", mt_rand(0, 1) === 1, 0.001 + 0.1 * $unit(), 0.001 + 0.3 * $unit(), $explains, $cured);
        }

        return new Network($all, $reports, $maxFaults);
    }
}
